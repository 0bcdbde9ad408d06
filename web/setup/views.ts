import { type RecordKind, startOf } from '#contract/records/declare.ts';
import { KINDS } from '#contract/records/kinds.ts';
import type { PlainKind } from '#contract/records/plain-kind.ts';
import { PLAIN } from '#contract/records/plain.ts';
import { LockstepBeside } from '../items/lockstep-beside.tsx';
import { GroupBeside } from './group-beside.tsx';
import { ListAudienceBeside } from './list-audience.tsx';
import { PARTS, type Part, type RegisterView } from './registers.ts';
import { BrandBeside, ValuesBeside } from './values-beside.tsx';

/** Which records stand under which heading, in this order. */
const ORDER: Readonly<Record<Part, readonly string[]>> = {
  Costs: ['suppliers', 'landed', 'categories', 'attributes', 'brands', 'lockstep', 'exchange-rates'],
  Prices: ['lists', 'entries', 'proofs', 'taxClasses', 'tax-rates'],
  Buyers: ['customers', 'customer-groups', 'regions', 'reductions'],
  Quotes: ['breaks', 'pools', 'floors', 'rules', 'charges'],
  'The house': ['people', 'settings'],
};
const partOf = (name: string): Part => PARTS.find((part) => ORDER[part].includes(name)) ?? 'The house';

const BESIDE: Readonly<Record<string, RegisterView['beside']>> = {
  lists: ListAudienceBeside,
  'customer-groups': GroupBeside,
  attributes: ValuesBeside,
  brands: BrandBeside,
  lockstep: LockstepBeside,
};

/** A kind of record as its declaration has it. */
export function viewOf(kind: RecordKind & Partial<PlainKind>): RegisterView {
  const { fields, name, title, one, about, readRight, changeRight, removable = true } = kind;
  return {
    ...{ name, title, one, about, right: readRight, changeRight, removable, fields },
    part: partOf(name),
    start: { ...startOf(fields), ...kind.start },
    ...(BESIDE[name] ? { beside: BESIDE[name] } : {}),
    ...(kind.latestFirst ? { latestFirst: kind.latestFirst } : {}),
    // a proof is made from a price that was checked
    ...(kind.single || name === 'proofs' ? { single: true } : {}),
    ...(name === 'lockstep' ? { besideNew: true as const } : {}),
  };
}

const ALL: readonly RegisterView[] = [
  ...Object.values(PLAIN).map((kind) => viewOf(kind)),
  ...KINDS.map((kind) => viewOf(kind)),
];

const place = ({ part, name }: RegisterView): number => {
  const at = ORDER[part].indexOf(name);
  return at < 0 ? ORDER[part].length : at;
};

/** Every kind, by heading; one that no heading names stands last. */
export const VIEWS: readonly RegisterView[] = PARTS.flatMap((part) =>
  ALL.filter((v) => v.part === part).sort((a, b) => place(a) - place(b)),
);
