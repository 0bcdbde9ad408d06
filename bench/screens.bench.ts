import type { Page } from 'puppeteer-core';
import { LargeScreens } from '../e2e/large-screens.ts';
import { inBrowser } from './in-browser.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';

const ITEMS = 100_000;
const PASTED = 5_000;

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
  const screens = new LargeScreens(page, address);
  await screens.open('/lists/1');
  await step('opened again', () => screens.open('/lists/1'));
  await (await screens.cell(0, '1')).click();
  await step('to the end', () => screens.toTheEnd(ITEMS));
  await screens.toTheTop();
  await step('sorted', () => screens.sortBy('computed, EUR'));
  await step('filtered', () => screens.find('ST-0999', /^\d+ of 100,000 prices$/));
  await screens.open('/items');
  const brand = await screens.columnOf('Brand');
  await step(`${PASTED.toLocaleString('en-GB')} cells pasted and kept`, () =>
    screens.paste(brand, 'Own brand', PASTED),
  );
  await step('all of it undone', () => screens.undo());
  say(`screens of ${ITEMS.toLocaleString('en-GB')}: ${told.join('; ')}`);
}
