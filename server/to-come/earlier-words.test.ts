import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Workshop, openWorkshop } from '../platform/tests/workshop.ts';
import { toComeRegisters } from './routes.ts';

let shop: Workshop;
beforeAll(async () => {
  shop = await openWorkshop();
});
afterAll(() => shop.close());

const MIGRATION = new URL('../platform/migrations/0037_waiting_changes_in_the_words_of_records.sql', import.meta.url);

/** As an earlier release wrote it down, and as it is carried out now. */
const CASES: readonly [register: string, was: object, is: object][] = [
  ['categories', { parentId: '7' }, { parent: '7' }],
  ['lists', { validFrom: null, validTo: '2027-01-31', rank: 3 }, { from: null, to: '2027-01-31', rank: 3 }],
  ['floors', { itemId: '1', categoryId: null, groupId: '2' }, { item: '1', category: null, group: '2' }],
  ['customers', { groupId: null }, { groups: [] }],
  ['customers', { otherGroups: ['9'] }, { groups: ['1', '9'] }],
  ['customers', { active: false }, { active: false }],
  [
    'suppliers',
    { dutyPercent: '5', handlingAmount: null, usualOrder: '6' },
    {
      landed: {
        freight: { per: 'kg', amount: { amount: '0.85', currency: 'EUR' } },
        dutyPercent: '5',
        handling: null,
        overheadPercent: '1.5',
        orderFee: null,
        usualOrder: '6',
      },
    },
  ],
  ['recipes', { costSide: 'usual' }, { basis: { kind: 'landed', list: null, cost: 'usual' } }],
  [
    'recipes',
    {
      basis: 'list',
      basisList: '1',
      uplift: [
        { category: '1', bandFrom: null, bandTo: '50', method: 'markup', value: '60', currency: null },
        { item: null, bandFrom: null, bandTo: null, method: 'add', value: '2', currency: 'GBP' },
      ],
      guards: [
        { kind: 'least_price', percent: null, amount: '3', currency: 'EUR' },
        { kind: 'least_margin', percent: '12', amount: null, currency: null },
      ],
    },
    {
      basis: { kind: 'list', list: '1', cost: 'paid' },
      uplift: [
        {
          id: '1',
          scope: { category: '1', band: { from: '0', to: '50' } },
          method: 'markup',
          value: '60',
          currency: null,
        },
        { id: '2', scope: {}, method: 'add', value: '2', currency: 'GBP' },
      ],
      guards: [
        { kind: 'least_price', percent: null, amount: { amount: '3', currency: 'EUR' } },
        { kind: 'least_margin', percent: '12', amount: null },
      ],
    },
  ],
];

it('a change planned with an earlier release is carried out on its day: what it says is named as records name it now', async () => {
  const { pool } = shop.database;
  const ids: number[] = [];
  for (const [register, was] of CASES) {
    const { rows } = await pool.query<{ id: number }>(
      `insert into changes_to_come (register, record_id, day, reason, fields, moves, made_by, made_at)
       values ($1, 1, '2027-01-01', 'kept', $2, '[]', (select min(id) from people), now()) returning id`,
      [register, JSON.stringify(was)],
    );
    ids.push(rows[0]!.id);
  }
  for (const statement of (await readFile(MIGRATION, 'utf8')).split('--> statement-breakpoint'))
    await shop.asOwner(statement);
  const { rows } = await pool.query<{ fields: object }>(
    'select fields from changes_to_come where id = any($1) order by id',
    [ids],
  );
  expect(rows.map((r) => r.fields)).toEqual(CASES.map(([, , is]) => is));
  // and no register meets a word that it does not know
  for (const [i, [register]] of CASES.entries()) {
    const known = Object.keys(toComeRegisters.find((r) => r.name === register)!.body.fields);
    expect(Object.keys(rows[i]!.fields).filter((field) => !known.includes(field))).toEqual([]);
  }
});
