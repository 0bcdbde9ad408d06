import type { Cost } from '#core/costs/cost.ts';
import type { Item, Pack, Recommended } from '#core/items/item.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { costs } from '../costs/tables.ts';
import type { items, packs } from '../items/tables.ts';
import { amountOf, id } from './core-values.ts';

export const COST_KEYS = [
  'id',
  'itemId',
  'supplierId',
  'amount',
  'reducedAmount',
  'reducedCurrency',
  'quantityPrices',
  'feeAmount',
  'feeOf',
  'currency',
  'packUnits',
  'validFrom',
  'validTo',
  'origin',
  'released',
] as const;

type ItemRow = typeof items.$inferSelect;
type PackRow = typeof packs.$inferSelect;
type CostRow = Pick<typeof costs.$inferSelect, (typeof COST_KEYS)[number]>;

/** Items and costs, as the core has them. */
export type Catalogue = Pick<Workspace, 'items' | 'costs'>;

function recommended(amount: string | null, currency: string | null, taxIn: boolean): Recommended | null {
  const a = amountOf(amount, currency);
  return a && { ...a, taxIn };
}

/** Most items are ordered in any quantity: one object says so for all of them. */
const ANY_ORDER: NonNullable<Item['order']> = { least: null, most: null, step: null, for: [] };

const orderOf = ({ orderLeast: least, orderMost: most, orderStep: step, orderFor }: ItemRow): Item['order'] =>
  least === null && most === null && step === null && orderFor.length === 0
    ? ANY_ORDER
    : { least, most, step, for: orderFor };

/** Ids as texts, each once: a cost names its item by the item's own. */
function idTexts(): (n: number) => string {
  const known = new Map<number, string>();
  return (n) => {
    let text = known.get(n);
    if (text === undefined) known.set(n, (text = id(n)));
    return text;
  };
}

/** Makes items and costs of rows as they come, so that a large catalogue does not stand in memory twice: packs before their items. */
export class CatalogueMaker {
  private readonly items: Item[] = [];
  private readonly costs: Cost[] = [];
  private readonly packs = new Map<number, Pack[]>();
  private readonly itemId = idTexts();
  private readonly categoryId = idTexts();
  private readonly supplierId = idTexts();

  readonly pack = (p: PackRow): void => {
    const pack = {
      id: id(p.id),
      name: p.name,
      units: p.units,
      deposit: amountOf(p.depositAmount, p.depositCurrency),
      depositTaxClass: p.depositTaxClass,
      unitDeposit: amountOf(p.unitDepositAmount, p.unitDepositCurrency),
      unitDepositTaxClass: p.unitDepositTaxClass,
    };
    const others = this.packs.get(p.itemId);
    if (others) others.push(pack);
    else this.packs.set(p.itemId, [pack]);
  };

  readonly item = (i: ItemRow): void =>
    void this.items.push({
      id: this.itemId(i.id),
      sku: i.sku,
      name: i.name,
      unit: i.unit,
      category: this.categoryId(i.categoryId),
      brand: i.brand,
      model: i.model,
      supplier: i.supplierId === null ? null : this.supplierId(i.supplierId),
      weightKg: i.weightKg,
      taxClass: i.taxClass,
      rrp: recommended(i.rrpAmount, i.rrpCurrency, i.rrpTaxIn),
      map: recommended(i.mapAmount, i.mapCurrency, i.mapTaxIn),
      attributes: i.attributes,
      order: orderOf(i),
      packs: this.packs.get(i.id) ?? [],
    });

  readonly cost = (c: CostRow): void =>
    void this.costs.push({
      id: id(c.id),
      item: this.itemId(c.itemId),
      supplier: this.supplierId(c.supplierId),
      cost: { amount: c.amount, currency: c.currency },
      reduced: amountOf(c.reducedAmount, c.reducedCurrency ?? c.currency),
      quantityPrices: c.quantityPrices,
      packUnits: c.packUnits,
      fee: c.feeAmount !== null && c.feeOf !== null ? { amount: c.feeAmount, of: c.feeOf } : null,
      from: c.validFrom,
      to: c.validTo,
      origin: c.origin,
      released: c.released,
      entry: c.id,
    });

  made(): Catalogue {
    return { items: this.items, costs: this.costs };
  }
}

/** Items and costs of rows that are at hand. */
export function catalogueOf(rows: {
  readonly items: readonly ItemRow[];
  readonly packs: readonly PackRow[];
  readonly costs: readonly CostRow[];
}): Catalogue {
  const out = new CatalogueMaker();
  rows.packs.forEach(out.pack);
  rows.items.forEach(out.item);
  rows.costs.forEach(out.cost);
  return out.made();
}
