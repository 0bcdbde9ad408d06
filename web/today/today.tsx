import { Link } from 'react-router';
import type { Waiting } from '#contract/today.ts';
import { todayApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { useSignedIn } from '../people/use-me.ts';

const HEADINGS: Record<Waiting['kind'], string> = {
  cost_sheet: 'Costs that arrived',
  price_changes: 'Prices that differ from their recipe',
  without_price: 'Not posted yet',
  held_prices: 'Held until somebody decides',
  below_floor: 'Sold at a loss',
  without_cost: 'Without a price',
  findings: 'Found by the check',
  hand_set_ends: 'Set by hand, about to end',
  quote_to_approve: 'To approve',
  quote_approved: 'Approved',
};

/** A work list: each line leads to the screen where it is settled. */
export function Today() {
  const { name } = useSignedIn();
  const { data, error, isLoading } = todayApi.useTodayQuery();
  const kinds = (Object.keys(HEADINGS) as Waiting['kind'][]).filter((k) => data?.some((w) => w.kind === k));
  return (
    <>
      <ViewHead
        title="Today"
        about={isLoading ? 'Looking through costs, lists and quotes …' : `What waits for ${name}.`}
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {data?.length === 0 ? (
          <Empty>
            Nothing waits. Costs that arrive, prices that differ from their recipe and quotes to approve will stand
            here.
          </Empty>
        ) : null}
        <table className="ruled w-full max-w-4xl">
          <tbody>
            {kinds.flatMap((kind) =>
              data!
                .filter((w) => w.kind === kind)
                .map((w, i) => (
                  <tr key={`${kind}${w.to}`}>
                    <th scope="row" className="w-64 !border-rule align-baseline !font-normal">
                      {i === 0 ? HEADINGS[kind] : ''}
                    </th>
                    <td className="figure w-14">{w.count}</td>
                    <td>
                      <Link to={w.to} className="text-accent underline decoration-1 underline-offset-2">
                        {w.text}
                      </Link>
                    </td>
                  </tr>
                )),
            )}
          </tbody>
        </table>
      </div>
    </>
  );
}
