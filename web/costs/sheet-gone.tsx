import { Link } from 'react-router';
import type { SheetOutcome } from '#contract/costs.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { show } from '../kit/number-form.ts';

/** Items that we buy of the supplier and that its file does not list: their known costs go on counting. */
export function SheetGone({ gone, supplier }: { gone: NonNullable<SheetOutcome['gone']>; supplier: string }) {
  const form = useNumberForm();
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
      <p className="mb-2 max-w-4xl text-faint">
        Items of ours that come from {supplier} and are not in this file. Their known costs go on counting: an item that
        is sold no more is retired on its own page.
        {gone.count > gone.items.length
          ? ` The first ${gone.items.length} of ${show(String(gone.count), form)} are shown.`
          : ''}
      </p>
      <table className="ruled w-full max-w-4xl">
        <thead>
          <tr>
            <th>SKU</th>
            <th>Item</th>
          </tr>
        </thead>
        <tbody>
          {gone.items.map((i) => (
            <tr key={i.item}>
              <td>
                <Link to={`/items/${i.item}`} className="text-accent underline underline-offset-2">
                  {i.sku}
                </Link>
              </td>
              <td>{i.name}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
