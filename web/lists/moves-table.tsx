import { Link } from 'react-router';
import type { ListMoves } from '#contract/lists.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Change } from '../kit/figure.tsx';
import { show } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';

/** How many computed prices of each list would move, and how far. */
export function MovesTable({ lists }: { lists: readonly ListMoves[] }) {
  const form = useNumberForm();
  const n = (value: number) => show(String(value), form);
  const sum = (of: 'prices' | 'rises' | 'falls') => n(lists.reduce((all, l) => all + l[of], 0));
  return (
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
        {lists.map((l) => (
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
          <td>{counted(lists.length, 'list')}</td>
          <td className="figure">{sum('prices')}</td>
          <td className="figure">{sum('rises')}</td>
          <td className="figure">{sum('falls')}</td>
          <td></td>
          <td></td>
        </tr>
      </tfoot>
    </table>
  );
}
