import fc from 'fast-check';
import { asc } from 'drizzle-orm';
import { integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core';
import type { PoolClient } from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { items } from '../items/tables.ts';
import { copyCatalogue, selectCatalogue } from '../workspace/catalogue-rows.ts';
import { copyField, copyIn, copyOut, copyRows } from './copy.ts';
import { type Workshop, openWorkshop } from './tests/workshop.ts';

let shop: Workshop;
let client: PoolClient;
beforeAll(async () => {
  shop = await openWorkshop();
  client = await shop.database.pool.connect();
});
afterAll(async () => {
  client.release();
  await shop.close();
});

/** PostgreSQL keeps no zero byte, and no half of a pair. */
const anyText = fc
  .string({
    unit: fc.oneof(fc.constantFrom('\t', '\n', '\r', '\\', '\b', '\f', '\v', 'ö', '🪢', 'N'), fc.string()),
    maxLength: 12,
  })
  .map((s) => s.replaceAll('\0', ''))
  .filter((s) => Buffer.from(s).toString() === s);

describe('rows by COPY', () => {
  it('come out as they went in, whatever a name holds', async () => {
    await client.query('create temporary table words (id int, word text)');
    await fc.assert(
      fc.asyncProperty(fc.array(fc.option(anyText), { maxLength: 20 }), async (words) => {
        await client.query('truncate words');
        await copyIn(client, 'words', [words.map((w, i) => `${i}\t${copyField(w)}\n`).join('')]);
        const stored = await client.query<{ word: string | null }>('select word from words order by id');
        expect(stored.rows.map((r) => r.word)).toEqual(words);
      }),
      { numRuns: 100 },
    );
  });

  it('are read as a query reads them: numbers, figures, truths, attributes and letters of several bytes', async () => {
    await client.query(
      `update items set name = E'Tau\\t"gef\\u00e4rbt"\\\\\\n\\U0001FAA2\\v', attributes = '{"colour": "bl\\u00e5\\n"}' where sku = 'BL-12'`,
    );
    const day = '2026-03-09';
    const slow = await selectCatalogue(shop.context.db, day);
    const fast = await copyCatalogue(client, day);
    expect(fast).toEqual(slow);
    expect(fast.costs[0]!.cost.amount).toMatch(/^\d/);
    expect(fast.items.flatMap((i) => i.packs)).not.toHaveLength(0);
    expect(slow.items.find((i) => i.sku === 'BL-12')!.name).toContain('\t');
  });

  it('share the values that many rows have, and keep those apart that look alike', async () => {
    await client.query(`create temp table likes as select n, case n % 3 when 0 then null when 1 then 'null' else '' end as word,
      'a name of its own ' || n as name, json_build_object('n', n % 2)::jsonb as facts from generate_series(1, 5000) n`);
    const likes = pgTable('likes', { n: integer(), word: text(), name: text(), facts: jsonb() });
    const rows: (typeof likes.$inferSelect)[] = [];
    await copyRows(client, likes, ['n', 'word', 'name', 'facts'], 'order by n', (row) => rows.push(row));
    expect(rows).toEqual(
      Array.from({ length: 5000 }, (_, i) => ({
        n: i + 1,
        word: [null, 'null', ''][(i + 1) % 3],
        name: `a name of its own ${i + 1}`,
        facts: { n: (i + 1) % 2 },
      })),
    );
    expect(rows[0]!.facts).toBe(rows[2]!.facts);
  });

  it('leave nothing behind when what is sent breaks off', async () => {
    async function* breaking() {
      yield '1\tone\n';
      await Promise.resolve();
      throw new Error('broken off');
    }
    await client.query('truncate words');
    await expect(copyIn(client, 'words', breaking())).rejects.toThrow('broken off');
    expect((await client.query('select count(*)::int as n from words')).rows).toEqual([{ n: 0 }]);
  });

  it('come in many pieces from a large table, none lost', async () => {
    const ids: number[] = [];
    for await (const lines of copyOut(client, "select n, repeat('å', 50) from generate_series(1, 20000) n"))
      for (const line of lines) {
        const [id, text] = line.split('\t') as [string, string];
        expect(text).toHaveLength(50);
        ids.push(Number(id));
      }
    expect(ids).toEqual(Array.from({ length: 20000 }, (_, i) => i + 1));
    const copied: object[] = [];
    await copyRows(client, items, ['sku'], 'order by id', (row) => copied.push(row));
    expect(copied).toEqual(await shop.context.db.select({ sku: items.sku }).from(items).orderBy(asc(items.id)));
  });
});
