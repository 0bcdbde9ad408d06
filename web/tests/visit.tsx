import { render } from '@testing-library/react';
import { Provider } from 'react-redux';
import { RouterProvider, createMemoryRouter } from 'react-router';
import { RIGHTS, type Right } from '#contract/people.ts';
import type { Problem } from '#contract/problems.ts';
import { App } from '../app.tsx';
import { makeStore } from '../store.ts';
import { windowOf } from './windows.ts';

export interface Sent {
  readonly method: string;
  readonly path: string;
  readonly body: never;
}

type Answer = unknown;
/** What the server would answer: by "METHOD /path" without its question mark; a function sees what was sent. */
export type Answers = Readonly<Record<string, Answer | ((sent: Sent) => Answer)>>;

/** An answer that refuses. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly problem: Partial<Problem>,
  ) {}
}

const SESSION = (rights: readonly Right[]) => ({
  person: { id: '1', name: 'Marit', role: 'administrator', rights },
  token: 'token',
  workspace: { name: 'Test shop', currency: 'EUR', today: '2026-03-09', timeZone: 'Europe/Berlin' },
});

/** An answer that is no JSON. */
export class Bytes {
  constructor(readonly bytes: ArrayBuffer) {}
}

/** Questions that are too long for an address: nothing is changed by them. */
const QUESTIONS =
  /^\/(items-named|records-named|costs\/proposal|findings\/(of-change|moves-of-change)|lists\/\d+\/(to-post|rows)|postings\/\d+\/reversal)\b/;

interface Row {
  readonly id: string;
  readonly name: string;
}
const rowsOf = (all: Answers, register: string) =>
  ((all[`GET /${register}`] ?? []) as readonly Row[]).map(({ id, name }) => ({ id, name, detail: null }));

/** What a server finds in the registers that a test answers with. */
function found(all: Answers, { path }: Sent) {
  const asked = new URLSearchParams(path.split('?')[1]);
  const words = (asked.get('text') ?? '').toLowerCase().split(/\s+/);
  const rows = rowsOf(all, asked.get('register') ?? '');
  return rows.filter((r) => words.every((w) => r.name.toLowerCase().includes(w))).slice(0, 12);
}
function named(all: Answers, { body }: Sent) {
  const { of } = body as { of: { register: string; ids: readonly string[] }[] };
  return of.map(({ register, ids }) => ({
    register,
    records: rowsOf(all, register).filter((r) => ids.includes(r.id)),
  }));
}

/** Opens the application at an address over a server that answers as told; returns what was sent to it. */
export function visit(address: string, answers: Answers, rights: readonly Right[] = RIGHTS): Sent[] {
  localStorage.setItem('hard-ledger', JSON.stringify({ theme: 'light', form: 'point' }));
  const sent: Sent[] = [];
  const all: Answers = {
    'GET /session': SESSION(rights),
    'GET /lists': [],
    'GET /categories': [],
    'GET /suppliers': [],
    'GET /tax-rates': [],
    'GET /customers': [],
    'GET /customer-groups': [],
    'GET /ladders': [],
    'GET /recipes': [],
    'GET /items': (asked: Sent) => windowOf([], asked),
    'GET /changes-to-come': [],
    'GET /items-found': [],
    'POST /items-named': [],
    'GET /records-found': (asked: Sent) => found(all, asked),
    'POST /records-named': (asked: Sent) => named(all, asked),
    'GET /item-words': [],
    ...answers,
  };
  globalThis.fetch = (async (url: string, init: RequestInit = {}) => {
    const method = init.method ?? 'GET';
    const path = url.replace(/^\/api/, '');
    const one: Sent = {
      method,
      path,
      body: (typeof init.body === 'string' ? JSON.parse(init.body) : init.body) as never,
    };
    if (method !== 'GET' && !QUESTIONS.test(path)) sent.push(one);
    const key = `${method} ${path.split('?')[0]!}`;
    if (!(key in all)) throw new Error(`nobody said what ${key} answers`);
    const found = all[key];
    const answer = typeof found === 'function' ? (found as (s: Sent) => Answer)(one) : found;
    const refused = answer instanceof Refusal;
    return Promise.resolve({
      ok: !refused,
      status: refused ? answer.status : 200,
      headers: new Headers({ 'content-type': 'application/json' }),
      arrayBuffer: () => Promise.resolve((answer as Bytes).bytes),
      json: () => Promise.resolve(structuredClone(refused ? answer.problem : answer)),
    } as Response);
  }) as typeof fetch;
  render(
    <Provider store={makeStore()}>
      <RouterProvider router={createMemoryRouter([{ path: '*', element: <App /> }], { initialEntries: [address] })} />
    </Provider>,
  );
  return sent;
}
