import { useMemo, useState } from 'react';
import { flushSync } from 'react-dom';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { QUOTE_STATE_NAMES, type QuoteBody, type QuoteFigures, type QuoteView } from '#contract/quotes.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { useNamedItems } from '../items/named-items.ts';
import { quotesApi } from './endpoints.ts';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { PostedBehind } from '../buildup/posted-behind.tsx';
import { StepsList } from '../buildup/steps-list.tsx';
import { Button, Field, Trouble, ViewHead } from '../kit/controls.tsx';
import { useNumberForm } from '../frame/preferences.ts';
import { showMoment } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { Conflict, merged } from '../kit/conflict.tsx';
import { faultWords } from '../kit/faults.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { useLeaveGuard } from '../kit/leave-guard.tsx';
import { AcceptDialog } from './accept-dialog.tsx';
import { bodyOf, complete, inWords, newLine, sectionsOf } from './body.ts';
import { BuyerFields } from './buyer-fields.tsx';
import { Decide } from './decide.tsx';
import { QuoteLines } from './quote-lines.tsx';
import { QuoteSums } from './quote-sums.tsx';
import { WholeFields } from './whole-fields.tsx';

export function QuoteEditor() {
  const { id = '' } = useParams();
  const { data: quote, error } = quotesApi.useQuoteQuery(id, {
    skip: id === 'new',
    // another's yes or no is seen without loading the page again
    pollingInterval: 10_000,
    skipPollingIfUnfocused: true,
  });
  if (id === 'new') return <Editor key="new" quote={null} />;
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  return quote ? <Editor key={quote.id} quote={quote} /> : null;
}

/** Who else had it in hand last. */
function lastHand(quote: QuoteView): string {
  const last = quote.hands.at(-1);
  return last && last.did !== 'wrote a quote' ? ` · ${last.by} ${last.did}` : '';
}

function Editor({ quote }: { quote: QuoteView | null }) {
  const me = useSignedIn();
  const navigate = useNavigate();
  const form = useNumberForm();
  // what this editing began with: somebody else's change is met, never written over
  const [base, setBase] = useState(quote);
  const [body, setBody] = useState<QuoteBody>(() => bodyOf(quote));
  const [at, setAt] = useState<number | null>(null);
  const [charge, setCharge] = useState<string | null>(null);
  const [inParts, setInParts] = useState(false);
  const [accepting, setAccepting] = useState(false);
  const { data: lists = [] } = recordsApi.useRegisterQuery('lists');
  const items = useNamedItems(body.lines.map((l) => l.item));
  const changed = useMemo(() => JSON.stringify(body) !== JSON.stringify(bodyOf(base)), [body, base]);
  const moved = quote !== null && quote.version !== base?.version;
  const follow = (theirs: QuoteView) => {
    setBase(theirs);
    setBody(bodyOf(theirs));
  };
  if (moved && !changed) follow(quote);
  const own = !quote || quote.writtenById === me.id || me.rights.has('write_others_quotes');
  const editable = me.rights.has('write_quotes') && own && quote?.state !== 'issued' && quote?.state !== 'accepted';
  const tried = quotesApi.useTryQuoteQuery(body, {
    skip: !editable || !complete(body) || (!changed && quote !== null),
  });
  const figures: QuoteFigures | undefined =
    changed || !quote ? (complete(body) ? tried.data?.figures : undefined) : quote.figures;
  const stale = changed && tried.isFetching;
  const listName = lists.find((l) => l.id === (changed || !quote ? tried.data?.list : quote.list))?.['name'];
  const [save, saving] = quotesApi.useSaveQuoteMutation();
  const [advance, advancing] = quotesApi.useAdvanceQuoteMutation();
  const error = saving.error ?? advancing.error ?? (complete(body) ? tried.error : undefined);
  const set = (more: Partial<QuoteBody>) => setBody((b) => ({ ...b, ...more }));

  const { question, letGo } = useLeaveGuard(editable && (quote ? changed : body.lines.length > 0), 'The quote');
  const keep = async () => {
    try {
      const done = await save({ id: quote?.id ?? null, version: base?.version ?? 0, body }).unwrap();
      if (quote) follow(done);
      letGo();
      toast.success(`Quote ${done.number} is kept.`);
      void navigate(`/quotes/${done.id}`, { replace: true });
    } catch {
      /* shown above the lines */
    }
  };
  const go = async (action: 'ask' | 'issue') => {
    if (!quote) return;
    try {
      await advance({ id: quote.id, version: quote.version, action }).unwrap();
      toast.success(action === 'ask' ? 'Approval is asked.' : 'The quote is issued; its figures stay as they are.');
    } catch {
      /* shown above the lines */
    }
  };
  const copy = async () => {
    try {
      const done = await save({ id: null, version: 0, body }).unwrap();
      letGo();
      void navigate(`/quotes/${done.id}`);
    } catch {
      /* shown above the lines */
    }
  };
  const sections = sectionsOf(body.lines);
  const parts = inParts || sections.length > 0;
  const opened = figures?.charges.find((c) => c.id === charge);
  const steps = opened?.steps ?? (at === null ? undefined : figures?.lines[at]?.steps);
  const listWhy = (changed || !quote ? tried.data?.listWhy : quote.listWhy) ?? 'follows from the customer’s group';
  const listHint = body.list
    ? null
    : listName
      ? `${String(listName)}: ${listWhy}`
      : 'follows from the customer’s group';
  return (
    <>
      {question}
      {quote && accepting ? <AcceptDialog quote={quote} onClose={() => setAccepting(false)} /> : null}
      <ViewHead
        title={quote ? `Quote ${quote.number}` : 'New quote'}
        about={
          quote ? (
            <>
              {QUOTE_STATE_NAMES[quote.state]} · written by {quote.writtenBy}
              {lastHand(quote)}
            </>
          ) : (
            'Choose a customer, then add items.'
          )
        }
      >
        {quote ? (
          <a
            href={`/api/quotes/${quote.id}/pdf`}
            target="_blank"
            rel="noreferrer"
            className="border border-rule-strong px-3 py-1 font-medium text-accent hover:bg-chosen"
          >
            PDF
          </a>
        ) : null}
        {quote?.state === 'issued' && me.rights.has('write_quotes') && own ? (
          <Button weight="main" onClick={() => setAccepting(true)}>
            Accepted by the customer
          </Button>
        ) : null}
        {quote?.state === 'accepted' ? (
          <Link
            to={`/quotes/${quote.id}/changes`}
            className="border border-accent bg-accent px-3 py-1 font-medium text-on-accent"
          >
            Change orders
          </Link>
        ) : null}
        {(quote?.state === 'issued' || quote?.state === 'accepted') && me.rights.has('write_quotes') ? (
          <Button onClick={() => void copy()}>Copy to a new quote</Button>
        ) : null}
        {quote && editable && !changed && quote.figures.outcome === 'asks_approval' && quote.state === 'draft' ? (
          <Button weight="main" onClick={() => void go('ask')}>
            Ask for approval
          </Button>
        ) : null}
        {quote &&
        editable &&
        !changed &&
        (quote.state === 'approved' || (quote.state === 'draft' && quote.figures.outcome === 'fine')) ? (
          <Button weight="main" onClick={() => void go('issue')}>
            Issue
          </Button>
        ) : null}
        {editable && (changed || !quote) ? (
          <Button
            weight="main"
            disabled={body.customer === '' || saving.isLoading || (body.lines.length > 0 && !complete(body))}
            onClick={() => void keep()}
          >
            Keep the quote
          </Button>
        ) : null}
      </ViewHead>
      <div className="flex min-h-0 flex-1">
        <div className="min-w-0 flex-1 overflow-auto px-5 py-3">
          {moved && changed ? (
            <Conflict
              message={`Meanwhile${lastHand(quote)}.`}
              theirs={bodyOf(quote)}
              mine={body}
              shown={inWords}
              onGoOn={(fromTheirs) => {
                setBase(quote);
                setBody(merged(body, bodyOf(quote), fromTheirs));
              }}
            />
          ) : error ? (
            <Trouble>
              {problemOf(error).message} {faultWords(problemOf(error).faults)}
            </Trouble>
          ) : null}
          {quote?.state === 'waiting' ? <Decide quote={quote} /> : null}
          {quote?.decisions.map((d, i) => (
            <p key={i} className="text-faint">
              {d.by} {d.decision === 'approved' ? 'approved' : 'declined'} it, {showMoment(d.at, form)}
              {d.note ? `: “${d.note}”` : ''}
            </p>
          ))}
          <BuyerFields
            body={body}
            onBody={set}
            editable={editable}
            listHint={listHint}
            regionName={changed || !quote ? (tried.data?.regionName ?? null) : quote.regionName}
          />
          <QuoteLines
            lines={body.lines}
            figures={figures}
            items={items}
            parts={parts}
            charge={charge}
            onCharge={(c) => (setAt(null), setCharge(c))}
            editable={editable}
            stale={stale}
            at={at}
            onAt={(n) => (setCharge(null), setAt(n))}
            onLines={(lines) => set({ lines })}
          />
          {editable ? (
            <div className="mt-2 flex flex-wrap items-center gap-4">
              <ItemPicker
                label="Add an item: code, name or barcode"
                onPick={(i, pack) => {
                  const line = newLine(i.id, pack, parts ? (body.lines.at(-1)?.section ?? null) : null);
                  flushSync(() => set({ lines: [...body.lines, line] }));
                  // how many is the next thing that is typed
                  const quantity = document.querySelector<HTMLInputElement>(
                    `input[name="quantity-${body.lines.length}"]`,
                  );
                  quantity?.focus();
                  quantity?.select();
                }}
              />
              <label className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={parts}
                  disabled={sections.length > 0}
                  onChange={(e) => setInParts(e.target.checked)}
                />
                in parts
              </label>
            </div>
          ) : null}
          {editable ? (
            <div className="flex flex-wrap items-start gap-x-10">
              <WholeFields whole={body} sections={sections} onWhole={set} />
              <Field label={`The customer was told, ${figures ? `${figures.currency}, ` : ''}tax in`} className="mt-4">
                <NumberInput
                  name="estimate"
                  className="w-28"
                  value={body.estimate ?? ''}
                  onValue={(estimate) => set({ estimate: estimate || null })}
                />
              </Field>
            </div>
          ) : null}
          {figures ? <QuoteSums figures={figures} estimate={body.estimate} /> : null}
        </div>
        {steps && steps.length > 0 ? (
          <aside
            aria-label="Build-up"
            className="w-[18.5rem] shrink-0 overflow-auto border-l border-rule-strong bg-sheet px-4 py-2"
          >
            <h2>{opened ? 'Build-up of the charge' : `Build-up of line ${at! + 1}`}</h2>
            <p className="mb-1 text-xs text-faint">
              {opened ? opened.name : `${figures!.lines[at!]!.sku} · ${figures!.lines[at!]!.name}`}
            </p>
            <StepsList steps={steps} places={2} links />
            {!opened && at !== null && body.lines[at] && me.rights.has('see_cost') ? (
              <PostedBehind key={at} steps={steps} {...body.lines[at]} day={editable ? null : quote!.day} />
            ) : null}
            {quote?.listLost.map((l) => (
              <p key={l.name} className="text-xs text-faint">
                <s>{l.name}</s>: {l.why}
              </p>
            ))}
          </aside>
        ) : null}
      </div>
    </>
  );
}
