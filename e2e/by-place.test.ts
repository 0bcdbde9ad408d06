import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { Visitor, startApplication } from './application.ts';

let app: Awaited<ReturnType<typeof startApplication>>;
let marit: Visitor;
const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-out-'));
beforeAll(async () => {
  app = await startApplication();
  marit = await Visitor.arrive(app.browser, app.address);
  await marit.signIn('marit');
});
afterAll(async () => {
  await app.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** Takes the file out that a step starts, once it is whole. */
async function takenOut(start: () => Promise<void>): Promise<string> {
  const client = await marit.page.createCDPSession();
  const { browserContextId } = (await client.send('Target.getTargetInfo')).targetInfo;
  await client.send('Browser.setDownloadBehavior', {
    behavior: 'allow',
    downloadPath: folder,
    ...(browserContextId ? { browserContextId } : {}),
  });
  const before = new Set(readdirSync(folder));
  await start();
  return vi.waitFor(
    () => {
      const fresh = readdirSync(folder).find((f) => !before.has(f) && !f.endsWith('.crdownload'));
      if (!fresh) throw new Error('nothing came out');
      return join(folder, fresh);
    },
    { timeout: 15_000 },
  );
}

it('Lists: prices go out to a file and come back; what differs is seen before it stands in the list', async () => {
  await marit.go('/lists/1');
  await marit.reads(/\d+ prices/);
  const file = await takenOut(async () => {
    await marit.click('button', 'To a file');
    await marit.click('menuitem', 'Text table (CSV)');
  });
  const text = readFileSync(file, 'utf8');
  const lines = text.trimEnd().split('\r\n');
  const heads = lines[0]!.replace('\ufeff', '').split(',');
  expect(heads).toEqual(expect.arrayContaining(['SKU', 'Pack']));
  // one price is changed, one is nonsense, one row is of no item of ours
  const at = lines.findIndex((l) => l.startsWith('BL-12-WH,'));
  const columns = { sku: 'BL-12-WH', pack: 'metre', price: '3.35' };
  const back = join(folder, 'back.csv');
  writeFileSync(
    back,
    `SKU,Pack,New price\r\n${columns.sku},${columns.pack},${columns.price}\r\nBL-12-WH,drum,much\r\nXX-1,each,5\r\n`,
  );
  expect(at).toBeGreaterThan(0);
  await marit.click('button', 'From a file');
  const input = await marit.page.waitForSelector('input[type=file]');
  await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(back);
  const said = await marit.reads('1 price differs from what is posted');
  expect(said).toContain('2 rows cannot be taken');
  expect(said).toContain('no item has the SKU "XX-1"');
  await marit.click('button', 'Take 1 price into the list');
  await marit.reads('1 price of the file stand in the list');
  await marit.fill('Find in prices', 'BL-12-WH metre');
  await marit.reads(/1 of [\d,]+ prices/);
  await marit.reads('3.35');
  await marit.click('button', 'Drop 1 typed price');
});

it('Lists: the same goes out as a workbook', async () => {
  const file = await takenOut(async () => {
    await marit.click('button', 'To a file');
    await marit.click('menuitem', 'Workbook (XLSX)');
  });
  // a workbook is a ZIP
  expect(readFileSync(file).subarray(0, 2).toString()).toBe('PK');
});

it('Quotes: in parts with a charge, accepted, and changed by a change order that says was, will be and the difference', async () => {
  await marit.go('/quotes/new');
  await marit.pick('Customer', 'Counter sale', 'Counter sale');
  await marit.pick('Add an item: code, name or barcode', 'BL-10-WH', 'Braided line 10 mm, white');
  await marit.fill('Quantity, line 1', '40');
  await marit.page.locator('::-p-text(in parts)').click();
  await marit.fill('Part of the quote, line 1', 'rigging');
  await marit.choose('select[aria-label="A charge to add"]', 'Rigging inspection cover');
  await marit.click('button', 'Add the charge');
  const priced = await marit.reads(/Rigging inspection cover 4 % of/);
  expect(priced).toContain('at least 45.00');
  await marit.click('button', 'Keep the quote');
  await marit.reads(/Quote \d{4}-\d{4} is kept/);
  await marit.click('button', 'Issue');
  await marit.click('button', 'Accepted by the customer');
  await marit.click('button', 'It was accepted');
  await marit.reads('As accepted');
  await marit.click('button', 'Write a change order');
  await marit.fill('What the change is', 'ten metres more');
  await marit.fill('Quantity, line 1', '50');
  const change = await marit.reads('40 → 50 metre');
  // the least of the charge holds: more goods, no more charge, and it says so
  expect(change).toContain('Rigging inspection cover: what it covers rises, but it does not.');
  await marit.click('button', 'Keep the draft');
  await marit.click('button', 'Issue the change');
  await marit.reads('Change 1 is issued');
  expect(await marit.reads('to pay with this change, EUR')).toContain('all documents together');
});

it('Items: made with a barcode, priced and posted, found by its barcode, proved, and the proof says when it no longer holds', async () => {
  await marit.go('/items');
  await marit.click('button', 'New item');
  await marit.reads('New item');
  await marit.fill('SKU', 'LAMP-9');
  await marit.fill('Name', 'Anchor light, 9 W');
  await marit.pick('Category', 'cleats', 'cleats and fairleads');
  await marit.fill('Unit', 'each');
  await marit.fill('Weight', '0.4');
  await marit.pick('Tax class', 'standard', 'standard');
  await marit.fill('Pack, pack 1', 'each');
  await marit.fill('units in it, pack 1', '1');
  await marit.fill('barcode, pack 1', '4006381333932');
  await marit.click('button', 'Keep');
  await marit.reads('is no barcode: a digit is wrong or missing');
  await marit.fill('barcode, pack 1', '4006381333931');
  await marit.click('button', 'Keep');
  await marit.reads('Kept.');
  await marit.press('Control+k');
  await marit.page.waitForSelector('[cmdk-input]:focus');
  await marit.page.keyboard.type('4006381333931');
  await marit.reads('Anchor light, 9 W');
  await marit.page.waitForSelector('[cmdk-item][aria-selected="true"]');
  await marit.press('Enter');
  await marit.reads('No cost is known yet.');
  await marit.pick('Supplier', 'Tamsin', 'Tamsin Forge');
  await marit.fill('Cost per cost pack, EUR', '12.50');
  await marit.click('button', 'Type this cost');
  await marit.reads('It holds against files until it is released');
  await marit.reads('landed');

  // proved by a price check of an item that is posted, and no longer when an entry changes it
  await marit.go('/price-check');
  await marit.pick('Item: code or name', 'BL-14-WH', 'Braided line 14 mm, white');
  await marit.reads('Which list');
  await marit.click('button', 'Keep as a proof');
  await marit.click('button', 'Keep the proof');
  await marit.reads('The proof is kept.');
  await marit.go('/setup/entries?open=new');
  await marit.reads('New entry');
  await marit.pick('On the list', 'counter', 'Counter');
  await marit.fill('Value', '7');
  await marit.click('button', 'Keep');
  await marit.reads('Kept.');
  await marit.go('/findings');
  const found = await marit.reads('2 proofs no longer come');
  expect(found).toContain('BL-14-WH, metre');
  expect(marit.troubles).toEqual([]);
});

it('Ledger: what one person asked for at the fair waits for another, who looks at it and agrees; both stand in the ledger', async () => {
  await marit.go('/today');
  await marit.reads(/Oskar asks you to agree to 2 prices/);
  await marit.click('link', 'Oskar asks you to agree to 2 prices: Stand prices for the boat fair');
  const asked = await marit.reads('BO-TEL-24');
  expect(asked).toContain('every posting on it needs a second person');
  await marit.click('button', 'Agree: post 2 prices');
  await marit.reads(/2 prices posted \(posting \d+\)/);
  await marit.go('/ledger');
  expect(await marit.reads('Stand prices for the boat fair')).toContain('Oskar and Marit');
});
