import type { ListEntry, Reduction } from '#core/lists/entries.ts';
import type { LockstepGroup } from '#core/lockstep/group.ts';
import type { Pool } from '#core/quotes/breaks.ts';
import type { ProportionalCharge } from '#core/quotes/charges.ts';
import type { RuleSet } from '#core/quotes/rules/rule.ts';
import type { AttributeTerms, Named } from '#core/items/described.ts';
import type { DatedLandedTerms } from '#core/costs/cost.ts';
import { LANDED_TIES } from '#core/costs/landed-terms.ts';
import type { Region } from '#core/regions/region.ts';
import type { Proof } from '#core/proofs/proof.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { type Field, type RecordKind, kind } from './declare.ts';
import { LANDED_FIELDS } from './landed-fields.ts';

const named: Field = { type: 'text', title: 'Name', most: 120 };
const rules = { readRight: 'see_cost', changeRight: 'edit_rules' } as const;
const open = { readRight: 'read', changeRight: 'edit_rules' } as const;

const CHANGES = {
  percent_off: '% off',
  amount_off: 'amount off',
  price: 'price',
  percent_more: '% more',
  amount_more: 'amount more',
} as const;

/** What an entry and a reduction have in common. */
const change = {
  kind: { type: 'choice', options: CHANGES, title: 'How' },
  value: {
    type: 'decimal',
    sign: 'not_negative',
    title: 'Value',
    hint: 'per cent, or an amount per pack as the list shows prices',
  },
  perUnit: {
    type: 'yes',
    title: 'Price per unit',
    hint: 'a pack costs its units times this; otherwise name the pack the price is for',
    when: (row) => row['kind'] === 'price',
    formOnly: true,
  },
  onTop: {
    type: 'yes',
    title: 'On top of what stands',
    when: (row) => row['kind'] !== 'price',
    formOnly: true,
  },
  zeroConfirmed: {
    type: 'yes',
    title: 'Goods for nothing are meant',
    formOnly: true,
    hint: 'a price of 0, or 100 % off',
  },
  from: { type: 'day', title: 'First day', optional: true },
  to: { type: 'day', title: 'Last day', optional: true },
} satisfies Record<string, Field>;

const limit = (title: string): Field => ({
  type: 'part',
  title,
  optional: true,
  formOnly: true,
  when: (row) => row['onTop'] !== true,
  fields: {
    amount: { type: 'decimal', sign: 'not_negative', title: 'per pack', optional: true },
    percent: {
      type: 'decimal',
      sign: 'not_negative',
      unit: '%',
      title: 'or % of the price it starts from',
      optional: true,
    },
  },
});

const orderLimits = {
  least: { type: 'decimal', sign: 'positive', title: 'least', optional: true },
  most: { type: 'decimal', sign: 'positive', title: 'most', optional: true },
  step: { type: 'decimal', sign: 'positive', title: 'in steps of', optional: true },
} satisfies Record<string, Field>;

const regions = kind<Region>({
  ...open,
  name: 'regions',
  title: 'Regions',
  one: 'region',
  about:
    'Where goods go: countries, with a currency and whether tax is charged. In a country of two, the narrower counts.',
  fields: {
    name: named,
    countries: { type: 'countries', title: 'Countries' },
    currency: { type: 'currency', title: 'Currency' },
    tax: {
      type: 'choice',
      title: 'Tax',
      options: { charged: 'charged', none: 'none: goods leave without tax' },
      preset: 'charged',
    },
    inside: { type: 'one', to: 'regions', title: 'Lies inside', optional: true },
  },
});

const entries = kind<ListEntry & { list: string }>({
  ...open,
  name: 'entries',
  title: 'Entries of lists',
  one: 'entry',
  about:
    'A typed price, or a change of the price a list has, for one item or for many. Of a list’s entries one stands: the most specific, of equally specific ones the dated.',
  fields: {
    list: { type: 'one', to: 'lists', title: 'On the list' },
    scope: { type: 'scope', title: 'For' },
    ...change,
    ladder: {
      type: 'one',
      to: 'ladders',
      title: 'Rounded by a ladder of its own',
      optional: true,
      formOnly: true,
      when: (row) => row['onTop'] !== true,
    },
    least: limit('Least'),
    most: limit('Most'),
    leastQuantity: {
      type: 'decimal',
      sign: 'positive',
      title: 'From a quantity of',
      hint: 'packs on one line',
      optional: true,
      formOnly: true,
    },
    order: {
      type: 'part',
      title: 'Quantities that can be ordered, where it stands',
      optional: true,
      formOnly: true,
      fields: orderLimits,
    },
  },
});

const reductions = kind<Reduction>({
  ...open,
  name: 'reductions',
  title: 'Reductions',
  one: 'reduction',
  about:
    'What a customer or a group pays less (or more) than the list asks. Of what the list asks on the day, the reduction and the break, the lowest counts.',
  fields: {
    name: named,
    customer: { type: 'one', to: 'customers', title: 'For the customer', optional: true },
    group: { type: 'one', to: 'groups', title: 'or the group', optional: true },
    scope: { type: 'scope', title: 'On' },
    lists: { type: 'many', to: 'lists', title: 'Only on the lists', hint: 'none: on all', formOnly: true },
    ...change,
  },
});

const landed = kind<DatedLandedTerms>({
  ...rules,
  name: 'landed',
  title: 'Landed cost terms',
  one: 'set of terms',
  about:
    'What bringing goods in costs where it differs: for one item, for a category with everything below it, or for all goods of a supplier, each from a day on. What is empty here is as the less specific say, and last as the supplier itself; 0 is none.',
  fields: {
    supplier: { type: 'one', to: 'suppliers', title: 'Supplier' },
    scope: { type: 'scope', ties: LANDED_TIES, title: 'For', hint: 'nothing: all its goods' },
    from: { type: 'day', title: 'From' },
    ...LANDED_FIELDS,
  },
});

const lockstep = kind<LockstepGroup>({
  ...rules,
  name: 'lockstep',
  title: 'Lockstep groups',
  one: 'lockstep group',
  about: 'Items that always share cost, packs, tax, deposit and prices; they follow the lead.',
  fields: {
    name: named,
    lead: { type: 'one', to: 'items', title: 'Lead' },
    members: { type: 'many', to: 'items', title: 'Members', hint: 'without the lead' },
  },
});

const pools = kind<Pool>({
  ...open,
  name: 'pools',
  title: 'Pools',
  one: 'pool',
  about: 'Items whose quantities count together towards a break.',
  fields: { name: named, items: { type: 'scopes', one: 'kind of item', title: 'What belongs to it' } },
});

const charges = kind<ProportionalCharge>({
  ...open,
  name: 'charges',
  title: 'Proportional charges',
  one: 'charge',
  about: 'A line of a quote that is a share of the lines it covers, with a least and a most.',
  fields: {
    name: named,
    percent: { type: 'decimal', sign: 'not_negative', unit: '%', title: 'Per cent of what it covers' },
    period: {
      type: 'choice',
      title: 'Rate, least and most are for',
      options: { month: 'a month', year: 'a year' },
      optional: true,
      hint: 'empty: once',
    },
    least: { type: 'amount', title: 'Least', optional: true },
    most: { type: 'amount', title: 'Most', optional: true },
    taxClass: { type: 'text', suggest: 'taxClasses', title: 'Tax class' },
    covers: { type: 'scopes', one: 'kind of item', title: 'Lines it covers' },
    coversCharges: { type: 'many', to: 'charges', title: 'Charges it covers too', formOnly: true },
  },
});

const of =
  (...kinds: string[]) =>
  (row: Readonly<Record<string, unknown>>) =>
    kinds.includes(String(row['kind']));

const EFFECTS = {
  percent: '% more (−5: 5 % off)',
  amount: 'amount more or less',
  multiply: 'multiply by',
  divide: 'divide by',
  set_price: 'set the price',
  charge: 'add a charge',
  floor: 'set a floor',
  free_units: 'free units',
  struck_price: 'show an earlier price struck',
  ask: 'ask for approval',
  refuse: 'refuse',
} as const;

const ruleSets = kind<RuleSet>({
  ...rules,
  name: 'rules',
  title: 'Attribute rules',
  one: 'rule set',
  about:
    'What happens to a quote’s line because of what it, its item, its customer or the quote is like. In their order: the first that holds, or every one.',
  fields: {
    name: named,
    active: { type: 'yes', title: 'Active' },
    mode: {
      type: 'choice',
      title: 'Which count',
      options: { first: 'the first that holds', every: 'every one that holds, each on what the one before left' },
    },
    rules: {
      type: 'rows',
      one: 'rule',
      title: 'Rules',
      numbered: true,
      fields: {
        name: { ...named, title: 'Rule' },
        when: { type: 'condition', title: 'When', optional: true },
        effects: {
          type: 'rows',
          one: 'effect',
          title: 'Then',
          least: 1,
          fields: {
            kind: { type: 'choice', options: EFFECTS, title: 'Effect' },
            name: { ...named, title: 'Name of the charge', when: of('charge') },
            floor: {
              type: 'choice',
              title: 'by',
              options: {
                margin: 'margin, %',
                markup: 'markup, %',
                amount: 'amount',
                percent_of_list: '% of the list price',
                map: 'MAP',
              },
              when: of('floor'),
            },
            value: {
              type: 'decimal',
              title: 'Value',
              optional: (row) => row['kind'] === 'struck_price',
              when: (row) => !of('free_units', 'ask', 'refuse')(row),
            },
            currency: {
              type: 'currency',
              title: 'in',
              optional: true,
              hint: 'empty: the list’s',
              when: of('amount', 'set_price', 'charge', 'floor', 'struck_price'),
            },
            perUnit: {
              type: 'yes',
              title: 'Price per unit',
              hint: 'a pack costs its units times this; otherwise name the pack in the condition',
              when: of('set_price'),
            },
            taxClass: { type: 'text', suggest: 'taxClasses', title: 'Tax class', when: of('charge') },
            outcome: {
              type: 'choice',
              title: 'below it',
              options: { lift: 'lift', ask: 'ask approval', refuse: 'refuse' },
              when: of('floor'),
            },
            buy: { type: 'decimal', sign: 'positive', title: 'of so many bought', when: of('free_units') },
            free: { type: 'decimal', sign: 'positive', title: 'so many more free', when: of('free_units') },
          },
        },
        zeroConfirmed: { type: 'yes', title: 'Goods for nothing are meant' },
        from: { type: 'day', title: 'First day', optional: true },
        to: { type: 'day', title: 'Last day', optional: true },
      },
    },
  },
});

const proofs = kind<Proof>({
  ...rules,
  name: 'proofs',
  title: 'Proofs',
  one: 'proof',
  about:
    'A price that was checked by hand, kept with its answer: asked again after every change, it says when it no longer comes out. Made from a price check.',
  fields: {
    name: named,
    question: { type: 'kept', title: 'Asked' },
    expect: {
      type: 'part',
      title: 'Must come out',
      fields: {
        price: { type: 'decimal', sign: 'not_negative', title: 'price, per pack', optional: true },
        reason: { type: 'text', title: 'or why there is none (its code)', optional: true },
        floor: {
          type: 'choice',
          title: 'floor',
          options: { none: 'none is broken', lift: 'lifts', ask: 'asks', refuse: 'refuses' },
          optional: true,
        },
      },
    },
    good: { type: 'kept', list: true, title: 'Build-up that was right', optional: true, formOnly: true },
  },
});

const attributes = kind<AttributeTerms>({
  ...open,
  name: 'attributes',
  title: 'Attributes',
  one: 'attribute',
  about: 'What items are described by, declared once: rules are tied to values, so each is written in one way.',
  fields: {
    name: { ...named, most: 80 },
    kind: {
      type: 'choice',
      title: 'Its values are',
      options: { choice: 'chosen from a list', number: 'numbers', text: 'any text' },
    },
    unit: {
      type: 'text',
      most: 20,
      title: 'In',
      hint: 'mm, kN, litre; empty: a bare number',
      optional: true,
      when: (row) => row['kind'] === 'number',
    },
    values: {
      type: 'texts',
      title: 'Values to choose from',
      hint: 'parted by a semicolon',
      when: (row) => row['kind'] === 'choice',
    },
  },
});

const brands = kind<Named>({
  ...open,
  name: 'brands',
  title: 'Brands',
  one: 'brand',
  about: 'Whose name is on the goods. Once one is here, an item’s brand is one of these.',
  fields: { name: named },
});

const taxClasses = kind<Named>({
  ...open,
  name: 'taxClasses',
  title: 'Tax classes',
  one: 'tax class',
  about:
    'What goods are to the tax office. Each has its rates, by day and by region. Once one is here, items have one of these.',
  fields: { name: named },
});

/**
 * Kinds of records that are kept as they are declared here, by the member of a workspace that holds them; another one is a
 * row of this table and its figures in the core.
 */
const BY_MEMBER = {
  ...{ reductions, regions, lockstep, pools, rules: ruleSets, charges, proofs },
  ...{ attributes, brands, taxClasses, landed },
} satisfies Partial<Record<keyof Workspace, RecordKind>>;

export const MEMBERS = Object.keys(BY_MEMBER) as (keyof typeof BY_MEMBER)[];

/** All of them, with the entries, which stand inside of their lists. */
export const KINDS: readonly RecordKind[] = [entries, ...Object.values(BY_MEMBER)];

export const kindNamed = (name: string): RecordKind | undefined => KINDS.find((k) => k.name === name);
