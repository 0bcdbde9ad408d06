import { type Dec, dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { costs } from '#server/costs/tables.ts';
import { audit } from '#server/ledger/audit.ts';
import { writeLines } from '#server/ledger/post-prices.ts';
import { postings } from '#server/ledger/tables.ts';
import { selectCatalogue } from '#server/workspace/catalogue-rows.ts';
import { loadRules } from '#server/workspace/load-workspace.ts';
import { readPosted } from '#server/workspace/posted-rows.ts';
import { settledSheet } from './arrivals.ts';
import { SUPPLIERS } from './brannholm.ts';
import { atNoon, daysBefore } from './days.ts';
import type { Demo } from './demo.ts';
import { Dice } from '#core/numbers/dice.ts';

/** Which supplier sent a cost sheet how many days ago, and how far its costs moved (per cent, from and to). */
const SHEETS: readonly (readonly [days: number, supplier: string, from: number, to: number])[] = [
  ...([
    [541, 'kelwick', -1, 3],
    [512, 'aldermere', 0, 3],
    [486, 'norrvaag', 0, 4],
    [455, 'tamsin', -1, 5],
    [428, 'pell', 0, 3],
    [401, 'kelwick', 1, 4],
    [362, 'kelwick', 0, 3],
    [331, 'aldermere', -1, 4],
    [300, 'norrvaag', 1, 5],
    [268, 'tamsin', -2, 3],
    [240, 'pell', 0, 4],
    [212, 'kelwick', -1, 3],
    [181, 'aldermere', 0, 5],
    [150, 'norrvaag', -2, 2],
    [122, 'tamsin', 1, 6],
    [91, 'kelwick', 1, 4],
    [62, 'pell', -1, 3],
    [33, 'aldermere', -2, 4],
    [4, 'tamsin', -3, 8],
  ] as const),
  // one supplier changes its costs every month
  ...Array.from({ length: 18 }, (_, n) => [525 - 30 * n, 'lusk', -2, 3] as const),
].sort((a, b) => b[0] - a[0]);

/** Sheets after which the other lists follow too, for everything that moved since. */
const EVERY = 6;

/**
 * Costs arrive; three days later the counter and the yards follow, and from time to time the other lists. The last sheet
 * has arrived, and nothing has been posted from it.
 */
export async function loadHistory(demo: Demo): Promise<number> {
  const dice = new Dice(99);
  const first = daysBefore(demo.today, 562);
  await demo.tx.insert(costs).values([...demo.item.values()].map((i) => costRow(demo, i, first)));
  await audit(demo.tx, {
    at: atNoon(first),
    personId: demo.person['marit']!,
    action: 'typed in the first costs',
    subject: 'items',
    subjectId: `${demo.item.size} items`,
  });
  await secondOffers(demo, daysBefore(demo.today, 240));
  const every = Object.values(demo.list);
  const soon = [demo.list['counter']!, demo.list['yards']!];
  const late = new Set<string>();
  let count = await post(demo, daysBefore(demo.today, 560), 'First prices', every, null);
  for (const [n, [days, supplier, from, to]] of SHEETS.entries()) {
    const arrived = daysBefore(demo.today, days);
    const moved = [...demo.item.values()].filter((i) => i.supplier === supplier && (dice.next() < 0.4 || days < 10));
    const before = moved.map((i) => i.cost);
    for (const i of moved)
      i.cost = roundHalfUp(i.cost.times(dec((100 + from + dice.next() * (to - from)).toFixed(1))).div(100), 2);
    const sheet = await settledSheet(demo, supplier, arrived, moved, before);
    await demo.tx.insert(costs).values(moved.map((i) => ({ ...costRow(demo, i, arrived), sheetId: sheet })));
    const name = SUPPLIERS.find((s) => s.key === supplier)!.name;
    await audit(demo.tx, {
      at: atNoon(arrived),
      personId: demo.person['marit']!,
      action: 'took in costs',
      subject: 'cost-sheets',
      subjectId: String(sheet),
      after: { supplier: name, costs: moved.length },
    });
    for (const i of moved) late.add(String(i.id));
    if (days <= 10) continue;
    const day = daysBefore(demo.today, days - 3);
    const its = new Set(moved.map((i) => String(i.id)));
    count += await post(demo, day, `New costs of ${name}`, soon, its);
    if (n % EVERY !== EVERY - 1) continue;
    const others = every.filter((l) => !soon.includes(l));
    count += await post(demo, day, 'Costs of the last months', others, late);
    late.clear();
  }
  return count;
}

function costRow(
  demo: Demo,
  i: { id: number; cost: Dec; supplier: string; packUnits: string },
  day: string,
): typeof costs.$inferInsert {
  const supplier = SUPPLIERS.find((s) => s.key === i.supplier)!;
  return {
    itemId: i.id,
    supplierId: demo.supplier[i.supplier]!,
    amount: i.cost.toFixed(2),
    currency: supplier.currency,
    packUnits: i.packUnits,
    validFrom: day,
    origin: 'file',
    enteredBy: demo.person['marit']!,
    enteredAt: atNoon(day),
  };
}

/** What Tamsin Forge asks for fittings that Aldermere is preferred for: offered once, in its own currency, some below and some above. */
async function secondOffers(demo: Demo, day: string): Promise<void> {
  const dice = new Dice(5);
  const offered = [...demo.item.values()].filter((i) => i.supplier === 'aldermere').slice(0, 14);
  const inEuro = dec('11.205');
  await demo.tx.insert(costs).values(
    offered.map((i) => {
      const cost = roundHalfUp(i.cost.div(inEuro).times(dec((0.88 + dice.next() * 0.3).toFixed(3))), 2);
      return costRow(demo, { ...i, cost, supplier: 'tamsin' }, day);
    }),
  );
}

/** Posts what the recipes of some lists make on a day, of some items or of all. */
async function post(
  demo: Demo,
  day: string,
  reason: string,
  lists: readonly number[],
  only: ReadonlySet<string> | null,
): Promise<number> {
  let made = 0;
  const rules = await loadRules(demo.tx, day, await selectCatalogue(demo.tx, day));
  for (const listId of lists) {
    const ws = new Prepared({ ...rules, posted: await readPosted(demo.tx, day) });
    const list = ws.lists.get(String(listId))!;
    const decimals = ws.decimalsOf(list);
    const wanted = only === null ? ws.workspace.items : ws.workspace.items.filter((i) => only.has(i.id));
    const lines = wanted.flatMap((item) =>
      item.packs.flatMap((pack) => {
        const found = computePrice(ws, { item: item.id, pack: pack.id, list: list.id, day });
        if (!found.ok) return [];
        const before = ws.postedOn(list.id, item.id, pack.id, day)?.price ?? null;
        const after = money(found.value.price, decimals);
        if (before !== null && dec(before).eq(after)) return [];
        const { cost, margin, steps } = found.value;
        return [
          {
            itemId: Number(item.id),
            packId: Number(pack.id),
            before,
            after,
            cost: cost && plain(roundHalfUp(cost, 10)),
            margin: margin && plain(roundHalfUp(margin, 4)),
            steps,
          },
        ];
      }),
    );
    if (lines.length === 0) continue;
    const at = new Date(`${day}T12:30:00Z`);
    const [posting] = await demo.tx
      .insert(postings)
      .values({ listId, kind: 'post', reason, effective: day, postedBy: demo.person['marit']!, postedAt: at })
      .returning();
    await writeLines(demo.tx, { postingId: posting!.id, listId, effective: day }, lines);
    await audit(demo.tx, {
      at,
      personId: demo.person['marit']!,
      action: 'posted prices',
      subject: 'postings',
      subjectId: String(posting!.id),
      after: { list: list.name, effective: day, lines: lines.length, reason },
    });
    made += 1;
  }
  return made;
}
