import type { QuoteFigures } from '#contract/quotes.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Figure } from '../kit/figure.tsx';
import { show } from '../kit/number-form.ts';
import { dec, money } from '#core/numbers/decimal.ts';

/** How far the sum is from what was told; null: what was told is half typed. */
const gap = (sum: string, told: string): string | null =>
  /^\d+(\.\d+)?$/.test(told) ? money(dec(sum).minus(told), 2) : null;

/** Net, tax and what is to be paid; what the customer was told stands beside the sum, never in it. */
export function QuoteSums({ figures, estimate = null }: { figures: QuoteFigures; estimate?: string | null }) {
  const form = useNumberForm();
  const { reduction } = figures;
  const off = estimate === null ? null : gap(figures.toPay, estimate);
  return (
    <>
      {reduction ? (
        <p className={`mt-4 text-right ${reduction.refused ? 'text-stop' : 'text-faint'}`}>
          off the whole: {show(reduction.asked, form)} {figures.currency} asked of {show(reduction.goods, form)},{' '}
          {show(reduction.given, form)} given
          {reduction.possible !== null && reduction.refused ? `, ${show(reduction.possible, form)} possible` : ''}
          {reduction.refused ? <span role="alert"> · {reduction.refused}</span> : null}
        </p>
      ) : null}
      <dl className="mt-5 ml-auto grid w-80 grid-cols-[1fr_auto] gap-x-4 gap-y-1">
        {reduction && !dec(reduction.given).isZero() ? (
          <>
            <dt className="text-faint">lines and charges</dt>
            <dd className="text-right">
              <Figure value={money(dec(figures.linesTotal).plus(reduction.given), 2)} places={2} />
            </dd>
            <dt className="text-faint">discount on the whole</dt>
            <dd className="text-right">
              <Figure value={`-${reduction.given}`} places={2} />
            </dd>
          </>
        ) : null}
        <dt className="text-faint">net</dt>
        <dd className="text-right">
          <Figure value={figures.net} places={2} />
        </dd>
        {figures.taxes.flatMap((t) => [
          <dt key={`${t.percent}t`} className="text-faint">
            tax {show(t.percent, form)} % of {show(t.net, form)}
            {figures.taxIn ? ', in the prices' : ''}
          </dt>,
          <dd key={`${t.percent}d`} className="text-right">
            <Figure value={t.tax} places={2} />
          </dd>,
        ])}
        <dt className="font-semibold">to pay, {figures.currency}</dt>
        <dd className="text-right text-base">
          <Figure value={figures.toPay} places={2} final />
        </dd>
        {estimate !== null && off !== null ? (
          <>
            <dt className="text-faint">the customer was told</dt>
            <dd className="text-right">
              <Figure value={estimate} places={2} />
            </dd>
            <dt className="text-faint">the sum is {off.startsWith('-') ? 'less' : 'more'} by</dt>
            <dd className={`text-right ${off.startsWith('-') ? '' : 'text-warn'}`}>
              <Figure value={off.replace('-', '')} places={2} />
            </dd>
          </>
        ) : null}
        {figures.margin ? (
          <>
            <dt className="text-faint">margin of the whole</dt>
            <dd className="text-right">
              <Figure value={figures.margin} places={2} /> %
            </dd>
            <dt className="text-faint">profit</dt>
            <dd className="text-right">
              <Figure value={figures.profit} places={2} />
            </dd>
          </>
        ) : null}
      </dl>
    </>
  );
}
