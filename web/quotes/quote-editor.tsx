import { useMemo, useState } from 'react';
import { flushSync } from 'react-dom';
import { useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import type { ItemRow } from '#contract/items.ts';
import { QUOTE_STATE_NAMES, type QuoteBody, type QuoteFigures, type QuoteView } from '#contract/quotes.ts';
import { itemsApi } from '../items/endpoints.ts';
import { quotesApi } from './endpoints.ts';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { StepsList } from '../buildup/steps-list.tsx';
import { Button, Field, Input, Select, Trouble, ViewHead } from '../kit/controls.tsx';
import { useNumberForm } from '../frame/preferences.ts';
import { showMoment } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { Conflict, merged } from '../kit/conflict.tsx';
import { DateField } from '../kit/date-field.tsx';
import { faultWords } from '../kit/faults.tsx';
import { useLeaveGuard } from '../kit/leave-guard.tsx';
import { Decide } from './decide.tsx';
import { ItemPicker } from './item-picker.tsx';
import { QuoteLines } from './quote-lines.tsx';
import { QuoteSums } from './quote-sums.tsx';

const FRESH: QuoteBody = { customer: '', list: null, listReason: null, validUntil: null, note: '', lines: [] };
const NO_ITEMS: ItemRow[] = [];

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

function bodyOf(q: QuoteView | null): QuoteBody {
  return q
    ? {
        customer: q.customer,
        list: q.listReason ? q.list : null,
        listReason: q.listReason,
        validUntil: q.validUntil,
        note: q.note,
        lines: q.lines,
      }
    : FRESH;
}

/** A quote's fields as a person compares them. */
const inWords = (field: string, value: unknown): unknown =>
  field !== 'lines'
    ? value
    : (value as QuoteBody['lines']).map((l) => ({
        item: l.item,
        quantity: l.quantity,
        reduced: l.reductionKind ? `${l.reductionValue} ${l.reductionKind.replace('_', ' ')}` : '',
      }));

/** Who else had it in hand last. */
function lastHand(quote: QuoteView): string {
  const last = quote.hands.at(-1);
  return last && last.did !== 'wrote a quote' ? ` · ${last.by} ${last.did}` : '';
}

/** Whether the server can make figures of it: half-typed lines wait. */
function complete(body: QuoteBody): boolean {
  return (
    body.customer !== '' &&
    body.lines.length > 0 &&
    body.lines.every(
      (l) => /^\d+(\.\d+)?$/.test(l.quantity) && (l.reductionValue === null || /^\d+(\.\d+)?$/.test(l.reductionValue)),
    )
  );
}

function Editor({ quote }: { quote: QuoteView | null }) {
  const me = useSignedIn();
  const navigate = useNavigate();
  const form = useNumberForm();
  // what this editing began with: somebody else's change is met, never written over
  const [base, setBase] = useState(quote);
  const [body, setBody] = useState<QuoteBody>(() => bodyOf(quote));
  const [at, setAt] = useState<number | null>(null);
  const { data: customers = [] } = recordsApi.useRegisterQuery('customers');
  const { data: lists = [] } = recordsApi.useRegisterQuery('lists');
  const { data: items = NO_ITEMS } = itemsApi.useItemsQuery(null);
  const changed = useMemo(() => JSON.stringify(body) !== JSON.stringify(bodyOf(base)), [body, base]);
  const moved = quote !== null && quote.version !== base?.version;
  const follow = (theirs: QuoteView) => {
    setBase(theirs);
    setBody(bodyOf(theirs));
  };
  if (moved && !changed) follow(quote);
  const own = !quote || quote.writtenById === me.id || me.rights.has('write_others_quotes');
  const editable = me.rights.has('write_quotes') && own && quote?.state !== 'issued';
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
  const steps = at === null ? undefined : figures?.lines[at]?.steps;
  return (
    <>
      {question}
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
        {quote?.state === 'issued' && me.rights.has('write_quotes') ? (
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
          <fieldset disabled={!editable} className="my-2 flex flex-wrap gap-x-5 gap-y-2">
            <Field label="Customer">
              <Select
                name="customer"
                value={body.customer}
                onChange={(e) => set({ customer: e.target.value })}
                options={[['', 'choose …'], ...customers.map((c) => [c.id, String(c['name'])] as const)]}
                className="w-52"
              />
            </Field>
            <Field
              label="Price list"
              hint={
                body.list
                  ? null
                  : listName
                    ? `${String(listName)}: ${quote && !changed ? quote.listWhy : 'follows from the customer’s group'}`
                    : 'follows from the customer’s group'
              }
            >
              <Select
                name="list"
                value={body.list ?? ''}
                onChange={(e) =>
                  set({ list: e.target.value || null, listReason: e.target.value ? body.listReason : null })
                }
                options={[['', 'the customer’s own'], ...lists.map((l) => [l.id, String(l['name'])] as const)]}
                className="w-44"
              />
            </Field>
            {body.list ? (
              <Field label="Why another list">
                <Input
                  name="listReason"
                  value={body.listReason ?? ''}
                  onChange={(e) => set({ listReason: e.target.value || null })}
                />
              </Field>
            ) : null}
            <Field label="Valid until" group>
              <DateField
                name="validUntil"
                label="Valid until"
                value={body.validUntil ?? ''}
                onValue={(day) => set({ validUntil: day || null })}
              />
            </Field>
            <Field label="Note on the quote" className="min-w-40 flex-1">
              <Input name="note" value={body.note} onChange={(e) => set({ note: e.target.value })} />
            </Field>
          </fieldset>
          <QuoteLines
            body={body}
            figures={figures}
            items={items}
            editable={editable}
            stale={stale}
            at={at}
            onAt={setAt}
            onLines={(lines) => set({ lines })}
          />
          {editable ? (
            <div className="mt-2">
              <ItemPicker
                items={items}
                label="Add an item: code or name"
                onPick={(i) => {
                  const line = {
                    item: i.id,
                    pack: i.packs[0]!.id,
                    quantity: '1',
                    reductionKind: null,
                    reductionValue: null,
                  };
                  flushSync(() => set({ lines: [...body.lines, line] }));
                  // how many is the next thing that is typed
                  const quantity = document.querySelector<HTMLInputElement>(
                    `input[name="quantity-${body.lines.length}"]`,
                  );
                  quantity?.focus();
                  quantity?.select();
                }}
              />
            </div>
          ) : null}
          {figures ? <QuoteSums figures={figures} /> : null}
        </div>
        {steps && steps.length > 0 ? (
          <aside
            aria-label="Build-up"
            className="w-[18.5rem] shrink-0 overflow-auto border-l border-rule-strong bg-sheet px-4 py-2"
          >
            <h2>Build-up of line {at! + 1}</h2>
            <p className="mb-1 text-xs text-faint">
              {figures!.lines[at!]!.sku} · {figures!.lines[at!]!.name}
            </p>
            <StepsList steps={steps} places={2} links />
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
