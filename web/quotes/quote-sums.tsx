import type { QuoteFigures } from '#contract/quotes.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Figure } from '../kit/figure.tsx';
import { show } from '../kit/number-form.ts';

export function QuoteSums({ figures }: { figures: QuoteFigures }) {
  const form = useNumberForm();
  return (
    <dl className="mt-5 ml-auto grid w-80 grid-cols-[1fr_auto] gap-x-4 gap-y-1">
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
      {figures.margin ? (
        <>
          <dt className="text-faint">margin of the whole</dt>
          <dd className="text-right">
            <Figure value={figures.margin} places={2} /> %
          </dd>
        </>
      ) : null}
    </dl>
  );
}
