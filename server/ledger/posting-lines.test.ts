import { expect, it } from 'vitest';
import { RANDOM_DAY, randomWorkspace } from '../../bench/tests/random-workspace.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { dec, money } from '#core/numbers/decimal.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Loaded } from '../workspace/state.ts';
import { achievedMargin, linesOf } from './posting-lines.ts';
import type { PricesOrder } from './prices-order.ts';

/** With numbers for names, as the database gives them. */
const numbered = (w: Workspace): Workspace =>
  JSON.parse(
    JSON.stringify(w)
      .replace(/"i(\d+)-(\d)"/g, (_, item, pack) => `"1${item}${pack}"`)
      .replace(/"i(\d+)"/g, '"$1"')
      .replace(/"a"/g, '"1"')
      .replace(/"b"/g, '"2"'),
  ) as Workspace;

type Line = PricesOrder['lists'][number]['lines'][number];

/** Everything a list can be posted at, as it is seen; some of it typed. */
function orderOf({ ws, day }: Loaded, listId: string, typed: (n: number) => boolean): PricesOrder {
  const list = ws.lists.get(listId)!;
  const decimals = ws.decimalsOf(list);
  const lines: Line[] = [];
  for (const item of ws.workspace.items)
    for (const pack of item.packs) {
      const found = computePrice(ws, { list: listId, item: item.id, pack: pack.id, day });
      if (!found.ok || found.value.flag === 'floor_above_ceiling') continue;
      const hand = typed(lines.length);
      const after = money(hand ? found.value.price.plus('1') : found.value.price, decimals);
      // an ending with more decimals than the list keeps can be proposed, but not posted
      if (dec(after).decimalPlaces() > decimals) continue;
      const before = ws.postedFor(listId, item, pack.id, day)?.price ?? null;
      const handSet = hand ? { reason: 'promised', lastDay: null } : null;
      lines.push({ item: item.id, pack: pack.id, before, after, release: false, fall: false, handSet });
    }
  return { effective: day, lastDay: null, reason: 'spring', lists: [{ list: Number(listId), lines }] };
}

it.each([17, 31, 40])(
  'many prices posted at once keep the margin that each keeps when it is posted alone: seed %i',
  async (seed) => {
    const loaded = { ws: new Prepared(numbered(randomWorkspace(seed, 160))), day: RANDOM_DAY, revision: '1' };
    let compared = 0;
    for (const list of ['1', '2']) {
      const order = orderOf(loaded, list, (n) => n % 7 === 3);
      expect(order.lists[0]!.lines.length).toBeGreaterThan(100);
      const [together] = await linesOf(loaded, order);
      for (const line of together!.lines) {
        // one price of those who follow a lead
        const ofLine = (l: Line) => loaded.ws.packOf(loaded.ws.items.get(l.item)!, l.pack)!.id === String(line.packId);
        const asked = order.lists[0]!.lines.find(ofLine)!;
        expect(dec(line.after!).eq(asked.after)).toBe(true);
        const q = { list, item: asked.item, pack: asked.pack, day: RANDOM_DAY };
        expect([line.packId, line.margin]).toEqual([line.packId, achievedMargin(loaded.ws, q, asked.after)]);
        const [alone] = await linesOf(loaded, { ...order, lists: [{ list: Number(list), lines: [asked] }] });
        expect(alone!.lines).toEqual([line]);
        compared++;
      }
    }
    expect(compared).toBeGreaterThan(150);
  },
);
