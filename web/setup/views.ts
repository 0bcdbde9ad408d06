import { type Fields, startOf } from '#contract/records/declare.ts';
import { KINDS } from '#contract/records/kinds.ts';
import { MORE } from '#contract/records/more.ts';
import { LockstepBeside } from '../items/lockstep-beside.tsx';
import { BrandBeside, ValuesBeside } from './values-beside.tsx';
import { PLAIN, type Part, type RegisterField, type RegisterView, PARTS } from './registers.ts';

const declared = (fields: Fields): RegisterField[] =>
  Object.entries(fields).map(([name, f]) => ({
    name,
    title: f.title,
    as: { kind: 'declared', field: f },
    ...(f.formOnly ? { formOnly: true } : {}),
  }));

/** Which records stand under which heading, in this order. */
const ORDER: Readonly<Record<Part, readonly string[]>> = {
  Costs: ['suppliers', 'landed', 'categories', 'attributes', 'brands', 'lockstep', 'exchange-rates'],
  Prices: ['lists', 'entries', 'proofs', 'taxClasses', 'tax-rates'],
  Buyers: ['customers', 'customer-groups', 'regions', 'reductions'],
  Quotes: ['breaks', 'pools', 'floors', 'rules', 'charges'],
  'The house': ['people', 'settings'],
};

const BESIDE: Readonly<Record<string, RegisterView['beside']>> = {
  attributes: ValuesBeside,
  brands: BrandBeside,
  lockstep: LockstepBeside,
};

const ALL: readonly Omit<RegisterView, 'part'>[] = [
  ...PLAIN.map((v) => {
    const more: Fields = MORE[v.name as keyof typeof MORE]?.fields ?? {};
    return { ...v, fields: [...v.fields, ...declared(more)], start: { ...v.start, ...startOf(more) } };
  }),
  ...KINDS.map((k) => ({
    name: k.name,
    title: k.title,
    one: k.one,
    about: k.about,
    right: k.readRight,
    changeRight: k.changeRight,
    removable: true,
    // a proof is made from a price that was checked
    ...(k.name === 'proofs' ? { single: true } : {}),
    ...(BESIDE[k.name] ? { beside: BESIDE[k.name] } : {}),
    ...(k.name === 'lockstep' ? { besideNew: true as const } : {}),
    start: startOf(k.fields),
    fields: declared(k.fields),
  })),
];

export const VIEWS: readonly RegisterView[] = PARTS.flatMap((part) =>
  ORDER[part].map((name) => ({ ...ALL.find((v) => v.name === name)!, part })),
);
