import { standBack } from '../platform/stand-back.ts';
import { ruleMoves } from '#core/bulk/price-moves.ts';
import { checkWorkspace } from '#core/checks/check.ts';
import type { Finding } from '#core/checks/finding.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { type MoveTally, movesByList, tallyOf } from '../lists/move-tally.ts';
import { type Database, openDatabase } from '../platform/database.ts';
import { type Loaded, workspaceOn } from '../workspace/state.ts';
import { shown } from './places.ts';
import type { CheckAsked, Checked } from './checked.ts';

standBack(10);

/** The connection of this thread stays open, and with it the state it looked at last. */
let open: { url: string; database: Database } | null = null;
/** A form asks again after every pause in typing: what stands is checked once. */
let last: { loaded: Loaded; found: readonly Finding[] } | null = null;

function foundIn(loaded: Loaded): readonly Finding[] {
  if (last?.loaded !== loaded) last = { loaded, found: checkWorkspace(loaded.ws, loaded.day) };
  return last.found;
}

/** Which finding it is, whatever its example says. */
const nameOf = (f: Finding) => `${f.code} ${f.places.join()}`;

/** Looks at one state of the whole set-up; runs in a thread of its own. */
export default async function runCheck({ url, day, what }: CheckAsked): Promise<Checked> {
  if (open?.url !== url) {
    await open?.database.close();
    open = { url, database: openDatabase(url) };
  }
  const { db } = open.database;
  const loaded = await workspaceOn(db, day);
  const { revision, ws } = loaded;
  if (what === 'findings') return { revision, findings: foundIn(loaded).map((f) => shown(ws, f)) };
  const { items, costs, posted } = ws.workspace;
  const { item } = what;
  const others = item ? [...items.filter((i) => i.id !== item.id), item] : items;
  const then = new Prepared({ ...what.rules, items: others, costs, posted }, ws);
  if (what.asks === 'moves') {
    const byList = new Map<string, MoveTally>();
    for (const move of ruleMoves(ws, then, day, item?.id ?? null)) tallyOf(byList, move.list).take(move);
    const lists = movesByList(then, byList);
    return { revision, moves: { day, prices: lists.reduce((sum, l) => sum + l.prices, 0), lists } };
  }
  const found = foundIn(loaded);
  const after = checkWorkspace(then, day);
  const [before, next] = [new Set(found.map(nameOf)), new Set(after.map(nameOf))];
  return {
    revision,
    ofChange: {
      adds: after.filter((f) => !before.has(nameOf(f))).map((f) => shown(then, f)),
      settles: found.filter((f) => !next.has(nameOf(f))).map((f) => shown(ws, f)),
    },
  };
}
