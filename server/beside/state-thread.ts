import { move, transferableSymbol, valueSymbol } from 'piscina';
import { runCheck } from '../findings/run-check.ts';
import { postAsked } from '../ledger/long-posting.ts';
import { standBack } from '../platform/stand-back.ts';
import { databaseAt, tellingRefusals } from '../platform/threads.ts';
import { type Turn, turns, turnsBehind } from '../platform/turns.ts';
import { buffersOfTables, tableWork } from '../windows/table-work.ts';
import type { StateDone, StateWork } from './state-work.ts';

standBack(10);

/** How much is under way that somebody waits for. */
let waitedFor = 0;

function unlessGivenUp(turn: Turn, givenUp: Int32Array): Turn {
  return async () => {
    await turn();
    if (Atomics.load(givenUp, 0) !== 0) throw new Error('nobody waits for the check any more');
  };
}

async function carriedOut(work: StateWork): Promise<StateDone> {
  const db = databaseAt(work.url);
  switch (work.what) {
    case 'table':
      return { table: await tableWork(db, work.asked) };
    case 'post':
      return { posted: await postAsked({ db, now: () => new Date() }, work.asked) };
    case 'check':
      return { checked: await runCheck(db, work.asked, unlessGivenUp(turns(), work.givenUp)) };
  }
}

/** Works something out; several at once have their turns. */
export async function stateWork(work: StateWork): Promise<StateDone> {
  // the check as it stands goes behind everything else
  if (work.what === 'check' && work.asked.what === 'findings') {
    const behind = turnsBehind(() => waitedFor > 0);
    return { checked: await runCheck(databaseAt(work.url), work.asked, behind) };
  }
  waitedFor++;
  try {
    return await tellingRefusals(carriedOut(work));
  } finally {
    waitedFor--;
  }
}

/** The same in a thread: columns are handed over, not copied. */
export default async function inThread(work: StateWork): Promise<unknown> {
  const done = await stateWork(work);
  return 'table' in done ? move({ [transferableSymbol]: buffersOfTables(done.table), [valueSymbol]: done }) : done;
}
