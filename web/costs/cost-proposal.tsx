import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { CostProposal, TypedCostBody } from '#contract/typed-costs.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { counted } from '../kit/words.ts';
import { MovesTable } from '../lists/moves-table.tsx';
import { costsApi } from './endpoints.ts';

/** So long is waited after the last key, in milliseconds. */
const PAUSE = 500;
const LINK = 'text-accent underline underline-offset-2';

/** What a cost as it is typed would change; null while it is not whole, or not looked at yet. */
export function useCostProposal(body: TypedCostBody | null): { proposal: CostProposal | null; refused: string | null } {
  const [ask] = costsApi.useProposeCostMutation();
  const [found, setFound] = useState<{ of: string; proposal: CostProposal | null; refused: string | null } | null>(
    null,
  );
  const sent = body && JSON.stringify(body);
  useEffect(() => {
    if (!sent) return;
    const resting = setTimeout(() => {
      void ask(JSON.parse(sent) as TypedCostBody).then((a) =>
        setFound({ of: sent, proposal: a.data ?? null, refused: a.error ? problemOf(a.error).message : null }),
      );
    }, PAUSE);
    return () => clearTimeout(resting);
  }, [sent, ask]);
  return found && found.of === sent ? found : { proposal: null, refused: null };
}

/** A cost before it is kept: who takes it, which typed prices stay, and how many prices on each list it would move. */
export function ProposedCost({ proposal, after }: { proposal: CostProposal; after: TypedCostBody }) {
  const form = useNumberForm();
  const { group, lead, members, handSet, lists, day } = proposal;
  const squeezed = handSet.filter((h) => h.squeezed).length;
  return (
    <section aria-label="What the cost would change" className="mt-4">
      {group ? (
        <>
          <p className="bg-warn-ground px-3 py-1.5 text-warn">
            In lockstep, “{group}”: the cost is kept for the lead,{' '}
            <Link to={`/items/${lead.item}`} className="underline">
              {lead.sku}
            </Link>
            , and counts for all {members.length}.
          </p>
          <table className="ruled mt-2">
            <thead>
              <tr>
                <th>Item</th>
                <th></th>
                <th className="figure">is</th>
                <th className="figure">becomes</th>
              </tr>
            </thead>
            <tbody>
              {members.slice(0, 40).map((m) => (
                <tr key={m.item}>
                  <td className="whitespace-nowrap">{m.sku}</td>
                  <td>{m.name}</td>
                  <td className="figure whitespace-nowrap">
                    {m.before ? (
                      <>
                        <Figure value={m.before.amount} places={2} /> {m.before.currency} for{' '}
                        {show(m.before.packUnits, form)}
                      </>
                    ) : (
                      'none'
                    )}
                  </td>
                  <td className="figure bg-proposed whitespace-nowrap">
                    <Figure value={after.amount} places={2} /> {after.currency} for {show(after.packUnits, form)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {members.length > 40 ? <p className="text-faint">and {members.length - 40} more</p> : null}
        </>
      ) : null}
      {handSet.length > 0 ? (
        <>
          <p className="mt-3">
            {counted(handSet.length, 'typed price')} {handSet.length === 1 ? 'does' : 'do'} not follow
            {squeezed > 0 ? (
              <span className="text-stop">, {squeezed} would leave less than the recipe makes</span>
            ) : null}
            :
          </p>
          <table className="ruled">
            <thead>
              <tr>
                <th>Price list</th>
                <th>Pack</th>
                <th className="figure">price</th>
                <th>because</th>
                <th className="figure">margin now, %</th>
                <th className="figure">then, %</th>
                <th className="figure">of the recipe, %</th>
              </tr>
            </thead>
            <tbody>
              {handSet.map((h) => (
                <tr key={`${h.list}/${h.pack}`}>
                  <td>
                    <Link to={`/lists/${h.list}`} className={LINK}>
                      {h.listName}
                    </Link>
                  </td>
                  <td>{h.pack}</td>
                  <td className="figure">
                    <Figure value={h.price} places={2} />
                  </td>
                  <td>{h.reason}</td>
                  <td className="figure">
                    <Figure value={h.marginBefore} places={2} />
                  </td>
                  <td className={`figure ${h.squeezed ? 'text-stop' : ''}`}>
                    <Figure value={h.marginAfter} places={2} />
                  </td>
                  <td className="figure">
                    <Figure value={h.marginOfRecipe} places={2} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : null}
      <p className="mt-3 mb-1">
        {lists.length === 0
          ? `On ${showDay(day, form)} no computed price would move.`
          : `On ${showDay(day, form)} these computed prices would move:`}
      </p>
      {lists.length > 0 ? <MovesTable lists={lists} /> : null}
    </section>
  );
}
