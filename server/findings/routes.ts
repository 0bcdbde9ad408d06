import { findingRoutes as declared } from '#contract/api/findings.ts';
import { itemRegister } from '../items/register.ts';
import { isDay } from '#core/numbers/day.ts';
import { revisionOf } from '../ledger/audit.ts';
import { refused } from '../platform/refused.ts';
import type { InferType } from 'yup';
import { UNCHECKED, type changeBody } from '#contract/findings.ts';
import { RIGHT_NAMES } from '#contract/people.ts';
import { type Asked, route, validated } from '../platform/http/route.ts';
import { recipeRegister } from '../recipes/register.ts';
import { ladderRegister } from '../rounding/register.ts';
import { recordId } from '../setup/one-record.ts';
import type { AnyRegister } from '../setup/register.ts';
import { registers } from '../setup/registers.ts';
import { today } from '../workspace/asked-day.ts';
import { askedFindings, findingsPage } from './findings-page.ts';
import { runKeptProofs } from './proofs.ts';
import { rulesFrom, rulesWith } from './what-if.ts';
import type { Otherwise } from './checked.ts';

/** Kinds of records that the check looks at; people and settings are none of its business. */
const CHECKED: readonly AnyRegister[] = [
  ...registers.filter((r) => !UNCHECKED.includes(r.name)),
  recipeRegister,
  ladderRegister,
  itemRegister,
];

type ChangeAsked = Pick<Asked<string, InferType<typeof changeBody>>, 'context' | 'person' | 'body' | 'response'>;

/** What would be otherwise with the record as it was sent. */
async function otherwiseOf({ context, person, body }: ChangeAsked, day: string): Promise<Otherwise> {
  const register = CHECKED.find((r) => r.name === body.register);
  if (!register) throw refused('not_found', { what: 'The kind of record', id: body.register });
  if (!person.rights.has(register.changeRight))
    throw refused('right_missing', { right: RIGHT_NAMES[register.changeRight] });
  const sent = validated(register.body, body.body) as never;
  const id = body.id === null ? null : recordId(register.title, body.id);
  return body.day && id !== null
    ? rulesFrom(context.db, register, id, sent, { day: body.day, upon: body.upon })
    : rulesWith(context.db, register, id, sent, day);
}

/** The day that is asked about: today, or the one on which the change would begin. */
const dayOf = async ({ context, body }: ChangeAsked): Promise<string> => body.day ?? (await today(context));

/** Where a record says from which day on it holds. */
const FIRST_DAYS = ['from', 'day'];

/** The same for prices: terms, a rate, an entry that begin later move nothing before they do. */
async function dayOfMoves(asked: ChangeAsked): Promise<string> {
  const day = await dayOf(asked);
  // a change that is planned is told of the day for which it is
  if (asked.body.day) return day;
  const begins = FIRST_DAYS.flatMap((name) => {
    const first = asked.body.body[name];
    return typeof first === 'string' && isDay(first) ? [first] : [];
  });
  return [day, ...begins].reduce((last, d) => (d > last ? d : last));
}

/** Whoever types on asks again: nobody waits for the answer to what was typed before. */
function whileListening(response: ChangeAsked['response']): AbortSignal {
  const gone = new AbortController();
  response.on('close', () => gone.abort());
  return gone.signal;
}

export const findingRoutes = [
  route(declared.all, async ({ context, query }) => {
    const asked = askedFindings(query);
    const stands = context.check.look(await revisionOf(context.db), await today(context));
    return findingsPage(stands, context.check.found(), asked);
  }),
  route(declared.proofs, ({ context }) => runKeptProofs(context.db)),
  route(declared.ofChange, async (asked) => {
    const day = await dayOf(asked);
    return asked.context.check.ofChange(await otherwiseOf(asked, day), day, whileListening(asked.response));
  }),
  route(declared.movesOfChange, async (asked) => {
    const day = await dayOfMoves(asked);
    return asked.context.check.movesOfChange(await otherwiseOf(asked, day), day, whileListening(asked.response));
  }),
];
