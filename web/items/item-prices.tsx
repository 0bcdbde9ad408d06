import type { ItemPage, ItemPrice } from '#contract/items.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Figure } from '../kit/figure.tsx';
import { showDay } from '../kit/number-form.ts';
import { sourceWords } from '../lists/price-columns.tsx';

/** The price whose build-up is open. */
export interface Shown {
  readonly list: string;
  readonly pack: string;
}

/** What every list asks for every pack, and where each price is from. */
export function ItemPrices({
  item,
  shown,
  onShown,
}: {
  item: ItemPage;
  shown: Shown | null;
  onShown: (shown: Shown | null) => void;
}) {
  const form = useNumberForm();
  if (item.lists.length === 0) return <p className="py-2 text-faint">It is not sold.</p>;
  const places = (list: ItemPage['lists'][number], value: string | null, tone = '') =>
    value === null ? (
      <span className="text-faint">–</span>
    ) : (
      <Figure value={value} places={list.decimals} className={tone} />
    );
  return (
    <table className="ruled w-full max-w-5xl">
      <thead>
        <tr>
          <th>List</th>
          <th>Pack</th>
          <th className="figure">asked</th>
          <th></th>
          <th>where it is from</th>
          <th className="figure">posted</th>
          <th>from</th>
          <th className="figure">lowest in 30 days</th>
        </tr>
      </thead>
      <tbody>
        {item.lists.flatMap((list) =>
          list.prices.map((p: ItemPrice, n) => {
            const open = shown?.list === list.id && shown.pack === p.pack;
            return (
              <tr key={`${list.id}/${p.pack}`} className={open ? 'bg-chosen' : ''}>
                <td>
                  {n === 0 ? (
                    <>
                      {list.name} <span className="text-xs text-faint">tax {list.taxIn ? 'in' : 'out'}</span>
                    </>
                  ) : null}
                </td>
                <td>
                  <button
                    type="button"
                    aria-pressed={open}
                    aria-label={`Why: build-up of ${p.packName} on ${list.name}`}
                    className="text-accent underline"
                    onClick={() => onShown(open ? null : { list: list.id, pack: p.pack })}
                  >
                    {p.packName}
                  </button>
                </td>
                <td className={`figure ${p.dated ? 'bg-proposed' : ''}`}>
                  {places(list, p.asks, p.source === 'parent' ? 'text-faint' : '')}
                </td>
                <td className="text-xs text-faint">{list.currency}</td>
                <td className={p.source === 'parent' ? 'text-faint' : ''}>
                  {p.source === null ? 'not sold' : sourceWords(p, form)}
                </td>
                <td className="figure">{places(list, p.posted)}</td>
                <td>{p.postedFrom ? showDay(p.postedFrom, form) : ''}</td>
                <td className="figure">{places(list, p.lowest)}</td>
              </tr>
            );
          }),
        )}
      </tbody>
    </table>
  );
}
