import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { plusDays } from '#core/numbers/day.ts';
import { Visitor, startApplication } from './application.ts';
import { formsOf } from './forms.ts';

/** What a list, a group, a region or a rule does to a price: set up by form, seen as the buyer would, proved beside bin/price. */

let app: Awaited<ReturnType<typeof startApplication>>;
let marit: Visitor;
const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-rules-'));
beforeAll(async () => {
  app = await startApplication();
  marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
});
afterAll(async () => {
  await app.stop();
  rmSync(folder, { recursive: true, force: true });
});

const { fresh, keep, tick, tie, check, today } = formsOf(() => marit);

/** The workspace as it is written out, asked by bin/price. */
async function priceOf(questions: object[]): Promise<string[]> {
  const file = await marit.page.evaluate(() => fetch('/api/workspace-file').then((r) => r.text()));
  const ids = JSON.parse(file) as {
    items: { id: string; sku: string; packs: { id: string }[] }[];
    customers: { id: string; name: string }[];
  };
  const asked = questions.map((q) => {
    const { sku, customer, ...rest } = q as { sku: string; customer: string };
    const item = ids.items.find((i) => i.sku === sku)!;
    const buyer = ids.customers.find((c) => c.name === customer)!;
    return { kind: 'price', item: item.id, pack: item.packs[0]!.id, customer: buyer.id, quantity: '1', ...rest };
  });
  const [workspace, list] = [join(folder, 'workspace.json'), join(folder, 'questions.json')];
  writeFileSync(workspace, file);
  writeFileSync(list, JSON.stringify(asked));
  const ran = spawnSync(fileURLToPath(new URL('../bin/price', import.meta.url)), [workspace, list], {
    encoding: 'utf8',
  });
  return (JSON.parse(ran.stdout) as { unitPrice: string }[]).map((a) => a.unitPrice);
}
it('Lists: a region gets a list of its own from the counter’s, a group pays less there, and two customers’ prices are those of bin/price', async () => {
  await fresh('regions', 'region');
  await marit.fill('Name', 'Far north');
  for (const name of ['Iceland', 'Greenland', 'Faroe']) {
    await marit.fill('Countries: add', name, '[role="combobox"]');
    await marit.page.waitForSelector('[role=option][aria-selected=true]');
    await marit.press('Enter');
  }
  await marit.fill('Currency', 'NOK');
  await marit.choose('select[name=tax]', 'none');
  await keep();

  await fresh('lists', 'price list');
  await marit.fill('Name', 'Far north');
  await marit.fill('Currency', 'NOK');
  await tick('Tax in');
  await marit.pick('Only to the regions: add', 'far', 'Far north');
  await marit.click('button', 'Say so: An item without a price here takes it from a parent');
  await marit.pick('the list, An item without a price here takes it from a parent', 'counter', 'Counter');
  await marit.fill('per cent more (−8: 8 % less), An item without a price here takes it from a parent', '-5');
  await marit.fill('at the rate, An item without a price here takes it from a parent', '11.7');
  await keep();
  // it begins inactive: nobody is asked its prices before it is looked at
  await marit.click('button', 'change Far north');
  await marit.reads('Change this price list');
  await tick('Active');
  await keep();

  await fresh('reductions', 'reduction');
  await marit.fill('Name', 'Counter in the far north');
  await marit.pick('or the group', 'counter', 'counter');
  await marit.pick('Only on the lists: add', 'far', 'Far north');
  await marit.fill('Value', '6');
  await keep();
  await fresh('reductions', 'reduction');
  await marit.fill('Name', 'Counter in the far north, rope');
  await marit.pick('or the group', 'counter', 'counter');
  await marit.pick('Only on the lists: add', 'far', 'Far north');
  await tie('category', 'On', 'braided', 'braided line');
  await marit.fill('Value', '9');
  await keep();

  const north = { country: ['icel', 'Iceland'] as [string, string] };
  const club = await check({
    customer: ['seiche', 'Seiche Sailing Club'],
    ...north,
    item: ['BL-10-WH', 'Braided line 10 mm, white'],
  });
  expect(club.text).toContain('Far north');

  await fresh('entries', 'entry');
  await marit.pick('On the list', 'far', 'Far north');
  await tie('item', 'For', 'AN-PL-10', 'Anchor, plough, 10 kg');
  await marit.choose('select[name=kind]', 'price');
  await marit.fill('Value', '990');
  await keep();
  await fresh('entries', 'entry');
  await marit.pick('On the list', 'far', 'Far north');
  await tie('item', 'For', 'AN-PL-12', 'Anchor, plough, 12 kg');
  await marit.fill('Value', '25');
  await marit.fill('First day', await today(), '[role="textbox"]');
  await keep();

  const found: string[] = [];
  const yacht: [string, string] = ['lumme', 'Yacht Lumme, private'];
  for (const [sku, shown] of [
    ['BL-10-WH', 'Braided line 10 mm, white'],
    ['AN-PL-10', 'Anchor, plough, 10 kg'],
    ['AN-PL-12', 'Anchor, plough, 12 kg'],
  ] as const)
    for (const customer of [['seiche', 'Seiche Sailing Club'] as [string, string], yacht])
      found.push((await check({ customer, ...north, item: [sku, shown] })).price.replaceAll(',', ''));
  const on = await today();
  const told = await priceOf(
    ['BL-10-WH', 'AN-PL-10', 'AN-PL-12'].flatMap((sku) =>
      ['Seiche Sailing Club', 'Yacht Lumme, private'].map((customer) => ({ sku, customer, country: 'IS', day: on })),
    ),
  );
  expect(found.map(Number)).toEqual(told.map(Number));
  // the narrower reduction counts for rope; the exact price is what the group's reduction comes off
  expect(found.slice(2, 4)).toEqual(['940.50', '930.60']);
  expect(Number(found[1])).toBeLessThan(Number(found[0]));
  expect(marit.troubles).toEqual([]);
});

it('Lists: a dated special for one group is seen by that group alone', async () => {
  await fresh('reductions', 'reduction');
  await marit.fill('Name', 'Staff week');
  await marit.pick('or the group', 'staff', 'staff');
  await tie('item', 'On', 'LJ-150-AD', 'Lifejacket 150 N, adult');
  await marit.fill('Value', '3');
  await marit.fill('First day', await today(), '[role="textbox"]');
  await keep();
  const item: [string, string] = ['LJ-150-AD', 'Lifejacket 150 N, adult'];
  const staff = await check({ group: ['staff', 'staff'], item });
  expect(staff.text).toContain('Staff week');
  const others = await check({ group: ['boaty', 'boatyards'], item });
  expect(others.text).not.toContain('Staff week');
});

it('Lists: an entry with endings and limits of its own makes a price that ends as it says', async () => {
  const item: [string, string] = ['CL-HO-200-S', 'Cleat, horn, 200 mm, stainless steel'];
  await fresh('entries', 'entry');
  await marit.pick('On the list', 'counter', 'Counter');
  await tie('item', 'For', ...item);
  await marit.fill('Value', '3.3');
  await marit.pick('Rounded by a ladder of its own', 'trade', 'Trade, five cents');
  await marit.click('button', 'Say so: Least');
  await marit.fill('per pack, Least', '33.35');
  await keep();
  const { price, text } = await check({ customer: ['counter', 'Counter sale'], item });
  expect(Number(price)).toBeGreaterThanOrEqual(33.35);
  expect(Math.round(Number(price) * 100) % 5).toBe(0);
  expect(text).toContain('Trade, five cents');
});

it('Costs: a lockstep group is made and joined; the check says before it is kept what that does', async () => {
  await fresh('lockstep', 'lockstep group');
  await marit.fill('Name', 'Three-strand rope 12 mm');
  await marit.pick('Lead', 'TS-12-WH', 'Three-strand rope 12 mm, white');
  await marit.pick('Members: add', 'TS-12-NA', 'Three-strand rope 12 mm, navy');
  await marit.reads(/Kept like this/);
  await keep();
  await marit.click('button', 'change Three-strand rope 12 mm');
  await marit.pick('Members: add', 'TS-12-BL', 'Three-strand rope 12 mm, black');
  await keep();
  // the lead's cost moves them all
  const lead = await check({
    group: ['chandlers', 'chandlers, for resale'],
    item: ['TS-12-WH', 'Three-strand rope 12 mm, white'],
  });
  const member = await check({
    group: ['chandlers', 'chandlers, for resale'],
    item: ['TS-12-BL', 'Three-strand rope 12 mm, black'],
  });
  expect(member.price).toBe(lead.price);
});

it('Rules: what is decided for a day to come changes nothing today, counts on its day, stands in the list and can be dropped', async () => {
  const day = plusDays(await today(), 30);
  const asked = {
    customer: ['saltholm', 'Saltholm Boatyard'] as [string, string],
    item: ['AN-PL-33', 'Anchor, plough, 33 kg'] as [string, string],
  };
  await fresh('reductions', 'reduction');
  await marit.fill('Name', 'Yard of the year');
  await marit.pick('For the customer', 'saltholm', 'Saltholm Boatyard');
  await tie('item', 'On', ...asked.item);
  await marit.fill('Value', '1');
  await keep();
  const before = await check(asked);
  await marit.go('/setup/reductions');
  await marit.click('button', 'change Yard of the year');
  await marit.fill('Value', '40');
  await marit.click('radio', 'from a day to come');
  await marit.fill('First day in force', day, '[role="textbox"]');
  await marit.fill('Why', 'they won the race');
  await marit.press('Enter');
  await marit.reads('Until then nothing changes.');
  await marit.reads('changes on');
  expect((await check(asked)).price).toBe(before.price);
  expect(Number((await check({ ...asked, day })).price)).toBeLessThan(Number(before.price));
  await marit.go('/changes-to-come');
  expect(await marit.reads('they won the race')).toMatch(/Yard of the year\s+Value: 1 → 40/);
  const drop = await marit.page.$('button[aria-label^="Drop the change of Yard of the year"]');
  await drop!.click();
  await marit.reads('Dropped. The ledger keeps what was planned.');
  expect((await check({ ...asked, day })).price).toBe((await check(asked)).price);
  expect(marit.troubles).toEqual([]);
});

it('Quotes: a rule set of two rules and a charge act on a line, and say so', async () => {
  await fresh('rules', 'rule set');
  await marit.fill('Name', 'Safety gear');
  await tick('Active');
  await marit.choose('select[name=mode]', 'every one');
  for (const n of [1, 2]) {
    await marit.click('button', 'one more rule');
    await marit.fill(`Rule, rule ${n}`, n === 1 ? 'By the brand' : 'Below the RRP');
    await marit.choose(`select[aria-label^="Effect, effect 1, rule ${n}"]`, n === 1 ? '% more' : 'add a charge');
    if (n === 2) await marit.fill('Name of the charge, effect 1, rule 2', 'Papers');
    await marit.fill(`Value, effect 1, rule ${n}`, n === 1 ? '-2' : '3');
    if (n === 2) await marit.pick('Tax class, effect 1, rule 2', 'standard', 'standard');
  }
  const order = () =>
    marit.page.$$eval('input[aria-label^="Rule, rule"]', (fields) => fields.map((f) => (f as HTMLInputElement).value));
  expect(await order()).toEqual(['By the brand', 'Below the RRP']);
  // picked up and put down by keyboard, and back by its arrow
  await (await marit.find('button', 'Drag rule 2, Rules')).focus();
  await marit.press('Space');
  await marit.reads('over place 2');
  // a key may scroll the form first
  await vi.waitFor(
    async () => {
      await marit.press('ArrowUp');
      if (!(await marit.text()).includes('over place 1')) throw new Error('not there yet');
    },
    { timeout: 20_000, interval: 300 },
  );
  await marit.press('Space');
  await marit.reads('rule put down at place 1');
  expect(await order()).toEqual(['Below the RRP', 'By the brand']);
  await marit.click('button', 'Move rule 1 down, Rules');
  expect(await order()).toEqual(['By the brand', 'Below the RRP']);
  await keep();
  await marit.go('/quotes/new');
  await marit.pick('Customer', 'Vik Slipway', 'Vik Slipway');
  await marit.pick('Add an item: code, name or barcode', 'LJ-150-AD', 'Lifejacket 150 N, adult');
  await marit.fill('Quantity, line 1', '2');
  await marit.reads('Papers');
  await marit.choose('select[aria-label="A charge to add"]', 'Rigging inspection cover');
  await marit.click('button', 'Add the charge');
  await marit.reads('Rigging inspection cover 4 % of');
  await marit.click('button', 'Why: build-up of line 1');
  expect(await marit.reads('Safety gear')).toContain('By the brand');
});
