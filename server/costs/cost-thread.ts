import { move, transferableSymbol, valueSymbol } from 'piscina';
import { standBack } from '../platform/stand-back.ts';
import { checkItemFile, writeItemFile } from '../items/item-file.ts';
import { type AllDifferences, compareDays, pageOf } from '../lists/compare-days.ts';
import { fallsOn } from '../lists/falls.ts';
import type { Db } from '../platform/database.ts';
import { carryOutIntake } from './intake.ts';
import { sheetEffect } from './sheet-effect.ts';
import { refused } from '../platform/refused.ts';
import { databaseAt, tellingRefusals } from '../platform/threads.ts';
import { stateOn, today } from '../workspace/asked-day.ts';
import { sheetTable } from './look-at-sheet.ts';
import { decideByItself } from '../worksheets/self-posting.ts';
import { buffersOfEffect, buffersOfSheet } from './sheet-table.ts';
import { supplierChoices } from './supplier-choices.ts';
import { UnreadableSheet } from './unreadable.ts';
import { unpackPages } from './read-table.ts';
import { keepSheet } from './receive-sheet.ts';
import type { Receiving, AskedItemFile, AskedDays, CostWork, CostWorkDone } from './cost-work.ts';

standBack(10);

const pagesOf = (packed: Uint8Array | null) => unpackPages(packed && Buffer.from(packed));

async function itemsIn(db: Db, { content: bytes, pages, decimal }: AskedItemFile): Promise<CostWorkDone> {
  // a buffer comes as plain bytes into a thread
  const content = Buffer.from(bytes);
  return { items: await checkItemFile(db, { content, pages: pagesOf(pages), decimal }) };
}

async function received(db: Db, asked: Receiving): Promise<CostWorkDone> {
  const content = Buffer.from(asked.arriving.content);
  const { pages, ...rest } = asked;
  return { received: await keepSheet(db, { ...rest, arriving: { ...asked.arriving, content } }, pagesOf(pages)) };
}

/** What was compared last: pages of it are asked for one after the other. */
let compared: { key: string; all: AllDifferences } | null = null;

async function daysPage(db: Db, asked: AskedDays): Promise<CostWorkDone> {
  const { list, from, to, now, state } = asked;
  const here = { db, now: () => now };
  const key = [list, from, to, await today(here), state].join('/');
  if (compared?.key !== key) {
    const all = compareDays(await stateOn(here, from), await stateOn(here, to), list);
    if (!all) throw refused('not_found', { what: 'The price list', id: list });
    compared = { key, all };
  }
  return { text: JSON.stringify(pageOf(compared.all, asked)) };
}

/** Why a file cannot be read is an answer, as a refusal is one. */
async function told(work: Promise<CostWorkDone>): Promise<CostWorkDone> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof UnreadableSheet) return { unreadable: error.message };
    throw error;
  }
}

/** Reads what arrived, or works out what it would move. */
export function costWork(asked: CostWork): Promise<CostWorkDone> {
  return tellingRefusals(told(carriedOut(databaseAt(asked.url), asked)));
}

async function carriedOut(db: Db, asked: CostWork): Promise<CostWorkDone> {
  switch (asked.what) {
    case 'receive':
      return received(db, asked.asked);
    case 'items':
      return itemsIn(db, asked.file);
    case 'intake':
      return { worksheet: await carryOutIntake({ db, now: () => new Date() }, asked.sheet, asked.today) };
    case 'decide':
      return { ordered: await decideByItself({ db, now: () => new Date() }, asked.worksheet) };
    case 'days':
      return daysPage(db, asked.asked);
    case 'falls':
      return { falls: await fallsOn(db, asked.today) };
    case 'items out':
      return { text: await writeItemFile(db, asked.decimal) };
    case 'sheet':
      return { sheet: await sheetTable(db, asked.asked) };
    case 'choices':
      return { choices: await supplierChoices(db, asked.today) };
    case 'effect':
      return { effect: await sheetEffect(db, asked.sheet, asked.today, asked.state) };
  }
}

/** The same in a thread, beside the server's own: columns are handed over, not copied. */
export default async function inThread(asked: CostWork): Promise<unknown> {
  const done = await costWork(asked);
  const buffers = 'sheet' in done ? buffersOfSheet(done.sheet) : 'effect' in done ? buffersOfEffect(done.effect) : null;
  return buffers ? move({ [transferableSymbol]: buffers, [valueSymbol]: done }) : done;
}
