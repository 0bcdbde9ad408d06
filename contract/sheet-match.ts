import { array, mixed, number, object, string } from 'yup';
import { dayText, idText, priceText, versionNumber } from './fields.ts';

/** The columns of ours that a cost sheet can fill. */
export const SHEET_FIELDS = [
  'code',
  'barcode',
  'cost',
  'reducedCost',
  'fromQuantity',
  'currency',
  'packUnits',
  'name',
  'unit',
  'weightKg',
  'rrp',
  'map',
  'validFrom',
  'validTo',
] as const;
export type SheetField = (typeof SHEET_FIELDS)[number];

export const SHEET_FIELD_NAMES: Record<SheetField, string> = {
  code: 'supplier’s code or SKU',
  barcode: 'barcode of a pack',
  cost: 'cost per cost pack',
  reducedCost: 'reduced cost per cost pack, for the time being',
  fromQuantity: 'cost from so many cost packs at once, a row for each',
  currency: 'currency',
  packUnits: 'units in the cost pack',
  name: 'name',
  unit: 'unit',
  weightKg: 'weight in kg per unit',
  rrp: 'RRP per unit, tax in',
  map: 'MAP per unit, tax in',
  validFrom: 'valid from',
  validTo: 'valid to, the last day',
};

export const DATE_ORDERS = ['iso', 'day_first', 'month_first'] as const;
export const ENCODINGS = ['utf-8', 'utf-16le', 'windows-1252'] as const;
export const MOST_SKIPPED = 200;

/** A column of costs for more at once: from how many cost packs, as its heading says or as another column does. */
export interface QuantityColumn {
  column: number;
  from: string | null;
  fromColumn: number | null;
}

export const MOST_QUANTITY_COLUMNS = 8;

/** How a sheet is to be read; a proposal until the person confirms it. */
export interface SheetMatch {
  /** Of a workbook: the sheet that is read; null: a text file. */
  page: string | null;
  /** Rows passed over at the top. */
  skip: number;
  /** How many rows name the columns; with two, the upper ones speak for all columns they stretch over. */
  headerRows: 0 | 1 | 2;
  encoding: (typeof ENCODINGS)[number];
  delimiter: string;
  decimal: '.' | ',';
  thousands: '' | '.' | ',' | ' ' | "'";
  dates: (typeof DATE_ORDERS)[number];
  /** 0-based column of each of our fields; absent: not in the sheet. */
  columns: Partial<Record<SheetField, number>>;
  /** Columns that hold what a cost pack costs where at least so many are ordered at once. */
  quantityColumns: QuantityColumn[];
  /** For rows without a day of their own. */
  validFrom: string;
  /** RRP, MAP and weight that differ from those of items that are known. */
  known: 'take' | 'leave';
  /** Taken for new items. */
  newItems: 'add' | 'leave_out';
  category: string | null;
  taxClass: string | null;
}

export const matchBody = object({
  version: versionNumber(),
  match: object({
    page: string().max(100).nullable().default(null),
    skip: number().integer().min(0).max(MOST_SKIPPED).required(),
    headerRows: mixed<SheetMatch['headerRows']>().oneOf([0, 1, 2]).required(),
    encoding: string().oneOf(ENCODINGS).required(),
    delimiter: string().oneOf([',', ';', '\t', '|']).required(),
    decimal: string()
      .oneOf(['.', ','] as const)
      .required(),
    thousands: mixed<SheetMatch['thousands']>().oneOf(['', '.', ',', ' ', "'"]).defined(),
    dates: string().oneOf(DATE_ORDERS).required(),
    columns: mixed<SheetMatch['columns']>().required(),
    quantityColumns: array(
      object({
        column: number().integer().min(0).required(),
        from: priceText().nullable().default(null),
        fromColumn: number().integer().min(0).nullable().default(null),
      })
        .noUnknown()
        .test('from', 'Say from how many', (q) => (q.from === null) !== (q.fromColumn === null)),
    )
      .max(MOST_QUANTITY_COLUMNS)
      .default([]),
    validFrom: dayText().required(),
    known: string()
      .oneOf(['take', 'leave'] as const)
      .required(),
    newItems: string()
      .oneOf(['add', 'leave_out'] as const)
      .required(),
    category: idText().nullable().default(null),
    taxClass: string().nullable().default(null),
  }).required(),
}).noUnknown();

/** How this sheet is laid out beside the one its match was learnt from. */
export interface SheetLayout {
  /** The sheet of the same supplier that was read last; null: the first one, its match is a guess. */
  like: { id: string; fileName: string; arrivedAt: string } | null;
  /** Headings that stood there and do not stand here. */
  gone: string[];
  /** Headings that stand here and did not stand there. */
  fresh: string[];
  /** Numbers or days are written otherwise than there. */
  rewritten: boolean;
}
