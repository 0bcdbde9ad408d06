import { BulkWorkspace, type DecidedPrices, bulkPricesMet } from '../bulk/bulk-prices.ts';
import { FLAGS, type MetOnTheWay } from '../bulk/price-rows.ts';
import type { PriceQuestion } from '../lists/achieved.ts';
import { computePrice } from '../lists/list-price.ts';
import { type Dec, dec, plain, settle } from '../numbers/decimal.ts';
import { calculate } from '../buildup/steps.ts';
import type { Reason, ReasonCode } from '../reasons.ts';
import type { ComputedPrice } from '../recipes/compute-price.ts';
import type { RecipeTerms, UpliftRow } from '../recipes/recipe.ts';
import { describeRow, describeUplift, tiesBetweenRows, upliftOperation } from '../recipes/uplift.ts';
import { fits } from '../items/scope.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import type { Pausable } from '../pausable.ts';
import { type LadderFault, concerns, ladderFaults, mayConcern, type Rounded } from './check-ladders.ts';
import { type Finding, type FindingCode, finding } from './finding.ts';

/** Which finding a price that cannot be computed leads to. */
const BY_REASON: Partial<Record<ReasonCode, FindingCode>> = {
  no_cost: 'item_without_cost',
  guard_without_cost: 'item_without_cost',
  no_weight: 'item_without_weight',
  no_weight_for_add_on: 'item_without_weight',
  no_weight_band: 'item_without_weight',
  no_rrp: 'item_without_rrp',
  no_uplift_row: 'uplift_row_missing',
  no_exchange_rate: 'currency_without_rate',
  no_tax_rate: 'tax_class_without_rate',
  lists_in_a_circle: 'lists_in_a_circle',
};

interface Group {
  readonly code: FindingCode;
  readonly places: Set<string>;
  readonly items: Set<string>;
  readonly example: Record<string, string>;
}

/** A price of a recipe: what it was asked by, and the item and the list it is of. */
interface Asked {
  readonly item: Item;
  readonly list: PriceList;
  readonly recipe: RecipeTerms;
  /** The id of the ladder that rounds it; null: there is none. */
  readonly ladder: string | null;
  readonly q: PriceQuestion;
}

/** Every price that a recipe makes, in the order in which they are told of. */
function* askedPrices(ws: Prepared, day: Day): Generator<Asked> {
  for (const list of ws.workspace.lists) {
    if (list.recipe === null && !list.recipes?.length) continue;
    for (const item of ws.workspace.items) {
      const followed = ws.followed(item);
      const recipe = ws.recipeFor(list, followed);
      if (!recipe) continue;
      for (const pack of followed.packs)
        yield {
          item,
          list,
          recipe,
          ladder: ws.ladderFor(list, recipe, followed, pack.name)?.id ?? null,
          q: { item: item.id, pack: pack.id, list: list.id, day },
        };
    }
  }
}

/** How the prices of a list are come by; for tests: all the explained way. */
export type PricesOf = (bulk: BulkWorkspace, list: PriceList) => DecidedPrices;

/** Of one list after the other: what was worked out for the last one is let go of. */
function perList<T>(make: (list: PriceList) => T): (list: PriceList) => T {
  let known: { readonly list: PriceList; readonly of: T } | null = null;
  return (list) => (known?.list === list ? known : (known = { list, of: make(list) })).of;
}

/** The prices that what is wrong with rows and ladders concerns, explained; the rest need no explaining. */
class Concerned {
  /** By the row that is too low from its edge on. */
  readonly bases = new Map<string, { item: Item; basis: Dec }[]>();
  /** By ladder. */
  readonly rounded = new Map<string, Rounded[]>();
  private readonly inversions = new Map<string, Inversion[]>();
  /** The highest basis of which an inversion may make too little, and the lowest of which it does not, as far as is known. */
  private readonly looked = new Map<Inversion, { below: number; not: number }>();

  constructor(
    inverted: readonly Inversion[],
    private readonly faults: ReadonlyMap<string, readonly LadderFault[]>,
  ) {
    for (const one of inverted) {
      const key = rowKey(one.recipe.id, one.upper.id);
      this.inversions.set(key, [...(this.inversions.get(key) ?? []), one]);
    }
  }

  /** Whether a price may be concerned, by the doubles nearest to what it was made from. */
  mayBe(row: string | null, ladder: string | null, met: MetOnTheWay | undefined, i: number): boolean {
    const [basis, before, after] = met ? [met.basis[i]!, met.before[i]!, met.after[i]!] : [NaN, NaN, NaN];
    const inverted = row === null ? undefined : this.inversions.get(row);
    if (inverted?.some((one) => !(basis > 0) || this.mayBeBelow(one, basis))) return true;
    const faults = ladder === null ? undefined : this.faults.get(ladder);
    return faults?.some((fault) => mayConcern(fault, before, after)) ?? false;
  }

  /** The more the basis, the more a row makes: between two bases that were looked at, all are as they. */
  private mayBeBelow(one: Inversion, basis: number): boolean {
    const known = this.looked.get(one) ?? { below: 0, not: Infinity };
    this.looked.set(one, known);
    if (basis <= known.below) return true;
    if (basis >= known.not) return false;
    const found = isBelow(one, dec(String(basis)), SLIGHTLY_MORE);
    known[found ? 'below' : 'not'] = basis;
    return found;
  }

  take(item: Item, row: string | null, { basis, steps }: ComputedPrice): void {
    if (row !== null && this.inversions.has(row)) into(this.bases, row).push({ item, basis });
    const met = steps.find((s) => s.rule?.kind === 'ladder');
    if (met && this.faults.has(met.rule!.id))
      into(this.rounded, met.rule!.id).push({ item: item.id, before: dec(met.before!), after: dec(met.after) });
  }
}

function into<V>(map: Map<string, V[]>, key: string): V[] {
  const known = map.get(key) ?? [];
  map.set(key, known);
  return known;
}

const rowKey = (recipe: string, row: string) => `${recipe}\u0000${row}`;

/** So many prices are looked at before others may have their turn. */
const AT_ONCE = 64;

/** Computes every item on every list with a recipe, and gathers what goes wrong and what every ladder did. */
export function* checkPrices(ws: Prepared, day: Day, pricesOf: PricesOf = bulkPricesMet): Pausable<Finding[]> {
  const groups = new Map<string, Group>();
  const say = (key: string, code: FindingCode, place: string, item: Item, example: () => Record<string, string>) => {
    const known = groups.get(key) ?? { code, places: new Set(), items: new Set(), example: example() };
    known.places.add(place);
    known.items.add(item.id);
    groups.set(key, known);
  };
  const used = new Set(ws.workspace.lists.flatMap((l) => [l.recipe, ...(l.recipes ?? []).map((t) => t.recipe)]));
  const recipes = ws.workspace.recipes.filter((r) => used.has(r.id));
  const inverted = new Map(recipes.map((recipe) => [recipe.id, inversions(ws, recipe)]));
  const faults = new Map(ws.workspace.ladders.map((ladder) => [ladder.id, ladderFaults(ladder)]));
  const concerned = new Concerned([...inverted.values()].flat(), faults);
  /** Rows that win for something, by recipe and row. */
  const wins = new Set<string>();
  const bulk = new BulkWorkspace(ws, day);
  const pricesOn = perList((list) => ({ prices: pricesOf(bulk, list), posted: bulk.posted(list) }));
  let looked = 0;
  for (const { item, list, recipe, ladder, q } of askedPrices(ws, day)) {
    if (++looked % AT_ONCE === 0) yield;
    const { prices, posted } = pricesOn(list);
    if (!item.rrp && recipe.guards.some((g) => g.kind === 'rrp'))
      say(`rrp ${recipe.id}`, 'item_without_rrp', `recipes/${recipe.id}/guards`, item, () => ({
        item: item.sku,
        guard: 'not above RRP',
      }));
    if (ladder === null)
      say(`ladder ${list.id}`, 'currency_without_ladder', `lists/${list.id}`, item, () => ({
        list: list.id,
        currency: list.currency,
      }));
    const i = bulk.rowOf(q.item, q.pack)!;
    const reason = prices.reasons.get(i);
    if (reason) {
      byReason(reason, list, item, say);
      continue;
    }
    const row = prices.row[i]! < 0 ? null : rowKey(recipe.id, recipe.uplift[prices.row[i]!]!.id);
    if (row !== null) wins.add(row);
    const conflict = FLAGS[prices.flag[i]!] === 'floor_above_ceiling';
    if (!conflict && posted.handSet[i] !== 1 && !concerned.mayBe(row, ladder, prices.met, i)) continue;
    const found = computePrice(ws, q);
    if (!found.ok) continue;
    concerned.take(item, row, found.value);
    const { handSet, price, steps } = found.value;
    if (conflict) {
      const facts = steps.find((s) => s.kind === 'guard')?.facts ?? {};
      say(`guards ${recipe.id}`, 'floor_above_ceiling', `recipes/${recipe.id}/guards`, item, () => ({
        item: item.sku,
        list: list.id,
        ...facts,
        price: plain(price),
      }));
    }
    if (handSet?.squeezed)
      say(`hand ${list.id}`, 'hand_set_squeezed', `lists/${list.id}`, item, () => ({
        item: item.sku,
        price: plain(price),
        'by the recipe': plain(handSet.recipePrice),
      }));
  }
  const itemsIn = (ladder: string, fault: LadderFault) =>
    new Set((concerned.rounded.get(ladder) ?? []).filter((r) => concerns(fault, r)).map((r) => r.item)).size;
  return [
    ...[...faults].flatMap(([ladder, of]) => of.map((fault) => fault.finding(itemsIn(ladder, fault)))),
    ...[...groups.values()].map((g) => finding(g.code, [...g.places], g.items.size, g.example)),
    ...recipes.flatMap((recipe) => [
      ...neverWinning(ws, recipe, wins),
      ...ties(ws, recipe),
      ...inverted.get(recipe.id)!.map((one) => inversionFound(one, concerned.bases)),
    ]),
  ];
}

function byReason(
  reason: Reason,
  list: PriceList,
  item: Item,
  say: (key: string, code: FindingCode, place: string, item: Item, example: () => Record<string, string>) => void,
): void {
  const code = BY_REASON[reason.code];
  if (!code) return;
  const about =
    code === 'currency_without_rate'
      ? `${reason.params['from']}/${reason.params['to']}`
      : (reason.params['taxClass'] ?? reason.path);
  const place = code.startsWith('item_without') ? `lists/${list.id}` : reason.path;
  const key = code.startsWith('item_without') ? code : `${code} ${about}`;
  say(key, code, place, item, () => ({ item: item.sku, list: list.id, ...reason.params }));
}

/** Rows that are equally specific for some item; whether one is there yet or not. */
function ties(ws: Prepared, recipe: RecipeTerms): Finding[] {
  return tiesBetweenRows(ws, recipe.uplift).map(({ a, b }) => {
    const [one, other] = [a, b].map((id) => recipe.uplift.find((r) => r.id === id)!) as [UpliftRow, UpliftRow];
    const items = ws.workspace.items.filter((i) =>
      [one, other].every((r) => fits(ws, r.scope, ws.followed(i), null, null)),
    );
    return finding(
      'uplift_rows_equally_specific',
      [a, b].map((id) => `recipes/${recipe.id}/uplift/${id}`),
      items.length,
      {
        rows: [one, other].map((r) => `${describeRow(ws, r.scope)}: ${describeUplift(r)}`).join('; '),
        ...(items[0] ? { item: items[0].sku } : {}),
      },
    );
  });
}

function neverWinning(ws: Prepared, recipe: RecipeTerms, wins: ReadonlySet<string>): Finding[] {
  return recipe.uplift
    .filter((row) => !wins.has(rowKey(recipe.id, row.id)))
    .map((row) =>
      finding('uplift_row_never_wins', [`recipes/${recipe.id}/uplift/${row.id}`], 0, {
        row: describeRow(ws, row.scope),
      }),
    );
}

/** Two rows alike but for adjoining bands, of which the upper makes less at the edge than the lower just under it. */
interface Inversion {
  readonly recipe: RecipeTerms;
  readonly lower: UpliftRow;
  readonly upper: UpliftRow;
  readonly edge: string;
  /** What the lower makes just under the edge, and the upper at it. */
  readonly under: Dec;
  readonly at: Dec;
  /** What the upper makes of a basis; null: it cannot say. */
  readonly make: (basis: Dec) => Dec | null;
}

/** So that what only a double knows is rather explained than passed over. */
const SLIGHTLY_MORE = dec('1.000000001');

const isBelow = ({ make, under }: Inversion, basis: Dec, by = dec(1)): boolean =>
  make(basis)?.lt(under.times(by)) ?? false;

function inversions(ws: Prepared, recipe: RecipeTerms): Inversion[] {
  const out: Inversion[] = [];
  const item = ws.workspace.items[0];
  if (!item) return out;
  const unbanded = (r: UpliftRow) => ({ ...r.scope, band: null });
  const make = (row: UpliftRow, basis: Dec): Dec | null => {
    const operation = upliftOperation(row, basis, dec(1), item, '');
    return operation.ok ? calculate(operation.value, basis) : null;
  };
  const byTies = new Map<string, UpliftRow[]>();
  for (const row of recipe.uplift) {
    if (!row.scope.band) continue;
    const key = JSON.stringify(
      Object.entries(unbanded(row))
        .filter(([, v]) => v)
        .sort(),
    );
    byTies.set(key, [...(byTies.get(key) ?? []), row]);
  }
  for (const rows of byTies.values()) {
    for (const lower of rows) {
      const edge = lower.scope.band!.to;
      const upper = rows.find((r) => r !== lower && edge !== null && dec(r.scope.band!.from).eq(edge));
      if (!upper || edge === null || (upper.currency ?? null) !== (lower.currency ?? null)) continue;
      const [under, at] = [make(lower, dec(edge)), make(upper, dec(edge))];
      if (!under || !at || at.gte(under)) continue;
      out.push({ recipe, lower, upper, edge, under, at, make: (basis) => make(upper, basis) });
    }
  }
  return out;
}

function inversionFound(one: Inversion, bases: Concerned['bases']): Finding {
  const { recipe, lower, upper, edge, under, at } = one;
  const touched = (bases.get(rowKey(recipe.id, upper.id)) ?? []).filter(({ basis }) => isBelow(one, basis));
  return finding(
    'price_inversion',
    [lower, upper].map((r) => `recipes/${recipe.id}/uplift/${r.id}`),
    new Set(touched.map((t) => t.item.id)).size,
    {
      basis: edge,
      'just below': plain(settle(under)),
      'from there': plain(settle(at)),
      ...(touched[0] ? { item: touched[0].item.sku, 'its basis': plain(settle(touched[0].basis)) } : {}),
    },
  );
}
