import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import puppeteer, { type Page } from 'puppeteer-core';
import { DEMO_PASSWORD } from '#demo/brannholm.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
const CHANGES = 15;

/** One percentage changed over 100,000 prices that a page holds: from the change to the answer, in Chromium. */
export const benchBrowser = (): Promise<void> =>
  withLargeDatabase(100_000, async (_, url) => {
    execFileSync('npx', ['--no-install', 'vite', 'build', '--logLevel', 'error'], { cwd: root });
    execFileSync(process.execPath, ['bin/compile-server.mjs'], { cwd: root });
    const server = spawn(process.execPath, ['--enable-source-maps', '.build/server/main.js', '--port', '0'], {
      cwd: root,
      env: { ...process.env, DATABASE_URL: url },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const profile = mkdtempSync(join(tmpdir(), 'hard-ledger-browser-'));
    const browser = await puppeteer.launch({
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      headless: true,
      userDataDir: profile,
      args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-sync'],
    });
    try {
      const address = await new Promise<string>((done) =>
        server.stdout.on('data', (text: Buffer) => {
          const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(text));
          if (found) done(found[0]);
        }),
      );
      await tryChanges(await browser.newPage(), address);
    } finally {
      await browser.close();
      server.kill('SIGTERM');
      rmSync(profile, { recursive: true, force: true });
    }
  });

async function tryChanges(page: Page, address: string): Promise<void> {
  page.setDefaultTimeout(120_000);
  await page.goto(address);
  await (await page.waitForSelector('input[name=signIn]'))!.type('marit');
  await page.type('input[name=password]', DEMO_PASSWORD);
  await page.keyboard.press('Enter');
  await page.waitForSelector('nav');
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
