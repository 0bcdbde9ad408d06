import { afterAll, beforeAll, expect, it } from 'vitest';
import { Visitor, startApplication } from './application.ts';
import { type Picked, formsOf } from './forms.ts';

/** From a policy to the prices it makes: recipes written by form, tried, computed, their figures read back. */

let app: Awaited<ReturnType<typeof startApplication>>;
let marit: Visitor;
beforeAll(async () => {
  app = await startApplication();
  marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
  // a draft that is only looked at is left
  marit.page.on('dialog', (asked) => void asked.accept());
});
afterAll(() => app.stop());

const { fresh, keep, tick, tie, check, today } = formsOf(() => marit);

const newRecipe = async (name: string) => {
  await marit.go('/recipes/new');
  await marit.reads('Uplift');
  await marit.fill('Name', name, '[role="textbox"]');
};
const keepRecipe = async () => {
  await marit.click('button', 'Keep the recipe');
  await marit.reads(/version 1 /);
};
const row = (n: number, how: string, value: string) => {
  const rates: Record<string, string> = { markup: 'Markup per cent', margin: 'Margin per cent' };
  const type = () => marit.fill(`${rates[how] ?? 'Value'}, row ${n}`, value);
  return rates[how] ? type() : marit.choose(`select[aria-label="How, row ${n}"]`, how).then(type);
};
const oneMoreRow = () => marit.click('button', 'Add a row');
const only = async (n: number, tieIt: () => Promise<void>) => {
  await marit.click('button', `More ties, row ${n}`);
  await marit.reads(`Uplift row ${n} is only for`);
  await tieIt();
  await marit.click('button', 'Done');
};
/** A list that the recipe prices, opened. */
const listOf = async (recipe: string) => {
  await fresh('lists', 'price list');
  await marit.fill('Name', `List of ${recipe}`);
  await marit.pick('Recipe', recipe, recipe);
  await keep();
  await openList(recipe);
};
const openList = async (recipe: string) => {
  await marit.go('/lists/1');
  await marit.reads(/\d+ prices/);
  await marit.choose('div > label > select.field', `List of ${recipe}`);
  await marit.reads(`priced by ${recipe}`);
};
/** The build-up of the first price that is found in the list that is open. */
const builtUp = async (find: string): Promise<string> => {
  await marit.fill('Find in prices', find);
  await marit.reads(/\b1 of [\d,]+ prices/);
  const stands = (place: string) =>
    marit.page.waitForFunction(
      (at: string, sku: string) => document.querySelector(at)?.textContent.includes(sku),
      {},
      place,
      find.split(' ')[0]!,
    );
  // what was found before stands there until this is found
  await stands('[role=gridcell]');
  await marit.page.locator('[role=gridcell]').click();
  await stands('aside[aria-label="Build-up"]');
  await marit.reads('achieved margin, of price');
  return marit.page.$eval('aside[aria-label="Build-up"]', (e) => (e as HTMLElement).innerText);
};

it('Recipes: a policy by category, pack and channel makes a price with deposit, and its margin is read back', async () => {
  await newRecipe('Fair policy');
  await row(1, 'markup', '50');
  await oneMoreRow();
  await marit.pick('Category, row 2', 'antifoul', 'antifoul');
  await marit.fill('Pack, row 2', 'drum');
  await row(2, 'margin', '40');
  await oneMoreRow();
  await marit.pick('Category, row 3', 'antifoul', 'antifoul');
  await marit.fill('Pack, row 3', 'drum');
  await row(3, 'margin', '30');
  await only(3, () => marit.fill('channel, row 3', 'boat fair', '[role="combobox"]'));
  await keepRecipe();
  await listOf('Fair policy');
  const anywhere = await builtUp('AF-BL5-20');
  expect(anywhere).toContain('uplift margin 40 %');
  expect(anywhere).toMatch(/deposit \+ 18\n/);
  // the margin is of the goods: the deposit earns nothing
  expect(anywhere).toMatch(/achieved margin, of price\n40\.00 %/);

  // the same policy where the list is one of the fair
  await marit.go('/setup/lists');
  await marit.click('button', 'change List of Fair policy');
  await marit.reads('Change this price list');
  await marit.fill('Only through the channels', 'boat fair');
  await keep();
  await openList('Fair policy');
  const fair = await builtUp('AF-BL5-20');
  expect(fair).toContain('uplift margin 30 %');
  expect(fair).toContain('tax × 1.2');
  expect(fair).toMatch(/achieved margin, of price\n30\.00 %/);
});

it('Recipes: an add-on goes by weight, one item goes its own way, and both are tested before anything is kept', async () => {
  await newRecipe('By weight');
  await row(1, 'markup', '50');
  await marit.click('button', 'one more add-on');
  await marit.fill('Name, add-on 1', 'Carriage');
  await marit.choose('select[aria-label="What it is, add-on 1"]', 'an amount by weight');
  await marit.choose('select[aria-label="comes on, add-on 1"]', 'after the uplift');
  for (const [n, from, to, value] of [
    [1, '0', '11', '2'],
    [2, '11', '', '9'],
  ] as const) {
    await marit.click('button', 'one more weight band');
    await marit.fill(`from, weight band ${n}, add-on 1`, from);
    if (to) await marit.fill(`up to, not with it, weight band ${n}, add-on 1`, to);
    await marit.fill(`amount per pack, weight band ${n}, add-on 1`, value);
  }
  await oneMoreRow();
  await row(2, 'margin', '10');
  await only(2, () => marit.pick('item, row 2', 'AN-PL-12', 'Anchor, plough, 12 kg'));
  await marit.click('button', 'Try it on every price');
  await marit.choose('select[aria-label="Try it on"]', 'Counter');
  await marit.reads(/\d prices in \d+ ms, exactly as they would be proposed/);
  await keepRecipe();
  await listOf('By weight');
  const light = await builtUp('AN-PL-10');
  expect(light).toContain('uplift markup 50 %');
  expect(light).toMatch(/add-on \+ 2\n/);
  const heavy = await builtUp('AN-PL-12');
  expect(heavy).toContain('uplift margin 10 %');
  expect(heavy).toMatch(/add-on \+ 9\n/);
});

it('Recipes: multiply, add and a fixed price are computed in the background, and what a price was stands struck beside it', async () => {
  await newRecipe('Three ways');
  await row(1, 'multiply by', '2');
  await oneMoreRow();
  await marit.pick('Category, row 2', 'antifoul', 'antifoul');
  await row(2, 'add amount', '30');
  await oneMoreRow();
  await row(3, 'fixed price', '549.90');
  await only(3, () => marit.pick('item, row 3', 'LJ-150-AD', 'Lifejacket 150 N, adult'));
  await keepRecipe();
  await listOf('Three ways');
  await marit.go('/setup/lists');
  await marit.click('button', 'change List of Three ways');
  await marit.reads('Change this price list');
  await tick('Active');
  await marit.fill('Only through the channels', 'the pier');
  await keep();
  await marit.go('/worksheets');
  await marit.click('button', 'Propose prices');
  await marit.fill('Why', 'three ways');
  await marit.click('button', 'Propose');
  await marit.reads(/Worksheet \d: three ways/);
  await marit.reads('prices that change');
  await marit.click('button', 'List of Three ways');
  await marit.reads('2,028 prices');
  await marit.fill('Find in prices', 'BL-06-WH drum');
  await marit.reads('1 of 2,028 prices');
  const rows = await marit.page.$$eval('[role=grid] [role=row]', (all) =>
    all.map((row) =>
      [...row.querySelectorAll<HTMLElement>('[role=gridcell], [role=rowheader]')].map((c) => c.innerText.trim()),
    ),
  );
  // every price is a first one; the drum costs 73.7171, and tax is in
  expect(rows).toContainEqual([
    'BL-06-WH',
    'Braided line 6 mm, white',
    'drum',
    '–',
    '176.92',
    '–',
    '100.00',
    '50.00',
    '',
  ]);
  // what is proposed is posted, in the background, on this list alone
  await marit.click('button', 'Post …');
  for (const label of await marit.page.$$('[role=dialog] tbody label')) {
    const other = await label.evaluate(
      (l) => l.querySelector('input')!.checked && !l.textContent.startsWith('List of Three ways'),
    );
    if (other) await label.click();
  }
  await marit.click('button', 'Post on 1 list');
  await marit.reads(/posting \d+/);
  await openList('Three ways');
  await marit.reads(/0 up, 0 down/);
  expect(await builtUp('AF-BL5-20')).toContain('uplift add 30');
  expect(await builtUp('LJ-150-AD')).toContain('549.90');

  // a lower price for the days of the fair: what was asked before is shown beside it, as the ledger knows it
  await fresh('entries', 'entry');
  await marit.pick('On the list', 'counter', 'Counter');
  await tie('item', 'For', 'LJ-150-AD', 'Lifejacket 150 N, adult');
  await marit.fill('Value', '15');
  await marit.fill('First day', await today(), '[role="textbox"]');
  await keep();
  await fresh('rules', 'rule set');
  await marit.fill('Name', 'Before and now');
  await tick('Active');
  await marit.click('button', 'one more rule');
  await marit.fill('Rule, rule 1', 'Struck');
  await marit.choose('select[aria-label^="Effect, effect 1, rule 1"]', 'show an earlier price struck');
  await keep();
  const item: Picked = ['LJ-150-AD', 'Lifejacket 150 N, adult'];
  const { price, text } = await check({ customer: ['counter', 'Counter sale'], item });
  const before = Number(/before ([\d,]+\.\d\d) EUR/.exec(text)![1]!.replace(',', ''));
  // fifteen per cent off what is posted
  expect(Number(price)).toBeCloseTo(before * 0.85, 2);
});

it('Recipes: two-cut endings by band are tried on a draft, and a currency’s own ladder ends its lists', async () => {
  const twoCuts = async (name: string, currency: string) => {
    await marit.go('/ladders/new');
    await marit.reads('endings inside the step');
    await marit.fill('Name', name, '[role="textbox"]');
    await marit.fill('Currency', currency);
    await marit.fill('Up to, rung 1', '50');
    await marit.fill('Endings, rung 1', '0.45');
    await marit.click('button', 'Add a rung');
    await marit.fill('From, rung 2', '50');
    await marit.fill('Step, rung 2', '10');
    await marit.fill('Endings, rung 2', '9');
    for (const [n, down, up] of [
      [1, '0.20', '0.70'],
      [2, '2', '6'],
    ] as const) {
      await marit.choose(`select[aria-label="Direction, rung ${n}"]`, 'two cuts');
      await marit.fill(`Down before, rung ${n}`, down);
      await marit.fill(`Up from, rung ${n}`, up);
    }
  };
  await twoCuts('Two cuts', 'EUR');
  await marit.click('button', 'Keep the ladder');
  await marit.reads('Kept.');
  await marit.go('/recipes/5');
  await marit.click('button', 'Take away Counter endings, Ladder');
  await marit.pick('Ladder', 'Two cuts', 'Two cuts');
  await marit.click('button', 'Try it on every price');
  await marit.reads('largest rises');
  const then = await marit.page.$$eval('tr:has(td.truncate) td:nth-child(3)', (cells) =>
    cells.map((c) => c.textContent),
  );
  expect(then.length).toBeGreaterThan(5);
  // over fifty whole tens less one, under it 45 cents; nothing is kept
  for (const price of then.map((t) => Number(t.replace(',', ''))))
    expect(price > 50 ? price % 10 : Math.round((price % 1) * 100)).toBe(price > 50 ? 9 : 45);
  await twoCuts('Krona, two cuts', 'SEK');
  const byDefault = await marit.page.waitForSelector('input[name=byDefault]');
  await byDefault!.click();
  await marit.click('button', 'Keep the ladder');
  await marit.reads('Kept.');
});
