import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoItems } from '#demo/items.ts';
import { supplierService } from '../standins/supplier-service.ts';
import { Visitor, startApplication } from './application.ts';

let app: Awaited<ReturnType<typeof startApplication>>;
const pell = supplierService({
  suppliers: [
    {
      key: 'pell',
      name: 'Pell & Orrin Safety',
      currency: 'EUR',
      items: demoItems().filter((i) => i.supplier === 'pell'),
    },
  ],
  today: () => new Date().toISOString().slice(0, 10),
  mood: () => 'well',
});
beforeAll(async () => {
  app = await startApplication();
  await new Promise<void>((done) => pell.listen(0, '127.0.0.1', done));
});
afterAll(() => {
  pell.close();
  return app.stop();
});

it('Costs: a sheet with surprises is settled row by row; what it moves is proposed in one step, and posted', async () => {
  const marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
  await marit.click('link', 'Cost sheet kelwick-trade-prices.csv from Kelwick Ropeworks waits to be taken in');
  await marit.reads(/Laid out as kelwick-\d{4}-\d\d\.csv/);
  const before = await marit.reads(/[\d,]+ prices on \d+ lists would move/);
  expect(before).toContain('3 need a look');

  // a shifted decimal mark is put right, in the file's own form of numbers
  await marit.click('button', '3 need a look');
  await marit.reads('3 rows');
  await marit.click('button', 'Row 6 …');
  await marit.reads('far from 6 like items (model BL-6)');
  await marit.fill('cost per cost pack', '54.35');
  await marit.click('button', 'Read the row this way');
  await marit.reads('2 need a look');

  // another currency waits for the supplier's word
  await marit.click('button', 'Hold …');
  await marit.fill('Why', 'euro or pound?');
  await marit.click('button', 'Hold row 11');
  await marit.reads('held: euro or pound?');

  // a code that nobody knows is one of ours
  await marit.click('button', '2 unknown code');
  await marit.click('button', 'Row 217 …');
  await marit.pick('our item, by code, name or barcode', 'SH-BO-08', 'SH-BO-08');
  await marit.reads('KE9001 is known from now on.');
  await marit.reads('1 unknown code');

  // the rest is taken in; what is open waits on
  await marit.click('button', 'Take in …');
  await marit.reads('They wait in this sheet');
  await marit.click('button', 'Take in 210 costs');
  await marit.reads('210 costs taken in, 6 rows wait on.');
  await marit.reads('the rest waits');

  // and leads to prices
  await marit.click('button', 'Propose the prices it moves');
  await marit.reads('of the items of kelwick-trade-prices.csv');
  const proposed = await marit.reads('Post …');
  expect(proposed).toMatch(/Worksheet \d+: New costs of Kelwick Ropeworks/);
  await marit.click('button', 'Post …');
  await marit.reads(/Post on \d+ lists/);
  await marit.page.locator('[role=dialog] button[type=submit]').click();
  await marit.reads(/posting \d+/i);

  // the supplier has answered: the one that was held follows
  await marit.click('link', 'kelwick-trade-prices.csv');
  await marit.click('button', '1 need a look');
  await marit.click('button', 'Let go');
  await marit.click('button', 'Take in row 11');
  await marit.reads(/1 cost taken in, \d+ rows? waits? on/);
  expect(marit.troubles).toEqual([]);
});

it('Costs: a seller asks for a connection from inside a quote line; once it is made, its costs count', async () => {
  const liv = await Visitor.arrive(app.browser, app.address);
  await liv.signIn('liv');
  await liv.go('/quotes/new');
  await liv.pick('Customer', 'Saltholm Boatyard', 'Saltholm Boatyard');
  await liv.pick('Add an item: code, name or barcode', 'flare', 'lare');
  await liv.click('button', 'Why: build-up of line 1');
  await liv.reads('Service of Pell & Orrin Safety: not connected');
  await liv.click('button', 'ask for a connection …');
  await liv.fill('What for', 'flares for the yards');
  await liv.click('button', 'Ask for it');
  await liv.reads('asked for by Liv: flares for the yards');

  const marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
  await marit.click('link', 'Liv asks for a connection of Pell & Orrin Safety');
  await marit.click('button', 'Connection of Pell & Orrin Safety');
  const { port } = pell.address() as AddressInfo;
  await marit.fill('Address of its service', `http://127.0.0.1:${port}/pell`);
  await marit.fill('Our account number there', 'BR-1188');
  await marit.click('button', 'See what it offers');
  await marit.reads('Pell & Orrin Safety, costs in EUR');
  await marit.click('button', 'Connect');
  await marit.reads(/answered \d\d.* all brands, every day/);
  await marit.page.locator('::-p-text(fetched)').click();
  await marit.click('button', 'Take in …');
  const asked = await marit.reads(/Take in \d+ costs/);
  await marit.click('button', /Take in \d+ costs/.exec(asked)![0]);
  await marit.reads(/costs? taken in/);
  expect([...liv.troubles, ...marit.troubles]).toEqual([]);
});
