import { type BaseQueryFn, type EndpointBuilder, createApi } from '@reduxjs/toolkit/query/react';
import type { Answers } from '#contract/api/answers.ts';
import { type Declared, type ParamsOf, TOPICS, type Topic } from '#contract/api/declare.ts';
import type { Problem } from '#contract/problems.ts';
interface Ask {
  url: string;
  method?: 'GET' | 'POST' | 'PUT' | 'DELETE';
  body?: unknown;
  /** Sent as it is, not as JSON. */
  bytes?: Blob;
}

let token = '';

/** Every answer is JSON; every refusal is a problem. A connection that fails becomes one too. */
const ask: BaseQueryFn<string | Ask, unknown, Problem> = async (what, { signal }) => {
  const { url, method = 'GET', body, bytes } = typeof what === 'string' ? { url: what } : what;
  try {
    const response = await fetch(`/api${url}`, {
      method,
      signal,
      credentials: 'same-origin',
      headers: {
        ...(method === 'GET' ? {} : { 'x-session-token': token }),
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(bytes ? { 'content-type': 'application/octet-stream' } : {}),
      },
      ...(bytes ? { body: bytes } : body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const answer: unknown = await response.json();
    if (!response.ok) return { error: answer as Problem };
    if (url === '/session' && typeof answer === 'object' && answer && 'token' in answer) token = String(answer.token);
    return { data: answer };
  } catch {
    return {
      error: {
        code: 'unexpected',
        message: 'The server cannot be reached. What you typed is still here: try again in a moment.',
        params: {},
      },
    };
  }
};

/** An answer that is no JSON. Throws the problem where it is refused. */
export async function fetchBytes(url: string, body: unknown): Promise<ArrayBuffer> {
  const response = await fetch(`/api${url}`, {
    method: 'POST',
    credentials: 'same-origin',
    headers: { 'x-session-token': token, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw (await response.json()) as Problem;
  return response.arrayBuffer();
}

/** Sends a file as it is. Throws the problem where it is refused. */
export async function sendBytes<A>(url: string, content: Blob): Promise<A> {
  const response = await fetch(`/api${url}`, {
    method: 'POST',
    credentials: 'same-origin',
    headers: { 'x-session-token': token, 'content-type': 'application/octet-stream' },
    body: content,
  });
  const answer: unknown = await response.json();
  if (!response.ok) throw answer as Problem;
  return answer as A;
}

/** Asks any address as oneself and hands back what came, a refusal too. */
export async function askAnything(
  method: string,
  url: string,
  body?: unknown,
): Promise<{ status: number; body: unknown }> {
  const response = await fetch(`/api${url}`, {
    method,
    credentials: 'same-origin',
    headers: method === 'GET' ? {} : { 'x-session-token': token, 'content-type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const json = response.headers.get('content-type')?.includes('json');
  return { status: response.status, body: json ? ((await response.json()) as unknown) : await response.text() };
}

/** What stands in an address besides its words. */
interface Parts<P extends string> {
  readonly params?: Readonly<Record<P, string>>;
  readonly query?: Readonly<Record<string, string | null>>;
  readonly body?: unknown;
  readonly bytes?: Blob;
}

/** Fills a declared address. What is empty behind the question mark is left out. */
export function addressOf(path: string, { params = {}, query = {} }: Parts<string>): string {
  const filled = path.replaceAll(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
  const asked = new URLSearchParams(Object.entries(query).flatMap(([k, v]) => (v === null ? [] : [[k, v]])));
  return asked.size > 0 ? `${filled}?${asked.toString()}` : filled;
}

function askOf(d: Declared, { body, bytes, ...parts }: Parts<string>): Ask {
  const method = d.method.toUpperCase() as Ask['method'];
  // everything that changes something sends a body, so that its type is known
  const sent = bytes ? { bytes } : d.method === 'get' ? {} : { body: body ?? {} };
  return { url: addressOf(d.path, parts), ...(method ? { method } : {}), ...sent };
}

/** The endpoints stand in the rooms they belong to: web/ROOM/endpoints.ts. */
export const api = createApi({
  baseQuery: ask,
  tagTypes: TOPICS,
  refetchOnMountOrArgChange: 20,
  endpoints: () => ({}),
});

type Builder = EndpointBuilder<typeof ask, Topic, 'api'>;
type AnswerOf<D extends Declared> = D['answer'] extends keyof Answers ? Answers[D['answer']] : never;

/** An endpoint that reads a declared address; stale when what it reads was changed. */
export const reads = <const D extends Declared, A>(b: Builder, d: D, parts: (arg: A) => Parts<ParamsOf<D['path']>>) =>
  b.query<AnswerOf<D>, A>({
    query: (arg) => askOf(d, parts(arg)),
    providesTags: [...(d.reads ?? [])],
  });

/** The same where nothing is asked but the address. */
export const readsAll = <const D extends Declared>(b: Builder, d: D) => reads<D, void>(b, d, () => ({}));

/** Somebody else was faster. */
const FASTER: readonly string[] = ['changed_meanwhile', 'to_come_moved_on'];

/** An endpoint that changes something at a declared address. */
export const changes = <const D extends Declared, A>(b: Builder, d: D, parts: (arg: A) => Parts<ParamsOf<D['path']>>) =>
  b.mutation<AnswerOf<D>, A>({
    query: (arg) => askOf(d, parts(arg)),
    // where somebody was faster, theirs is read at once
    invalidatesTags: (_, error) => (error && !FASTER.includes((error as Problem).code) ? [] : [...(d.changes ?? [])]),
  });

/** What an error says, whatever threw it. */
export function problemOf(error: unknown): Problem {
  if (typeof error === 'object' && error && 'message' in error) return error as Problem;
  return { code: 'unexpected', message: 'Something went wrong.', params: {} };
}
