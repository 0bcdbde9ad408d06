import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Response } from 'supertest';
import type { ListPrices } from '#contract/lists.ts';
import { unpack } from '#contract/packed.ts';
import type { RecipeBody, TrialFigures } from '#contract/recipes.ts';
import { emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const recipeOf = async (id: string): Promise<RecipeBody> => {
  const all = (await admin.get('/recipes')).body as (RecipeBody & { id: string; version: number })[];
  const { id: _, version: __, ...body } = all.find((r) => r.id === id)!;
  return body;
};
const asBytes = (response: Response, done: (error: Error | null, body: Buffer) => void) => {
  const chunks: Buffer[] = [];
  const stream = response as unknown as NodeJS.ReadableStream;
  stream.on('data', (c: Buffer) => chunks.push(c));
  stream.on('end', () => done(null, Buffer.concat(chunks)));
};
async function tried(list: string, recipe: RecipeBody): Promise<TrialFigures> {
  const answer = await admin
    .post(`/lists/${list}/trial`, { recipe })
    .buffer()
    .parse(asBytes as never);
  expect(answer.status).toBe(200);
  const body = answer.body as Buffer;
  return unpack<TrialFigures>(body.buffer.slice(body.byteOffset, body.byteOffset + body.byteLength) as ArrayBuffer);
}
const pricesOf = ({ figures, list, skus }: TrialFigures): [sku: string, price: string][] => {
  const out = emptyPrices(skus.length, list.ladder.scale);
  priceRows(figures, list, out, 0, skus.length);
  return skus.map((sku, i) => [sku, (out.price[i]! / out.scale).toFixed(2)]);
};

describe('a list sent to be tried', () => {
  it('gives in the browser the prices that the list shows', async () => {
    const { counter, recipe } = shop.shop;
    const shown = (await admin.get(`/lists/${counter}/prices`)).body as ListPrices;
    expect(pricesOf(await tried(counter, await recipeOf(recipe)))).toEqual(shown.rows.map((r) => [r.sku, r.proposed]));
  });

  it('is priced with the draft, and nothing of the draft is kept', async () => {
    const kept = await recipeOf(shop.shop.recipe);
    const draft = { ...kept, uplift: kept.uplift.map((u) => ({ ...u, value: '100' })) };
    const before = (await admin.get(`/lists/${shop.shop.counter}/prices`)).body as ListPrices;
    const prices = pricesOf(await tried(shop.shop.counter, draft));
    prices.forEach(([, price], i) => expect(Number(price)).toBeGreaterThan(Number(before.rows[i]!.proposed)));
    expect(await recipeOf(shop.shop.recipe)).toEqual(kept);
    expect((await admin.get(`/lists/${shop.shop.counter}/prices`)).body).toEqual(before);
  });

  it('follows another list that it is made from', async () => {
    const kept = await recipeOf(shop.shop.recipe);
    const off = { ...kept, basis: { kind: 'list' as const, list: shop.shop.counter }, ladder: null, guards: [] };
    const half = { ...off, uplift: [{ ...kept.uplift[0]!, method: 'percent_off' as const, value: '50' }] };
    const counter = (await admin.get(`/lists/${shop.shop.counter}/prices`)).body as ListPrices;
    const net = (price: string | null) => ((Number(price) / 1.2) * 0.5).toFixed(2);
    expect(pricesOf(await tried(shop.shop.yards, half))).toEqual(counter.rows.map((r) => [r.sku, net(r.proposed)]));
  });

  it('is refused with the fields named where the draft is not complete', async () => {
    const kept = await recipeOf(shop.shop.recipe);
    const answer = await admin.post(`/lists/${shop.shop.counter}/trial`, { recipe: { ...kept, uplift: [] } });
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([422, 'fields_wrong']);
    expect((await admin.post('/lists/999/trial', { recipe: kept })).status).toBe(404);
  });
});
