import type { Page } from 'puppeteer-core';
import { inBrowser } from './in-browser.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';

const ITEMS = 100_000;
const PASTED = 5_000;

const GRID = '[role=grid]';
/** The last row of a grid, as it counts them: with its head. */
const LAST = `[role=row][aria-rowindex="${ITEMS + 1}"]`;

/** What somebody does on a list and the items of 100,000, in Chromium: how long each takes, and the longest task of the page meanwhile. */
export const benchScreens = (): Promise<void> => withLargeDatabase(ITEMS, (_, url) => inBrowser(url, journey));

/** Tasks of the page that took longer than 50 ms, since the last look. */
const longest = (page: Page) =>
  page.evaluate(() => {
    const tasks = (window as unknown as { tasks?: number[] }).tasks ?? [];
    return Math.round(Math.max(0, ...tasks.splice(0)));
  });

async function journey(page: Page, address: string): Promise<void> {
  await page.evaluateOnNewDocument(() => {
    const tasks: number[] = [];
    (window as unknown as { tasks: number[] }).tasks = tasks;
    new PerformanceObserver((list) => tasks.push(...list.getEntries().map((e) => e.duration))).observe({
      type: 'longtask',
      buffered: true,
    });
  });
  const told: string[] = [];
  const step = async (what: string, work: () => Promise<unknown>) => {
    await longest(page);
    const start = performance.now();
    await work();
    const took = performance.now() - start;
    told.push(`${what} ${took.toFixed(0)} ms (longest task ${await longest(page)})`);
  };
  const cell = async (row: number, column: string) =>
    (await page.waitForSelector(`[role=row][aria-rowindex="${row + 2}"] [role=gridcell][aria-colindex="${column}"]`))!;
  const counts = (text: string) =>
    page.waitForFunction(
      (t: string) =>
        [...document.querySelectorAll('[role=status]')].some((s) => new RegExp(t).test(s.textContent ?? '')),
      {},
      text,
    );

  await page.goto(`${address}/lists/1`);
  await page.waitForSelector(`${GRID} [role=gridcell]`);
  await step('opened again', async () => {
    await page.goto(`${address}/lists/1`);
    await page.waitForSelector(`${GRID} [role=gridcell]`);
  });
  await (await cell(0, '1')).click();
  const chord = async (...keys: ('Control' | 'End' | 'Home' | 'z')[]) => {
    for (const key of keys) await page.keyboard.down(key);
    for (const key of [...keys].reverse()) await page.keyboard.up(key);
  };
  await step('to the end', async () => {
    await chord('Control', 'End');
    await page.waitForSelector(`${LAST} [role=gridcell]`);
  });
  await chord('Control', 'Home');
  await step('sorted', async () => {
    await page.click('[role=columnheader] button[title^="computed"]');
    await page.waitForSelector('[role=columnheader][aria-sort=ascending]');
    await page.waitForSelector(`${GRID}[aria-busy=false], ${GRID}:not([aria-busy])`);
  });
  await step('filtered', async () => {
    await page.type('input[type=search][aria-label="Find in prices"]', 'ST-0999');
    await counts('^\\d+ of 100,000 prices$');
  });
  await page.goto(`${address}/items`);
  await page.waitForSelector(`${GRID} [role=gridcell]`);
  const brand = await page.$eval('[role=columnheader]:has(button[title^="Brand"])', (h) =>
    h.getAttribute('aria-colindex'),
  );
  await (await cell(0, brand!)).click();
  /** Until the server has kept it. */
  const kept = () =>
    page.waitForResponse((r) => r.request().method() !== 'GET' && new URL(r.url()).pathname.startsWith('/api/items'));
  await step(`${PASTED.toLocaleString('en-GB')} cells pasted and kept`, async () => {
    const done = kept();
    await page.evaluate(
      (selector: string, text: string) => {
        const data = new DataTransfer();
        data.setData('text/plain', text);
        const paste = new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true });
        document.querySelector(selector)!.dispatchEvent(paste);
      },
      GRID,
      Array.from({ length: PASTED }, () => 'Own brand').join('\n'),
    );
    await done;
  });
  await step('all of it undone', async () => {
    const done = kept();
    await chord('Control', 'z');
    await done;
  });
  say(`screens of ${ITEMS.toLocaleString('en-GB')}: ${told.join('; ')}`);
}
