import { afterAll, beforeAll, expect, it } from 'vitest';
import type { ShownProof } from '#contract/findings.ts';
import type { PriceCheck } from '#contract/quotes.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter);
});
afterAll(() => shop.close());

const asked = () => ({
  item: shop.shop.items[0]!,
  pack: shop.shop.packs[0]!,
  quantity: '1',
  day: TODAY,
  customer: null,
});
const results = async () => (await admin.get('/findings/proofs')).body as ShownProof[];
const keep = async (name: string, more: object) => {
  const answer = await admin.post('/proofs', {
    name,
    expect: { price: null, reason: null, floor: null },
    good: null,
    ...more,
  });
  return answer;
};

it('a checked price is kept as a proof, and says so when a rule makes another of it, and at which step', async () => {
  const checked = (await admin.post('/price-check', asked())).body as PriceCheck;
  const line = checked.figures.lines[0]!;
  const good = line.steps.map(({ kind, after }) => ({ kind, after }));
  const question = { kind: 'price', ...asked() };
  expect((await keep('by hand', { question, expect: { price: line.unitPrice }, good })).status).toBe(200);
  expect(await results()).toMatchObject([{ name: 'by hand', holds: true, day: TODAY, firstDifference: null }]);
  await admin.post('/entries', {
    list: shop.shop.counter,
    scope: { item: shop.shop.items[0] },
    kind: 'percent_off',
    value: '10',
  });
  const [failing] = await results();
  expect(failing).toMatchObject({ holds: false, expected: line.unitPrice });
  expect(failing!.actual).not.toBe(line.unitPrice);
  expect(failing!.firstDifference!.step).toBeGreaterThan(0);
});
it('one that cannot be asked any more says so, and leaves the others their answer', async () => {
  expect((await keep('sent by hand', { question: { kind: 'price', day: TODAY }, expect: { price: '1' } })).status).toBe(
    200,
  );
  const found = await results();
  expect(found).toHaveLength(2);
  expect(found.find((p) => p.name === 'sent by hand')).toMatchObject({ holds: false });
});
it('what is no question at all is not kept', async () => {
  expect((await keep('nothing', { question: null, expect: { price: '1' } })).body).toMatchObject({
    faults: [{ path: 'question' }],
  });
  expect((await keep('a list', { question: [], expect: { price: '1' } })).status).toBe(422);
});
