import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { QuoteBody, QuoteFigures, QuoteView } from '#contract/quotes.ts';
import { problemOf } from '../api.ts';
import { merged } from '../kit/conflict.tsx';
import { useLeaveGuard } from '../kit/leave-guard.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { useRegister } from '../records/use-register.ts';
import { bodyOf, complete } from './body.ts';
import { quotesApi } from './endpoints.ts';

const FOLLOWS = 'follows from the customer’s group';

/**
 * A quote as it is being written: what is typed is priced as it is typed and kept only when that is asked for; where somebody
 * else was faster, both versions are at hand. `quote` null: a new one.
 */
export function useQuote(quote: QuoteView | null) {
  const me = useSignedIn();
  const navigate = useNavigate();
  // what this editing began with: somebody else's change is met, never written over
  const [base, setBase] = useState(quote);
  const [body, setBody] = useState<QuoteBody>(() => bodyOf(quote));
  const { rows: lists } = useRegister('lists');
  const changed = useMemo(() => JSON.stringify(body) !== JSON.stringify(bodyOf(base)), [body, base]);
  const moved = quote !== null && quote.version !== base?.version;
  const follow = (theirs: QuoteView) => {
    setBase(theirs);
    setBody(bodyOf(theirs));
  };
  if (moved && !changed) follow(quote);

  const own = !quote || quote.writtenById === me.id || me.rights.has('write_others_quotes');
  const mayWrite = me.rights.has('write_quotes');
  const editable = mayWrite && own && quote?.state !== 'issued' && quote?.state !== 'accepted';
  const whole = complete(body);
  const tried = quotesApi.useTryQuoteQuery(body, { skip: !editable || !whole || (!changed && quote !== null) });
  // what is shown is of what is typed, as soon as anything is
  const typed = changed || !quote;
  const shown = typed ? tried.data : quote;
  const figures: QuoteFigures | undefined = typed ? (whole ? tried.data?.figures : undefined) : quote.figures;
  const listName = lists.find((l) => l.id === shown?.list)?.name;

  const [save, saving] = quotesApi.useSaveQuoteMutation();
  const [advance, advancing] = quotesApi.useAdvanceQuoteMutation();
  const error = saving.error ?? advancing.error ?? (whole ? tried.error : undefined);
  const { question, letGo } = useLeaveGuard(editable && (quote ? changed : body.lines.length > 0), 'The quote');
  /** What is refused is told above the lines. */
  const attempted = (work: Promise<void>) => work.catch(() => undefined);
  return {
    body,
    set: (more: Partial<QuoteBody>) => setBody((b) => ({ ...b, ...more })),
    changed,
    own,
    mayWrite,
    editable,
    figures,
    /** Older than what is typed: it is being priced. */
    stale: changed && tried.isFetching,
    listHint: body.list ? null : listName ? `${String(listName)}: ${shown?.listWhy ?? FOLLOWS}` : FOLLOWS,
    regionName: shown?.regionName ?? null,
    problem: error ? problemOf(error) : null,
    /** Somebody else changed it while something was typed here. */
    theirs: moved && changed ? quote : null,
    goOn: (fromTheirs: readonly string[]) => {
      if (!quote) return;
      setBase(quote);
      setBody(merged(body, bodyOf(quote), fromTheirs));
    },
    /** Asked before something typed would be lost. */
    question,
    saving: saving.isLoading,
    keep: () =>
      attempted(
        (async () => {
          const done = await save({ id: quote?.id ?? null, version: base?.version ?? 0, body }).unwrap();
          if (quote) follow(done);
          letGo();
          toast.success(`Quote ${done.number} is kept.`);
          void navigate(`/quotes/${done.id}`, { replace: true });
        })(),
      ),
    advance: (action: 'ask' | 'issue') =>
      attempted(
        (async () => {
          if (!quote) return;
          await advance({ id: quote.id, version: quote.version, action }).unwrap();
          toast.success(action === 'ask' ? 'Approval is asked.' : 'The quote is issued; its figures stay as they are.');
        })(),
      ),
    copy: () =>
      attempted(
        (async () => {
          const done = await save({ id: null, version: 0, body }).unwrap();
          letGo();
          void navigate(`/quotes/${done.id}`);
        })(),
      ),
  };
}

export type EditedQuote = ReturnType<typeof useQuote>;
