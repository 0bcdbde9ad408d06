import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Visitor, startApplication } from './application.ts';

let app: Awaited<ReturnType<typeof startApplication>>;
const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-files-'));
beforeAll(async () => {
  app = await startApplication();
});
afterAll(async () => {
  await app.stop();
  rmSync(folder, { recursive: true, force: true });
});

const cell = (row: number, col: number) => `[data-cell="${row},${col}"]`;

it('from a supplier’s cost sheet to a floored quote, as a new user would go', async () => {
  // 1. sign in; a wrong password says so
  const marit = await Visitor.arrive(app.browser, app.address);
  await marit.fill('Sign-in name', 'marit');
  await marit.fill('Password', 'wrong');
  await marit.click('button', 'Sign in');
  await marit.reads('The sign-in name or the password is wrong.');
  await marit.signIn('marit');
  await marit.reads('What waits for Marit.');

  // 2. bring in a cost sheet: decimal comma, a shifted mark, a faulty row, an unknown code
  const file = join(folder, 'kelwick.csv');
  writeFileSync(
    file,
    Buffer.from(
      '\ufeffArtikel;Was;Preis je Trommel;Inhalt\r\nKE1019;"Line 12 mm\r\nwhite";240,50;220\r\nKE1020;Line;24,10;220\r\nKE1021;Line;auf Anfrage;220\r\nKE7777;New line;99,00;220\r\n',
    ),
  );
  await marit.click('link', 'Costs');
  await marit.click('button', 'Bring in a cost sheet');
  await marit.pick('Supplier', 'Kelwick', 'Kelwick Ropeworks');
  const input = await marit.page.waitForSelector('input[type=file]');
  await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(file);
  await marit.click('button', 'Read the file');
  await marit.reads('kelwick.csv');
  // the heading of the code column was not known: match it by hand
  await marit.click('button', 'How the file is read');
  await marit.choose('select[name=column-code]', 'Artikel');
  await marit.choose('select[name=column-name]', 'Was');
  await marit.choose('select[name=column-cost]', 'Preis je Trommel');
  await marit.choose('select[name=column-packUnits]', 'Inhalt');
  await marit.click('button', 'Read the file this way');
  await marit.reads(/1 cannot be read/);
  const changes = await marit.reads('decimal mark shifted? near 10 times as much or as little');
  expect(changes).toContain('unknown code');
  await marit.page.locator('::-p-text(cannot be read)').click();
  const faults = await marit.reads('is not a number in the chosen form');
  expect(faults).toMatch(/4\s+Preis je Trommel\s+auf Anfrage/);
  // mend the shifted mark in the file, bring it in again, and take it in
  await marit.click('button', 'Turn down …');
  await marit.fill('Why it is turned down', 'a shifted decimal mark');
  await marit.click('button', 'Turn it down');
  await marit.reads('turned down: a shifted decimal mark');
  writeFileSync(file, 'Code;Cost;Pack size\r\nKE1019;240,50;220\r\nKE1020;241,00;220\r\n');
  await marit.click('button', 'Bring in a cost sheet');
  await marit.pick('Supplier', 'Kelwick', 'Kelwick Ropeworks');
  await (
    (await marit.page.waitForSelector('input[type=file]')) as unknown as { uploadFile(path: string): Promise<void> }
  ).uploadFile(file);
  await marit.click('button', 'Read the file');
  await marit.click('button', 'Take in …');
  await marit.click('button', 'Take in 2 costs');
  await marit.reads('2 costs taken in');

  // 3. the items in a grid: find, type, undo
  await marit.click('link', 'Items');
  await marit.page.waitForSelector(cell(0, 0));
  await marit.fill('Find in items', 'BL-12');
  await marit.reads(/6 of [\d,]+ items/);
  await marit.page.locator(cell(0, 3)).click();
  await marit.page.keyboard.type('Norrvaag');
  await marit.press('Enter');
  await marit.page.waitForFunction(
    (s: string) => document.querySelector(s)?.textContent === 'Norrvaag',
    {},
    cell(0, 3),
  );
  await marit.page.locator(cell(0, 3)).click();
  await marit.press('Control+z');
  await marit.page.waitForFunction((s: string) => document.querySelector(s)?.textContent === 'Kelwick', {}, cell(0, 3));

  // 4. the recipe: type a margin and the markup answers; keep it
  await marit.click('link', 'Recipes');
  await marit.click('link', 'Counter, from landed cost');
  await marit.fill('Margin per cent, row 2', '40');
  await marit.page.waitForFunction(
    () => document.querySelector<HTMLInputElement>('[aria-label="Markup per cent, row 2"]')?.value === '66.67',
  );
  await marit.reads('80.00');
  await marit.click('button', 'Keep the recipe');
  await marit.reads('version 2');

  // 5. the list: posted beside computed; the build-up of a price from cost to the last line
  await marit.click('link', 'Price lists');
  await marit.choose('select.field.w-48', 'Counter');
  await marit.fill('Find in prices', 'BL-12-WH metre');
  await marit.reads(/1 of [\d,]+ prices/);
  await marit.page.locator(cell(0, 4)).click();
  const why = await marit.reads('achieved margin, of price');
  for (const line of [
    'cost',
    'per unit',
    'exchanged',
    'freight',
    'duty',
    'handling',
    'overhead',
    'margin 40 %',
    'tax',
    'ladder',
  ])
    expect(why).toContain(line);
  const before = await marit.page.$eval(cell(0, 3), (e) => e.textContent);
  const computed = await marit.page.$eval(cell(0, 4), (e) => e.textContent);
  expect(computed).not.toBe(before);

  // 6. post it; the ledger shows it; yesterday still shows the old price; reverse it
  await marit.click('button', 'Post 1 change …');
  await marit.fill('Why (stands in the ledger)', 'new costs of Kelwick');
  await marit.click('button', 'Post 1 price');
  await marit.reads('1 price posted on Counter');
  await marit.page.waitForFunction(
    (s: string, p: string | null) => document.querySelector(s)?.textContent === p,
    {},
    cell(0, 3),
    computed,
  );
  const yesterday = new Date(Date.now() - 86_400_000 * 2).toISOString().slice(0, 10);
  await marit.go(`/lists/1?day=${yesterday}`);
  await marit.reads('as it was on that day');
  await marit.fill('Find in prices', 'BL-12-WH metre');
  await marit.reads(/1 of [\d,]+ prices/);
  expect(await marit.page.$eval(cell(0, 3), (e) => e.textContent)).toBe(before);
  await marit.go('/ledger');
  await marit.reads('new costs of Kelwick');
  await marit.page.locator('table.ruled tbody tr:first-child a').click();
  await marit.click('button', 'Reverse …');
  await marit.fill('Why', 'only a try');
  await marit.click('button', 'Reverse 1 price');
  await marit.reads('price is what it was before');
  await marit.go('/lists/1');
  await marit.fill('Find in prices', 'BL-12-WH metre');
  await marit.reads(/1 of [\d,]+ prices/);
  expect(await marit.page.$eval(cell(0, 3), (e) => e.textContent)).toBe(before);

  // 7. a quote: list from the group, break by quantity, reduced under a floor, approved by a second person, printed
  const liv = await Visitor.arrive(app.browser, app.address);
  await liv.signIn('liv');
  await liv.click('link', 'Quotes');
  await liv.click('button', 'Write a quote');
  await liv.pick('Customer', 'Saltholm Boatyard', 'Saltholm Boatyard');
  await liv.fill('Add an item: code, name or barcode', 'BL-10-WH');
  await liv.press('Enter');
  await liv.reads('Boatyards: meant for the customer’s group');
  await liv.fill('Quantity, line 1', '60');
  const priced = await liv.reads('breaks: 50 to 199');
  expect(priced).not.toMatch(/margin/i);
  await liv.page.select('select[aria-label="Reduction, line 1"]', 'percent_off');
  await liv.fill('Reduction value, line 1', '17');
  await liv.reads('needs the approval of a second person');
  await liv.click('button', 'Keep the quote');
  await liv.click('button', 'Ask for approval');
  await liv.reads('waiting for approval');
  const address = new URL(liv.page.url()).pathname;
  const oskar = await Visitor.arrive(app.browser, app.address);
  await oskar.signIn('oskar');
  await oskar.reads('waits for your approval');
  await oskar.go(address);
  await oskar.click('button', 'Approve');
  await oskar.reads('Oskar approved it');
  // she sees the yes without loading the page again
  await liv.page.bringToFront();
  await liv.reads('Oskar approved it');
  await liv.click('button', 'Issue');
  await liv.reads('issued · written by Liv');
  const pdf = (await liv.page.evaluate(
    `fetch('/api' + ${JSON.stringify(address)} + '/pdf').then((r) => r.arrayBuffer()).then((b) => new TextDecoder('latin1').decode(b.slice(0, 5)) + b.byteLength)`,
  )) as string;
  expect(pdf).toMatch(/^%PDF-\d{4,}/);
  expect([marit.troubles, liv.troubles, oskar.troubles]).toEqual([[], [], []]);
});

it('by keyboard alone: sign in, read a build-up, post one price, find it in the ledger', async () => {
  const marit = await Visitor.arrive(app.browser, app.address);
  await marit.page.waitForSelector('input[name=signIn]:focus');
  await marit.page.keyboard.type('marit');
  await marit.press('Tab');
  await marit.page.keyboard.type('brannholm-demo');
  await marit.press('Enter');
  await marit.reads('What waits for Marit.');
  // tab from the rail into the work list, and follow its line to the list
  const focused = () =>
    marit.page.evaluate(
      'document.activeElement.getAttribute("aria-label") ?? document.activeElement.textContent',
    ) as Promise<string>;
  const tabTo = async (name: RegExp) => {
    for (let i = 0; i < 60; i++) {
      if (name.test(await focused())) return;
      await marit.press('Tab');
    }
    throw new Error(`Tab never reached ${String(name)}`);
  };
  await tabTo(/^Counter: \d+ posted prices differ/);
  await marit.press('Enter');
  await marit.page.waitForSelector(cell(0, 0));
  await tabTo(/^Find in prices$/);
  await marit.page.keyboard.type('AN-PL-33');
  await marit.reads(/1 of [\d,]+ prices/);
  await tabTo(/^Prices of /);
  await marit.press('ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowRight');
  await marit.reads('achieved margin, of price');
  await marit.press('Control+k');
  await marit.page.waitForSelector('[cmdk-input]:focus');
  await marit.press('Escape');
  await marit.page.evaluate('document.getElementById("main").focus()');
  await tabTo(/^Post 1 change/);
  await marit.press('Enter');
  await marit.page.waitForSelector('input[name=reason]');
  for (let i = 0; i < 12 && !(await marit.page.$('input[name=reason]:focus')); i++) await marit.press('Tab');
  await marit.page.keyboard.type('by keyboard');
  await tabTo(/^Post 1 price$/);
  await marit.press('Enter');
  await marit.reads('1 price posted on');
  await marit.press('Alt+l');
  await marit.reads('by keyboard');
  expect(marit.troubles).toEqual([]);
});

it('tries a change on every price in the page, then has it proposed, and throws that away', async () => {
  const marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
  // the page may run no text as code, and a worker prices the list all the same
  const policy = (await marit.page.goto(`${app.address}/recipes/1`))!.headers()['content-security-policy'];
  expect(policy).toContain("worker-src 'self'");
  expect(policy).not.toContain('unsafe-eval');
  await marit.click('button', 'Try it on every price');
  await marit.reads(/\d+ prices in \d+ ms, exactly as they would be proposed/);
  expect(await marit.text()).toContain('No price moves.');
  await marit.fill('Markup per cent, row 2', '75');
  await marit.reads('largest rises');
  const status = await marit.page.$eval('[role=status]', (e) => e.textContent);
  expect(status).toMatch(/rise[1-9]\d*fall0/);
  // as it would be against what customers see now
  await marit.click('button', 'against the posted prices');
  await marit.reads('against posted prices');

  // what is kept, not what was tried, is proposed; in the queue, in threads
  await marit.click('link', 'Worksheets');
  await marit.reads('The recipe has changes that are not kept');
  await marit.click('button', 'Throw it away and leave');
  await marit.click('button', 'Propose prices');
  await marit.fill('Why', 'a look at the week');
  await marit.click('button', 'Propose');
  await marit.reads('Worksheet 2: a look at the week');
  const ready = await marit.reads('prices that change');
  expect(ready).toContain('Boatyards');
  await marit.choose('select[aria-label="Which prices"]', 'all prices');
  await marit.reads(/\b\d,\d{3} prices/);
  await marit.click('button', 'Discard');
  await marit.reads('Discard worksheet 2?');
  await marit.page.locator('[role=dialog] ::-p-aria([name="Discard"][role="button"])').click();
  await marit.reads('Worksheet 2 discarded.');
  expect(marit.troubles).toEqual([]);
});

it('sets up by form what a group pays less, sees it in the price check with every list, and takes it away again', async () => {
  const marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
  const check = async () => {
    await marit.click('link', 'Price check');
    await marit.pick('Group', 'boaty', 'boatyards');
    await marit.pick('Item: code or name', 'BL-10-WH', 'Braided line 10 mm, white');
    const text = await marit.reads('Which list');
    expect(text).toContain('Boatyards');
    return Number(/(\d+\.\d\d) EUR per metre/.exec(text)![1]);
  };
  const before = await check();
  await marit.press('Control+k');
  await marit.reads('Write a quote');
  await marit.page.keyboard.type('new reduction');
  await marit.press('Enter');
  await marit.reads('New reduction');
  await marit.fill('Name', 'Late season');
  await marit.pick('or the group', 'boaty', 'boatyards');
  await marit.fill('Value', '10');
  await marit.click('button', 'Keep');
  await marit.reads('Late season');
  expect(await check()).toBeLessThan(before);
  // a record can be opened by its name from anywhere
  await marit.press('Control+k');
  await marit.page.keyboard.type('late season');
  await marit.page.waitForSelector('[cmdk-item][aria-selected="true"]');
  await marit.press('Enter');
  await marit.reads('Change this reduction');
  await marit.click('button', 'Remove');
  await marit.reads('Removed. The ledger keeps what it was.');
  expect(await check()).toBe(before);
  expect(marit.troubles).toEqual([]);
});
