import type { BreakCount, BreakKind, BreakTable, BreakWay } from '#core/quotes/breaks.ts';
import type { FloorKind, FloorOutcome, FloorTerms } from '#core/quotes/floors.ts';
import { NAME, OPEN, type PlainKind, RULES, optional } from './plain-kind.ts';

const opt = { optional: true, formOnly: true } as const;
const tieTitle = (title: string) => `Only for the ${title}`;

const BREAKS: Record<BreakKind, string> = { percent_off: '% off', amount_off: 'amount off', price: 'price' };
const WAYS: Record<BreakWay, string> = {
  whole: 'whole: the reached price for all units',
  sliced: 'sliced: each slice at its own price',
};
const COUNTS: Record<BreakCount, string> = {
  line: 'by line',
  item: 'the same item over the whole quote',
  pool: 'the items of a pool together',
  section: 'the lines of a section together',
};

const breakWords = (row: Readonly<Record<string, unknown>>, number: (text: string) => string): string => {
  const { from, kind, value } = row as { from: string; kind: BreakKind; value: string };
  const how = { percent_off: ' % off', amount_off: ' off', price: '' }[kind];
  return `from ${number(from)}: ${number(value)}${how}`;
};

export const breaks = {
  ...OPEN,
  name: 'breaks',
  title: 'Quantity breaks',
  one: 'table of breaks',
  about: 'Only “from” quantities are entered; a break ends where the next begins.',
  removable: true,
  member: 'breaks',
  start: { count: 'item', rows: [{ from: '10', kind: 'percent_off', value: '5' }] },
  fields: {
    name: NAME,
    list: { type: 'one', to: 'lists', title: 'Price list' },
    item: { type: 'one', to: 'items', title: 'For one item', ...optional },
    category: {
      type: 'one',
      to: 'categories',
      title: 'For the category',
      hint: 'empty: every item of the list',
      ...optional,
    },
    way: { type: 'choice', title: 'Way', options: WAYS },
    count: { type: 'choice', title: 'Counted', options: COUNTS },
    rows: {
      type: 'rows',
      one: 'break',
      title: 'Breaks',
      least: 1,
      most: 50,
      unordered: true,
      words: breakWords,
      fields: {
        from: { type: 'decimal', sign: 'not_negative', title: 'From' },
        kind: { type: 'choice', title: 'Kind', options: BREAKS },
        value: { type: 'decimal', sign: 'not_negative', title: 'Value' },
      },
    },
    measure: {
      type: 'choice',
      title: 'What is counted',
      preset: 'units',
      options: { units: 'packs', weight: 'weight, kg', value: 'money, before breaks, net' },
      formOnly: true,
    },
    pool: {
      type: 'one',
      to: 'pools',
      title: 'The pool that counts together',
      formOnly: true,
      when: (row) => row['count'] === 'pool',
    },
    onTop: { type: 'yes', title: 'On top of other reductions', formOnly: true },
    neverMoreThanNext: {
      type: 'yes',
      title: 'A total is never more than that of the next break',
      formOnly: true,
      when: (row) => row['way'] === 'whole',
    },
    pack: { type: 'text', suggest: 'packs', title: tieTitle('pack'), ...opt },
    customer: { type: 'one', to: 'customers', title: tieTitle('customer'), ...opt },
    group: { type: 'one', to: 'groups', title: tieTitle('group'), ...opt },
    region: { type: 'one', to: 'regions', title: tieTitle('region'), ...opt },
    channel: { type: 'text', suggest: 'channels', title: tieTitle('channel'), ...opt },
  },
} as const satisfies PlainKind<BreakTable>;

const FLOORS: Record<FloorKind, string> = {
  margin: 'margin',
  markup: 'markup',
  amount: 'amount',
  percent_of_list: 'percent of list',
  map: 'map',
};
const OUTCOMES: Record<FloorOutcome, string> = { lift: 'lift to the floor', ask: 'ask approval', refuse: 'refuse' };

export const floors = {
  ...RULES,
  name: 'floors',
  title: 'Floors',
  one: 'floor',
  about: 'The least a quote line may be sold for, and what happens below it. The highest counts.',
  removable: true,
  member: 'floors',
  start: { value: '15', outcome: 'ask' },
  fields: {
    name: NAME,
    kind: { type: 'choice', title: 'By', options: FLOORS },
    value: { type: 'decimal', title: 'Value', hint: 'per cent, or an amount net per pack' },
    currency: {
      type: 'currency',
      title: 'Currency of an amount',
      formOnly: true,
      when: (row: Readonly<Record<string, unknown>>) => row['kind'] === 'amount',
      ...optional,
    },
    item: { type: 'one', to: 'items', title: 'For one item', ...optional },
    category: { type: 'one', to: 'categories', title: 'For the category', ...optional },
    group: { type: 'one', to: 'groups', title: 'For the customer group', ...optional },
    brand: { type: 'text', suggest: 'brands', title: 'For the brand', ...optional },
    outcome: { type: 'choice', title: 'Below it', options: OUTCOMES },
    active: { type: 'yes', title: 'Active', preset: true },
    attributes: { type: 'attributes', title: 'Only with the attributes', ...opt },
    channel: { type: 'text', suggest: 'channels', title: tieTitle('channel'), ...opt },
    quantity: {
      type: 'part',
      title: 'Only for quantities',
      ...opt,
      fields: {
        from: { type: 'decimal', sign: 'not_negative', title: 'from' },
        upTo: { type: 'decimal', sign: 'positive', title: 'up to, not with it', optional: true },
      },
    },
  },
} as const satisfies PlainKind<FloorTerms>;
