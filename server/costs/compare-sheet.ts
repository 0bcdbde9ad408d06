import type { CostChange, CostFlag } from '#contract/costs.ts';
import { compareCosts } from '#core/costs/compare-costs.ts';
import { costOn } from '#core/costs/landed-cost.ts';
import { dec } from '#core/numbers/decimal.ts';
import type { Prepared } from '#core/workspace/index.ts';
import type { SheetRow } from './read-sheet.ts';

/** Which item a row means: by the supplier's own code first, then by our SKU, then by a barcode; capital letters do not matter. */
export class CodeBook {
  private readonly byCode = new Map<string, string>();
  private readonly bySku = new Map<string, string>();
  private readonly byBarcode = new Map<string, { readonly item: string; readonly units: string }>();

  constructor(
    items: readonly { id: string; sku: string; supplier: string | null; supplierCode: string | null }[],
    supplier: string,
    packs: readonly { item: string; units: string; barcode: string }[] = [],
  ) {
    for (const p of packs) this.byBarcode.set(p.barcode, p);
    for (const i of items) {
      this.bySku.set(i.sku.toLowerCase(), i.id);
      if (i.supplierCode && i.supplier === supplier) this.byCode.set(i.supplierCode.toLowerCase(), i.id);
    }
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

/** What taking in each row would do, beside what is known now. */
export function compareRows(
  ws: Prepared,
  rows: readonly SheetRow[],
  codes: CodeBook,
  supplier: string,
  addNew: boolean,
): CostChange[] {
  return rows.map((row): CostChange => {
    const id = codes.find(row);
    const item = id === null ? undefined : ws.items.get(id);
    const after = { amount: row.cost, currency: row.currency, packUnits: row.packUnits, from: row.validFrom };
    const base = {
      row: row.row,
      code: row.code,
      item: item?.id ?? null,
      sku: item?.sku ?? null,
      name: item?.name ?? row.name,
      after,
    };
    const flags: CostFlag[] = row.listedTwice ? ['listed_twice'] : [];
    if (!item) return { ...base, kind: addNew ? 'new' : 'unknown', before: null, changePercent: null, flags };
    const known = (ws.costsByItem.get(item.id) ?? []).filter((c) => c.supplier === supplier);
    const now = costOn(known, row.validFrom);
    if (known.some((c) => c.from > row.validFrom)) flags.push('earlier_day');
    if (!now) return { ...base, kind: 'new', before: null, changePercent: null, flags };
    if (now.origin === 'typed' && !now.released) flags.push('held_by_typed');
    const before = { amount: now.cost.amount, currency: now.cost.currency, packUnits: now.packUnits, from: now.from };
    if (!dec(before.packUnits).eq(row.packUnits)) flags.push('other_pack');
    if (before.currency !== row.currency) flags.push('other_currency');
    const move = compareCosts(
      ws,
      { cost: now.cost, packUnits: now.packUnits },
      { cost: { amount: row.cost, currency: row.currency }, packUnits: row.packUnits },
      row.validFrom,
    );
    if (move.shifted) flags.push('decimal_shift');
    else if (move.changePercent !== null && dec(move.changePercent).abs().gt(25)) flags.push('large_move');
    // the same cost per unit, but in another pack or currency, is kept as a change of its own
    const differs = flags.includes('other_pack') || flags.includes('other_currency');
    const kind = move.kind === 'not_comparable' || (move.kind === 'unchanged' && differs) ? 'new' : move.kind;
    return { ...base, before, kind, changePercent: move.changePercent, flags };
  });
}
