import { type Dec, ONE, dec, divide, share } from '../numbers/decimal.ts';
import type { RecipeTerms, UpliftRow } from '../recipes/recipe.ts';
import type { Item } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { nearest } from './columns.ts';
import type { RateFrom } from './recipe-figures.ts';

/** An uplift table as columns: for each class of items the intervals of the basis, ascending, with the row that wins there. */
export interface UpliftColumns {
  /** Where a class's intervals begin; one more than there are classes. */
  readonly first: Int32Array;
  /** Where an interval ends (exclusive) and the next begins; a class's last is infinite. */
  readonly until: Float64Array;
  /** What a basis is taken times, then what is added: 0 and the price itself where that is fixed. NaN: no row reaches this interval. */
  readonly factor: Float64Array;
  readonly plus: Float64Array;
  /** The place of the row in the recipe. */
  readonly row: Int32Array;
}

/** Gathers items whose uplift rows are the same into classes. */
export class UpliftClasses {
  private readonly bySignature = new Map<string, number>();
  private readonly byRows = new Map<string, number>();
  private readonly made: { rows: readonly UpliftRow[] }[] = [];
  private readonly ties: readonly (keyof UpliftRow['scope'])[];
  private readonly attributes: readonly string[];

  constructor(
    private readonly ws: Prepared,
    private readonly recipe: RecipeTerms,
    private readonly channels: readonly string[],
    private readonly rateFrom: RateFrom,
  ) {
    const scopes = recipe.uplift.map((r) => r.scope);
    this.ties = (['item', 'model', 'lockstep', 'brand', 'supplier', 'category', 'pack'] as const).filter((t) =>
      scopes.some((s) => s[t]),
    );
    this.attributes = [...new Set(scopes.flatMap((s) => Object.keys(s.attributes ?? {})))];
  }

  of(item: Item, pack: string): number {
    const signature = this.ties.length + this.attributes.length === 0 ? '' : this.signatureOf(item, pack);
    const known = this.bySignature.get(signature);
    if (known !== undefined) return known;
    const found = this.classOf(item, pack);
    this.bySignature.set(signature, found);
    return found;
  }

  private signatureOf(item: Item, pack: string): string {
    return this.ties
      .map((t) =>
        t === 'item'
          ? item.id
          : t === 'pack'
            ? pack
            : t === 'lockstep'
              ? (this.ws.lockstepOf(item.id)?.id ?? '')
              : (item[t as 'model'] ?? ''),
      )
      .concat(this.attributes.map((a) => item.attributes?.[a] ?? ''))
      .join('\u0000');
  }

  private classOf(item: Item, pack: string): number {
    const rows = this.ws.recipeIndex(this.recipe).forPack(item, pack, this.channels);
    // rows that tie at some basis, or that none may reach, are for the explained way to refuse
    const tie = rows.some((r, i) =>
      rows.slice(0, i).some((o) => o.rank === r.rank && !(o.to?.lte(r.from ?? 0) || r.to?.lte(o.from ?? 0))),
    );
    if (tie || rows.some((r) => !expressible(r.row))) return -1;
    const key = rows.map((r) => r.row.id).join('\u0000');
    const known = this.byRows.get(key);
    if (known !== undefined) return known;
    const made = this.made.push({ rows: rows.map((r) => r.row) }) - 1;
    this.byRows.set(key, made);
    return made;
  }

  get columns(): UpliftColumns {
    const intervals = this.made.map(({ rows }) => intervalsOf(rows));
    const all = intervals.flat();
    const first = new Int32Array(intervals.length + 1);
    intervals.forEach((c, i) => (first[i + 1] = first[i]! + c.length));
    const rows = all.map(({ row }) => (row ? operationOf(row, this.rateFrom) : NO_OPERATION));
    return {
      first,
      until: Float64Array.from(all, (r) => (r.until ? nearest(r.until) : Infinity)),
      factor: Float64Array.from(rows, (r) => r.factor),
      plus: Float64Array.from(rows, (r) => r.plus),
      row: Int32Array.from(all, (r) => (r.row ? this.recipe.uplift.indexOf(r.row) : -1)),
    };
  }
}

export interface Operation {
  readonly factor: number;
  readonly plus: number;
}

export const NO_OPERATION: Operation = { factor: NaN, plus: NaN };

/** What a row does to a basis; not a number where the explained way has to say. */
export function operationOf(r: UpliftRow, rateFrom: RateFrom): Operation {
  if (!expressible(r)) return NO_OPERATION;
  const value = dec(r.value);
  const amount = () => nearest(value) * rateFrom(r.currency);
  const times = (factor: Dec) => ({ factor: nearest(factor), plus: 0 });
  switch (r.method) {
    case 'markup':
      return times(ONE.plus(share(value)));
    case 'margin':
      return times(divide(ONE, ONE.minus(share(value))));
    case 'multiply':
      return times(value);
    case 'percent_off':
      return times(ONE.minus(share(value)));
    case 'add':
      return { factor: 1, plus: amount() };
    case 'amount_off':
      return { factor: 1, plus: -amount() };
    case 'fixed':
      return { factor: 0, plus: amount() };
  }
}

/** The intervals between the edges of rows, the most specific row first; neighbours with the same row are one. */
function intervalsOf(rows: readonly UpliftRow[]): { until: Dec | null; row: UpliftRow | null }[] {
  const band = (r: UpliftRow) => ({ from: dec(r.scope.band?.from ?? '0'), to: r.scope.band?.to ?? null });
  const edges = rows.flatMap((r) => [band(r).from, ...(band(r).to === null ? [] : [dec(band(r).to!)])]);
  const starts = [dec(0), ...edges.filter((e) => e.gt(0)).sort((a, b) => a.cmp(b))].filter(
    (e, i, all) => i === 0 || e.gt(all[i - 1]!),
  );
  const made: { until: Dec | null; row: UpliftRow | null }[] = [];
  starts.forEach((start, i) => {
    const row = rows.find((r) => band(r).from.lte(start) && (band(r).to === null || start.lt(band(r).to!))) ?? null;
    const until = starts[i + 1] ?? null;
    const last = made.at(-1);
    if (last && last.row === row) last.until = until;
    else made.push({ until, row });
  });
  return made;
}

/** Factors above 0, and margins under 100 %; anything else is the explained way's. */
function expressible(row: UpliftRow): boolean {
  const value = dec(row.value);
  switch (row.method) {
    case 'markup':
      return value.gt(-100);
    case 'margin':
    case 'percent_off':
      return value.lt(100);
    case 'multiply':
      return value.gt(0);
    default:
      return true;
  }
}
