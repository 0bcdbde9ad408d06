import { eq } from 'drizzle-orm';
import { withMoves } from '#core/workspace/to-come.ts';
import type { Item } from '#core/items/item.ts';
import { items, packs } from '../items/tables.ts';
import { type Db, type Tx, withoutTrace } from '../platform/database.ts';
import type { AnyRegister } from '../setup/register.ts';
import { movesOf } from '../to-come/moves.ts';
import { rulesOn } from '../to-come/rules-on.ts';
import { baseOf, changeIn, waitingOf } from '../to-come/waiting.ts';
import { catalogueOf } from '../workspace/catalogue.ts';
import type { Otherwise } from './checked.ts';

async function itemIn(tx: Tx, id: number): Promise<Item> {
  const its = await tx.select().from(items).where(eq(items.id, id));
  const own = await tx.select().from(packs).where(eq(packs.itemId, id));
  return catalogueOf({ items: its, packs: own, costs: [] }).items[0]!;
}

/**
 * The rules of a day as they would be with a record kept as it was sent, by the way that keeps it; nothing of it stays.
 * Refused as keeping it would be. Holds who else changes rules only for the moment of writing it: what grows with the
 * catalogue is not read here.
 */
export function rulesWith(
  db: Db,
  register: AnyRegister,
  id: number | null,
  body: object,
  day: string,
): Promise<Otherwise> {
  return withoutTrace(db, async (tx) => {
    await register.check?.(tx, body, id);
    const meant = id === null ? body : ((await register.forMoves?.(tx, id, body)) ?? body);
    const [before] = id === null ? [] : await register.read(tx, id);
    const written = await register.write(tx, id, meant, (before?.version ?? 0) + 1);
    return { rules: await rulesOn(tx, day), item: register.name === 'items' ? await itemIn(tx, written) : null };
  });
}

/** The same for a change that begins on a day to come, on what else begins by then. */
export function rulesFrom(
  db: Db,
  register: AnyRegister,
  id: number,
  body: Readonly<Record<string, unknown>>,
  { day, upon }: { day: string; upon: readonly string[] },
): Promise<Otherwise> {
  return withoutTrace(db, async (tx) => {
    const rules = await rulesOn(tx, day);
    const waiting = await waitingOf(tx, register.name, id);
    const change = changeIn(register, body, await baseOf(tx, register, id, waiting, upon));
    const before = waiting.filter((w) => w.day <= day).map((w) => w.change);
    const made = await movesOf(tx, register, id, [...before, change]);
    return { rules: withMoves(rules, made.at(-1)!), item: null };
  });
}
