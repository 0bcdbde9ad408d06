import { array, boolean, object, string } from 'yup';
import type { CostChange } from './costs.ts';
import { currencyCode, dayText, idText, optional, positiveText, text, versionNumber } from './fields.ts';

/** What a line of a supplier's bill is: only goods and a correction of their price say what goods cost. */
export const BILL_LINE_KINDS = ['goods', 'correction', 'return'] as const;
export const BILL_LINE_WORDS: Readonly<Record<(typeof BILL_LINE_KINDS)[number], string>> = {
  goods: 'goods',
  correction: 'price corrected',
  return: 'sent back',
};

const aboveZero = (t: string | null | undefined) => Number(t) > 0;

const billLine = object({
  item: idText().required(),
  kind: string().oneOf(BILL_LINE_KINDS).required(),
  /** Cost packs. */
  quantity: positiveText().required().test('above zero', 'must be more than 0', aboveZero),
  packUnits: positiveText().required().test('above zero', 'must be more than 0', aboveZero),
  /** Per cost pack, in the currency of the bill, without tax. */
  price: positiveText().required(),
}).noUnknown();

export const billBody = object({
  supplier: idText().required(),
  /** The supplier's own number: one bill each. */
  number: text().required().max(60),
  /** Its costs count from this day on. */
  day: dayText().required(),
  currency: currencyCode().required(),
  note: optional(text().max(500)),
  /** Asked besides the goods (carriage, an order's fee), in the currency of the bill, without tax: its lines bear it by their amount. */
  fee: optional(positiveText()),
  lines: array(billLine).required().min(1).max(5000),
}).noUnknown();

export interface BillLine {
  item: string;
  kind: (typeof BILL_LINE_KINDS)[number];
  quantity: string;
  packUnits: string;
  price: string;
}
/** A bill as it travels. */
export interface BillBody {
  supplier: string;
  number: string;
  day: string;
  currency: string;
  note: string | null;
  fee?: string | null;
  lines: BillLine[];
}

export const changedBillBody = billBody.concat(object({ version: versionNumber() }));

export const finalBillBody = object({
  version: versionNumber(),
  /** Costs that look wrong were looked at. */
  looked: boolean().required(),
}).noUnknown();

export interface BillSummary {
  id: string;
  version: number;
  supplier: string;
  supplierName: string;
  number: string;
  day: string;
  currency: string;
  state: 'draft' | 'final';
  /** Goods and corrections less what was sent back, as the bill says it. */
  total: string;
  lines: number;
  writtenBy: string;
  finalBy: string | null;
}

export interface BillView extends BillSummary {
  note: string | null;
  body: BillBody;
  /** What each line's cost would change, or did; by the number of the line, from 1. Lines sent back change none. */
  changes: CostChange[];
}
