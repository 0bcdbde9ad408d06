import { type InferType, type StringSchema, array, boolean, mixed, number, object, string } from 'yup';
import { dayText, idText, versionNumber, decimalText, currencyCode, optional, positiveText } from './fields.ts';

/** The columns of ours that a cost sheet can fill. */
export const SHEET_FIELDS = [
  'code',
  'barcode',
  'cost',
  'currency',
  'packUnits',
  'name',
  'unit',
  'weightKg',
  'rrp',
  'validFrom',
] as const;
export type SheetField = (typeof SHEET_FIELDS)[number];

export const SHEET_FIELD_NAMES: Record<SheetField, string> = {
  code: 'supplier’s code or SKU',
  barcode: 'barcode of a pack',
  cost: 'cost per cost pack',
  currency: 'currency',
  packUnits: 'units in the cost pack',
  name: 'name',
  unit: 'unit',
  weightKg: 'weight in kg per unit',
  rrp: 'RRP per unit, tax in',
  validFrom: 'valid from',
};

export const DATE_ORDERS = ['iso', 'day_first', 'month_first'] as const;

/** How a sheet is to be read; a proposal until the person confirms it. */
export interface SheetMatch {
  encoding: 'utf-8' | 'utf-16le' | 'windows-1252';
  delimiter: string;
  /** Whether the first row names the columns. */
  header: boolean;
  decimal: '.' | ',';
  thousands: '' | '.' | ',' | ' ' | "'";
  dates: (typeof DATE_ORDERS)[number];
  /** 0-based column of each of our fields; absent: not in the sheet. */
  columns: Partial<Record<SheetField, number>>;
  /** For rows without a day of their own. */
  validFrom: string;
  /** Taken for new items. */
  newItems: 'add' | 'leave_out';
  category: string | null;
  taxClass: string | null;
}

export const matchBody = object({
  version: versionNumber(),
  match: object({
    encoding: string()
      .oneOf(['utf-8', 'utf-16le', 'windows-1252'] as const)
      .required(),
    delimiter: string().oneOf([',', ';', '\t', '|']).required(),
    header: boolean().required(),
    decimal: string()
      .oneOf(['.', ','] as const)
      .required(),
    thousands: mixed<SheetMatch['thousands']>().oneOf(['', '.', ',', ' ', "'"]).defined(),
    dates: string().oneOf(DATE_ORDERS).required(),
    columns: mixed<SheetMatch['columns']>().required(),
    validFrom: dayText().required(),
    newItems: string()
      .oneOf(['add', 'leave_out'] as const)
      .required(),
    category: idText().nullable().default(null),
    taxClass: string().nullable().default(null),
  }).required(),
}).noUnknown();

/** What a person did to single rows, by row of the file; the file itself stays as it came. */
export interface SheetCorrections {
  [row: string]: { leaveOut?: boolean; cells?: Partial<Record<SheetField, string>> } | undefined;
}

const CELLS = Object.fromEntries(SHEET_FIELDS.map((f) => [f, string().max(500)])) as Record<
  SheetField,
  StringSchema<string | undefined>
>;

/** Rows left out, corrected (the cells typed instead of those in the file), or with neither: read as they came. */
export const correctRowsBody = object({
  version: versionNumber(),
  rows: array(
    object({
      row: number().integer().min(1).required(),
      leaveOut: boolean().required(),
      cells: object(CELLS).noUnknown().default({}),
    }).noUnknown(),
  )
    .min(1)
    .max(10_000)
    .required(),
}).noUnknown();
export type CorrectRowsBody = InferType<typeof correctRowsBody>;

export const takeInBody = object({
  version: versionNumber(),
  /** Whether rows that cannot be read are left out; otherwise one of them refuses the whole sheet. */
  leaveOutFaulty: mixed<boolean>().oneOf([true, false]).required(),
}).noUnknown();

export type RowFaultCode =
  | 'empty'
  | 'not_a_number'
  | 'misplaced_thousands_mark'
  | 'too_long'
  | 'negative'
  | 'zero'
  | 'not_a_day'
  | 'not_a_currency'
  | 'duplicate'
  | 'too_many_columns';

export const ROW_FAULT_TEXT: Record<RowFaultCode, string> = {
  empty: 'is empty',
  not_a_number: 'is not a number in the chosen form',
  misplaced_thousands_mark: 'has a thousands mark in an odd place; perhaps it is the decimal mark',
  too_long: 'has more digits than can be right',
  negative: 'is below zero',
  zero: 'is zero',
  not_a_day: 'is not a day in the chosen order',
  not_a_currency: 'is not a currency code such as EUR',
  duplicate: 'stands in an earlier row with another cost',
  too_many_columns: 'stands behind the last column: a delimiter too many, or a decimal comma without quotation marks',
};

/** A row that cannot be taken in: where, what stands there, and why. */
export interface RowFault {
  row: number;
  column: string;
  value: string;
  code: RowFaultCode;
  /** The field of ours it concerns; null: the row as a whole. */
  field: SheetField | null;
  /** The earlier row that disagrees with this one. */
  earlier?: number;
}

export const CHANGE_KINDS = ['new', 'up', 'down', 'unchanged', 'unknown'] as const;
export type ChangeKind = (typeof CHANGE_KINDS)[number];

export const COST_FLAGS = [
  'decimal_shift',
  'large_move',
  'other_currency',
  'other_pack',
  'held_by_typed',
  'listed_twice',
  'earlier_day',
  'other_line',
] as const;
export type CostFlag = (typeof COST_FLAGS)[number];

export const COST_FLAG_TEXT: Record<CostFlag, string> = {
  decimal_shift: 'decimal mark shifted? near ×10, ×100 or ×1000',
  large_move: 'moves by more than a quarter',
  other_currency: 'other currency than before',
  other_pack: 'other pack size than before',
  held_by_typed: 'a typed cost holds until it is released',
  listed_twice: 'listed twice with the same cost',
  earlier_day: 'a cost of a later day is known already and goes on counting',
  other_line: 'another line of this bill says another cost; the later one counts',
};

/** What taking in one row would do; costs per unit in the row's currency. */
export interface CostChange {
  row: number;
  code: string;
  item: string | null;
  sku: string | null;
  name: string;
  kind: ChangeKind;
  before: { amount: string; currency: string; packUnits: string; from: string } | null;
  after: { amount: string; currency: string; packUnits: string; from: string };
  /** Per cent of the cost per unit; null where there is nothing to compare, or another currency. */
  changePercent: string | null;
  flags: CostFlag[];
}

export interface SheetSummary {
  id: string;
  version: number;
  supplier: string;
  supplierName: string;
  fileName: string;
  state: 'waiting' | 'taken_in' | 'set_aside';
  arrivedAt: string;
  broughtBy: string;
  takenInAt: string | null;
}

/** What a sheet would do, or did. */
export interface SheetOutcome {
  rowCount: number;
  faults: RowFault[];
  changes: CostChange[];
  counts: Record<ChangeKind, number> & { faulty: number; leftOut: number };
}

export interface SheetView extends SheetSummary, SheetOutcome {
  match: SheetMatch;
  header: string[];
  /** The first rows as they stand in the file. */
  sample: string[][];
  /** What was done to single rows. */
  corrections: SheetCorrections;
  /** The cells of rows that cannot be read, as they stand in the file, by row. */
  faulty: { [row: string]: string[] | undefined };
}

export const typedCostBody = object({
  item: idText().required(),
  supplier: idText().required(),
  amount: decimalText()
    .required()
    .test('positive', 'must not be below zero', (t) => !t?.startsWith('-')),
  /** Paid instead for the time being, in the same currency. */
  reduced: optional(positiveText()),
  currency: currencyCode().required(),
  packUnits: decimalText()
    .required()
    .test('above zero', 'must be more than 0', (t) => Number(t) > 0),
  validFrom: dayText().required(),
}).noUnknown();
export type TypedCostBody = InferType<typeof typedCostBody>;

export const releaseCostBody = object({ released: boolean().required() }).noUnknown();
