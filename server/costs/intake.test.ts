import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { CostIntake, SheetView } from '#contract/costs.ts';
import type { Context } from '../platform/context.ts';
import { bringFile } from '../platform/tests/bring-sheet.ts';
import { type Person, TODAY, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { carryOutIntake, leftIntakes, takeInOrOrder } from './intake.ts';

const ROWS = 12_000;
let shop: Workshop;
let admin: Person;
let sheet: SheetView;
/** As the application does it, but that nobody carries out what is ordered. */
let later: Context;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  later = { ...shop.context, jobs: { enqueue: () => Promise.resolve() } };
  const rows = Array.from({ length: ROWS }, (_, i) => `BULK-${i},Part ${i},${(i % 900) + 1}.${String(i % 100)},1`);
  const view = await bringFile(shop, admin, `Code,Description,Net price,Pack size\n${rows.join('\n')}\n`);
  const match = { ...view.match, newItems: 'add', category: shop.shop.category, taxClass: 'standard' };
  await admin.put(`/cost-sheets/${view.id}/match`, { version: view.version, match });
  sheet = (await admin.get(`/cost-sheets/${view.id}`)).body as SheetView;
});
afterAll(() => shop.close());

const person = () => ({ id: shop.shop.people['administrator']!, name: 'Ada', rights: new Set() }) as never;
const order = async () => {
  const { version } = (await admin.get(`/cost-sheets/${sheet.id}`)).body as SheetView;
  return takeInOrOrder(later, person(), Number(sheet.id), { version, rows: null, rest: 'left_out' }, TODAY);
};
const costs = async () =>
  Number((await shop.database.pool.query<{ n: string }>('select count(*) as n from costs')).rows[0]!.n);
const state = async () => ((await admin.get(`/cost-sheets/${sheet.id}`)).body as SheetView).state;
const intake = async () =>
  ((await admin.get(`/cost-sheets/${sheet.id}/intake`)).body as { intake: CostIntake | null }).intake;

describe('a long sheet taken in in the background', () => {
  let before: number;
  beforeEach(async () => void (before = await costs()));

  it('tells how far it has come, and stopped in the middle leaves nothing behind', async () => {
    expect(await order()).toMatchObject({ later: true });
    expect(await intake()).toMatchObject({ by: 'Ada', done: 0, of: null, trouble: null });
    const seen: (number | null)[] = [];
    await carryOutIntake(shop.context, Number(sheet.id), TODAY, async () => {
      seen.push((await intake())!.done);
      if (seen.length === 2) await admin.post(`/cost-sheets/${sheet.id}/intake/cancel`, {});
    });
    expect(seen).toEqual([5_000, 10_000]);
    expect([await costs(), await state(), await intake()]).toEqual([before, 'waiting', null]);
  });

  it('of two people who take it in one is told, and it is decided no further while it is under way', async () => {
    await order();
    const stale = await admin.post(`/cost-sheets/${sheet.id}/take-in`, {
      version: sheet.version,
      rows: null,
      rest: 'waits',
    });
    expect(stale.body).toMatchObject({ code: 'changed_meanwhile' });
    const { version } = (await admin.get(`/cost-sheets/${sheet.id}`)).body as SheetView;
    const reason = { version, reason: 'too dear' };
    expect((await admin.post(`/cost-sheets/${sheet.id}/set-aside`, reason)).body).toMatchObject({
      code: 'sheet_being_taken',
    });
  });

  it('ordered and begun by nobody it is stopped at once, and who did either is written down', async () => {
    const stopped = await admin.post(`/cost-sheets/${sheet.id}/intake/cancel`, {});
    expect([stopped.body, await intake(), await state()]).toEqual([{ intake: null }, null, 'waiting']);
    const log = await shop.database.pool.query<{ action: string }>(
      `select action from audit_entries where action like '%the taking in of' order by id desc limit 2`,
    );
    expect(log.rows.map((r) => r.action)).toEqual(['stopped the taking in of', 'ordered the taking in of']);
    await order();
  });

  it('stopped after its last part it is stopped all the same', async () => {
    await carryOutIntake(shop.context, Number(sheet.id), TODAY, async () => {
      const { done, of } = (await intake())!;
      if (done === of) await admin.post(`/cost-sheets/${sheet.id}/intake/cancel`, {});
    });
    expect([await costs(), await state(), await intake()]).toEqual([before, 'waiting', null]);
    await order();
  });

  it('killed in the middle nothing is half taken, and it is begun anew and done once', async () => {
    // ordered by the test before; the database cuts the connection that writes
    const killed = carryOutIntake(shop.context, Number(sheet.id), TODAY, async () => {
      await shop.asOwner(
        `select pg_terminate_backend(pid) from pg_stat_activity where state = 'idle in transaction' and datname = current_database()`,
      );
    });
    await expect(killed).rejects.toThrow();
    expect([await costs(), await state()]).toEqual([before, 'waiting']);
    expect(await leftIntakes(shop.context.db)).toEqual([Number(sheet.id)]);
    // the server that starts next goes on with it; a second that was told of it too does nothing
    await Promise.all([1, 2].map(() => carryOutIntake(shop.context, Number(sheet.id), TODAY)));
    expect([(await costs()) - before, await state(), await intake()]).toEqual([ROWS, 'taken_in', null]);
  });
});
