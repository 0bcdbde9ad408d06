import { type FormEvent, useState } from 'react';
import { peopleApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';

export function SignIn() {
  const [signIn, { isLoading, error }] = peopleApi.useSignInMutation();
  const { data } = peopleApi.useSessionQuery();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void signIn({ signIn: name, password });
  };
  return (
    <main className="grid h-full place-items-center p-4">
      <form onSubmit={submit} className="w-full max-w-sm border border-rule-strong bg-sheet p-7">
        <h1 className="text-2xl">Hard Ledger</h1>
        <p className="mb-6 border-b border-ink pb-2 text-faint">{data?.workspace.name}</p>
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        <div className="mt-4 flex flex-col gap-4">
          <Field label="Sign-in name">
            <Input
              name="signIn"
              autoComplete="username"
              autoFocus
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          </Field>
          <Field label="Password">
            <Input
              name="password"
              type="password"
              autoComplete="current-password"
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </Field>
          <Button type="submit" weight="main" disabled={isLoading || name === '' || password === ''}>
            Sign in
          </Button>
        </div>
      </form>
    </main>
  );
}
