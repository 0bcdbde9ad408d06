import { toast } from 'sonner';
import { type FetchedPair, RATE_MOVE_LOOKED_AT } from '#contract/fetched-rates.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Button } from '../kit/controls.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { ratesApi } from './rate-endpoints.ts';

/** The newest rates of the service beside those that count: each is taken by a person, who sees what it moves. */
export function FetchedRatesTable({ onPropose }: { onPropose: (rate: Record<string, unknown>) => void }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const moment = useMoment();
  const { data: found } = ratesApi.useFetchedRatesQuery();
  const [ask, { isLoading: asking }] = ratesApi.useAskRatesMutation();
  const [follow, { isLoading }] = ratesApi.useFollowRatesMutation();
  const may = me.rights.has('edit_rules');
  if (!found || (found.pairs.length === 0 && !found.trouble)) return null;
  const failed = (e: unknown) => toast.error(problemOf(e).message);
  const now = () =>
    ask()
      .unwrap()
      .then((f) => (f.trouble ? toast.error(f.trouble) : toast.success('Asked: what is new stands here.')), failed);
  const proposed = (p: FetchedPair) => ({
    from: p.from,
    to: p.to,
    day: p.day,
    rate: p.rate,
  });
  return (
    <section aria-label="Fetched rates" className="mb-5 max-w-4xl">
      <h2>As the service quotes them</h2>
      <p className="mb-1 text-faint">
        {found.lastAnswer ? `Answered last ${moment(found.lastAnswer)}.` : 'It has not answered yet.'} Nothing is made
        from these before they are taken.
        {found.trouble ? <span className="text-stop"> {found.trouble}</span> : null}
      </p>
      <table className="ruled">
        <thead>
          <tr>
            <th>Pair</th>
            <th>day</th>
            <th className="figure">quoted</th>
            <th className="figure">counts</th>
            <th>since</th>
            <th className="figure">moves by</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          {found.pairs.map((p) => (
            <tr key={`${p.from}${p.to}`}>
              <td>
                {p.from} in {p.to}
              </td>
              <td className="whitespace-nowrap">{showDay(p.day, form)}</td>
              <td className="figure bg-proposed">
                <Figure value={p.rate} places={4} />
              </td>
              <td className="figure">
                <Figure value={p.counts?.rate} places={4} />
              </td>
              <td className="whitespace-nowrap">{p.counts ? showDay(p.counts.day, form) : ''}</td>
              <td className="figure">
                <Change value={p.changePercent} unit=" %" />
              </td>
              <td>
                {may && p.counts?.day !== p.day ? (
                  <button
                    type="button"
                    aria-label={`take ${p.from} in ${p.to}`}
                    className="text-accent underline"
                    onClick={() => onPropose(proposed(p))}
                  >
                    take …
                  </button>
                ) : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {may ? (
        <div className="mt-2 flex items-center gap-4">
          <Button disabled={asking} onClick={() => void now()}>
            Ask now
          </Button>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={found.follow}
              disabled={isLoading}
              onChange={(e) => void follow({ version: found.version, follow: e.target.checked }).unwrap().catch(failed)}
            />
            the newest is taken by itself where it moves by at most {show(String(RATE_MOVE_LOOKED_AT), form)} %
          </label>
        </div>
      ) : null}
    </section>
  );
}
