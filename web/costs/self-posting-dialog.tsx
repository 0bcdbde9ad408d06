import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import type { CostSupplier } from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { Button, Dialog, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { useRegister } from '../records/use-register.ts';
import { costsApi } from './endpoints.ts';

/** How far a price may move where nothing else was said, in per cent. */
const USUAL_MOST = '3';

/** Which lists post themselves after costs of a supplier, and how far each of their prices may move. */
export function SelfPostingDialog({ supplier, onClose }: { supplier: CostSupplier; onClose: () => void }) {
  const { rows: registered } = useRegister('lists');
  const lists = registered.filter((l) => l.recipe && l.active !== false);
  const [most, setMost] = useState<Readonly<Record<string, string>>>(
    Object.fromEntries(supplier.posts.map((p) => [p.list, p.most])),
  );
  const [keep, { isLoading, error }] = costsApi.useSetSelfPostingMutation();
  const problem = error ? problemOf(error) : null;
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    const body = {
      lists: lists.filter((l) => most[l.id] !== undefined).map((l) => ({ list: l.id, most: most[l.id]! })),
    };
    try {
      await keep({ id: supplier.id, body }).unwrap();
      toast.success(
        body.lists.length === 0
          ? `After costs of ${supplier.name} no prices post themselves.`
          : `After costs of ${supplier.name} prices post themselves, within what was said.`,
      );
      onClose();
    } catch {
      /* shown above the form */
    }
  };
  return (
    <Dialog open onClose={onClose} title={`Prices after costs of ${supplier.name}`}>
      <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-4">
        {problem ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
          </Trouble>
        ) : null}
        <p>
          Once costs are taken in, prices of the items they reach are proposed and post themselves on the lists chosen
          here: all of a list, or none of it. A list waits for a person where a price would move further than said,
          would be the first, cannot be computed or has to be decided, and where a proof would no longer hold. Today
          tells which; what was posted can be reversed.
        </p>
        <table className="ruled">
          <thead>
            <tr>
              <th>List</th>
              <th className="figure">moves by at most, %</th>
            </tr>
          </thead>
          <tbody>
            {lists.map((l) => {
              const name = l.name;
              const own = most[l.id];
              return (
                <tr key={l.id}>
                  <td>
                    <label className="flex items-center gap-2">
                      <input
                        type="checkbox"
                        className="accent-accent"
                        checked={own !== undefined}
                        onChange={(e) => {
                          const { [l.id]: _, ...others } = most;
                          setMost(e.target.checked ? { ...others, [l.id]: USUAL_MOST } : others);
                        }}
                      />
                      {name}
                    </label>
                  </td>
                  <td className="text-right">
                    {own === undefined ? (
                      <span className="text-faint">waits for a person</span>
                    ) : (
                      <NumberInput
                        aria-label={`${name}: moves by at most, per cent`}
                        className="w-20"
                        value={own}
                        onValue={(value) => setMost({ ...most, [l.id]: value })}
                      />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {lists.length === 0 ? <p className="text-faint">No active price list has a recipe.</p> : null}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" weight="main" disabled={isLoading}>
            {isLoading ? 'Keeping …' : 'Keep'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
