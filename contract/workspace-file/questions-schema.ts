import { type Static, Type } from '@sinclair/typebox';
import { GOALS, type Question } from '#core/evaluator/questions.ts';
import { REDUCTION_KINDS } from '#core/quotes/questions.ts';
import { FLOOR_OUTCOMES } from '#core/quotes/floors.ts';
import {
  attributes,
  country,
  day,
  decimal,
  id,
  maybe,
  name,
  notNegative,
  oneOf,
  optional,
  positive,
  record,
  version,
  whole,
  yesNo,
} from './fields.ts';
import { byKind } from './rules-schema.ts';

const is = <const K extends string>(kind: K) => Type.Unsafe<K>({ type: 'string', const: kind });
const asked = { id: optional(Type.String({ description: 'a text' })) };
const pack = maybe(Type.String({ minLength: 1, description: "a pack's id or name" }));
const unposted = optional(oneOf(['refuse', 'compute']));

const buyerFields = {
  customer: maybe(id()),
  groups: maybe(Type.Array(id(), { description: 'a list of customer groups' })),
  country: maybe(country()),
  billingCountry: maybe(country()),
  region: maybe(id()),
  regionReason: maybe(name()),
  channel: maybe(name()),
};

const sections = maybe(Type.Array(name(), { description: 'a list of sections' }));

const line = record({
  id: id(),
  item: id(),
  pack: Type.String({ minLength: 1, description: "a pack's id or name" }),
  quantity: decimal(),
  reduction: maybe(
    record({
      kind: oneOf(REDUCTION_KINDS),
      value: notNegative(),
      zeroConfirmed: optional(yesNo('goods for nothing are meant')),
    }),
  ),
  section: maybe(name()),
  attributes: maybe(attributes()),
});

const charge = record({
  charge: id(),
  percent: maybe(notNegative()),
  least: maybe(notNegative()),
  most: maybe(notNegative()),
  sections,
  periods: maybe(positive()),
});

const wholeReduction = maybe(
  record({
    kind: oneOf(['percent_off', 'amount_off']),
    value: notNegative(),
    sections,
    ofGoods: maybe(positive()),
  }),
);
const lines = Type.Array(line, { description: 'a list of lines' });
const charges = optional(Type.Array(charge, { description: 'a list of charges' }));

const quoteFields = {
  buyer: record(buyerFields, 'who buys; an empty object: anybody'),
  list: maybe(id()),
  day: day(),
  lines,
  charges,
  reduction: wholeReduction,
  attributes: maybe(attributes()),
  unposted,
};

const price = record({
  kind: is('price'),
  ...asked,
  ...buyerFields,
  item: id(),
  pack,
  quantity: maybe(decimal()),
  day: day(),
  list: maybe(id()),
  unposted,
});
const recipe = record({
  kind: is('recipe'),
  ...asked,
  list: id(),
  item: id(),
  pack,
  day: day(),
  channel: maybe(name()),
  tolerance: maybe(record({ up: maybe(notNegative()), down: maybe(notNegative()) })),
  falls: optional(oneOf(['keep', 'allow_fall'])),
});
const cost = record({ kind: is('cost'), ...asked, item: id(), day: day() });
const quote = record({ kind: is('quote'), ...asked, ...quoteFields });
const changes = record({
  kind: is('changes'),
  ...asked,
  accepted: record(quoteFields, 'the quote as it was accepted'),
  changes: Type.Array(
    record({
      id: id(),
      day: day(),
      terms: optional(oneOf(['acceptance', 'today'])),
      lines,
      charges,
      reduction: wholeReduction,
    }),
    { description: 'a list of changes' },
  ),
  credits: oneOf(['allowed', 'none']),
});

const provable = [price, recipe, cost, quote, changes] as const;

/** A saved question with the answer expected. */
export const proof = record({
  id: id(),
  version: version(),
  name: name(),
  question: byKind([...provable], 'a question with its "kind"'),
  expect: record({
    price: maybe(decimal()),
    reason: maybe(name()),
    floor: maybe(oneOf([...FLOOR_OUTCOMES, 'none'])),
  }),
  good: maybe(
    Type.Unsafe<{ kind: never; after: string }[]>(
      Type.Array(record({ kind: name(), after: decimal() }), {
        description: 'the steps of a run that was right',
      }) as never,
    ),
  ),
});

const question = byKind(
  [
    ...provable,
    record({
      kind: is('ladder'),
      ...asked,
      ladder: id(),
      decimals: maybe(whole('a whole number from 0 to 10')),
      prices: Type.Array(decimal(), { description: 'a list of prices' }),
    }),
    record({ kind: is('was'), ...asked, list: id(), item: id(), pack, began: day(), announced: maybe(notNegative()) }),
    record({ kind: is('check'), ...asked, day: day() }),
    record({
      kind: is('rules'),
      ...asked,
      buyer: record(buyerFields, 'who buys; an empty object: anybody'),
      list: maybe(id()),
      day: day(),
      quantity: maybe(decimal()),
    }),
    record({
      kind: is('prices'),
      ...asked,
      day: day(),
      lists: maybe(Type.Array(id(), { description: 'a list of price lists' })),
      items: maybe(Type.Array(id(), { description: 'a list of items' })),
    }),
    record({
      kind: is('goal'),
      ...asked,
      seek: oneOf(GOALS),
      list: id(),
      day: day(),
      items: Type.Array(record({ item: id(), pack, quantity: maybe(positive()) }), {
        minItems: 1,
        description: 'a list of at least one item',
      }),
      margin: maybe(decimal()),
      price: maybe(positive()),
    }),
    record({ kind: is('proofs'), ...asked }),
  ],
  'a question with its "kind"',
);

/** The questions file: a list of questions. */
export const questionsSchema = Type.Array(question, {
  $id: 'hard-ledger-questions',
  title: 'Hard Ledger questions file',
  description: 'a list of questions',
});

export type QuestionsFile = Static<typeof questionsSchema>;

/** Holds the schema to the core's own types. */
export const questionsFrom = (file: QuestionsFile): readonly Question[] => file;
