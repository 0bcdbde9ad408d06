import { type Static, type TSchema, Type } from '@sinclair/typebox';
import { FLOOR_KINDS, FLOOR_OUTCOMES } from '#core/quotes/floors.ts';
import { type Condition, OPERATORS, RULE_MODES } from '#core/quotes/rules/rule.ts';
import {
  currency,
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
  rows,
  version,
  yesNo,
} from './fields.ts';

const test = {
  fact: Type.String({
    pattern: '^(item|customer|quote|line)\\.[a-z_]+$|^(item|customer|quote|line)\\.attributes\\..+$',
    description: 'a fact, such as "item.brand", "line.quantity" or "item.attributes.colour"',
  }),
  operator: oneOf(OPERATORS),
  value: maybe(Type.String({ description: 'a text' })),
  values: maybe(Type.Array(Type.String(), { description: 'a list of texts' })),
  from: maybe(Type.String({ description: 'a number or a day as text' })),
  upTo: maybe(Type.String({ description: 'a number or a day as text' })),
};

/** A test, or all / any / none of several conditions. */
const condition = Type.Unsafe<Condition>({
  $id: 'condition',
  type: 'object',
  description: 'a condition: {"fact", "operator", …}, {"all": […]}, {"any": […]} or {"none": […]}',
  if: { required: ['fact'] },
  then: record(test),
  else: {
    type: 'object',
    minProperties: 1,
    maxProperties: 1,
    additionalProperties: false,
    properties: Object.fromEntries(
      ['all', 'any', 'none'].map((word) => [
        word,
        { type: 'array', items: { $ref: 'condition' }, description: 'a list of conditions' },
      ]),
    ),
  },
} as never);

const priced = { value: decimal(), currency: maybe(currency()) };
const kind = <const K extends string>(...names: K[]) =>
  Type.Unsafe<K>({ type: 'string', enum: names, description: `one of ${names.map((n) => `"${n}"`).join(', ')}` });

/** One of several shapes, told apart by their `kind`. */
export function byKind<T extends TSchema[]>(shapes: [...T], description: string) {
  return Type.Unsafe<Static<T[number]>>({
    type: 'object',
    discriminator: { propertyName: 'kind' },
    required: ['kind'],
    oneOf: shapes,
    description,
  } as never);
}

const effect = byKind(
  [
    record({ kind: kind('percent', 'multiply', 'divide'), value: decimal() }),
    record({ kind: kind('amount'), ...priced }),
    record({
      kind: kind('set_price'),
      ...priced,
      perUnit: optional(yesNo('the price is that of a unit: a pack costs it times its units')),
    }),
    record({ kind: kind('charge'), name: name(), value: notNegative(), currency: maybe(currency()), taxClass: name() }),
    record({ kind: kind('floor'), floor: oneOf(FLOOR_KINDS), ...priced, outcome: oneOf(FLOOR_OUTCOMES) }),
    record({ kind: kind('free_units'), buy: positive(), free: positive() }),
    record({ kind: kind('struck_price'), value: maybe(positive()), currency: maybe(currency()) }),
    record({ kind: kind('ask', 'refuse') }),
  ],
  'an effect with its "kind"',
);

export const ruleSet = record({
  id: id(),
  version: version(),
  name: name(),
  active: yesNo('it is in use', true),
  mode: oneOf(RULE_MODES, 'first'),
  rules: rows(
    record({
      id: id(),
      name: name(),
      when: maybe(condition),
      effects: Type.Array(effect, { minItems: 1, description: 'a list of at least one effect' }),
      zeroConfirmed: optional(yesNo('goods for nothing are meant')),
      from: maybe(day()),
      to: maybe(day()),
    }),
  ),
});
