import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, inject, it } from 'vitest';
import { writeWorkspace } from '#contract/workspace-file/workspace-file.ts';
import { plusDays } from '#core/numbers/day.ts';
import { dec, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { Dice } from '#core/numbers/dice.ts';
import { ListRows } from '#server/lists/list-rows.ts';
import { listTable } from '#server/lists/list-table.ts';
import type { Context } from '#server/platform/context.ts';
import { stateOn } from '#server/workspace/asked-day.ts';
import { checkPrice } from '#server/quotes/check-price.ts';
import { openDatabase } from '#server/platform/database.ts';
import { createDatabase } from '#server/platform/tests/create-database.ts';
import { worksheetLists } from '#server/worksheets/tables.ts';
import { workspaceOn } from '#server/workspace/state.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

const QUESTIONS = 2000;

interface Answered {
  ok: boolean;
  unitPrice?: string;
  total?: string;
  list?: string;
  reason?: { code: string };
}

/** An average over slices is shown with four places. */
const shownAs = (price: string | null | undefined): string | null => (price ? plain(roundHalfUp(dec(price), 4)) : null);

it(`the file that is written out answers ${QUESTIONS} questions about the demo as the server does`, async () => {
  const { use } = await createDatabase(inject('addresses'), inject('demo'));
  const database = openDatabase(use);
  const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-file-'));
  try {
    const today = new Date().toISOString().slice(0, 10);
    const loaded = await workspaceOn(database.db, today);
    const { items, customers, groups, regions } = loaded.ws.workspace;
    const dice = new Dice(2026);
    const now = Array.from({ length: QUESTIONS }, () => {
      const item = dice.pick(items);
      const named = dice.next() < 0.6;
      const abroad = dice.next() < 0.5;
      return {
        item: item.id,
        pack: dice.pick(item.packs).id,
        customer: named ? dice.pick(customers).id : null,
        group: named ? null : dice.next() < 0.5 ? dice.pick(groups).id : null,
        country: abroad ? dice.pick(dice.pick(regions).countries) : null,
        channel: dice.next() < 0.1 ? 'boat fair' : null,
        quantity: String(dice.whole(1, 300)),
        // some in the next weeks, when dated entries begin and end
        day: dice.next() < 0.7 ? today : plusDays(today, dice.pick([5, 16, 30])),
      };
    });
    const [workspace, questions] = [join(folder, 'workspace.json'), join(folder, 'questions.json')];
    writeFileSync(workspace, writeWorkspace(loaded.ws.workspace));
    const asked = now.map(({ group, ...q }) => ({ kind: 'price', ...q, ...(group ? { groups: [group] } : {}) }));
    writeFileSync(questions, JSON.stringify(asked));
    const ran = spawnSync(fileURLToPath(new URL('../bin/price', import.meta.url)), [workspace, questions], {
      encoding: 'utf8',
      maxBuffer: 1 << 28,
    });
    expect(ran.stderr.replaceAll(/^npm warn.*\n/gm, '')).toBe('');
    const answers = JSON.parse(ran.stdout) as Answered[];
    expect(answers).toHaveLength(QUESTIONS);
    const different: unknown[] = [];
    let priced = 0;
    for (const [i, question] of now.entries()) {
      const on = await workspaceOn(database.db, question.day);
      const { figures, list } = await checkPrice(database.db, on, question, true);
      const line = figures.lines[0]!;
      const told = answers[i]!;
      if (told.ok) priced++;
      const [server, file] = [
        [line.reason, shownAs(line.unitPrice), line.total, line.unitPrice === null ? null : (list?.id ?? null)],
        [told.ok ? null : line.reason, shownAs(told.unitPrice), told.total ?? null, told.list ?? null],
      ];
      if (JSON.stringify(server) !== JSON.stringify(file) || told.ok !== (line.reason === null))
        different.push({ question, server, file, told });
    }
    expect(different.slice(0, 3)).toEqual([]);
    // most of them have a price: an agreement about nothing would show nothing
    expect(priced).toBeGreaterThan(QUESTIONS / 2);
  } finally {
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  }
});

it('what Today counts of every list is what the list itself shows', async () => {
  const { use } = await createDatabase(inject('addresses'), inject('demo'));
  const database = openDatabase(use);
  try {
    const loaded = await workspaceOn(database.db, new Date().toISOString().slice(0, 10));
    const lists = loaded.ws.workspace.lists.filter((l) => l.recipe);
    expect(lists.length).toBeGreaterThan(4);
    for (const list of lists) {
      const { looks } = await listTable(loaded, list);
      const rows: ListPriceRow[] = [];
      for await (const row of new ListRows(loaded, list, true).all()) rows.push(row);
      const differs = (r: ListPriceRow) => r.posted !== null && r.proposed !== null && r.posted !== r.proposed;
      expect(looks).toMatchObject({
        changed: rows.filter(differs).length,
        new: rows.filter((r) => r.posted === null && r.proposed !== null).length,
        without: rows.filter((r) => r.proposed === null).length,
        held: rows.filter((r) => r.flag === 'floor_above_ceiling').length,
        loss: rows.filter((r) => r.marginBefore?.startsWith('-')).length,
      });
    }
  } finally {
    await database.close();
  }
});

it('no price of the demo’s worksheet looks as if it had never been posted: all of them have', async () => {
  const { use } = await createDatabase(inject('addresses'), inject('demo'));
  const database = openDatabase(use);
  try {
    const lists = await database.db.select().from(worksheetLists);
    expect(lists.length).toBeGreaterThan(4);
    expect(lists.map((l) => [l.listId, l.first])).toEqual(lists.map((l) => [l.listId, 0]));
  } finally {
    await database.close();
  }
});

it('a day before a break was raised is answered with the break of then', async () => {
  const { use } = await createDatabase(inject('addresses'), inject('demo'));
  const database = openDatabase(use);
  try {
    const today = new Date().toISOString().slice(0, 10);
    const context = { db: database.db, now: () => new Date() } as unknown as Context;
    const breaks = async (day: string) => {
      const loaded = await stateOn(context, day);
      const { items, customers } = loaded.ws.workspace;
      const item = items.find((i) => i.sku === 'BL-10-WH')!;
      const customer = customers.find((c) => c.name === 'Saltholm Boatyard')!.id;
      const buyer = { customer, group: null, country: null, channel: null };
      const question = { ...buyer, item: item.id, pack: item.packs[0]!.id, quantity: '60', day };
      const { figures } = await checkPrice(database.db, loaded, question, true);
      return figures.lines[0]!.steps.find((s) => s.kind === 'break')?.operation;
    };
    expect(await breaks(today)).toMatchObject({ value: '6' });
    expect(await breaks(plusDays(today, -61))).toMatchObject({ value: '5' });
  } finally {
    await database.close();
  }
});
