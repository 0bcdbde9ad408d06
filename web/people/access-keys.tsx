import { useState } from 'react';
import { Link } from 'react-router';
import { type FreshKey, RIGHT_NAMES, type Right } from '#contract/people.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';
import { DateField } from '../kit/date-field.tsx';
import { showDay } from '../kit/number-form.ts';
import { peopleApi } from './endpoints.ts';
import { useSignedIn } from './use-me.ts';

const EMPTY = { name: '', lastDay: '', rights: ['read'] as Right[] };

/** Keys with which programs ask in one's name: made, shown once, ended. */
export function AccessKeys() {
  const me = useSignedIn();
  const form = useNumberForm();
  const moment = useMoment();
  const { data: keys, error } = peopleApi.useKeysQuery();
  const [make, making] = peopleApi.useMakeKeyMutation();
  const [end, ending] = peopleApi.useEndKeyMutation();
  const [typed, setTyped] = useState(EMPTY);
  const [fresh, setFresh] = useState<FreshKey | null>(null);
  const problem = making.error && problemOf(making.error);
  const fault = (path: string) => problem?.faults?.find((f) => f.path.startsWith(path))?.message;
  const other = error ?? ending.error;
  const keep = async () => {
    try {
      setFresh(await make(typed).unwrap());
      setTyped(EMPTY);
    } catch {
      /* shown beside the fields */
    }
  };
  return (
    <section className="mt-6">
      <h2>Access keys</h2>
      <p className="max-w-prose text-faint">
        A program that shows a key asks in your name, for what the key is for and until its last day.{' '}
        <Link to="/api-description" className="text-accent underline">
          What can be asked
        </Link>
      </p>
      {other ? <Trouble>{problemOf(other).message}</Trouble> : null}
      {problem && !problem.faults?.length ? <Trouble>{problem.message}</Trouble> : null}
      {fresh ? (
        <div role="status" className="my-2 max-w-4xl border-l-4 border-warn bg-warn-ground px-3 py-2 text-warn">
          <p>The key “{fresh.name}” is shown this once; only its trace is kept. Copy it now.</p>
          <div className="mt-1 flex flex-wrap items-center gap-2">
            <code className="bg-sheet px-2 py-1 break-all text-ink">{fresh.key}</code>
            <Button onClick={() => void navigator.clipboard.writeText(fresh.key)}>Copy</Button>
            <Button onClick={() => setFresh(null)}>I have it</Button>
          </div>
        </div>
      ) : null}
      <table className="ruled mt-1 w-full max-w-4xl">
        <thead>
          <tr>
            <th>For</th>
            <th>May</th>
            <th>Last day</th>
            <th>Last used</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {keys?.map((k) => (
            <tr key={k.id}>
              <td>{k.name}</td>
              <td className="text-faint">{k.rights.map((r) => RIGHT_NAMES[r]).join(', ')}</td>
              <td className="whitespace-nowrap">{showDay(k.lastDay, form)}</td>
              <td className="whitespace-nowrap">{k.lastUsed ? moment(k.lastUsed) : 'never'}</td>
              <td className="text-right">
                <Button weight="stop" disabled={ending.isLoading} onClick={() => void end(k.id)}>
                  End it
                </Button>
              </td>
            </tr>
          ))}
          {keys?.length === 0 ? (
            <tr>
              <td colSpan={5} className="text-faint">
                No key yet.
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
      <form
        className="mt-2 flex max-w-4xl flex-wrap items-start gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <Field label="What it is for" fault={fault('name')}>
          <Input value={typed.name} onChange={(e) => setTyped({ ...typed, name: e.target.value })} />
        </Field>
        <Field label="Last day" fault={fault('lastDay')}>
          <DateField value={typed.lastDay} onValue={(lastDay) => setTyped({ ...typed, lastDay })} />
        </Field>
        <fieldset className="flex max-w-xl flex-wrap gap-x-4">
          <legend className="text-xs text-faint">It may</legend>
          {[...me.rights].map((r) => (
            <label key={r} className="flex items-center gap-1.5 py-1">
              <input
                type="checkbox"
                checked={typed.rights.includes(r)}
                onChange={(e) =>
                  setTyped({
                    ...typed,
                    rights: e.target.checked ? [...typed.rights, r] : typed.rights.filter((x) => x !== r),
                  })
                }
              />
              {RIGHT_NAMES[r]}
            </label>
          ))}
          {fault('rights') ? (
            <span role="alert" className="text-xs text-stop">
              {fault('rights')}
            </span>
          ) : null}
        </fieldset>
        <Button type="submit" weight="main" className="mt-4" disabled={making.isLoading || typed.name.trim() === ''}>
          Make a key
        </Button>
      </form>
    </section>
  );
}
