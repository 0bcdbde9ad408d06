import { Link } from 'react-router';
import { placeOf } from '#contract/places.ts';
import type { ChangeToCome } from '#contract/to-come.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { VIEWS } from '../setup/views.ts';
import { ChangeWords } from './change-words.tsx';
import { toComeApi } from './endpoints.ts';
import { useDrop } from './in-force.tsx';

/** Kinds of records that have a view of their own. */
const OWN: Readonly<Record<string, string>> = { recipes: 'recipe', ladders: 'ladder' };

const kindOf = ({ register }: ChangeToCome): string =>
  OWN[register] ?? VIEWS.find((v) => v.name === register)?.one ?? register;

/** Every change of rules that begins on a day to come, the nearest first; those that could not be carried out stand above. */
export function ChangesToCome() {
  const form = useNumberForm();
  const moment = useMoment();
  const may = useSignedIn().rights.has('edit_rules');
  const { data, error } = toComeApi.useChangesToComeQuery();
  const drop = useDrop();
  const rows = [...(data ?? [])].sort((a, b) => Number(b.trouble !== null) - Number(a.trouble !== null));
  return (
    <>
      <ViewHead
        title="Changes to come"
        about="Changes of rules that begin by themselves on their day. Prices of that day and later hold them already, on every screen that is asked about such a day."
      />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {data?.length === 0 ? (
          <Empty>
            Nothing is planned. In the form of a recipe, a ladder, a list or another rule choose “from a day to come”
            and keep it: it stands here until its day.
          </Empty>
        ) : null}
        {rows.length > 0 ? (
          <table className="ruled w-full max-w-6xl">
            <thead>
              <tr>
                <th>From</th>
                <th>Of</th>
                <th>What becomes another</th>
                <th>Why</th>
                <th>Who</th>
                <th>When</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              {rows.map((c) => (
                <tr key={c.id} className="align-baseline">
                  <td className="whitespace-nowrap">{showDay(c.day, form)}</td>
                  <td>
                    <span className="text-faint">{kindOf(c)}</span>{' '}
                    <Link to={placeOf(c.register, c.record)} className="text-accent underline underline-offset-2">
                      {c.name}
                    </Link>
                  </td>
                  <td>
                    {c.trouble === null ? null : (
                      <Trouble>
                        It could not be carried out: {c.trouble} Nothing was changed. Plan it anew, or drop it.
                      </Trouble>
                    )}
                    <ChangeWords change={c} />
                  </td>
                  <td>{c.reason}</td>
                  <td className="whitespace-nowrap">{c.by}</td>
                  <td className="whitespace-nowrap">{moment(c.at)}</td>
                  <td>
                    {may ? (
                      <button
                        type="button"
                        aria-label={`Drop the change of ${c.name} for ${showDay(c.day, form)}`}
                        className="text-stop underline underline-offset-2"
                        onClick={() => void drop(c)}
                      >
                        drop
                      </button>
                    ) : null}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : null}
      </div>
    </>
  );
}
