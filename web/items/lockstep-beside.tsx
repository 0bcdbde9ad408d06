import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { LockstepPreview } from '#contract/lockstep.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Change, Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { itemsApi } from './endpoints.ts';

const PAUSE = 500;
const SHOWN = 60;
const LINK = 'text-accent underline underline-offset-2';

/** Of a lockstep group as it is typed: what differs on joining, side by side, what stays on leaving, and costs that are odd. */
export function LockstepBeside({ id, body }: { id: string; body: Record<string, unknown> }) {
  const [ask] = itemsApi.useLockstepPreviewMutation();
  const [found, setFound] = useState<{ of: string; told: LockstepPreview | null } | null>(null);
  const lead = body['lead'] as string | null;
  const members = (body['members'] as string[] | null) ?? [];
  const sent = lead && members.length > 0 ? JSON.stringify({ id: id === '' ? null : id, lead, members }) : null;
  useEffect(() => {
    if (!sent) return;
    const resting = setTimeout(() => {
      void ask(JSON.parse(sent) as { id: string | null; lead: string; members: string[] }).then((a) =>
        setFound({ of: sent, told: a.data ?? null }),
      );
    }, PAUSE);
    return () => clearTimeout(resting);
  }, [sent, ask]);
  if (!sent || found?.of !== sent || !found.told) return null;
  const { told } = found;
  return (
    <section aria-label="What the group changes" className="mt-4 border-t border-rule pt-3">
      <Joining told={told} />
      <Leaving told={told} />
      <Costs told={told} />
    </section>
  );
}

function Joining({ told }: { told: LockstepPreview }) {
  if (told.joining.length === 0) return null;
  const rows = told.joining.flatMap((j) => j.differences.map((d) => ({ ...j, ...d })));
  return (
    <div className="mb-4">
      <h3 className="font-medium">Who joins takes what {told.lead.sku} has</h3>
      {rows.length === 0 ? (
        <p className="text-faint">Nothing differs.</p>
      ) : (
        <table className="ruled">
          <thead>
            <tr>
              <th>Item</th>
              <th>Value</th>
              <th></th>
              <th>is its own</th>
              <th>becomes</th>
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, SHOWN).map((r, i) => (
              <tr key={i}>
                <td className="whitespace-nowrap">{rows[i - 1]?.item === r.item ? '' : r.sku}</td>
                <td>{r.value}</td>
                <td>{r.where}</td>
                <td>{r.own ?? <span className="text-faint">none</span>}</td>
                <td className="bg-proposed">{r.lead ?? <i>none</i>}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {rows.length > SHOWN ? <p className="text-faint">and {rows.length - SHOWN} more</p> : null}
      <p className="text-xs text-faint">
        To keep another’s values, choose that one as the lead. What was, stays in the ledger; who leaves later keeps
        what the lead has then.
      </p>
    </div>
  );
}

function Leaving({ told }: { told: LockstepPreview }) {
  if (told.leaving.length === 0) return null;
  return (
    <div className="mb-4">
      <h3 className="font-medium">Who leaves keeps what {told.leaving[0]!.from} has, as its own</h3>
      <ul>
        {told.leaving.map((l) => (
          <li key={l.item}>
            <Link to={`/items/${l.item}`} className={LINK}>
              {l.sku}
            </Link>{' '}
            {l.name}: {l.costs === 1 ? 'its cost' : `${l.costs} costs`}, the {l.packs.length === 1 ? 'pack' : 'packs'}{' '}
            {l.packs.join(', ')}, {l.prices === 1 ? 'its price' : `${l.prices} prices`}. They are posted as its own;
            from then on it moves alone.
          </li>
        ))}
      </ul>
    </div>
  );
}

function Costs({ told }: { told: LockstepPreview }) {
  const form = useNumberForm();
  const odd = told.costs.filter((c) => c.odd).length;
  if (told.costs.length === 0) return null;
  return (
    <details open={odd > 0}>
      <summary className="cursor-pointer font-medium">
        Costs of each{odd > 0 ? <span className="text-warn">: {odd} far from the lead’s</span> : ''}
      </summary>
      <p className="text-xs text-faint">The lead’s counts for all; of the others it is what suppliers sent.</p>
      <table className="ruled">
        <thead>
          <tr>
            <th>Item</th>
            <th>Supplier</th>
            <th>from</th>
            <th className="figure">cost</th>
            <th className="figure">for units</th>
            <th className="figure">per unit</th>
            <th className="figure">against the lead’s</th>
          </tr>
        </thead>
        <tbody>
          {told.costs.slice(0, SHOWN).map((c, i) => (
            <tr key={i} className={c.odd ? 'bg-warn-ground' : ''}>
              <td className="whitespace-nowrap">
                <Link to={`/items/${c.item}`} className={LINK}>
                  {c.sku}
                </Link>
              </td>
              <td>{c.supplier}</td>
              <td className="whitespace-nowrap">{showDay(c.from, form)}</td>
              <td className="figure whitespace-nowrap">
                <Figure value={c.amount} places={2} /> {c.currency}
              </td>
              <td className="figure">{show(c.packUnits, form)}</td>
              <td className="figure">
                <Figure value={c.unit} places={4} />
              </td>
              <td className="figure">{c.changePercent === null ? '' : <Change value={c.changePercent} unit=" %" />}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {told.costs.length > SHOWN ? <p className="text-faint">and {told.costs.length - SHOWN} more</p> : null}
    </details>
  );
}
