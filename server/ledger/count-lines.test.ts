import { afterAll, beforeAll, expect, it } from 'vitest';
import type { PostingSummary } from '#contract/lists.ts';
import { TODAY, type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

/** Posts typed prices of the first items; returns the posting. */
async function post(prices: readonly (readonly [before: string | null, after: string])[]): Promise<string> {
  const { counter, items, packs } = shop.shop;
  const answer = await admin.post(`/lists/${counter}/postings`, {
    effective: TODAY,
    reason: 'typed',
    lines: prices.map(([before, after], n) => ({
      ...{ item: items[n]!, pack: packs[n]!, before, after },
      handSet: { reason: 'typed', lastDay: null },
    })),
  });
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return (answer.body as { postings: string[] }).postings[0]!;
}

/** What the ledger's page says of a posting: prices, of these dearer or new, cheaper or gone, and reversed since. */
async function told(id: string) {
  const { lines, up, down, reversedLines } = ((await admin.get('/postings')).body as PostingSummary[]).find(
    (p) => p.id === id,
  )!;
  return { lines, up, down, reversedLines };
}

it('the ledger says how many prices rose and fell, and goes on to say what was reversed after it was looked at', async () => {
  const { items, packs } = shop.shop;
  const first = await post([
    [null, '10.00'],
    [null, '20.00'],
    [null, '30.00'],
  ]);
  const second = await post([
    ['10.00', '11.00'],
    ['20.00', '19.00'],
    ['30.00', '28.00'],
  ]);
  expect([await told(first), await told(second)]).toEqual([
    { lines: 3, up: 3, down: 0, reversedLines: 0 },
    { lines: 3, up: 1, down: 2, reversedLines: 0 },
  ]);
  const back = async (n: number) => {
    const lines = [{ item: items[n]!, pack: packs[n]! }];
    const answer = await admin.post(`/postings/${second}/reverse`, { reason: 'one back', lines });
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    return (answer.body as { posting: string }).posting;
  };
  const once = await back(0);
  expect([await told(second), await told(once)]).toEqual([
    { lines: 3, up: 1, down: 2, reversedLines: 1 },
    { lines: 1, up: 0, down: 1, reversedLines: 0 },
  ]);
  const twice = await back(1);
  expect([await told(second), await told(twice)]).toEqual([
    { lines: 3, up: 1, down: 2, reversedLines: 2 },
    { lines: 1, up: 1, down: 0, reversedLines: 0 },
  ]);
});
