import { describe, expect, it } from 'vitest';
import { type PostedPrice, heldUntil } from '../lists/posted-price.ts';
import { Dice } from '../numbers/dice.ts';
import { toEnd } from '../pausable.ts';
import { replaced, sourceOf } from '../lookup/lookup.ts';
import { PostedRows, type PostedStore, PostedStoreBuilder } from './posted-store.ts';

const DAYS = ['2026-01-01', '2026-03-09', '2026-04-01'] as const;

const posting = (dice: Dice, entry: number, item = `i${dice.whole(1, 30)}`): PostedPrice => ({
  list: dice.pick(['1', '2', 'far']),
  item,
  pack: `${item}-${dice.pick(['each', 'box'])}`,
  price: dice.whole(0, 9) === 0 ? null : `${dice.whole(0, 99)}.${dice.whole(10, 99)}`,
  from: dice.pick(DAYS),
  posting: String(dice.whole(1, 5)),
  entry,
  ...heldUntil(
    dice.whole(0, 4) === 0 ? { reason: 'fair', by: 'Marit' } : null,
    dice.whole(0, 3) === 0 ? dice.pick(DAYS) : null,
  ),
});

const storeOf = (rows: readonly PostedPrice[]): PostedStore => {
  const out = new PostedStoreBuilder();
  for (const row of rows) out.add(row);
  return out.made();
};
/** What an object in memory would be: by item, in the order in which it was put in. */
const byItem = (rows: readonly PostedPrice[]) => {
  const out = new Map<string, PostedPrice[]>();
  for (const row of rows) out.set(row.item, [...(out.get(row.item) ?? []), row]);
  return out;
};

const sorted = (all: Iterable<PostedPrice>) => [...all].sort((a, b) => a.entry - b.entry || (a.item < b.item ? -1 : 1));

describe('posted prices kept as columns', () => {
  it('are the postings that were put in, field by field, whatever order they came in', () => {
    const dice = new Dice(41);
    for (let n = 0; n < 60; n++) {
      const rows = Array.from({ length: dice.whole(0, 400) }, (_, entry) => posting(dice, entry + 1));
      const [store, known] = [storeOf(rows), byItem(rows)];
      for (const [item, own] of known) {
        expect(store.get(item)).toEqual(own);
        for (const p of own)
          expect(store.of(p.list, item, p.pack)).toEqual(own.filter((q) => q.list === p.list && q.pack === p.pack));
      }
      expect([store.has('nobody'), store.get('nobody'), store.of('1', 'nobody', 'x')]).toEqual([false, undefined, []]);
      expect([...store]).toEqual([...known.values()].flat());
    }
  });

  it('are the same of very many, whatever their numbers grow to', () => {
    const dice = new Dice(46);
    const rows = Array.from({ length: 70_000 }, (_, n) => ({
      ...posting(dice, n % 1000 === 0 ? 2 ** 33 + n : n, `i${n % 300}`),
      price: `${n}.00`,
      posting: String(n % 400),
    }));
    const store = toEnd(storeOf(rows).withLists(new Set(['far']), storeOf([{ ...rows[5]!, list: 'far' }])));
    const known = byItem([...rows.filter((p) => p.list !== 'far'), { ...rows[5]!, list: 'far' }]);
    for (const item of ['i0', 'i5', 'i299']) expect(store.get(item)).toEqual(known.get(item));
  });

  it('with some items posted anew are the same as if they had been so from the beginning', () => {
    const dice = new Dice(42);
    for (let n = 0; n < 60; n++) {
      const rows = Array.from({ length: dice.whole(1, 200) }, (_, entry) => posting(dice, entry + 1));
      const changed = new Map<string, readonly PostedPrice[] | undefined>();
      for (let i = dice.whole(1, 12); i > 0; i--) {
        const item = `i${dice.whole(1, 40)}`;
        changed.set(
          item,
          dice.whole(0, 3) === 0 ? undefined : Array.from({ length: 3 }, (_, e) => posting(dice, 900 + e, item)),
        );
      }
      const known = new Map<string, readonly PostedPrice[] | undefined>([...byItem(rows), ...changed]);
      const next = toEnd(storeOf(rows).with(changed));
      const over = replaced(storeOf(rows), changed.keys(), changed as ReadonlyMap<string, readonly PostedPrice[]>);
      for (const [item, own] of known) {
        expect(next.get(item)).toEqual(own);
        expect(over.get(item)).toEqual(own);
        expect(over.has(item)).toBe(own !== undefined);
      }
      expect(sorted(new PostedRows(over))).toEqual(sorted(next));
    }
  });

  it('are still the same after many changes one after the other, whatever was left behind on the way', () => {
    const dice = new Dice(44);
    for (const mostLeft of [0, 30, 100_000]) {
      let store = storeOf(Array.from({ length: 200 }, (_, entry) => posting(dice, entry + 1)));
      const known = new Map<string, readonly PostedPrice[]>(byItem([...store]));
      for (let n = 0; n < 80; n++) {
        const changed = new Map<string, readonly PostedPrice[]>();
        for (let i = dice.whole(1, 4); i > 0; i--) {
          const item = `i${dice.whole(1, 40)}`;
          changed.set(
            item,
            Array.from({ length: dice.whole(0, 3) }, (_, e) => posting(dice, 1000 + 10 * n + e, item)),
          );
        }
        store = toEnd(store.with(changed, mostLeft));
        for (const [item, own] of changed)
          if (own.length > 0) known.set(item, own);
          else known.delete(item);
        for (const [item, own] of known) expect(store.get(item)).toEqual(own);
        expect([...store.keys()].sort()).toEqual([...known.keys()].sort());
        expect(sorted(store)).toEqual(sorted([...known.values()].flat()));
      }
    }
  });

  it('with some lists posted anew have those as they are now, and the others as they were', () => {
    const dice = new Dice(45);
    for (const mostLeft of [0, 100_000])
      for (let n = 0; n < 40; n++) {
        const some = (of: number, lists: readonly string[]) =>
          Array.from({ length: of }, (_, entry) => ({ ...posting(dice, entry + 1000 * n), list: dice.pick(lists) }));
        const before = some(dice.whole(0, 200), ['1', '2', 'far']);
        const now = some(dice.whole(0, 200), ['2', 'far']);
        const next = toEnd(storeOf(before).withLists(new Set(['2', 'far']), storeOf(now), mostLeft));
        const known = byItem([...before.filter((p) => p.list === '1'), ...now]);
        for (const [item, own] of known) expect(next.get(item)).toEqual(own);
        expect([...next.keys()].sort()).toEqual([...known.keys()].sort());
        expect([next.has('nobody'), [...next].length]).toEqual([false, [...known.values()].flat().length]);
      }
  });

  it('tell what is the very same in two states, though prices are made anew whenever they are asked for', () => {
    const dice = new Dice(43);
    const store = storeOf(Array.from({ length: 50 }, (_, entry) => posting(dice, entry + 1)));
    const one = replaced(store, ['i1'], new Map([['i1', [posting(dice, 99, 'i1')]]]));
    const two = replaced(one, ['i2'], new Map([['i2', [posting(dice, 98, 'i2')]]]));
    const same = (id: string) => [store, one, two].map((of) => sourceOf(of, id) === sourceOf(two, id));
    expect([same('i1'), same('i2'), same('i3')]).toEqual([
      [false, true, true],
      [false, false, true],
      [true, true, true],
    ]);
  });
});
