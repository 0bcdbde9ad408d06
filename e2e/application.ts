import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import puppeteer, { type Browser, type ElementHandle, type Page } from 'puppeteer-core';
import { inject } from 'vitest';
import { type Addresses, createDatabase } from '#server/platform/tests/create-database.ts';

const root = fileURLToPath(new URL('..', import.meta.url));
export const PASSWORD = 'brannholm-demo';

/** Services of suppliers run on this machine in these tests. */
const envOf = ({ owner, use }: Addresses) => ({
  ...process.env,
  DATABASE_URL: use,
  MIGRATIONS_URL: owner,
  SUPPLIER_HOSTS: '127.0.0.1',
});

/** The real application on a database of its own, a copy of the one with the demo in it, and a browser. */
export const startApplication = async () =>
  startApplicationOn(await createDatabase(inject('addresses'), inject('demo')));

/** The same on another database. */
export async function startApplicationOn(database: Addresses) {
  const env = envOf(database);
  const server = spawn(join(root, 'bin/serve'), ['--port', '0'], {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((done) =>
    server.stdout.on('data', (text: Buffer) => {
      const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(text));
      if (found) done(found[0]);
    }),
  );
  const profile = mkdtempSync(join(tmpdir(), 'hard-ledger-browser-'));
  const browser = await puppeteer.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    headless: true,
    userDataDir: profile,
    defaultViewport: { width: 1280, height: 800 },
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--lang=en-GB',
    ],
  });
  return {
    address,
    browser,
    stop: async () => {
      await browser.close();
      server.kill('SIGTERM');
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

/** How often a page is looked at while something is waited for: at every frame that costs more than the page itself. */
const MOST_TRIES = 4;
const LOOK = { polling: 100 } as const;

/** A person at a browser of their own; what goes wrong in the page fails the test. */
export class Visitor {
  readonly troubles: string[] = [];
  private constructor(
    readonly page: Page,
    readonly address: string,
  ) {
    page.setDefaultTimeout(20_000);
    page.on('pageerror', (e) => this.troubles.push(e instanceof Error ? e.message : String(e)));
    page.on(
      'console',
      (m) => m.type() === 'error' && !/status of 4\d\d/.test(m.text()) && this.troubles.push(m.text()),
    );
  }

  static async arrive(browser: Browser, address: string): Promise<Visitor> {
    const context = await browser.createBrowserContext();
    const visitor = new Visitor(await context.newPage(), address);
    await visitor.page.evaluateOnNewDocument(
      "localStorage.setItem('hard-ledger', localStorage.getItem('hard-ledger') ?? JSON.stringify({ theme: 'light', form: 'point' }))",
    );
    await visitor.go('/');
    return visitor;
  }

  async go(path: string): Promise<void> {
    await this.page.goto(this.address + path);
  }

  async signIn(name: string): Promise<void> {
    await this.fill('Sign-in name', name);
    await this.fill('Password', PASSWORD);
    await this.click('button', 'Sign in');
    await this.page.waitForSelector('nav[aria-label="Places"]');
  }

  /** Finds by role and name, as those who hear the page do. */
  async find(role: string, name: string): Promise<ElementHandle<Element>> {
    const found = await this.page.waitForSelector(`::-p-aria([name="${name}"][role="${role}"])`, { visible: true });
    if (!found) throw new Error(`${role} "${name}" is not on the page`);
    return found;
  }

  /** Clicks, and sees that the click arrived: where the page was drawn anew beneath it, or the button switched off, it is tried again. */
  async click(role: string, name: string): Promise<void> {
    for (let tries = 1; ; tries++) {
      const target = await this.find(role, name);
      await target
        .evaluate((e) => {
          // what is at the end of a long form lies behind its buttons
          e.scrollIntoView({ block: 'center' });
          document.body.dataset['click'] = 'missed';
          // what opens a menu, and what stands in one, acts when it is pressed: no click follows. All else may be switched off
          // between press and click, by an answer that arrives
          const pressed = e.ariaHasPopup || /^(combobox|option|menuitem)/.test(e.role ?? '');
          const arrives = () => delete document.body.dataset['click'];
          e.addEventListener(pressed ? 'pointerdown' : 'click', arrives, { once: true, capture: true });
        })
        .then(() => target.asLocator().setTimeout(10_000).click())
        .catch((error: unknown) => {
          if (tries === MOST_TRIES) throw error;
        });
      const missed = await this.page
        .evaluate(() => document.body.dataset['click'] === 'missed')
        // the page went elsewhere: it was clicked
        .catch(() => false);
      if (!missed) return;
      if (tries === MOST_TRIES)
        throw new Error(`${role} "${name}" cannot be clicked; the page reads:\n${await this.text()}`);
    }
  }

  /** A field by its label; what stood in it is replaced. */
  async fill(label: string, text: string, role = ''): Promise<void> {
    const field = await this.page.waitForSelector(`::-p-aria(${label}${role})`, { visible: true });
    await field!.click({ count: 3 });
    await field!.type(text);
  }

  /** Types into a field that finds records, and takes the first once it is shown. */
  async pick(label: string, text: string, shown: string): Promise<void> {
    await this.fill(label, text, '[role="combobox"]');
    await this.page
      .waitForFunction(
        (s: string) => document.querySelector('[role=option][aria-selected=true]')?.textContent.includes(s),
        LOOK,
        shown,
      )
      .catch(async () => {
        throw new Error(`"${shown}" is not the first that is found; the page reads:\n${await this.text()}`);
      });
    await this.press('Enter');
  }

  /** Chooses one of a few; `selector` names a control as if it were the browser's own. */
  async choose(selector: string, title: string): Promise<void> {
    const own = selector.replace('select', 'button[role=combobox]').replace('[name=', '[data-name=');
    const control = (await this.page.waitForSelector(`${selector}, ${own}`, { visible: true }))!;
    const native = await control.evaluate((c) => c.tagName === 'SELECT');
    // by key: what lies over a long form is not in its way
    if (!native) await control.focus().then(() => this.press('ArrowDown'));
    const options = native ? `${selector} option` : '[role=option]';
    await this.page.waitForFunction(
      (of: string, t: string) => [...document.querySelectorAll(of)].some((o) => o.textContent?.includes(t)),
      LOOK,
      options,
      title,
    );
    if (native) {
      const value = await this.page.$$eval(
        options,
        (all, t) => (all as HTMLOptionElement[]).find((o) => o.textContent?.includes(t))!.value,
        title,
      );
      await this.page.select(selector, value);
      return;
    }
    const titles = await this.page.$$eval(options, (all) => all.map((o) => o.textContent ?? ''));
    const at = titles.includes(title) ? titles.indexOf(title) : titles.findIndex((t) => t.includes(title));
    await (await this.page.$$(options))[at]!.click();
    await this.page.waitForSelector('[role=listbox]', { hidden: true });
  }

  /** Waits until the page says something. */
  async reads(text: string | RegExp): Promise<string> {
    const [source, flags] =
      typeof text === 'string' ? [text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'), ''] : [text.source, text.flags];
    await this.page
      .waitForFunction((s: string, f: string) => new RegExp(s, f).test(document.body.innerText), LOOK, source, flags)
      .catch(async () => {
        throw new Error(`the page never read ${String(text)}; it reads:\n${(await this.text()).slice(0, 3000)}`);
      });
    return this.text();
  }

  text(): Promise<string> {
    return this.page.evaluate('document.body.innerText') as Promise<string>;
  }

  async press(...keys: string[]): Promise<void> {
    for (const chord of keys) {
      const parts = chord.split('+');
      const last = parts.pop()!;
      for (const k of parts) await this.page.keyboard.down(k as 'Control');
      await this.page.keyboard.press(last as 'Enter');
      for (const k of parts.reverse()) await this.page.keyboard.up(k as 'Control');
    }
  }
}
