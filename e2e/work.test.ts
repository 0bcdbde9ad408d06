import { afterAll, beforeAll, expect, it } from 'vitest';
import { Visitor, startApplication } from './application.ts';

/** Short pieces of a day's work, by place, each named by what a person achieves. */

let app: Awaited<ReturnType<typeof startApplication>>;
let marit: Visitor;
beforeAll(async () => {
  app = await startApplication();
  marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
  // leaving a quote that is not kept asks first: here it is left
  marit.page.on('dialog', (asked) => void asked.accept());
});
afterAll(() => app.stop());

const keep = async () => {
  await marit.click('button', 'Keep');
  await marit.reads('Kept.');
};
const quoteFor = async (customer: string) => {
  await marit.go('/quotes/new');
  await marit.choose('select[name=customer]', customer);
};
const add = async (sku: string, name: string, line: number, quantity: string) => {
  await marit.pick('Add an item: code, name or barcode', sku, name);
  await marit.fill(`Quantity, line ${line}`, quantity);
};

it('Costs: a bill is made final; a price follows it up, and a fall waits', async () => {
  await marit.go('/recipes/1');
  await marit.choose('select[aria-label="Add a guard"]', 'raise only');
  await marit.click('button', 'Keep the recipe');
  await marit.reads('Kept.');
  await marit.go('/costs');
  await marit.click('link', 'AF-20533');
  await marit.reads('sent back');
  await marit.click('button', 'Make final');
  await marit.reads('its costs count from its day');
  await marit.go('/lists/1');
  await marit.fill('Find in prices', 'SH-ST-12 carton');
  await marit.reads(/1 of \d+ prices/);
  expect(await marit.reads(/▲ \+\d+\.\d\d/)).not.toContain('would fall to');
  await marit.fill('Find in prices', 'BK-DO-57');
  await marit.reads(/1 of \d+ prices/);
  await marit.reads(/raise only: would fall to \d+\.\d\d/);
});

it('Ladders: a hole between two bands is told before the ladder is kept', async () => {
  await marit.go('/ladders/new');
  await marit.fill('Name', 'Two bands', '[role="textbox"]');
  await marit.fill('Up to, rung 1', '10');
  await marit.click('button', 'Add a rung');
  await marit.fill('From, rung 2', '20');
  const said = await marit.reads('adds:');
  expect(said).toContain('No rung of the ladder holds these prices');
  await marit.fill('From, rung 2', '10');
  await marit.click('button', 'Keep the ladder');
  await marit.reads('Kept.');
});

it('Lists: a customer’s country that no region has is found', async () => {
  await marit.go('/setup/customers?open=new');
  await marit.reads('New customer');
  await marit.fill('Name', 'Curlew Sails');
  await marit.pick('Country', 'irel', 'Ireland');
  await marit.reads('The country of customers is in no region.');
  await keep();
  await marit.go('/findings');
  expect(await marit.reads('The country of customers is in no region.')).toContain('Curlew Sails');
});

it('Quotes: a sliced break counts two lines of an item together, each slice at its own price', async () => {
  await quoteFor('Counter sale');
  await add('FX-COA5-60', 'Coach screw M5 × 60, stainless', 1, '40');
  await add('FX-COA5-60', 'Coach screw M5 × 60, stainless', 2, '30');
  const text = await marit.reads('on average');
  expect(text).toContain('beyond 50: 4 % off');
});

it('Quotes: a quantity between the steps is told with the nearest, and a few more that cost less are told too', async () => {
  await quoteFor('Saltholm Boatyard');
  await add('FA-S5-25', 'Screw M5 × 25, stainless', 1, '47');
  await marit.reads('The quantity goes in steps of 5; the nearest allowed quantities are 45 and 50.');
  await marit.fill('Quantity, line 1', '45');
  await add('SH-BO-10', 'Shackle, bow, 10 mm, stainless', 2, '47');
  await marit.reads(/1 more would cost \d+\.\d\d EUR less in all/);
});

it('Quotes: goods for the north get the north’s list, and what the customer was told stays beside the sum', async () => {
  await quoteFor('Seiche Sailing Club');
  await marit.pick('Goods go to', 'swed', 'Sweden');
  await add('BL-12-NA', 'Braided line 12 mm, navy', 1, '60');
  await marit.reads(/Scandinavia: meant for this region/);
  await marit.fill('The customer was told, SEK, tax in', '1500');
  await marit.click('button', 'Keep the quote');
  await marit.reads(/is kept/);
  expect(await marit.reads('to pay, SEK')).toContain('Scandinavia');
  expect(marit.troubles).toEqual([]);
});
