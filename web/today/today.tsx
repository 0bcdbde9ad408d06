import { Link } from 'react-router';
import { useState } from 'react';
import { HEADINGS, type Today as TodayLines, type Waiting } from '#contract/today.ts';
import type { ReplicaStanding } from '#contract/replica.ts';
import { todayApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { type Moment, useMoment } from '../frame/moments.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { type NumberForm, show } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';

const NONE: Waiting[] = [];
/** How often it is looked how far a copy of the database lags behind, in milliseconds. */
const LOOK_MS = 10_000;

/** As of when the lists were counted. */
function asOf(data: TodayLines | undefined, moment: Moment): string {
  if (!data || (data.at === null && !data.stale)) return '';
  if (data.at === null) return ' The lists are being counted …';
  const counted = ` Lists counted ${moment(data.at)}`;
  return data.stale ? `${counted}; something has changed since, they are being counted again …` : `${counted}.`;
}

/** How old what is read may be, where it is read from a copy of the database. */
function readAsOf(copy: ReplicaStanding | undefined, form: NumberForm): string {
  if (copy === undefined || copy.state === 'none') return '';
  if (copy.state === 'away')
    return ' The copy of the database does not answer; everything is read from the database itself.';
  if (copy.state === 'level') return ' Read from a copy of the database that has everything.';
  const late = show((copy.secondsBehind ?? 0).toFixed(1), form);
  return ` Read from a copy of the database, ${late} s behind: what others write may show that late, prices and your own changes never do.`;
}

/** A work list: each line leads to the screen where it is settled. */
export function Today() {
  const { name } = useSignedIn();
  const form = useNumberForm();
  const moment = useMoment();
  const [busy, setBusy] = useState(true);
  const { data, error, isLoading } = todayApi.useTodayQuery(undefined, { pollingInterval: busy ? 1500 : 0 });
  if (data && data.stale !== busy) setBusy(data.stale);
  const [mayLag, setMayLag] = useState(true);
  const { data: copy } = todayApi.useReplicaQuery(undefined, { pollingInterval: mayLag ? LOOK_MS : 0 });
  if (copy && (copy.state !== 'none') !== mayLag) setMayLag(copy.state !== 'none');
  const lines = data?.lines ?? NONE;
  const kinds = (Object.keys(HEADINGS) as Waiting['kind'][]).filter((k) => lines.some((w) => w.kind === k));
  return (
    <>
      <ViewHead
        title="Today"
        about={
          isLoading
            ? 'Looking through costs, lists and quotes …'
            : `What waits for ${name}.${asOf(data, moment)}${readAsOf(copy, form)}`
        }
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {data && lines.length === 0 && !data.stale ? (
          <Empty>
            Nothing waits. Costs that arrive, prices that differ from their recipe and quotes to approve will stand
            here.
          </Empty>
        ) : null}
        <table className="ruled w-full max-w-4xl">
          <tbody>
            {kinds.flatMap((kind) =>
              lines
                .filter((w) => w.kind === kind)
                .map((w, i) => (
                  <tr key={`${kind}${w.to}`}>
                    <th
                      scope="row"
                      className="w-64 max-lg:w-36 max-lg:!whitespace-normal !border-rule align-baseline !font-normal"
                    >
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
