import express, { type Express, type Request, type Response } from 'express';
import { type AnyObjectSchema, ValidationError } from 'yup';
import { faultsOf } from '#contract/fields.ts';
import { RIGHT_NAMES, type Right } from '#contract/people.ts';
import type { Context } from '../context.ts';
import { refused } from '../refused.ts';
import { MOST_VALUES, checkLengths, isWellFormed, readJson } from './bounded.ts';
import type { SignedIn } from './session.ts';

export interface Asked {
  readonly context: Context;
  readonly person: SignedIn;
  readonly params: Record<string, string>;
  readonly query: Record<string, string>;
  readonly body: never;
  readonly request: Request;
  readonly response: Response;
}

/** One address of the API: who may ask, what is sent, what is done. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  readonly path: string;
  readonly right: Right;
  readonly body?: AnyObjectSchema | 'bytes';
  /** How many values a body may hold, where it is more than usual. */
  readonly mostValues?: number;
  /** Returns what is answered as JSON; undefined: the handler has answered itself. */
  readonly handle: (asked: Asked) => Promise<unknown>;
}

/** Declares a route with the type of its body; the body has been validated when the handler sees it. */
export function route<B = undefined>(
  r: Omit<Route, 'handle'> & { handle: (asked: Omit<Asked, 'body'> & { body: B }) => Promise<unknown> },
): Route {
  return r as unknown as Route;
}

/** The largest cost sheet that is taken. */
const SHEET_LIMIT = '32mb';
const BODY_LIMIT = '16mb';

export function mount(app: Express, context: Context, routes: readonly Route[]): void {
  for (const r of routes) {
    const limit = r.body === 'bytes' ? SHEET_LIMIT : r.body ? BODY_LIMIT : '10kb';
    const bytes = express.raw({ type: () => true, limit });
    app[r.method](r.path, requireRight(r.right), bytes, async (request: Request, response: Response) => {
      const body = await bodyOf(r, request);
      const query = Object.fromEntries(
        Object.entries(request.query).flatMap(([k, v]) => (typeof v === 'string' ? [[k, v]] : [])),
      );
      if (![...Object.values(query), ...Object.values(request.params)].every((t) => isWellFormed(String(t))))
        throw refused('address_unreadable');
      const asked = {
        context,
        person: response.locals['person'] as SignedIn,
        params: request.params as Record<string, string>,
        query,
        body: body as never,
        request,
        response,
      };
      const answer = await r.handle(asked);
      if (answer !== undefined) response.json(answer);
    });
  }
}

async function bodyOf(r: Route, request: Request): Promise<unknown> {
  const sent: unknown = request.body;
  if (r.body === 'bytes' || r.body === undefined) return sent;
  const empty = !Buffer.isBuffer(sent) || sent.length === 0;
  if (!empty && !request.is('json')) throw refused('body_unreadable');
  return validated(r.body, empty ? {} : readJson(sent, r.mostValues ?? MOST_VALUES));
}

/** The right is looked at before anything that was sent is read. */
function requireRight(right: Right) {
  return (_: Request, response: Response, next: () => void): void => {
    const person = response.locals['person'] as SignedIn | null;
    if (!person) throw refused('not_signed_in');
    if (!person.rights.has(right)) throw refused('right_missing', { right: RIGHT_NAMES[right] });
    next();
  };
}

/** From how many entries on only the first fault is told: as many faults as entries would help nobody. */
const MANY = 2_000;

const isLong = (body: unknown): boolean =>
  body !== null && typeof body === 'object' && Object.values(body).some((v) => Array.isArray(v) && v.length > MANY);

export async function validated(schema: AnyObjectSchema, body: unknown): Promise<unknown> {
  checkLengths(schema, body);
  try {
    return await schema.validate(body ?? {}, { abortEarly: isLong(body), stripUnknown: false });
  } catch (error) {
    if (error instanceof ValidationError) throw refused('fields_wrong', {}, { faults: faultsOf(error).slice(0, 200) });
    throw error;
  }
}
