import type { QuoteFigures } from '#contract/quotes.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { show } from '../kit/number-form.ts';

type LineFigures = QuoteFigures['lines'][number];

export const hasWords = (f: LineFigures): boolean =>
  [f.reason, f.broken, f.buyMore, f.breakWords, f.dearerThanUsual, f.struck, f.freeUnits, f.otherList].some(Boolean) ||
  f.asks.length + f.refused.length > 0;

const OUTCOMES = { lift: 'lifted to it', ask: 'needs the approval of a second person', refuse: 'refused' } as const;

/** What there is to say about a line: why it has no price, which floor is broken and by how much, the breaks in words. */
export function LineWords({ line, currency }: { line: QuoteFigures['lines'][number]; currency: string }) {
  const form = useNumberForm();
  const { reason, broken, buyMore, breakWords, slices, refused, asks, dearerThanUsual, struck, freeUnits, otherList } =
    line;
  return (
    <>
      {reason ? (
        <div role="alert" className="text-stop">
          {reason}
        </div>
      ) : null}
      {broken ? (
        <div role="alert" className={broken.outcome === 'lift' ? 'text-warn' : 'text-stop'}>
          ▲ {broken.name === null ? 'A floor' : `Floor “${broken.name}”`}:{' '}
          {broken.least !== null && broken.short !== null
            ? `the least is ${show(broken.least, form)} ${currency}, short by ${show(broken.short, form)}; `
            : ''}
          {OUTCOMES[broken.outcome]}.
        </div>
      ) : null}
      {refused.map((why) => (
        <div key={why} role="alert" className="text-stop">
          {why}
        </div>
      ))}
      {asks.map((rule) => (
        <div key={rule} role="alert" className="text-stop">
          The rule “{rule}” asks for the approval of a second person.
        </div>
      ))}
      {dearerThanUsual ? (
        <div className="text-warn">
          A dated price stands that is dearer than the usual {show(dearerThanUsual, form)} {currency}.
        </div>
      ) : null}
      {struck ? (
        <div>
          before <s className="figure">{show(struck, form)}</s> {currency}
        </div>
      ) : null}
      {freeUnits ? <div>{show(freeUnits, form)} of them free.</div> : null}
      {otherList ? <div className="text-faint">price of the list {otherList}</div> : null}
      {buyMore ? (
        <div className="text-warn">
          {show(buyMore.buy, form)} more would cost {show(buyMore.saves, form)} {currency} less in all.
        </div>
      ) : null}
      {slices.length > 1 ? (
        <div>{slices.map((s) => `${show(s.quantity, form)} at ${show(s.price, form)}`).join(' + ')}</div>
      ) : null}
      {breakWords ? <div className="text-faint">breaks: {breakWords}</div> : null}
    </>
  );
}
