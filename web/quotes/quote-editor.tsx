import { useState } from 'react';
import { flushSync } from 'react-dom';
import { useParams } from 'react-router';
import { QUOTE_STATE_NAMES, type QuoteView } from '#contract/quotes.ts';
import { problemOf } from '../api.ts';
import { useMoment } from '../frame/moments.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { useNamedItems } from '../items/named-items.ts';
import { Conflict } from '../kit/conflict.tsx';
import { Field, Trouble, ViewHead } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { bodyOf, inWords, newLine, sectionsOf } from './body.ts';
import { BuyerFields } from './buyer-fields.tsx';
import { Decide } from './decide.tsx';
import { quotesApi } from './endpoints.ts';
import { QuoteActions } from './quote-actions.tsx';
import { type Explained, QuoteBuildUp } from './quote-build-up.tsx';
import { QuoteLines } from './quote-lines.tsx';
import { QuoteSums } from './quote-sums.tsx';
import { useQuote } from './use-quote.ts';
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
  const moment = useMoment();
  const edited = useQuote(quote);
  const { body, set, editable, figures, stale, problem, theirs } = edited;
  const [explained, setExplained] = useState<Explained>(null);
  const [inParts, setInParts] = useState(false);
  const items = useNamedItems(body.lines.map((l) => l.item));
  const sections = sectionsOf(body.lines);
  const parts = inParts || sections.length > 0;
  const add = (item: string, pack: string) => {
    const line = newLine(item, pack, parts ? (body.lines.at(-1)?.section ?? null) : null);
    flushSync(() => set({ lines: [...body.lines, line] }));
    // how many is the next thing that is typed
    const quantity = document.querySelector<HTMLInputElement>(`input[name="quantity-${body.lines.length}"]`);
    quantity?.focus();
    quantity?.select();
  };
  return (
    <>
      {edited.question}
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
        <QuoteActions quote={quote} edited={edited} />
      </ViewHead>
      <div className="flex min-h-0 flex-1">
        <div className="min-w-0 flex-1 overflow-auto px-5 py-3">
          {theirs ? (
            <Conflict
              message={`Meanwhile${lastHand(theirs)}.`}
              theirs={bodyOf(theirs)}
              mine={body}
              shown={inWords}
              onGoOn={edited.goOn}
            />
          ) : problem ? (
            <Trouble>
              {problem.message} {faultWords(problem.faults)}
            </Trouble>
          ) : null}
          {quote?.state === 'waiting' ? <Decide quote={quote} /> : null}
          {quote?.decisions.map((d, i) => (
            <p key={i} className="text-faint">
              {d.by} {d.decision === 'approved' ? 'approved' : 'declined'} it, {moment(d.at)}
              {d.note ? `: “${d.note}”` : ''}
            </p>
          ))}
          <BuyerFields
            body={body}
            onBody={set}
            editable={editable}
            listHint={edited.listHint}
            regionName={edited.regionName}
          />
          <QuoteLines
            lines={body.lines}
            figures={figures}
            items={items}
            parts={parts}
            charge={explained && 'charge' in explained ? explained.charge : null}
            onCharge={(charge) => setExplained(charge === null ? null : { charge })}
            editable={editable}
            stale={stale}
            at={explained && 'line' in explained ? explained.line : null}
            onAt={(line) => setExplained(line === null ? null : { line })}
            onLines={(lines) => set({ lines })}
          />
          {editable ? (
            <>
              <div className="mt-2 flex flex-wrap items-center gap-4">
                <ItemPicker label="Add an item: code, name or barcode" onPick={(item, pack) => add(item.id, pack)} />
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
              <div className="flex flex-wrap items-start gap-x-10">
                <WholeFields whole={body} sections={sections} onWhole={set} />
                <Field
                  label={`The customer was told, ${figures ? `${figures.currency}, ` : ''}tax in`}
                  className="mt-4"
                >
                  <NumberInput
                    name="estimate"
                    className="w-28"
                    value={body.estimate ?? ''}
                    onValue={(estimate) => set({ estimate: estimate || null })}
                  />
                </Field>
              </div>
            </>
          ) : null}
          {figures ? <QuoteSums figures={figures} estimate={body.estimate} /> : null}
        </div>
        <QuoteBuildUp
          of={explained}
          figures={figures}
          lines={body.lines}
          day={editable ? null : (quote?.day ?? null)}
          lost={quote?.listLost ?? []}
        />
      </div>
    </>
  );
}
