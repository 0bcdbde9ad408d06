import type { Page } from 'puppeteer-core';
import { inBrowser } from './in-browser.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';

const CHANGES = 15;

/** One percentage changed over 100,000 prices that a page holds: from the change to the answer, in Chromium. */
export const benchBrowser = (): Promise<void> => withLargeDatabase(100_000, (_, url) => inBrowser(url, tryChanges));

async function tryChanges(page: Page, address: string): Promise<void> {
  await page.goto(`${address}/recipes/1`);
  const start = performance.now();
  await (await page.waitForSelector('::-p-aria([name="Try it on every price"][role="button"])'))!.click();
  await page.waitForSelector('[role=status]');
  const loaded = (performance.now() - start) / 1000;
  const field = (await page.waitForSelector('input[aria-label="Markup per cent, row 2"]'))!;
  const times: number[] = [];
  let last = await page.$eval('[role=status]', (e) => e.textContent);
  for (let n = 0; n < CHANGES; n++) {
    await field.click({ count: 3 });
    // the last key makes the change that is timed
    await field.type(String(61 + (n % 7)));
    last = await page
      .waitForFunction(
        (before: string) => {
          const now = document.querySelector('[role=status]')?.textContent ?? '';
          return now !== before && now;
        },
        {},
        last,
      )
      .then((found) => found.jsonValue() as Promise<string>);
    const said = await page.evaluate('document.body.innerText');
    times.push(Number(/ prices in (\d+) ms/.exec(said as string)![1]));
  }
  times.sort((a, b) => a - b);
  say(
    `the browser, 100,000 prices held: a changed percentage answers in ${times[Math.floor(CHANGES / 2)]} ms (median of ${CHANGES}; ${times[0]} to ${times.at(-1)}); the list was there after ${loaded.toFixed(1)} s`,
  );
}
