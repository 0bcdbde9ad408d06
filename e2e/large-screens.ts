import type { ElementHandle, Page } from 'puppeteer-core';

const GRID = '[role=grid]';

/** What somebody does on grids of many rows, by keyboard and mouse; each ends once the page shows it, or the server has kept it. */
export class LargeScreens {
  constructor(
    readonly page: Page,
    private readonly address: string,
  ) {}

  async open(path: string): Promise<void> {
    await this.page.goto(this.address + path);
    await this.page.waitForSelector(`${GRID} [aria-colindex]`);
    await this.settled();
  }

  /** Until every row that is drawn is there, and none is the place of one. */
  private async settled(): Promise<void> {
    await this.page.waitForFunction(
      (grid: string) =>
        document.querySelector(grid)?.getAttribute('aria-busy') !== 'true' &&
        !document.querySelector(`${grid} [role=gridcell]:not([aria-colindex])`),
      {},
      GRID,
    );
  }

  /** A cell by its row, counted from 0, and the number of its column. */
  async cell(row: number, column: string): Promise<ElementHandle<Element>> {
    const at = `[role=row][aria-rowindex="${row + 2}"] [role=gridcell][aria-colindex="${column}"]`;
    return (await this.page.waitForSelector(at))!;
  }

  /** The number of the column under a heading. */
  columnOf(heading: string): Promise<string> {
    const at = `[role=columnheader]:has(button[title^="${heading}"])`;
    return this.page.$eval(at, (h) => h.getAttribute('aria-colindex')!);
  }

  /** What a column shows in the rows that are drawn, from top to bottom. */
  async shown(column: string): Promise<string[]> {
    const cells = await this.page.$$eval(`${GRID} [role=gridcell][aria-colindex="${column}"]`, (all) =>
      all.map((c) => {
        const row = c.closest('[role=row]')!;
        // a cell that is flatter than its row cannot be read
        const whole = c.getBoundingClientRect().height === row.getBoundingClientRect().height;
        return [Number(row.getAttribute('aria-rowindex')), whole ? (c.textContent ?? '') : ''] as const;
      }),
    );
    return cells.sort((a, b) => a[0] - b[0]).map(([, text]) => text);
  }

  private async chord(...keys: ('Control' | 'End' | 'Home' | 'z')[]): Promise<void> {
    for (const key of keys) await this.page.keyboard.down(key);
    for (const key of [...keys].reverse()) await this.page.keyboard.up(key);
  }

  async toTheTop(): Promise<void> {
    await this.chord('Control', 'Home');
    await this.page.waitForSelector('[role=row][aria-rowindex="2"] [aria-colindex]');
    await this.settled();
  }

  /** `rows`: how many there are. */
  async toTheEnd(rows: number): Promise<void> {
    await this.chord('Control', 'End');
    await this.page.waitForSelector(`[role=row][aria-rowindex="${rows + 1}"] [aria-colindex]`);
    await this.settled();
  }

  async sortBy(heading: string): Promise<void> {
    const sorted = this.page.waitForResponse((r) => new URL(r.url()).searchParams.has('sort'));
    await this.page.click(`[role=columnheader] button[title^="${heading}"]`);
    await sorted;
    await this.page.waitForSelector('[role=columnheader][aria-sort=ascending]');
    await this.settled();
  }

  /** What the page says of how many there are once a text is looked for: "12 of 100,000 prices". */
  async find(text: string, said: RegExp): Promise<string> {
    await this.page.type('input[type=search][aria-label="Find in prices"]', text);
    const found = await this.page.waitForFunction(
      (of: string) =>
        [...document.querySelectorAll('[role=status]')]
          .map((s) => s.textContent ?? '')
          .find((t) => new RegExp(of).test(t)),
      {},
      said.source,
    );
    await this.settled();
    return (await found.jsonValue())!;
  }

  /** Puts a text into so many cells of a column, from the first row on. */
  async paste(column: string, text: string, rows: number): Promise<void> {
    await (await this.cell(0, column)).click();
    const kept = this.kept();
    await this.page.evaluate(
      (selector: string, pasted: string) => {
        const data = new DataTransfer();
        data.setData('text/plain', pasted);
        const paste = new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true });
        document.querySelector(selector)!.dispatchEvent(paste);
      },
      GRID,
      Array.from({ length: rows }, () => text).join('\n'),
    );
    await kept;
  }

  async undo(): Promise<void> {
    const kept = this.kept();
    await this.chord('Control', 'z');
    await kept;
  }

  private kept() {
    return this.page.waitForResponse(
      (r) => r.request().method() !== 'GET' && new URL(r.url()).pathname.startsWith('/api/items'),
    );
  }
}
