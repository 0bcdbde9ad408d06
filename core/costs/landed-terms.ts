import type { RuleRef } from '../buildup/steps.ts';
import { type Tie, compareSpecificity, describeScope, fits, specificityOf } from '../items/scope.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { DatedLandedTerms, LandedTerms, Supplier } from './cost.ts';
import type { CostsView } from './view.ts';

export const LANDED_TIES: readonly Tie[] = ['item', 'category'];

/** The parts of landed cost that terms speak of. */
export const LANDED_PARTS = [
  'freight',
  'dutyPercent',
  'handling',
  'overheadPercent',
  'orderFee',
  'usualOrder',
] as const;
type PartName = (typeof LANDED_PARTS)[number];

/** What bringing an item in costs, part by part, each with the rule it stands in. */
export interface TermsInForce {
  /** Equal for items whose terms are the same. */
  readonly key: string;
  readonly terms: LandedTerms;
  readonly by: Readonly<Record<PartName, RuleRef>>;
}

/** Terms of a supplier that have begun, those that hold for fewer goods first; of equal ones the later day first. */
function chainOf(ws: CostsView, item: Item, supplier: string, day: Day): readonly DatedLandedTerms[] {
  const theirs = ws.landedTerms.get(supplier);
  if (!theirs) return [];
  const order = (t: DatedLandedTerms) =>
    ws.remember('landed-ties', t.id, () => specificityOf(ws, t.scope, LANDED_TIES));
  return theirs
    .filter((t) => t.from <= day && fits(ws, t.scope, item, null, null))
    .sort((a, b) => compareSpecificity(order(a), order(b)) || (a.from < b.from ? 1 : a.from > b.from ? -1 : 0));
}

/** The terms that count for an item of a supplier on a day. */
export function landedTermsOf(ws: CostsView, item: Item, supplier: Supplier, day: Day): TermsInForce {
  const chain = chainOf(ws, item, supplier.id, day);
  const key = [supplier.id, ...chain.map((t) => t.id)].join('>');
  return ws.remember(`landed-terms ${day}`, key, () => {
    const own: RuleRef = { kind: 'supplier', id: supplier.id, version: supplier.version, name: supplier.name };
    const found = Object.fromEntries(
      LANDED_PARTS.map((part) => {
        const said = chain.find((t) => t[part] !== null && t[part] !== undefined);
        return [part, said ?? null] as const;
      }),
    ) as Record<PartName, DatedLandedTerms | null>;
    const refs = Object.fromEntries(
      LANDED_PARTS.map((part) => [part, found[part] ? refTo(ws, supplier, found[part]) : own] as const),
    ) as Record<PartName, RuleRef>;
    const value = <P extends PartName>(part: P): LandedTerms[P] => (found[part] ?? supplier.landed)[part];
    return {
      key,
      terms: {
        freight: value('freight'),
        dutyPercent: value('dutyPercent'),
        handling: value('handling'),
        overheadPercent: value('overheadPercent'),
        orderFee: value('orderFee'),
        usualOrder: value('usualOrder'),
      },
      by: refs,
    };
  });
}

function refTo(ws: CostsView, supplier: Supplier, t: DatedLandedTerms): RuleRef {
  const tied = LANDED_TIES.some((tie) => t.scope[tie]);
  return {
    kind: 'landed',
    id: t.id,
    version: t.version,
    name: `${supplier.name}: ${tied ? describeScope(ws, t.scope) : 'all goods'} from ${t.from}`,
  };
}

/** Terms of one supplier that say something of the very same goods from the very same day: which counts could not be told. */
export function landedTermsTwice(terms: readonly DatedLandedTerms[]): [DatedLandedTerms, DatedLandedTerms][] {
  const seen = new Map<string, DatedLandedTerms>();
  const out: [DatedLandedTerms, DatedLandedTerms][] = [];
  for (const t of terms) {
    const key = [t.supplier, t.from, ...LANDED_TIES.map((tie) => t.scope[tie] ?? '')].join('>');
    const first = seen.get(key);
    if (first) out.push([first, t]);
    else seen.set(key, t);
  }
  return out;
}
