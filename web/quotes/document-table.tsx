import type { ChainDocument, ChangePart } from '#contract/change-orders.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Change, Figure } from '../kit/figure.tsx';
import { show } from '../kit/number-form.ts';

/** What was, what will be, and what a document asks. */
export function DocumentTable({
  document: d,
  currency,
  taxIn,
  estimate,
}: {
  document: ChainDocument;
  currency: string;
  taxIn: boolean;
  /** What the customer was told before. */
  estimate: string | null;
}) {
  const form = useNumberForm();
  const first = d.number === 0;
  const figures = (p: ChangePart, strong = false) => (
    <>
      {first ? null : (
        <td className="figure">
          <Figure value={p.was} places={2} />
        </td>
      )}
      <td className="figure">
        <Figure value={p.now} places={2} final={strong} />
      </td>
      {first ? null : (
        <td className="figure">
          <Change value={p.difference} />
        </td>
      )}
    </>
  );
  const quantities = ({ quantityWas, quantityNow, packName }: ChainDocument['lines'][number]) => {
    const now = quantityNow === null ? 'taken away' : `${show(quantityNow, form)} ${packName}`;
    if (first || quantityWas === quantityNow) return now;
    return quantityWas === null ? `new: ${now}` : `${show(quantityWas, form)} → ${now}`;
  };
  return (
    <>
      {d.alerts.map((a) => (
        <p
          key={`${a.alert}${a.part}`}
          role="alert"
          className={`my-1 border-l-4 px-3 py-1 ${a.alert === 'refused' || a.alert === 'needs_approval' ? 'border-stop bg-stop-ground text-stop' : 'border-warn bg-warn-ground text-warn'}`}
        >
          {a.part}: {a.text}.
        </p>
      ))}
      <table className="ruled mt-2 w-full max-w-4xl">
        <thead>
          <tr>
            <th>Item</th>
            <th>Quantity</th>
            {first ? null : <th className="figure">was, {currency}</th>}
            <th className="figure">{first ? `total, ${currency}` : `will be, ${currency}`}</th>
            {first ? null : <th className="figure">difference, {currency}</th>}
          </tr>
        </thead>
        <tbody>
          {d.lines.map((l) => (
            <tr key={l.id} className={l.quantityNow === null ? 'text-faint' : ''}>
              <td>
                {l.name} <span className="text-xs text-faint">{l.sku}</span>
              </td>
              <td>{quantities(l)}</td>
              {figures(l)}
            </tr>
          ))}
          <tr className="font-medium">
            <td colSpan={2}>
              Goods
              {d.goods.notCredited ? <NotCredited amount={d.goods.notCredited} /> : null}
              {d.carried ? (
                <span className="block text-xs font-normal text-faint">
                  {show(d.carried.amount, form)} off the whole was given on {show(d.carried.onGoods, form)}:{' '}
                  {show(d.carried.share, form)} % of the goods, now {show(d.carried.now, form)}
                </span>
              ) : null}
            </td>
            {figures(d.goods, true)}
          </tr>
          {d.charges.map((c) => (
            <tr key={c.id}>
              <td colSpan={2}>
                {c.name} {c.notCredited ? <NotCredited amount={c.notCredited} /> : null}
              </td>
              {figures(c)}
            </tr>
          ))}
        </tbody>
      </table>
      <dl className="mt-4 grid w-96 grid-cols-[1fr_auto] gap-x-4 gap-y-1">
        <dt className="text-faint">tax{taxIn ? ', in the prices' : ''}</dt>
        <dd className="text-right">
          <Figure value={d.tax} places={2} signed={!first} />
        </dd>
        <dt className="font-semibold">
          {first ? 'to pay' : d.toPay.startsWith('-') ? 'to give back' : 'to pay with this change'}, {currency}
        </dt>
        <dd className="text-right text-base">
          <Figure value={d.toPay.replace('-', '')} places={2} final />
        </dd>
        {first ? null : (
          <>
            <dt className="text-faint">all documents together</dt>
            <dd className="text-right">
              <Figure value={d.toPayInAll} places={2} />
            </dd>
          </>
        )}
        {estimate === null ? null : (
          <>
            <dt className="text-faint">the customer was told</dt>
            <dd className="text-right">
              <Figure value={estimate} places={2} />
            </dd>
          </>
        )}
      </dl>
    </>
  );
}

function NotCredited({ amount }: { amount: string }) {
  const form = useNumberForm();
  return <span className="text-xs font-normal text-warn"> {show(amount, form)} less, not given back</span>;
}
