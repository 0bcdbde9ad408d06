import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { toast } from 'sonner';
import type { ChainDocument, ChainView } from '#contract/change-orders.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Trouble, ViewHead } from '../kit/controls.tsx';
import { showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { ChangeEditor } from './change-editor.tsx';
import { DocumentTable } from './document-table.tsx';
import { quotesApi } from './endpoints.ts';

const titleOf = (d: ChainDocument) => (d.number === 0 ? 'As accepted' : `Change ${d.number}`);

/** An accepted quote and every change to it: was, will be, difference. */
export function ChangeOrders() {
  const { id = '' } = useParams();
  const { data: chain, error } = quotesApi.useChainQuery(id);
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  return chain ? <Chain key={chain.quote} chain={chain} /> : null;
}

function Chain({ chain }: { chain: ChainView }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const [chosen, setChosen] = useState(chain.documents.length - 1);
  const [writing, setWriting] = useState(false);
  const [issue, issuing] = quotesApi.useIssueChangeMutation();
  const [drop, dropping] = quotesApi.useDropChangeMutation();
  const document = chain.documents[Math.min(chosen, chain.documents.length - 1)]!;
  const draft = chain.documents.at(-1)!.state === 'draft' ? chain.documents.at(-1)! : null;
  const last = draft ? chain.documents.at(-2)! : chain.documents.at(-1)!;
  const may = me.rights.has('write_quotes');
  const seen = { id: chain.quote, version: chain.version };
  const problem = issuing.error ?? dropping.error;
  const asks = draft?.alerts.some((a) => a.alert === 'needs_approval') ?? false;
  const issueIt = async () => {
    try {
      await issue(seen).unwrap();
      toast.success(`Change ${draft!.number} is issued; its figures stay as they are.`);
    } catch {
      /* shown above */
    }
  };
  return (
    <>
      <ViewHead
        title={`Quote ${chain.number}: accepted`}
        about={`${chain.customerName} · accepted ${showDay(chain.acceptedOn, form)}${chain.acceptedNote ? `, ${chain.acceptedNote}` : ''} · ${chain.credits ? 'less is given back' : 'nothing is given back'}`}
      >
        <Link to={`/quotes/${chain.quote}`} className="border border-rule-strong px-3 py-1 font-medium text-accent">
          The quote
        </Link>
        {may && !writing ? (
          <Button weight={draft ? 'plain' : 'main'} onClick={() => setWriting(true)}>
            {draft ? `Go on writing change ${draft.number}` : 'Write a change order'}
          </Button>
        ) : null}
        {draft && !writing && (may || (asks && me.rights.has('approve'))) ? (
          <>
            {may ? (
              <Button weight="stop" disabled={dropping.isLoading} onClick={() => void drop(seen)}>
                Drop the draft
              </Button>
            ) : null}
            <Button weight="main" disabled={issuing.isLoading} onClick={() => void issueIt()}>
              {asks ? 'Approve and issue' : 'Issue the change'}
            </Button>
          </>
        ) : null}
      </ViewHead>
      {problem ? <Trouble>{problemOf(problem).message}</Trouble> : null}
      {writing ? (
        <ChangeEditor
          chain={chain}
          before={last}
          draft={draft}
          onDone={() => (setWriting(false), setChosen(Infinity))}
        />
      ) : (
        <div className="flex min-h-0 flex-1">
          <nav aria-label="Documents" className="w-52 shrink-0 overflow-auto border-r border-rule py-2">
            {chain.documents.map((d, n) => (
              <button
                key={d.number}
                type="button"
                aria-current={d === document ? 'page' : undefined}
                onClick={() => setChosen(n)}
                className={`block w-full px-5 py-1.5 text-left ${d === document ? 'border-l-[3px] border-accent bg-chosen pl-[17px] font-medium' : 'hover:bg-chosen'}`}
              >
                {titleOf(d)} {d.state === 'draft' ? <span className="bg-proposed px-1 text-xs">draft</span> : null}
                <span className="block text-xs text-faint">
                  {showDay(d.day, form)}
                  {d.reason ? ` · ${d.reason}` : ''}
                </span>
              </button>
            ))}
          </nav>
          <div className="min-w-0 flex-1 overflow-auto px-5 py-3">
            <h2>
              {titleOf(document)}
              {document.by ? <span className="font-normal text-faint"> · {document.by}</span> : null}
              {document.number > 0 ? (
                <span className="font-normal text-faint">
                  {' '}
                  · {document.terms === 'today' ? 'prices of the day of the change' : 'prices of the day it was issued'}
                </span>
              ) : null}
            </h2>
            <DocumentTable
              document={document}
              currency={chain.currency}
              taxIn={chain.taxIn}
              estimate={chain.estimate}
            />
          </div>
        </div>
      )}
    </>
  );
}
