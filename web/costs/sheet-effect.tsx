import { Link } from 'react-router';
import type { SheetEffect } from '#contract/costs.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Change } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';

/** Which computed prices a sheet would move, list by list. */
export function SheetMoves({ effect, trouble }: { effect: SheetEffect | undefined; trouble: string | null }) {
  const form = useNumberForm();
  const n = (value: number) => show(String(value), form);
  if (trouble) return <p className="px-5 py-3 text-stop">{trouble}</p>;
  if (!effect)
    return (
      <p className="px-5 py-3 text-faint" role="status">
        Working out which prices would move …
      </p>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
      <p className="mb-2 max-w-4xl text-faint">
        What the recipes would make on {showDay(effect.day, form)}, when the last of these costs counts, beside what
        they make without them. Rows that are held are counted too. No posted price changes by it.
      </p>
      {effect.lists.length === 0 ? (
        <p>No computed price would move.</p>
      ) : (
        <table className="ruled w-full max-w-4xl">
          <thead>
            <tr>
              <th>Price list</th>
              <th className="figure">prices</th>
              <th className="figure">up</th>
              <th className="figure">down</th>
              <th className="figure">lowest</th>
              <th className="figure">highest</th>
            </tr>
          </thead>
          <tbody>
            {effect.lists.map((l) => (
              <tr key={l.list}>
                <td>
                  <Link to={`/lists/${l.list}`} className="text-accent underline underline-offset-2">
                    {l.name}
                  </Link>
                </td>
                <td className="figure">{n(l.prices)}</td>
                <td className="figure">{n(l.rises)}</td>
                <td className="figure">{n(l.falls)}</td>
                <td className="figure">
                  <Change value={l.least} unit=" %" />
                </td>
                <td className="figure">
                  <Change value={l.most} unit=" %" />
                </td>
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr>
              <td>{counted(effect.lists.length, 'list')}</td>
              <td className="figure">{n(effect.prices)}</td>
              <td className="figure">{n(effect.lists.reduce((sum, l) => sum + l.rises, 0))}</td>
              <td className="figure">{n(effect.lists.reduce((sum, l) => sum + l.falls, 0))}</td>
              <td></td>
              <td></td>
            </tr>
          </tfoot>
        </table>
      )}
    </div>
  );
}
