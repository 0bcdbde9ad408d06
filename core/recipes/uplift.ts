import type { Lost, Operation } from '../buildup/steps.ts';
import { type Dec, ONE, dec, plain, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Item, Prepared } from '../workspace/index.ts';
import type { UpliftMethod, UpliftRow, UpliftScope } from './recipe.ts';

/** The order in which a row's ties make it more specific; source: docs/arithmetic.md, "Uplift table". */
const TIES = ['item', 'model', 'attributes', 'brand', 'supplier', 'category', 'pack', 'band'] as const;

/** A row's specificity as digits to compare one after the other, the most telling first. */
export function specificity(ws: Prepared, scope: UpliftScope): readonly Dec[] {
  const parts: Dec[] = TIES.map((tie) => {
    const value = scope[tie];
    if (value === null || value === undefined) return dec(0);
    if (tie === 'attributes') return dec(Object.keys(value as object).length);
    return ONE;
  });
  parts.push(dec(scope.category ? ws.lineage(scope.category).length : 0));
  // a narrower band is more specific: minus its width; an open one comes last
  const band = scope.band;
  parts.push(band ? (band.to === null ? dec('-1e30') : dec(band.from).minus(band.to)) : dec('-1e31'));
  return parts;
}

function compare(a: readonly Dec[], b: readonly Dec[]): number {
  for (let i = 0; i < a.length; i++) {
    const order = b[i]!.cmp(a[i]!);
    if (order !== 0) return order;
  }
  return 0;
}

/** Whether a row reaches an item's pack whose basis (per pack, list currency) is given. */
export function reaches(ws: Prepared, scope: UpliftScope, item: Item, pack: string, basis: Dec): boolean {
  if (scope.item && scope.item !== item.id) return false;
  if (scope.model && scope.model !== item.model) return false;
  if (scope.brand && scope.brand !== item.brand) return false;
  if (scope.supplier && scope.supplier !== item.supplier) return false;
  if (scope.pack && scope.pack !== pack) return false;
  if (scope.category && !ws.lineage(item.category).includes(scope.category)) return false;
  if (scope.attributes) {
    for (const [name, value] of Object.entries(scope.attributes)) if (item.attributes?.[name] !== value) return false;
  }
  if (scope.band) {
    if (basis.lt(scope.band.from)) return false;
    if (scope.band.to !== null && basis.gte(scope.band.to)) return false;
  }
  return true;
}

export interface ChosenRow {
  readonly row: UpliftRow;
  readonly lost: readonly Lost[];
}

/** The most specific row that reaches the item; two that tie are a reason, never a guess. */
export function chooseRow(
  ws: Prepared,
  recipe: { id: string; name: string; uplift: readonly UpliftRow[] },
  item: Item,
  pack: string,
  basis: Dec,
): Outcome<ChosenRow> {
  const path = `recipes/${recipe.id}/uplift`;
  const fitting = recipe.uplift
    .filter((row) => reaches(ws, row.scope, item, pack, basis))
    .map((row) => ({ row, rank: specificity(ws, row.scope) }))
    .sort((a, b) => compare(a.rank, b.rank));
  const [first, second] = fitting;
  if (!first) return refusal('no_uplift_row', path, { recipe: recipe.name, item: item.sku });
  if (second && compare(first.rank, second.rank) === 0) {
    return refusal('uplift_rows_tie', path, {
      recipe: recipe.name,
      item: item.sku,
      rows: `${describeScope(ws, first.row.scope)}; ${describeScope(ws, second.row.scope)}`,
    });
  }
  const lost = fitting.slice(1).map(({ row }) => ({
    name: `${describeScope(ws, row.scope)}: ${describeUplift(row)}`,
    why: 'a more specific row reaches the item',
  }));
  return figure({ row: first.row, lost });
}

/** What a row does to the basis, as an operation; the basis and the result are net, per pack, in the list's currency. */
export function upliftOperation(
  row: UpliftRow,
  basis: Dec,
  amountFactor: Dec,
  item: Item,
  path: string,
): Outcome<Operation> {
  const value = dec(row.value);
  switch (row.method) {
    case 'markup':
    case 'margin': {
      if (row.method === 'margin' && value.gte(100)) return refusal('margin_too_high', path, { percent: plain(value) });
      if (basis.isZero()) return refusal('markup_without_cost', path, { item: item.sku, kind: row.method });
      return row.method === 'markup'
        ? figure({ op: 'times', value: plain(ONE.plus(share(value))) })
        : figure({ op: 'divide', value: plain(ONE.minus(share(value))) });
    }
    case 'multiply':
      return figure({ op: 'times', value: plain(value) });
    case 'percent_off':
      return figure({ op: 'times', value: plain(ONE.minus(share(value))) });
    case 'add':
      return figure({ op: 'plus', value: plain(value.times(amountFactor)) });
    case 'amount_off':
      return figure({ op: 'plus', value: plain(value.times(amountFactor).negated()) });
    case 'fixed':
      return figure({ op: 'set', value: plain(value.times(amountFactor)) });
  }
}

const METHOD_WORDS: Record<UpliftMethod, (value: string, currency: string) => string> = {
  markup: (v) => `markup ${v} %`,
  margin: (v) => `margin ${v} %`,
  multiply: (v) => `multiply by ${v}`,
  add: (v, c) => `add ${v} ${c}`.trim(),
  percent_off: (v) => `${v} % off`,
  amount_off: (v, c) => `${v} ${c} off`.replace('  ', ' '),
  fixed: (v, c) => `fixed price ${v} ${c}`.trim(),
};

/** An uplift in words, its kind always named. */
export function describeUplift(row: Pick<UpliftRow, 'method' | 'value' | 'currency'>): string {
  return METHOD_WORDS[row.method](row.value, row.currency ?? '');
}

/** What a row is tied to, in words. */
export function describeScope(ws: Prepared, scope: UpliftScope): string {
  const parts: string[] = [];
  if (scope.item) parts.push(`item ${ws.items.get(scope.item)?.sku ?? scope.item}`);
  if (scope.model) parts.push(`model ${scope.model}`);
  if (scope.attributes) parts.push(...Object.entries(scope.attributes).map(([n, v]) => `${n} ${v}`));
  if (scope.brand) parts.push(`brand ${scope.brand}`);
  if (scope.supplier) parts.push(ws.suppliers.get(scope.supplier)?.name ?? scope.supplier);
  if (scope.category) parts.push(ws.categories.get(scope.category)?.name ?? scope.category);
  if (scope.pack) parts.push(`pack ${scope.pack}`);
  if (scope.band) parts.push(`basis ${scope.band.from} to ${scope.band.to ?? 'any'}`);
  return parts.join(', ') || 'everything';
}

/** Pairs of rows that tie for at least one item: refused when a recipe is saved. */
export function tiesBetweenRows(ws: Prepared, rows: readonly UpliftRow[]): { a: string; b: string }[] {
  const out: { a: string; b: string }[] = [];
  const ranked = rows.map((row) => ({ row, rank: specificity(ws, row.scope) }));
  for (let i = 0; i < ranked.length; i++) {
    for (let j = i + 1; j < ranked.length; j++) {
      const a = ranked[i]!;
      const b = ranked[j]!;
      if (compare(a.rank, b.rank) === 0 && meet(ws, a.row.scope, b.row.scope)) out.push({ a: a.row.id, b: b.row.id });
    }
  }
  return out;
}

/** Whether some item could be reached by both scopes. */
function meet(ws: Prepared, a: UpliftScope, b: UpliftScope): boolean {
  for (const tie of ['item', 'model', 'brand', 'supplier', 'pack'] as const) {
    if (a[tie] && b[tie] && a[tie] !== b[tie]) return false;
  }
  for (const [name, value] of Object.entries(a.attributes ?? {})) {
    const other = b.attributes?.[name];
    if (other !== undefined && other !== value) return false;
  }
  if (
    a.category &&
    b.category &&
    !ws.lineage(a.category).includes(b.category) &&
    !ws.lineage(b.category).includes(a.category)
  )
    return false;
  if (a.band && b.band) {
    const apart = (x: { to: string | null }, y: { from: string }) => x.to !== null && dec(x.to).lte(y.from);
    if (apart(a.band, b.band) || apart(b.band, a.band)) return false;
  }
  return true;
}
