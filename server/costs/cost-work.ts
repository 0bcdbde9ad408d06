import type { SheetEffect, SheetView, SheetSummary, SupplierChoices } from '#contract/costs.ts';
import type { PackedTable } from '../windows/pack.ts';
import type { Falls } from '#contract/falls.ts';
import type { Refusal } from '../platform/threads.ts';
import type { DayChange } from '#contract/compare-days.ts';
import type { CheckedItemFile, Decimal, ItemFile } from '../items/checked-file.ts';

/** What the service of a supplier answered, written down together with what it brought. */
export interface Answered {
  readonly lastTry: Date;
  readonly nextTry: Date;
  /** Of its bytes, SHA-256. */
  readonly lastContent: string;
}

/** What came of a supplier. */
export interface Arriving {
  readonly supplierId: number;
  readonly fileName: string;
  readonly content: Buffer;
  readonly origin: SheetSummary['origin'];
  readonly answered?: Answered;
}

export interface Received {
  readonly id: string;
  readonly byItself: boolean;
  /** That follows by itself; to be computed. */
  readonly worksheet: number | null;
}

export interface Receiving {
  readonly arriving: Arriving;
  readonly person: number;
  readonly at: Date;
  readonly today: string;
  /** The sheets of a workbook or a document, packed; null: it is a text. */
  readonly pages: Uint8Array | null;
}

/** A sheet in the state that is named. */
export interface AskedSheet {
  readonly id: number;
  readonly day: string;
  readonly state: string;
  readonly at: string;
}

/** A sheet with all its rows. Plain data that is handed to another thread without being copied. */
export interface SheetTable {
  readonly state: string;
  readonly at: string;
  /** Everything but its rows; its version is that of which they are. */
  readonly view: Omit<SheetView, Exclude<keyof SheetSummary, 'counts' | 'version'>>;
  readonly table: PackedTable;
  readonly masks: Uint16Array;
  /** Each row as JSON, one after the other, and where each ends. */
  readonly rows: Uint8Array;
  readonly ends: Uint32Array;
  /** Of each row its number in the file. */
  readonly numbers: Uint32Array;
}

/** What a sheet would move: of each of its rows too, in their order. */
export interface SheetEffectTable {
  readonly effect: SheetEffect;
  readonly table: PackedTable;
  readonly numbers: Uint32Array;
}

/** A file of items as it came; `pages`: the sheets of a workbook, packed. */
export type AskedItemFile = Omit<ItemFile, 'pages'> & { readonly pages: Uint8Array | null };

/** A page of what differs on a list between two days. */
export interface AskedDays {
  readonly list: string;
  readonly from: string;
  readonly to: string;
  readonly now: Date;
  /** Names what the answer hangs on. */
  readonly state: string;
  readonly shows: DayChange | 'all';
  readonly find: string;
  readonly at: number;
}

export type CostWork =
  | { readonly what: 'receive'; readonly url: string; readonly asked: Receiving }
  | {
      readonly what: 'effect';
      readonly url: string;
      readonly sheet: number;
      readonly today: string;
      readonly state: string;
    }
  | { readonly what: 'items'; readonly url: string; readonly file: AskedItemFile }
  | { readonly what: 'intake'; readonly url: string; readonly sheet: number; readonly today: string }
  | { readonly what: 'days'; readonly url: string; readonly asked: AskedDays }
  | { readonly what: 'decide'; readonly url: string; readonly worksheet: number }
  | { readonly what: 'falls'; readonly url: string; readonly today: string }
  | { readonly what: 'items out'; readonly url: string; readonly decimal: Decimal }
  | { readonly what: 'sheet'; readonly url: string; readonly asked: AskedSheet }
  | { readonly what: 'choices'; readonly url: string; readonly today: string };

/** What came of it. */
export type CostWorkDone =
  | { readonly received: Received | null }
  | { readonly unreadable: string }
  | { readonly effect: SheetEffectTable }
  | { readonly sheet: SheetTable }
  | { readonly choices: SupplierChoices }
  | { readonly items: CheckedItemFile }
  | { readonly worksheet: number | null }
  | { readonly ordered: boolean }
  | { readonly text: string }
  | Refusal
  | { readonly falls: Falls };

/** Work on costs that takes long: done beside the server's own thread. */
export interface CostThreads {
  /** Keeps what arrived, and takes it in where that goes by itself; null: another server was first. */
  receive(asked: Omit<Receiving, 'pages'>): Promise<Received | null>;
  /** `state`: names what the answer hangs on; asked again for the same, it is at hand. */
  effect(sheet: number, today: string, state: string): Promise<SheetEffectTable>;
  choices(today: string, state: string): Promise<SupplierChoices>;
  /** A file of items held against what is kept. Throws UnreadableSheet. */
  items(file: Omit<AskedItemFile, 'pages'>): Promise<CheckedItemFile>;
  /** Every item as a text table. */
  itemsOut(decimal: Decimal): Promise<string>;
  /** A sheet with its rows. */
  sheet(asked: AskedSheet): Promise<SheetTable>;
  /** Looks whether a worksheet that is to post itself may; whether anything was ordered. */
  decide(worksheet: number): Promise<boolean>;
  /** A page of what differs on a list between two days, as JSON. */
  days(asked: AskedDays): Promise<string>;
  /** Prices that would fall. */
  falls(today: string, state: string): Promise<Falls>;
  /** Takes in what was ordered of a sheet; tells the worksheet that follows by itself. */
  intake(sheet: number, today: string): Promise<number | null>;
  stop(): Promise<void>;
}
