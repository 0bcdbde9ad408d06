import express, { type Request, type Response, type Router } from 'express';
import { type AnyObjectSchema, type InferType, ValidationError } from 'yup';
import type { Answers } from '#contract/api/answers.ts';
import type { Declared, ParamsOf } from '#contract/api/declare.ts';
import { faultsOf } from '#contract/fields.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import type { Revisions } from '../../ledger/audit.ts';
import type { Context } from '../context.ts';
import { refused } from '../refused.ts';
import { noteWritten, readFrom } from './read-from.ts';
import { MOST_VALUES, checkLengths, isWellFormed, readJson } from './bounded.ts';
import { showsKey } from './session.ts';
import type { Identified, SignedIn } from './signed-in.ts';

export interface Asked<P extends string = string, B = unknown> extends Identified {
  readonly context: Context;
  readonly params: Readonly<Record<P, string>>;
  readonly query: Readonly<Record<string, string>>;
  readonly body: B;
  readonly request: Request;
  readonly response: Response;
}

/** An address of the API with what is done there. */
export interface Route extends Declared {
  /** Returns what is answered as JSON; undefined: the handler has answered itself. */
  readonly handle: (asked: Asked) => Promise<unknown>;
}

type BodyOf<D extends Declared> = D['body'] extends AnyObjectSchema
  ? InferType<D['body']>
  : D['body'] extends 'bytes'
    ? Buffer
    : undefined;
export type AnswerOf<D extends Declared> = D['answer'] extends keyof Answers ? Answers[D['answer']] : undefined;

/** What is done at an address; the body has been validated against its declaration when the handler sees it. */
export function route<const D extends Declared, B extends BodyOf<D> = BodyOf<D>>(
  declared: D,
  handle: (asked: Asked<ParamsOf<D['path']>, B>) => Promise<AnswerOf<D> | undefined>,
): Route {
  return { ...declared, handle: handle as Route['handle'] };
}

const identifiedOf = ({ locals }: Response): Identified => ({
  person: locals['person'] as SignedIn,
  revisions: locals['revisions'] as Revisions,
});

/** The largest cost sheet that is taken. */
const SHEET_LIMIT = '32mb';
const BODY_LIMIT = '16mb';

export function mount(app: Router, context: Context, routes: readonly Route[]): void {
  for (const r of routes) {
    const limit = r.body === 'bytes' ? SHEET_LIMIT : r.body ? BODY_LIMIT : '10kb';
    const bytes = express.raw({ type: () => true, limit });
    app[r.method](r.path, mayAsk(r), bytes, async (request: Request, response: Response) => {
      const body = bodyOf(r, request);
      const query = Object.fromEntries(
        Object.entries(request.query).flatMap(([k, v]) => (typeof v === 'string' ? [[k, v]] : [])),
      );
      if (![...Object.values(query), ...Object.values(request.params)].every((t) => isWellFormed(String(t))))
        throw refused('address_unreadable');
      const asked = {
        ...identifiedOf(response),
        params: request.params as Record<string, string>,
        query,
        body,
        request,
        response,
      };
      const answer =
        r.method === 'get'
          ? await readFrom(context, asked, (from) => r.handle({ ...asked, context: from }))
          : await r.handle({ ...asked, context });
      if (r.method !== 'get') await noteWritten(context, asked);
      if (answer === undefined) return;
      context.answered?.(r, answer);
      response.json(answer);
    });
  }
}

function bodyOf(r: Declared, request: Request): unknown {
  const sent: unknown = request.body;
  if (r.body === 'bytes' || r.body === undefined) return sent;
  const empty = !Buffer.isBuffer(sent) || sent.length === 0;
  if (!empty && !request.is('json')) throw refused('body_unreadable');
  return validated(r.body, empty ? {} : readJson(sent, r.mostValues ?? MOST_VALUES));
}

/** The right is looked at before anything that was sent is read. */
function mayAsk({ right, inPerson }: Declared) {
  return (request: Request, response: Response, next: () => void): void => {
    const person = response.locals['person'] as SignedIn | null;
    if (!person) throw refused('not_signed_in');
    if (inPerson && showsKey(request)) throw refused('only_signed_in');
    if (!person.rights.has(right)) throw refused('right_missing', { right: RIGHT_NAMES[right] });
    next();
  };
}

/** From how many entries on only the first fault is told: as many faults as entries would help nobody. */
const MANY = 2_000;

const isLong = (body: unknown): boolean =>
  body !== null && typeof body === 'object' && Object.values(body).some((v) => Array.isArray(v) && v.length > MANY);

export function validated(schema: AnyObjectSchema, body: unknown): unknown {
  checkLengths(schema, body);
  try {
    return schema.validateSync(body ?? {}, { abortEarly: isLong(body), stripUnknown: false });
  } catch (error) {
    if (error instanceof ValidationError) throw refused('fields_wrong', {}, { faults: faultsOf(error).slice(0, 200) });
    throw error;
  }
}
