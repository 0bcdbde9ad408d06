import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { peopleApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { Button, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { useMoment } from '../frame/moments.ts';
import { AccessKeys } from './access-keys.tsx';
import { useSignedIn } from './use-me.ts';

/** The own password, and every place where one is signed in. */
export function OwnAccount() {
  const me = useSignedIn();
  return (
    <>
      <ViewHead title="Password, keys and sessions" about={`${me.name} · ${me.role}`} />
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        <PasswordForm />
        <AccessKeys />
        <Sessions />
      </div>
    </>
  );
}

const EMPTY = { current: '', password: '', again: '' };

function PasswordForm() {
  const [typed, setTyped] = useState(EMPTY);
  const [change, { error, isLoading }] = peopleApi.useChangePasswordMutation();
  const problem = error && problemOf(error);
  const fault = (path: string) => problem?.faults?.find((f) => f.path === path)?.message;
  const differs = typed.again !== '' && typed.again !== typed.password;
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    try {
      const { ended } = await change({ current: typed.current, password: typed.password }).unwrap();
      setTyped(EMPTY);
      toast.success(
        ended === 0
          ? 'Your password is changed.'
          : `Your password is changed; ${ended === 1 ? 'one other session is' : `${ended} other sessions are`} ended.`,
      );
    } catch {
      /* shown beside the fields */
    }
  };
  const field = (name: keyof typeof EMPTY, label: string, complete: string, hint: string, wrong?: string) => (
    <Field label={label} hint={hint} fault={wrong} className="max-w-sm">
      <Input
        name={name}
        type="password"
        autoComplete={complete}
        invalid={wrong !== undefined}
        value={typed[name]}
        onChange={(e) => setTyped({ ...typed, [name]: e.target.value })}
      />
    </Field>
  );
  return (
    <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-3">
      <h2>Change your password</h2>
      {problem && !problem.faults?.length ? <Trouble>{problem.message}</Trouble> : null}
      {field('current', 'Present password', 'current-password', '', fault('current'))}
      {field(
        'password',
        'New password',
        'new-password',
        'At least 12 characters; several words that do not belong together are good.',
        fault('password'),
      )}
      {field('again', 'New password once more', 'new-password', '', differs ? 'is not the same as above' : undefined)}
      <div>
        <Button
          type="submit"
          weight="main"
          disabled={isLoading || typed.current === '' || typed.password === '' || typed.again !== typed.password}
        >
          Change the password
        </Button>
      </div>
    </form>
  );
}

function Sessions() {
  const moment = useMoment();
  const { data: sessions, error } = peopleApi.useSessionsQuery();
  const [end, ending] = peopleApi.useEndSessionMutation();
  const problem = error ?? ending.error;
  return (
    <section className="mt-6">
      <h2>Where you are signed in</h2>
      {problem ? <Trouble>{problemOf(problem).message}</Trouble> : null}
      <table className="ruled mt-1 w-full max-w-4xl">
        <thead>
          <tr>
            <th>Since</th>
            <th>Last used</th>
            <th>Address</th>
            <th>Browser</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {sessions?.map((s) => (
            <tr key={s.id}>
              <td className="whitespace-nowrap">{moment(s.signedInAt)}</td>
              <td className="whitespace-nowrap">{moment(s.lastSeen)}</td>
              <td className="figure !text-left">{s.address}</td>
              <td className="text-faint">{s.browser}</td>
              <td className="text-right whitespace-nowrap">
                {s.current ? (
                  'this one'
                ) : (
                  <Button weight="stop" disabled={ending.isLoading} onClick={() => void end(s.id)}>
                    End it
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
