import { useState } from 'react';
import { toast } from 'sonner';
import type { ChainDocument, ChainView, ChangeOrderBody } from '#contract/change-orders.ts';
import type { QuoteLineBody } from '#contract/quotes.ts';
import { problemOf } from '../api.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { useNamedItems } from '../items/named-items.ts';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { faultWords } from '../kit/faults.tsx';
import { useLeaveGuard } from '../kit/leave-guard.tsx';
import { complete, newLine, sectionsOf } from './body.ts';
import { DocumentTable } from './document-table.tsx';
import { quotesApi } from './endpoints.ts';
import { QuoteLines } from './quote-lines.tsx';
import { WholeFields } from './whole-fields.tsx';

const TERMS = [
  ['acceptance', 'as when the quote was issued'],
  ['today', 'as they are today'],
] as const;

/** A line with the line of the document before that it goes on from. */
type Line = QuoteLineBody & { from: string };

type Whole = Omit<ChangeOrderBody, 'lines' | 'goesOnFrom'>;

/** Writes a change: the whole as it will be, with what it comes to under it. */
export function ChangeEditor({
  chain,
  before,
  draft,
  onDone,
}: {
  chain: ChainView;
  before: ChainDocument;
  draft: ChainDocument | null;
  onDone: () => void;
}) {
  const begun = draft ?? before;
  const [lines, setLines] = useState<Line[]>(() =>
    begun.body.lines.map((l, n) => ({ ...l, from: draft ? (draft.body.goesOnFrom[n] ?? '') : before.keys[n]! })),
  );
  const [whole, setWhole] = useState<Whole>(() =>
    draft
      ? (({ lines: _, goesOnFrom: _g, ...rest }) => rest)(draft.body)
      : { reason: '', terms: 'acceptance', charges: before.body.charges, reductionStays: true, reduction: null },
  );
  const items = useNamedItems(lines.map((l) => l.item));
  const body: ChangeOrderBody = {
    ...whole,
    lines: lines.map(({ from: _, ...l }) => l),
    goesOnFrom: lines.map((l) => l.from),
  };
  const [began] = useState(JSON.stringify(body));
  const changed = JSON.stringify(body) !== began;
  const ready = complete({
    customer: chain.quote,
    lines: body.lines,
    charges: body.charges,
    reduction: body.reduction,
  });
  const tried = quotesApi.useTryChangeQuery({ id: chain.quote, body: { ...body, reason: 'trying' } }, { skip: !ready });
  const [keep, keeping] = quotesApi.useKeepChangeMutation();
  const { question, letGo } = useLeaveGuard(changed, 'The change order');
  const [at, setAt] = useState<number | null>(null);
  const document = tried.data?.documents.at(-1);
  const problem = keeping.error ?? (ready ? tried.error : undefined);
  const said = problem && problemOf(problem);
  const keepIt = async () => {
    try {
      await keep({ id: chain.quote, version: chain.version, ...body }).unwrap();
      letGo();
      toast.success('The draft of the change is kept.');
      onDone();
    } catch {
      /* shown above the lines */
    }
  };
  const sections = sectionsOf(lines);
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
      {question}
      {said ? (
        <Trouble>
          {said.message} {faultWords(said.faults)}
        </Trouble>
      ) : null}
      <div className="my-2 flex flex-wrap items-end gap-x-5 gap-y-2">
        <Field label="What the change is" className="min-w-64 flex-1">
          <Input
            name="reason"
            autoFocus
            value={whole.reason}
            onChange={(e) => setWhole({ ...whole, reason: e.target.value })}
          />
        </Field>
        <Field label="Prices and rules">
          <Select
            name="terms"
            value={whole.terms}
            onValue={(chosen) => setWhole({ ...whole, terms: chosen as 'today' })}
            options={TERMS}
          />
        </Field>
        <Button onClick={onDone}>Leave it</Button>
        <Button
          weight="main"
          disabled={!ready || whole.reason.trim() === '' || keeping.isLoading}
          onClick={() => void keepIt()}
        >
          Keep the draft
        </Button>
      </div>
      <QuoteLines
        lines={lines}
        figures={document?.figures}
        items={items}
        editable
        stale={tried.isFetching}
        at={at}
        onAt={setAt}
        onLines={setLines}
        parts={sections.length > 0}
      />
      <div className="mt-2">
        <ItemPicker
          label="Add an item: code, name or barcode"
          onPick={(i, pack) =>
            setLines([...lines, { ...newLine(i.id, pack, lines.at(-1)?.section ?? null), from: '' }])
          }
        />
      </div>
      <label className="mt-3 flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={whole.reductionStays}
          onChange={(e) => setWhole({ ...whole, reductionStays: e.target.checked, reduction: before.body.reduction })}
        />
        the reduction on the whole stays as agreed
      </label>
      <WholeFields
        whole={whole}
        sections={sections}
        onWhole={(more) => setWhole({ ...whole, ...more })}
        reductionStays={whole.reductionStays}
      />
      {document ? (
        <section aria-label="What it comes to" className="mt-5 border-t border-rule-strong pt-3">
          <h2>What it comes to</h2>
          <DocumentTable document={document} currency={chain.currency} taxIn={chain.taxIn} estimate={chain.estimate} />
        </section>
      ) : null}
    </div>
  );
}
