import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import puppeteer, { type Page } from 'puppeteer-core';
import { DEMO_PASSWORD } from '#demo/brannholm.ts';

const root = fileURLToPath(new URL('..', import.meta.url));

/** The built application on a database, with somebody signed in at a page of a real browser. */
export async function inBrowser(url: string, work: (page: Page, address: string) => Promise<void>): Promise<void> {
  execFileSync('npx', ['--no-install', 'vite', 'build', '--logLevel', 'error'], { cwd: root });
  execFileSync(process.execPath, ['bin/compile-server.mjs'], { cwd: root });
  const server = spawn(join(root, 'bin/serve'), ['--port', '0'], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: url },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const profile = mkdtempSync(join(tmpdir(), 'hard-ledger-browser-'));
  const browser = await puppeteer.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    headless: true,
    userDataDir: profile,
    defaultViewport: { width: 1280, height: 800 },
    args: ['--no-sandbox', '--disable-gpu', '--no-first-run', '--disable-background-networking', '--disable-sync'],
  });
  try {
    const address = await new Promise<string>((done) =>
      server.stdout.on('data', (text: Buffer) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(text));
        if (found) done(found[0]);
      }),
    );
    const page = await browser.newPage();
    page.setDefaultTimeout(120_000);
    await page.goto(address);
    await (await page.waitForSelector('input[name=signIn]'))!.type('marit');
    await page.type('input[name=password]', DEMO_PASSWORD);
    await page.keyboard.press('Enter');
    await page.waitForSelector('nav');
    await work(page, address);
  } finally {
    await browser.close();
    server.kill('SIGTERM');
    rmSync(profile, { recursive: true, force: true });
  }
}
