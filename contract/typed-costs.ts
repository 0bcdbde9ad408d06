import { type InferType, array, boolean, object } from 'yup';
import { dec, plain } from '#core/numbers/decimal.ts';
import { currencyCode, dayText, decimalText, idText, optional, positiveText, priceText } from './fields.ts';
import type { ListMoves } from './lists.ts';

interface NamedItem {
  item: string;
  sku: string;
  name: string;
}

/** What a cost would change before it is kept, on the day it begins. */
export interface CostProposal {
  day: string;
  /** The lockstep group the item is in; its members share the lead's cost. */
  group: string | null;
  lead: NamedItem;
  members: (NamedItem & { before: { amount: string; currency: string; packUnits: string } | null })[];
  /** Typed prices that would not follow, with the margin they leave; per cent. */
  handSet: {
    list: string;
    listName: string;
    pack: string;
    price: string;
    reason: string;
    marginBefore: string | null;
    marginAfter: string | null;
    marginOfRecipe: string | null;
    /** It would leave less than the recipe makes. */
    squeezed: boolean;
  }[];
  lists: ListMoves[];
}

export const typedCostBody = object({
  item: idText().required(),
  supplier: idText().required(),
  amount: decimalText()
    .required()
    .test('positive', 'must not be below zero', (t) => !t?.startsWith('-')),
  /** Paid instead for the time being, in the same currency. */
  reduced: optional(positiveText()),
  /** What a cost pack costs where at least so many are ordered at once, in the same currency. */
  quantityPrices: array(object({ from: priceText().required(), cost: positiveText().required() }).noUnknown())
    .max(20)
    .default([])
    .test('once', 'Say what so many cost once', (rows) => {
      // what is no figure is told by its own field
      const known = rows.flatMap((r) => (/^\d+(\.\d+)?$/.test(r.from) ? [plain(dec(r.from))] : []));
      return new Set(known).size === known.length;
    }),
  currency: currencyCode().required(),
  packUnits: decimalText()
    .required()
    .test('above zero', 'must be more than 0', (t) => Number(t) > 0),
  validFrom: dayText().required(),
  /** The last day: of the reduced cost, where there is one. */
  validTo: optional(dayText()),
  /** Of an item that follows a lead in lockstep: the cost is meant for the whole group. */
  forGroup: boolean().default(false),
}).noUnknown();
export type TypedCostBody = InferType<typeof typedCostBody>;

export const releaseCostBody = object({ released: boolean().required() }).noUnknown();
