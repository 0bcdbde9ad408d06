import type { Falls } from '#contract/falls.ts';
import type { Problem } from '#contract/problems.ts';
import type { SheetEffect, SupplierChoices } from '#contract/costs.ts';
import { type CheckedItemFile, type Decimal, type ItemFile, checkItemFile, writeItemFile } from '../items/item-file.ts';
import { fallsOn } from '../lists/falls.ts';
import { type Database, type Db, openDatabase } from '../platform/database.ts';
import { carryOutIntake } from './intake.ts';
import { sheetEffect } from './sheet-effect.ts';
import { Refused } from '../platform/refused.ts';
import { viewSheet } from './arrivals.ts';
import { supplierChoices } from './supplier-choices.ts';
import { xmlPages } from '../ubl/documents.ts';
import { isXml } from '../ubl/xml.ts';
import { UnreadableSheet } from './unreadable.ts';
import { type Page, readPages } from './workbook.ts';

export type CostWork =
  | { readonly what: 'workbook'; readonly content: Uint8Array }
  | { readonly what: 'effect'; readonly url: string; readonly sheet: number; readonly today: string }
  | { readonly what: 'items'; readonly url: string; readonly file: ItemFile }
  | { readonly what: 'intake'; readonly url: string; readonly sheet: number; readonly today: string }
  | { readonly what: 'falls'; readonly url: string; readonly today: string }
  | { readonly what: 'items out'; readonly url: string; readonly decimal: Decimal }
  | { readonly what: 'view'; readonly url: string; readonly sheet: number; readonly today: string }
  | { readonly what: 'choices'; readonly url: string; readonly today: string };

/** What came of it; why a workbook cannot be read is an answer, for an error loses its class on its way out of a thread. */
export type CostWorkDone =
  | { readonly pages: Page[] }
  | { readonly unreadable: string }
  | { readonly effect: SheetEffect }
  | { readonly choices: SupplierChoices }
  | { readonly items: CheckedItemFile }
  | { readonly ended: true }
  | { readonly text: string }
  | { readonly refused: Problem }
  | { readonly falls: Falls };

/** A sheet as the screen shows it, written down already: only its text crosses to the server's own thread. */
async function viewed(db: Db, sheet: number, today: string): Promise<CostWorkDone> {
  try {
    return { text: JSON.stringify(await viewSheet(db, sheet, today)) };
  } catch (error) {
    // why a file cannot be read is an answer
    if (error instanceof Refused) return { refused: error.problem };
    throw error;
  }
}

/** The connection of this thread stays open, and with it the states it looked at last. */
let open: { url: string; database: Database } | null = null;

/** Reads a workbook, or works out what a sheet would move: beside the server's own thread. */
export default async function costWork(asked: CostWork): Promise<CostWorkDone> {
  if (asked.what === 'workbook') {
    try {
      const content = Buffer.from(asked.content);
      return { pages: isXml(content) ? xmlPages(content) : await readPages(content) };
    } catch (error) {
      if (error instanceof UnreadableSheet) return { unreadable: error.message };
      throw error;
    }
  }
  if (open?.url !== asked.url) {
    await open?.database.close();
    open = { url: asked.url, database: openDatabase(asked.url) };
  }
  if (asked.what === 'items') {
    try {
      const content = Buffer.from(asked.file.content);
      return { items: await checkItemFile(open.database.db, { ...asked.file, content }) };
    } catch (error) {
      if (error instanceof UnreadableSheet) return { unreadable: error.message };
      throw error;
    }
  }
  if (asked.what === 'intake') {
    await carryOutIntake({ db: open.database.db, now: () => new Date() }, asked.sheet, asked.today);
    return { ended: true };
  }
  if (asked.what === 'falls') return { falls: await fallsOn(open.database.db, asked.today) };
  if (asked.what === 'items out') return { text: await writeItemFile(open.database.db, asked.decimal) };
  if (asked.what === 'view') return viewed(open.database.db, asked.sheet, asked.today);
  if (asked.what === 'choices') return { choices: await supplierChoices(open.database.db, asked.today) };
  return { effect: await sheetEffect(open.database.db, asked.sheet, asked.today) };
}
