import type { Lost, Operation } from '../buildup/steps.ts';
import { type Dec, ONE, dec, plain, share } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Item } from '../items/item.ts';
import { describeScope, meet } from '../items/scope.ts';
import type { ItemsView } from '../items/view.ts';
import type { RecipeIndex } from './recipe-index.ts';
import type { RecipeTerms, UpliftMethod, UpliftRow, UpliftScope } from './recipe.ts';
import { compareRows } from './row-order.ts';

/** What is looked up to choose a row. */
export interface RecipesView extends ItemsView {
  /** A recipe's rows, made ready once. */
  recipeIndex(recipe: RecipeTerms): RecipeIndex;
}

export interface ChosenRow {
  readonly row: UpliftRow;
  readonly lost: readonly Lost[];
}

/** The most specific row that reaches the item; two that tie are a reason, never a guess. */
export function chooseRow(
  ws: RecipesView,
  recipe: RecipeTerms,
  item: Item,
  pack: string,
  channels: readonly string[],
  basis: Dec,
): Outcome<ChosenRow> {
  const path = `recipes/${recipe.id}/uplift`;
  const fitting = ws.recipeIndex(recipe).reaching(item, pack, channels, basis);
  const [first, second] = fitting;
  if (!first) return refusal('no_uplift_row', path, { recipe: recipe.name, item: item.sku });
  if (second && first.rank === second.rank) {
    return refusal('uplift_rows_tie', path, {
      recipe: recipe.name,
      item: item.sku,
      rows: `${describeRow(ws, first.row.scope)}; ${describeRow(ws, second.row.scope)}`,
    });
  }
  const lost = fitting.slice(1).map(({ row }) => ({
    name: `${describeRow(ws, row.scope)}: ${describeUplift(row)}`,
    why: 'a more specific row reaches the item',
  }));
  return figure({ row: first.row, lost });
}

/** Operations that are the same whatever the basis, made once a row. */
const ready = new WeakMap<UpliftRow, { operation: Operation; operand: Dec }>();

/** The operand of a row's operation, where it is the same whatever the basis. */
export const operandOf = (row: UpliftRow): Dec | undefined => factorOf(row)?.operand;

/** A row's factor, where it has one: an operation and its operand. */
function factorOf(row: UpliftRow): { operation: Operation; operand: Dec } | null {
  const known = ready.get(row);
  if (known) return known;
  const value = dec(row.value);
  const make = (op: 'times' | 'divide', operand: Dec) => {
    const made = { operation: { op, value: plain(operand) } as const, operand };
    ready.set(row, made);
    return made;
  };
  switch (row.method) {
    case 'markup':
      return make('times', ONE.plus(share(value)));
    case 'margin':
      return make('divide', ONE.minus(share(value)));
    case 'multiply':
      return make('times', value);
    case 'percent_off':
      return make('times', ONE.minus(share(value)));
    default:
      return null;
  }
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
      return figure(factorOf(row)!.operation);
    }
    case 'multiply':
    case 'percent_off':
      return figure(factorOf(row)!.operation);
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
export function describeRow(ws: RecipesView, scope: UpliftScope): string {
  const ties = describeScope(ws, scope);
  if (!scope.band) return ties;
  const band = `basis ${scope.band.from} to ${scope.band.to ?? 'any'}`;
  return ties === 'everything' ? band : `${ties}, ${band}`;
}

/** Pairs of rows that tie for at least one item: refused when a recipe is saved. */
export function tiesBetweenRows(ws: RecipesView, rows: readonly UpliftRow[]): { a: string; b: string }[] {
  const out: { a: string; b: string }[] = [];
  for (let i = 0; i < rows.length; i++) {
    for (let j = i + 1; j < rows.length; j++) {
      const [a, b] = [rows[i]!, rows[j]!];
      const alike = compareRows(ws, a.scope, b.scope) === 0;
      if (alike && meet(ws, a.scope, b.scope) && bandsMeet(a.scope.band, b.scope.band)) out.push({ a: a.id, b: b.id });
    }
  }
  return out;
}

/** Whether two bands share a figure. */
function bandsMeet(a: UpliftScope['band'], b: UpliftScope['band']): boolean {
  const apart = (x: { to: string | null }, y: { from: string }) => x.to !== null && dec(x.to).lte(y.from);
  return !a || !b || !(apart(a, b) || apart(b, a));
}
