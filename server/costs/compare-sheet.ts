import { COST_FLAGS, type CostChange, type CostFlag, type ItemFigureChange } from '#contract/costs.ts';
import { type ArrivingCost, examineCost } from '#core/costs/arriving-cost.ts';
import { LikeItems } from '#core/costs/like-items.ts';
import type { SuspicionCode } from '#core/costs/suspicions.ts';
import { dec } from '#core/numbers/decimal.ts';
import type { Item } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { QuantityPrice } from '#core/costs/cost.ts';
import type { SheetRow } from './read-rows.ts';

/**
 * Which item a row means: what a person said of the supplier's code first, then the supplier's own code as the item has it,
 * then our SKU, then a barcode; capital letters do not matter.
 */
export class CodeBook {
  private readonly byCode = new Map<string, string>();
  private readonly bySku = new Map<string, string>();
  private readonly byBarcode = new Map<string, { readonly item: string; readonly units: string }>();

  constructor(
    items: readonly { id: string; sku: string; supplier: string | null; supplierCode: string | null }[],
    supplier: string,
    packs: readonly { item: string; units: string; barcode: string }[] = [],
    said: readonly { code: string; item: string }[] = [],
  ) {
    for (const p of packs) this.byBarcode.set(p.barcode, p);
    for (const i of items) {
      this.bySku.set(i.sku.toLowerCase(), i.id);
      if (i.supplierCode && i.supplier === supplier) this.byCode.set(i.supplierCode.toLowerCase(), i.id);
    }
    for (const s of said) this.byCode.set(s.code, s.item);
  }

  find({ code, barcode }: Pick<SheetRow, 'code' | 'barcode'>): string | null {
    const own = code.toLowerCase();
    return this.byCode.get(own) ?? this.bySku.get(own) ?? this.byBarcode.get(barcode ?? code)?.item ?? null;
  }

  /** A barcode names a pack: where the file does not say how many units a cost is for, it is for that pack. */
  settled(row: SheetRow): SheetRow {
    const pack = row.packSaid ? undefined : this.byBarcode.get(row.barcode ?? row.code);
    return pack && this.find(row) === pack.item ? { ...row, packUnits: pack.units } : row;
  }
}

const arrivingOf = (row: SheetRow): ArrivingCost => ({
  cost: { amount: row.cost, currency: row.currency },
  reduced: row.reduced === null ? null : { amount: row.reduced, currency: row.currency },
  quantityPrices: row.quantityPrices,
  packUnits: row.packUnits,
  from: row.validFrom,
  to: row.validTo,
});

/** Named only where there are any. */
const moreOf = (prices: readonly QuantityPrice[] | null | undefined) =>
  prices && prices.length > 0 ? { quantityPrices: [...prices] } : {};

/** What the row says of the item itself, where that differs from what is known. Recommended prices per unit, tax in. */
function figuresOf(row: SheetRow, item: Item): ItemFigureChange[] {
  const out: ItemFigureChange[] = [];
  const say = (field: ItemFigureChange['field'], before: string | null, after: string | null, same: boolean) => {
    if (after !== null && !(same && before !== null && dec(before).eq(after))) out.push({ field, before, after });
  };
  for (const field of ['rrp', 'map'] as const) {
    const known = item[field];
    const alike = known?.currency === row.currency && Boolean(known.taxIn);
    say(field, known?.amount ?? null, row[field], alike);
  }
  say('weightKg', item.weightKg ?? null, row.weightKg, true);
  return out;
}

/** Rows that are one item under two codes, on one day. */
function sameItems(rows: readonly SheetRow[], items: readonly (Item | null)[]): ReadonlySet<number> {
  const first = new Map<string, number>();
  const found = new Set<number>();
  rows.forEach((row, i) => {
    const item = items[i];
    if (!item) return;
    const key = `${item.id} ${row.validFrom}`;
    const earlier = first.get(key);
    if (earlier === undefined) first.set(key, row.row);
    else found.add(earlier).add(row.row);
  });
  return found;
}

export interface HowCompared {
  readonly supplier: string;
  readonly today: string;
  /** All unknown codes become items. */
  readonly addNew: boolean;
  /** These rows become items. */
  readonly added?: ReadonlySet<number>;
}

/** What taking in each row would do, beside what is known now. */
export function compareRows(
  ws: Prepared,
  rows: readonly SheetRow[],
  codes: CodeBook,
  { supplier, today, addNew, added }: HowCompared,
): CostChange[] {
  const items = rows.map((row) => ws.items.get(codes.find(row) ?? '') ?? null);
  const beside = new Map(rows.flatMap((row, i) => (items[i] ? [[items[i].id, arrivingOf(row)] as const] : [])));
  const twice = sameItems(rows, items);
  const arrival = { ws, supplier, today, like: new LikeItems(ws, today), beside };
  return rows.map((row, i): CostChange => {
    const item = items[i];
    const { cost: amount, reduced, currency, packUnits, validFrom: from, validTo: to } = row;
    const base = {
      row: row.row,
      code: row.code,
      item: item?.id ?? null,
      sku: item?.sku ?? null,
      name: item?.name ?? row.name,
      after: { amount, reduced, ...moreOf(row.quantityPrices), currency, packUnits, from, to },
    };
    const listed: CostFlag[] = [
      ...(row.listedTwice ? (['listed_twice'] as const) : []),
      ...(twice.has(row.row) ? (['same_item'] as const) : []),
    ];
    if (!item) {
      const kind = addNew || added?.has(row.row) ? 'new' : 'unknown';
      return { kind, before: null, changePercent: null, flags: listed, ...base };
    }
    const { before, kind, changePercent, suspicions } = examineCost(arrival, item, arrivingOf(row));
    const figures = figuresOf(row, item);
    return {
      kind,
      changePercent,
      before: before && {
        amount: before.cost.amount,
        reduced: before.reduced?.amount ?? null,
        ...moreOf(before.quantityPrices),
        currency: before.cost.currency,
        packUnits: before.packUnits,
        from: before.from,
        to: before.to ?? null,
      },
      // what weighs most first
      flags: COST_FLAGS.filter((f) => listed.includes(f) || suspicions.has(f as SuspicionCode)),
      ...base,
      ...(suspicions.size > 0 ? { because: Object.fromEntries(suspicions) } : {}),
      ...(figures.length > 0 ? { figures } : {}),
    };
  });
}
