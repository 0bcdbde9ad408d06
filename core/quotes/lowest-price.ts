import type { Derivation, Lost, RuleRef } from '../buildup/steps.ts';
import { changed, describeChange, reductionsFor } from '../lists/entries.ts';
import type { Buyer } from '../lists/choose-list.ts';
import type { ListPrice } from '../lists/list-price.ts';
import { type Dec, divide, plain, roundHalfUp } from '../numbers/decimal.ts';
import type { Day, Item, Prepared } from '../workspace/index.ts';
import { describeScope } from '../workspace/scope.ts';
import { type BreakRow, type BreakTable, reachedBreak, slicesOf } from './breaks.ts';

/** One way to a lower price than the list's: a dated price, a customer's or group's reduction, a break. */
interface Way {
  readonly kind: 'entry' | 'reduction' | 'break';
  readonly name: string;
  readonly rule: RuleRef;
  readonly facts: Readonly<Record<string, string>>;
  /** From a price of the pack as the list shows it to another. */
  readonly to: (price: Dec) => Dec;
}

export interface BreakCounting {
  readonly table: BreakTable;
  /** The quantity that counts: of the line, the item or the pool. */
  readonly counted: Dec;
  /** What came before the line on the quote and counts with it. */
  readonly before: Dec;
}

export interface LowestPrice {
  /** Set where the price is an average over slices; each slice's price as the list shows it. */
  readonly slices: readonly { readonly from: Dec; readonly quantity: Dec; readonly price: Dec }[] | null;
  /** Whole breaks: whether the break's price (or, before the first, the list's) is what counts. */
  readonly byBreak: boolean;
}

/**
 * A dated reduction, a customer's or group's reduction and a quantity break do not add up: the lowest counts; those
 * marked "on top" come after it, one on the other. docs/arithmetic.md, "What counts together".
 */
export function applyLowest(
  ws: Prepared,
  d: Derivation,
  p: { listPrice: ListPrice; item: Item; quantity: Dec; buyer: Buyer; day: Day; breaks: BreakCounting | null },
): LowestPrice {
  const { listPrice, breaks } = p;
  const { list, terms } = listPrice;
  const decimals = ws.decimalsOf(list);
  const deposit = terms.deposit.times(terms.depositTaxFactor);
  const ways = collect(ws, p, deposit);
  const onTopBreak = breaks?.table.onTop ?? false;
  const row = breaks && breaks.table.way === 'whole' ? reachedBreak(breaks.table.rows, breaks.counted) : null;
  const way = (found: BreakRow): Way => breakWay(breaks!, found, deposit);
  const listed = d.figure;
  if (breaks?.table.way === 'sliced') {
    const slices = slicesOf(breaks.table.rows, breaks.before, p.quantity).map((s) => {
      const candidates = [...ways.competing, ...(s.row && !onTopBreak ? [way(s.row)] : [])];
      const base = lowestOf(candidates, listed)?.price ?? listed;
      const tops = [...(s.row && onTopBreak ? [way(s.row)] : []), ...ways.onTop];
      const price = tops.reduce((at, w) => w.to(at), base);
      return { from: s.from, quantity: s.quantity, price: roundHalfUp(price, decimals) };
    });
    const total = slices.reduce((all, s) => all.plus(s.price.times(s.quantity)), listed.minus(listed));
    d.add({
      kind: 'break',
      operation: { op: 'set', value: plain(divide(total, p.quantity)) },
      currency: list.currency,
      per: 'pack',
      rule: ruleOf(breaks.table),
      facts: {
        way: 'sliced: each slice at its own price; shown is the average',
        ...Object.fromEntries(slices.map((s) => [`from ${plain(s.from)}: ${plain(s.quantity)} at`, plain(s.price)])),
      },
      lost: ways.competing.map((w) => ({ name: w.name, why: 'held against every slice', figure: plain(w.to(listed)) })),
    });
    return { slices, byBreak: false };
  }
  if (breaks && !row) {
    d.add({
      kind: 'break',
      operation: { op: 'plus', value: '0' },
      currency: list.currency,
      per: 'pack',
      rule: ruleOf(breaks.table),
      facts: { ...countFacts(breaks), reached: 'no break' },
    });
  }
  const competing = [...ways.competing, ...(row && !onTopBreak ? [way(row)] : [])];
  const winner = lowestOf(competing, listed);
  if (winner) add(d, list.currency, winner.way, winner.lost);
  const tops = [...(row && onTopBreak ? [way(row)] : []), ...ways.onTop];
  for (const w of tops) add(d, list.currency, w, []);
  return { slices: null, byBreak: !winner || winner.way.kind === 'break' };
}

function add(d: Derivation, currency: string, w: Way, lost: readonly Lost[]): void {
  const before = d.figure;
  const price = w.to(before);
  d.add({
    kind: w.kind,
    operation: { op: 'set', value: plain(price) },
    currency,
    per: 'pack',
    rule: w.rule,
    facts: w.facts,
    lost,
    ...(w.kind === 'entry' && price.gt(before) ? { flag: 'dated_above_regular' as const } : {}),
  });
}

function lowestOf(ways: readonly Way[], price: Dec): { way: Way; price: Dec; lost: Lost[] } | null {
  let best: { way: Way; price: Dec } | null = null;
  for (const way of ways) {
    const to = way.to(price);
    if (!best || to.lt(best.price)) best = { way, price: to };
  }
  if (!best) return null;
  const { way: winner } = best;
  const others = ways.filter((w) => w !== winner);
  return {
    ...best,
    lost: others.map((w) => ({
      name: w.name,
      why: 'they do not add up, and another is lower',
      figure: plain(w.to(price)),
    })),
  };
}

const ruleOf = (t: BreakTable, part?: string): RuleRef => ({
  kind: 'break',
  id: t.id,
  version: t.version,
  name: t.name,
  ...(part ? { part } : {}),
});

function countFacts({ table, counted }: BreakCounting): Record<string, string> {
  return { way: 'whole: one price for all units', [`counted by ${table.count}`]: plain(counted) };
}

function breakWay(breaks: BreakCounting, row: BreakRow, deposit: Dec): Way {
  return {
    kind: 'break',
    name: breaks.table.name,
    rule: ruleOf(breaks.table, `from ${row.from}`),
    facts: { ...countFacts(breaks), break: describeChange(row) },
    to: (price) => changed(row, price.minus(deposit), deposit).plus(deposit),
  };
}

/** The dated entry and the reductions that reach the buyer; of these, those on top of what they would otherwise replace. */
function collect(
  ws: Prepared,
  p: { listPrice: ListPrice; item: Item; buyer: Buyer; day: Day },
  deposit: Dec,
): { competing: Way[]; onTop: Way[] } {
  const { listPrice, item, buyer, day } = p;
  const competing: Way[] = [];
  const onTop: Way[] = [];
  const { dated } = listPrice;
  if (dated) {
    const { entry } = dated;
    const way: Way = {
      kind: 'entry',
      name: `dated: ${describeScope(ws, entry.scope)}`,
      rule: {
        kind: 'list',
        id: listPrice.list.id,
        version: listPrice.list.version,
        name: listPrice.list.name,
        part: entry.id,
      },
      facts: {
        change: describeChange(entry),
        ...(entry.from ? { from: entry.from } : {}),
        ...(entry.to ? { to: entry.to } : {}),
        ...(entry.onTop ? { 'on top': 'of what counts' } : {}),
      },
      to: (price) => changed(entry, price.minus(deposit), deposit).plus(deposit),
    };
    (entry.onTop ? onTop : competing).push(way);
  }
  const fitting = reductionsFor(ws, buyer, listPrice.list.id, item, listPrice.pack.name, day);
  const tops: Way[] = [];
  for (const [i, r] of fitting.entries()) {
    const way: Way = {
      kind: 'reduction',
      name: r.name,
      rule: { kind: 'reduction', id: r.id, version: r.version, name: r.name },
      facts: {
        for: describeScope(ws, r.scope),
        change: describeChange(r),
        ...(r.onTop ? { 'on top': 'of what counts' } : {}),
        ...(!r.onTop && fitting[i + 1]
          ? {
              replaces: fitting
                .slice(i + 1)
                .map((x) => x.name)
                .join(', '),
            }
          : {}),
      },
      to: (price) => changed(r, price.minus(deposit), deposit).plus(deposit),
    };
    if (r.onTop) tops.unshift(way);
    else {
      competing.push(way);
      break;
    }
  }
  return { competing, onTop: [...onTop, ...tops] };
}
