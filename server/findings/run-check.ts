import { ruleMoves } from '#core/bulk/price-moves.ts';
import { checking } from '#core/checks/check.ts';
import type { Finding } from '#core/checks/finding.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { type MoveTally, movesByList, tallyOf } from '../lists/move-tally.ts';
import type { Db } from '../platform/database.ts';
import { type Turn, paused } from '../platform/turns.ts';
import { type Loaded, workspaceOn } from '../workspace/state.ts';
import { someOf } from './findings-page.ts';
import { named } from './places.ts';
import type { CheckAsked, Checked } from './checked.ts';

/** A form asks again after every pause in typing: what stands is checked once. */
let last: { loaded: Loaded; found: readonly Finding[] } | null = null;

async function foundIn(loaded: Loaded, turn: Turn): Promise<readonly Finding[]> {
  if (last?.loaded === loaded) return last.found;
  const found = await paused(checking(loaded.ws, loaded.day), turn);
  last = { loaded, found };
  return found;
}

/** Which finding it is, whatever its example says. */
const nameOf = (f: Finding) => `${f.code} ${f.places.join()}`;

/** Looks at one state of the whole set-up. `turn`: is asked now and then, and lets others go first or gives up. */
export async function runCheck(db: Db, { day, what }: CheckAsked, turn: Turn): Promise<Checked> {
  const loaded = await workspaceOn(db, day);
  await turn();
  const { revision, ws } = loaded;
  if (what === 'findings') return { revision, findings: (await foundIn(loaded, turn)).map((f) => named(ws, f)) };
  const { items, costs, posted } = ws.workspace;
  const { item } = what;
  const others = item ? [...items.filter((i) => i.id !== item.id), item] : items;
  const then = new Prepared({ ...what.rules, items: others, costs, posted }, ws);
  if (what.asks === 'moves') {
    const byList = new Map<string, MoveTally>();
    for (const move of ruleMoves(ws, then, day, item?.id ?? null)) {
      tallyOf(byList, move.list).take(move);
      await turn();
    }
    const lists = movesByList(then, byList);
    return { revision, moves: { day, prices: lists.reduce((sum, l) => sum + l.prices, 0), lists } };
  }
  const found = await foundIn(loaded, turn);
  const after = await paused(checking(then, day), turn);
  const [before, next] = [new Set(found.map(nameOf)), new Set(after.map(nameOf))];
  return {
    revision,
    ofChange: {
      adds: someOf(
        then,
        after.filter((f) => !before.has(nameOf(f))),
      ),
      settles: someOf(
        ws,
        found.filter((f) => !next.has(nameOf(f))),
      ),
    },
  };
}
