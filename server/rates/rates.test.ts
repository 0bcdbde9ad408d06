import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { FetchedRates } from '#contract/fetched-rates.ts';
import type { Mood } from '../../standins/supplier-moods.ts';
import { supplierService } from '../../standins/supplier-service.ts';
import { supplierClient } from '../connections/supplier-client.ts';
import type { Context } from '../platform/context.ts';
import { type Person, TODAY, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { fetchRates, queueRates } from './fetch-rates.ts';

let shop: Workshop;
let admin: Person;
let context: Context;
let mood: Mood = 'well';
let day = TODAY;
const service = supplierService({ suppliers: [], today: () => day, mood: () => mood, slowMs: 1 });
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await new Promise<void>((done) => service.listen(0, '127.0.0.1', done));
  const address = `http://127.0.0.1:${(service.address() as AddressInfo).port}`;
  context = Object.assign(shop.context, { suppliers: supplierClient(address, 2_000) });
});
afterAll(async () => {
  service.close();
  await shop.close();
});

const read = async () => (await admin.get('/fetched-rates')).body as FetchedRates;
const kept = async () => (await admin.get('/exchange-rates')).body as { from: string; day: string; rate: string }[];
const landed = async () => ((await admin.get('/items')).body as { rows: { landed: string }[] }).rows[0]!.landed;

describe('a service of exchange rates', () => {
  it('is asked for eighteen months; what it quotes stands beside what counts, and moves nothing', async () => {
    const before = await landed();
    mood = 'rubbish';
    await fetchRates(context);
    expect(await read()).toMatchObject({ pairs: [], series: [], lastAnswer: null });
    expect((await read()).trouble).toContain('cannot be read');
    mood = 'well';
    const told = (await admin.post('/fetched-rates/fetch', {})).body as FetchedRates;
    expect(told.trouble).toBeNull();
    const days = [...new Set(told.series.map((r) => r.day))];
    expect([days[0]! < '2024-09-12', days.at(-1), told.pairs.length]).toEqual([true, TODAY, 4]);
    const pounds = told.pairs.find((p) => p.from === 'GBP')!;
    expect(pounds).toMatchObject({ day: TODAY, counts: { rate: '1.1640' } });
    expect(pounds.changePercent).toBe(((Number(pounds.rate) / 1.164 - 1) * 100).toFixed(2).replace(/\.?0+$/, ''));
    expect(await landed()).toBe(before);
    // asked again, only what is new comes
    await fetchRates(context);
    expect((await read()).series).toEqual(told.series);
  });

  it('is followed where the administrator says so: the newest of each pair that counts, by nobody, and told', async () => {
    const { version } = await read();
    expect((await admin.put('/fetched-rates', { version, follow: true })).status).toBe(200);
    expect((await admin.put('/fetched-rates', { version, follow: true })).body).toMatchObject({
      code: 'changed_meanwhile',
    });
    const taken = (await kept()).filter((r) => r.day === TODAY);
    const { pairs } = await read();
    // pairs that nothing is kept of are left to a person
    expect(taken.map((r) => r.from)).toEqual(['GBP']);
    expect(taken[0]!.rate).toBe(pairs.find((p) => p.from === 'GBP')!.rate);
    day = '2026-03-10';
    shop.setDay(day);
    await fetchRates(context);
    expect((await kept()).filter((r) => r.day === day)).toHaveLength(1);
    const log = await shop.database.pool.query(
      `select action from audit_entries where subject = 'exchange-rates' order by id`,
    );
    expect(log.rows.map((r: { action: string }) => r.action)).toEqual([
      'has rates followed',
      'followed the service',
      'followed the service',
    ]);
  });

  it('is asked again only once its time has come', async () => {
    const queued: string[] = [];
    const jobs = { enqueue: (queue: string) => Promise.resolve(void queued.push(queue)) };
    await queueRates({ ...context, jobs });
    expect(queued).toEqual([]);
    await queueRates({ ...context, jobs, now: () => new Date(context.now().getTime() + 7 * 3_600_000) });
    await queueRates({ ...context, jobs, suppliers: supplierClient(null) });
    expect(queued).toEqual(['rates']);
  });
});
