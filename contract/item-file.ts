/** A cell of a file that cannot be taken, with its row as a spreadsheet shows it. */
export interface ItemFileFault {
  row: number;
  /** Heading of the column; empty: the whole row. */
  column: string;
  value: string;
  message: string;
}

/** A row that differs from what is kept; each field by the heading of its column, empty where there is nothing. */
export interface ItemFileRow {
  row: number;
  sku: string;
  name: string;
  /** Null: the file makes it. */
  item: string | null;
  changes: { column: string; before: string; after: string }[];
}

/** What a file of items would change; nothing is written. */
export interface ItemFileCheck {
  fileName: string;
  /** The state of the books it was compared with: taking it in asks for the same. */
  state: string;
  decimal: ',' | '.';
  /** Headings that mean nothing here: what stands below them is left alone. */
  unknown: string[];
  counts: { new: number; changed: number; same: number; faulty: number };
  /** How many of the items that differ have another value in each column, the most first. */
  byColumn: { column: string; items: number }[];
  /** The first 500 of each. */
  faults: ItemFileFault[];
  rows: ItemFileRow[];
}

/** A file of items that was taken in. */
export interface ItemFileTaken {
  id: string;
  fileName: string;
  takenAt: string;
  takenBy: string;
  new: number;
  changed: number;
  takenBack: boolean;
}

/** The heading of a pack's columns, and of an attribute's. */
/** Columns of a pack; its place follows: "Units 2". */
export const PACK_HEADINGS = [
  'Pack',
  'Units',
  'Barcode',
  'Deposit',
  'Deposit tax class',
  'Unit deposit',
  'Unit deposit tax class',
] as const;
export const packHeading = (what: (typeof PACK_HEADINGS)[number], n: number): string => `${what} ${n}`;
export const attributeHeading = (name: string): string => `Attribute: ${name}`;

const FIGURES = ['Weight, kg', 'RRP', 'MAP', 'Order at least', 'Order at most', 'Order in steps of'];
/** Whether below a heading stand numbers: in a workbook they are such. A barcode is none: it may begin with 0. */
export const isFigureHeading = (heading: string): boolean => FIGURES.includes(heading) || /^Units \d+$/.test(heading);

/** The heading of a column that names, for a new item, one that it is a copy of but for what the row says. */
export const LIKE = 'Like';
