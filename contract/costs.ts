import { type InferType, type StringSchema, array, boolean, number, object, string } from 'yup';
import { SUSPICIONS, type SuspicionCode } from '#core/costs/suspicions.ts';
import { idText, optional, text, versionNumber } from './fields.ts';
import type { ListMoves } from './lists.ts';
import { SHEET_FIELDS, type SheetField, type SheetLayout, type SheetMatch } from './sheet-match.ts';

/** What becomes of a row: read and taken in, looked at later, or turned down. */
export const ROW_DECISIONS = ['read', 'held', 'left_out'] as const;
export type RowDecision = (typeof ROW_DECISIONS)[number];

/** What a person did to one row of a file; the file itself stays as it came. */
export interface SheetCorrection {
  decision?: RowDecision;
  reason?: string;
  /** Typed instead of what stands in the file. */
  cells?: Partial<Record<SheetField, string>>;
  /** An item is made of it. */
  add?: { category: string; taxClass: string };
}

export interface SheetCorrections {
  [row: string]: SheetCorrection | undefined;
}

const CELLS = Object.fromEntries(SHEET_FIELDS.map((f) => [f, string().max(500)])) as Record<
  SheetField,
  StringSchema<string | undefined>
>;

/** Rows held, turned down, corrected, made into items; or with nothing of it: read as they came. */
export const correctRowsBody = object({
  version: versionNumber(),
  rows: array(
    object({
      row: number().integer().min(1).required(),
      decision: string().oneOf(ROW_DECISIONS).required(),
      reason: optional(text().max(300)),
      cells: object(CELLS).noUnknown().default({}),
      add: object({ category: idText().required(), taxClass: text().required().max(60) })
        .noUnknown()
        .nullable()
        .default(null),
    }).noUnknown(),
  )
    .min(1)
    .max(10_000)
    .required(),
}).noUnknown();
export type CorrectRowsBody = InferType<typeof correctRowsBody>;

/** A code of this supplier means an item, now and in every later file; null: no longer. */
export const knownCodeBody = object({
  version: versionNumber(),
  code: text().required().max(200),
  item: idText().nullable().default(null),
}).noUnknown();
export type KnownCodeBody = InferType<typeof knownCodeBody>;

export const TAKE_IN_REST = ['waits', 'left_out'] as const;

export const takeInBody = object({
  version: versionNumber(),
  /** Rows of the file; null: every one that can be taken in and is not held. */
  rows: array(number().integer().min(1).required()).max(200_000).nullable().default(null),
  /** What becomes of the others: of those that are held, cannot be read, or name no item of ours. */
  rest: string().oneOf(TAKE_IN_REST).required(),
}).noUnknown();
export type TakeInBody = InferType<typeof takeInBody>;

export const turnDownBody = object({
  version: versionNumber(),
  reason: text().required('Say why it is turned down').max(300),
}).noUnknown();

/** Whether a supplier's costs are taken in by themselves. */
export const followBody = object({ follow: boolean().required() }).noUnknown();

export type RowFaultCode =
  | 'empty'
  | 'not_a_number'
  | 'misplaced_thousands_mark'
  | 'too_long'
  | 'negative'
  | 'zero'
  | 'not_a_day'
  | 'ends_before'
  | 'not_a_currency'
  | 'duplicate'
  | 'too_many_columns'
  | 'no_cost_for_fewer'
  | 'quantity_without_cost';

export const ROW_FAULT_TEXT: Record<RowFaultCode, string> = {
  empty: 'is empty',
  not_a_number: 'is not a number in the chosen form',
  misplaced_thousands_mark: 'has a thousands mark in an odd place; perhaps it is the decimal mark',
  too_long: 'has more digits than can be right',
  negative: 'is below zero',
  zero: 'is zero',
  not_a_day: 'is not a day in the chosen order',
  ends_before: 'lies before the first day',
  not_a_currency: 'is not a currency code such as EUR',
  duplicate: 'stands in an earlier row with another cost',
  no_cost_for_fewer: 'holds for many at once, and no row of this code says what one costs',
  quantity_without_cost: 'says from how many, and not what they cost; or the other way round',
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

export type CostFlag = SuspicionCode | 'listed_twice' | 'same_item' | 'other_line';
export const COST_FLAGS: readonly CostFlag[] = ['same_item', ...SUSPICIONS, 'listed_twice', 'other_line'];

export const COST_FLAG_TEXT: Record<CostFlag, string> = {
  decimal_shift: 'decimal mark shifted? near ×10, ×100 or ×1000',
  piece_for_pack: 'the cost of one unit, where packs were listed before?',
  pack_for_piece: 'the cost of a whole pack, read as that of one unit?',
  large_move: 'moves by more than a quarter',
  other_currency: 'other currency than before',
  other_pack: 'other pack size than before',
  far_from_like: 'far from what like items cost',
  unlike_lockstep: 'other than the item it follows in lockstep',
  follows_lead: 'follows another item in lockstep: its own cost moves no price',
  above_rrp: 'landed, it costs more than the RRP without tax',
  long_past: 'counts from a day more than a month ago',
  far_ahead: 'counts from a day more than half a year ahead',
  unchanged_for_year: 'has not changed for a year',
  ends_reduced: 'the reduced cost that is paid now would end',
  held_by_typed: 'a typed cost holds until it is released',
  earlier_day: 'a cost of a later day is known already and goes on counting',
  same_item: 'another row of this sheet is the same item; of one day the later row counts',
  listed_twice: 'listed twice with the same cost',
  other_line: 'another line of this bill says another cost; the later one counts',
};

/** Told beside a cost, and nothing that speaks against taking it in. */
export const HARMLESS_FLAGS: readonly CostFlag[] = ['listed_twice', 'unchanged_for_year', 'follows_lead'];

/** A cost as a sheet or what is known says it, per cost pack. */
export interface SheetCost {
  amount: string;
  /** Paid instead for the time being. */
  reduced?: string | null;
  /** What more at once costs. */
  quantityPrices?: { from: string; cost: string }[] | null;
  currency: string;
  packUnits: string;
  from: string;
  /** The last day: of the reduced cost, where there is one. */
  to?: string | null;
}

/** What is known of an item, and what the sheet says of it. */
export interface ItemFigureChange {
  field: 'rrp' | 'map' | 'weightKg';
  before: string | null;
  after: string;
}

/** What taking in one row would do, or did. */
export interface CostChange {
  row: number;
  code: string;
  item: string | null;
  sku: string | null;
  name: string;
  kind: ChangeKind;
  before: SheetCost | null;
  after: SheetCost;
  /** Per cent of the cost per unit; null where there is nothing to compare, or another currency. */
  changePercent: string | null;
  flags: CostFlag[];
  /** Figures and names of a flag, by its name. */
  because?: Partial<Record<CostFlag, Record<string, string>>>;
  figures?: ItemFigureChange[];
  /** Looked at later. */
  held?: boolean;
  reason?: string;
  /** Taken in already. */
  taken?: boolean;
}

/** A row of which something is still to be decided. */
export const isOpenRow = (c: CostChange): boolean => !c.taken && c.kind !== 'unchanged';
/** One whose cost can be kept as it stands. */
export const canBeTaken = (c: CostChange): boolean => isOpenRow(c) && c.kind !== 'unknown';
/** One with something that speaks against taking it in. */
export const needsLook = (c: CostChange): boolean => isOpenRow(c) && c.flags.some((f) => !HARMLESS_FLAGS.includes(f));

export const SHEET_STATES = ['waiting', 'part_taken', 'taken_in', 'set_aside'] as const;
export type SheetState = (typeof SHEET_STATES)[number];

/** How many rows of each kind, when the sheet was last looked at. */
export type SheetCounts = Record<ChangeKind, number> & {
  faulty: number;
  leftOut: number;
  held: number;
  taken: number;
  /** With something that speaks against taking them in. */
  suspicious: number;
};

export interface SheetSummary {
  id: string;
  version: number;
  supplier: string;
  supplierName: string;
  fileName: string;
  origin: 'file' | 'connection';
  bytes: number;
  state: SheetState;
  arrivedAt: string;
  broughtBy: string;
  takenInAt: string | null;
  /** Taken in without anybody: the supplier's costs follow by themselves. */
  byItself: boolean;
  /** Why it was turned down. */
  reason: string | null;
  counts: SheetCounts;
}

/** What a sheet would do, or did. */
export interface SheetOutcome {
  rowCount: number;
  /** The first thousand. */
  faults: RowFault[];
  counts: SheetCounts;
  /** Items that we buy of this supplier and that are not in the file; the first of them by name. */
  gone?: { count: number; items: { item: string; sku: string; name: string }[] };
}

/** A supplier as the inbox shows it. */
export interface CostSupplier {
  id: string;
  name: string;
  currency: string;
  /** Its costs are taken in by themselves where nothing is suspicious. */
  follow: boolean;
  /** Lists whose prices post themselves once its costs are taken in, where none moves by more than so many per cent. */
  posts: { list: string; name: string; most: string }[];
  /** When something of it arrived last. */
  lastArrival: string | null;
  /** Sheets that wait. */
  waiting: number;
}

type SupplierChoice = 'preferred' | 'lowest_landed' | 'latest';

/** From so many rows on a sheet is taken in in the background. */
export const LONG_INTAKE = 3_000;

/** A sheet that is being taken in. */
export interface CostIntake {
  by: string;
  orderedAt: string;
  /** Costs written, of so many; null: rows are being compared. */
  done: number;
  of: number | null;
  cancelled: boolean;
  /** Why nothing came of it: nothing was taken in. */
  trouble: string | null;
}

/** What another choice of whose cost counts would do: of so many items another supplier's, of so many dearer or cheaper. */
export interface ChoiceEffect {
  choice: SupplierChoice;
  items: number;
  up: number;
  down: number;
  /** Whose cost could then not be worked out. */
  unknown: number;
}

/** Items whose cost hangs on the choice of whose cost counts; landed per unit, in the workspace's currency. */
export interface SupplierChoices {
  day: string;
  choice: SupplierChoice;
  currency: string;
  items: number;
  effects: ChoiceEffect[];
  /** The first 500, those that differ most first. */
  rows: {
    item: string;
    sku: string;
    name: string;
    by: Record<SupplierChoice, { supplier: string; landed: string | null; changePercent: string | null }>;
  }[];
}

/** What taking a sheet in would make of the prices that recipes compute, on the day its last cost begins. */
export interface SheetEffect {
  /** Names what it was worked out of: rows are asked for with what each would move by it. */
  state: string;
  day: string;
  prices: number;
  lists: ListMoves[];
}

/** What was decided of a row by hand. */
export interface SaidRow {
  row: number;
  said: SheetCorrection;
  taken: boolean;
}

export interface SheetView extends Omit<SheetSummary, 'counts'>, SheetOutcome {
  match: SheetMatch;
  layout: SheetLayout;
  /** The sheets of a workbook; empty: a text file. */
  pages: string[];
  header: string[];
  /** The first rows as they stand in the file. */
  sample: string[][];
  /** What was decided of single rows: of how many, and the first five hundred. */
  said: { count: number; rows: SaidRow[] };
  /** Rows that cannot be read, by their number: their cells as they stand in the file, and what was decided of them. */
  faulty: { [row: string]: { cells: string[]; said: SheetCorrection | null } | undefined };
  /** What taking in every row that is not held would do. */
  taking: SheetTaking;
  /** The last day from which costs of it count that were taken in; null: none was. */
  takenFrom: string | null;
}

/** What taking in every row that is not held would do. */
export interface SheetTaking {
  up: number;
  down: number;
  new: number;
  /** With something that speaks against it, by what that is. */
  unusual: number;
  byFlag: Partial<Record<CostFlag, number>>;
  /** The first of them, what weighs most first. */
  first: CostChange[];
}
