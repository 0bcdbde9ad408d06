import { Link } from 'react-router';
import type { ItemPage } from '#contract/items.ts';
import { QUOTE_STATE_NAMES } from '#contract/quotes.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Figure } from '../kit/figure.tsx';
import { show, showDay, daysIn } from '../kit/number-form.ts';

const LINK = 'text-accent underline underline-offset-2';

/** The rules of prices that reach an item; those that name it stand first and stand out. */
export function ItemRules({ rules }: { rules: ItemPage['rules'] }) {
  const form = useNumberForm();
  if (rules.length === 0) return <p className="py-2 text-faint">None besides the recipes of the lists.</p>;
  return (
    <table className="ruled w-full">
      <tbody>
        {rules.map((r) => (
          <tr key={`${r.kind}${r.to}${r.name}${r.detail}`}>
            <td className="text-faint">{r.kind}</td>
            <td className={r.names ? 'font-medium' : ''}>
              <Link className={LINK} to={r.to}>
                {r.name}
              </Link>
            </td>
            <td className="text-faint">{daysIn(r.detail, form)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function ItemQuotes({ quotes }: { quotes: ItemPage['quotes'] }) {
  const form = useNumberForm();
  if (quotes.length === 0) return <p className="py-2 text-faint">No quote has had it yet.</p>;
  return (
    <table className="ruled w-full">
      <tbody>
        {quotes.slice(0, 12).map((q, n) => (
          <tr key={`${q.id}/${n}`}>
            <td>
              <Link className={`figure ${LINK}`} to={`/quotes/${q.id}`}>
                {q.number}
              </Link>
            </td>
            <td>{q.customer}</td>
            <td className="figure">
              {show(q.quantity, form)} {q.packName}
            </td>
            <td>{showDay(q.day, form)}</td>
            <td className="text-faint">{QUOTE_STATE_NAMES[q.state]}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What was posted for it, the latest first, and who changed it. */
export function ItemHistory({ item }: { item: ItemPage }) {
  const form = useNumberForm();
  const moment = useMoment();
  return (
    <>
      {item.changes.length > 0 ? (
        <p className="py-1 text-faint">
          {item.changes
            .slice(0, 5)
            .map((c) => `${c.by} ${c.action}, ${moment(c.at)}`)
            .join(' · ')}
        </p>
      ) : null}
      {item.history.length === 0 ? (
        <p className="py-2 text-faint">Nothing was posted for it yet.</p>
      ) : (
        <table className="ruled w-full max-w-5xl">
          <thead>
            <tr>
              <th>Posting</th>
              <th>List</th>
              <th>Pack</th>
              <th>from</th>
              <th className="figure">before</th>
              <th className="figure">after</th>
              <th>reason</th>
              <th>by</th>
            </tr>
          </thead>
          <tbody>
            {item.history.map((h) => (
              <tr key={`${h.posting}${h.packName}`}>
                <td>
                  <Link className={`figure ${LINK}`} to={`/ledger/${h.posting}`}>
                    {h.posting}
                  </Link>
                </td>
                <td>{h.list}</td>
                <td>{h.packName}</td>
                <td>{showDay(h.effective, form)}</td>
                <td className="figure">
                  <Figure value={h.before} places={2} />
                </td>
                <td className="figure">
                  <Figure value={h.after} places={2} />
                </td>
                <td>{h.reason}</td>
                <td>{h.by}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
