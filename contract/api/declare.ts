import type { AnyObjectSchema } from 'yup';
import type { Right } from '../people.ts';
import type { Answers } from './answers.ts';

/** What answers are about: whoever changes one of them makes stale what reads it. */
export const TOPICS = [
  'session',
  'sessions',
  'keys',
  'catalogue',
  'costs',
  'rules',
  'prices',
  'requests',
  'sheets',
  'quotes',
  'worksheets',
  'settings',
] as const;
export type Topic = (typeof TOPICS)[number];

/** What the figures of prices are made from. */
export const FIGURES = ['catalogue', 'costs', 'rules', 'prices', 'settings'] as const satisfies readonly Topic[];

/** Names of the parts of a path: "/quotes/:id" has "id". */
export type ParamsOf<P extends string> = P extends `${string}:${infer Name}/${infer Rest}`
  ? Name | ParamsOf<`/${Rest}`>
  : P extends `${string}:${infer Name}`
    ? Name
    : never;

/** What is answered that is no JSON, by its media type. */
export interface BytesAnswer {
  readonly bytes: string;
}

/** One address of the API, as the server, the client and the published description know it. */
export interface Declared<
  P extends string = string,
  A extends keyof Answers | BytesAnswer = keyof Answers | BytesAnswer,
> {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  readonly path: P;
  /** What it does, as a sentence without a full stop. */
  readonly does: string;
  readonly right: Right;
  /** Not with an access key: only by somebody who is signed in. */
  readonly inPerson?: true;
  /** What may stand behind the question mark, with what it says. */
  readonly query?: Readonly<Record<string, string>>;
  readonly body?: AnyObjectSchema | 'bytes';
  /** How many values a body may hold, where it is more than usual. */
  readonly mostValues?: number;
  readonly answer: A;
  readonly reads?: readonly Topic[];
  readonly changes?: readonly Topic[];
}

type Rest<A extends keyof Answers | BytesAnswer> = Omit<Declared<string, A>, 'method' | 'path' | 'does' | 'answer'>;

const declares =
  <M extends Declared['method']>(method: M) =>
  <P extends string, A extends keyof Answers | BytesAnswer, const R extends Rest<A>>(
    path: P,
    does: string,
    answer: A,
    rest: R,
  ) => ({ method, path, does, answer, ...rest });

export const get = declares('get');
export const post = declares('post');
export const put = declares('put');
export const remove = declares('delete');
