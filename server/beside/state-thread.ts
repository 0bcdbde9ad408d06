import { move, transferableSymbol, valueSymbol } from 'piscina';
import { runCheck } from '../findings/run-check.ts';
import { postAsked } from '../ledger/long-posting.ts';
import { type Database, type Db, openDatabase } from '../platform/database.ts';
import { Refused } from '../platform/refused.ts';
import { standBack } from '../platform/stand-back.ts';
import { type Turn, turns, turnsBehind } from '../platform/turns.ts';
import { buffersOfTables, tableWork } from '../windows/table-work.ts';
import type { StateDone, StateWork } from './state-work.ts';

standBack(10);

/** The connection of this thread stays open, and with it the states it looked at last. */
let open: { url: string; database: Database } | null = null;

function databaseAt(url: string): Db {
  if (open?.url !== url) {
    void open?.database.close();
    open = { url, database: openDatabase(url) };
  }
  return open.database.db;
}

/** How much is under way that somebody waits for. */
let waitedFor = 0;

function unlessGivenUp(turn: Turn, givenUp: Int32Array): Turn {
  return async () => {
    await turn();
    if (Atomics.load(givenUp, 0) !== 0) throw new Error('nobody waits for the check any more');
  };
}

/** Works something out; several at once have their turns. */
export async function stateWork(work: StateWork): Promise<StateDone> {
  const db = databaseAt(work.url);
  // the check as it stands goes behind everything else
  if (work.what === 'check' && work.asked.what === 'findings')
    return {
      checked: await runCheck(
        db,
        work.asked,
        turnsBehind(() => waitedFor > 0),
      ),
    };
  waitedFor++;
  try {
    if (work.what === 'table') return { table: await tableWork(db, work.asked) };
    if (work.what === 'post') return { posted: await postAsked({ db, now: () => new Date() }, work.asked) };
    return { checked: await runCheck(db, work.asked, unlessGivenUp(turns(), work.givenUp)) };
  } catch (error) {
    // an error loses its class on its way out of a thread
    if (error instanceof Refused) return { refused: error.problem };
    throw error;
  } finally {
    waitedFor--;
  }
}

/** The same in a thread: columns are handed over, not copied. */
export default async function inThread(work: StateWork): Promise<unknown> {
  const done = await stateWork(work);
  return 'table' in done ? move({ [transferableSymbol]: buffersOfTables(done.table), [valueSymbol]: done }) : done;
}
