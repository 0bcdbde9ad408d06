import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildApp } from './http/app.ts';
import { type Person, type Workshop, openWorkshop, signIn } from './tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const metrics = async () => (await supertest(shop.app).get('/metrics')).text;
const value = (text: string, name: string, ...labels: string[]): number =>
  text
    .split('\n')
    .filter((l) => l.startsWith(name) && labels.every((label) => l.includes(label)))
    .reduce((sum, l) => sum + Number(l.split(' ').at(-1)), 0);

describe('what runs here, as numbers', () => {
  it('counts answers by their declared address and status, and never says what stood in it', async () => {
    const count = async (status: string) =>
      value(await metrics(), 'hard_ledger_request_seconds_count', 'route="/api/items/:id/page"', `status="${status}"`);
    await admin.get(`/items/${shop.shop.items[0]}/page`);
    expect(await count('200')).toBe(1);
    await admin.get('/items/987654/page');
    expect(await count('404')).toBe(1);
    expect(await metrics()).not.toContain('987654');
  });

  it('tells how work in the background went and what the pool of connections does', async () => {
    const works = shop.context.metrics.jobs({
      well: () => Promise.resolve(),
      badly: () => Promise.reject(new Error('no')),
    });
    await works['well']!(1);
    await expect(works['badly']!(2)).rejects.toThrow('no');
    const text = await metrics();
    expect(value(text, 'hard_ledger_job_seconds_count', 'queue="well"')).toBe(1);
    expect(value(text, 'hard_ledger_jobs_failed_total', 'queue="badly"')).toBe(1);
    expect(value(text, 'hard_ledger_connections', 'state="all"')).toBeGreaterThan(0);
    expect(value(text, 'hard_ledger_age_seconds')).toBe(0);
    await admin.get('/today');
    await expect
      .poll(async () => (await metrics()).includes('hard_ledger_age_seconds{of="counts"}'), { timeout: 10_000 })
      .toBe(true);
  });

  it('are read from this machine alone, and past a proxy or with a token only by who shows it', async () => {
    const status = async (token: string | null, headers: Record<string, string>) =>
      (
        await supertest(buildApp({ ...shop.context, metricsToken: token }))
          .get('/metrics')
          .set(headers)
      ).status;
    expect(await status(null, {})).toBe(200);
    for (const header of ['x-forwarded-for', 'forwarded', 'x-real-ip', 'via', 'x-forwarded-host'])
      expect([header, await status(null, { [header]: '203.0.113.7' })]).toEqual([header, 404]);
    expect(await status('secret', {})).toBe(404);
    expect(await status('secret', { authorization: 'Bearer wrong!' })).toBe(404);
    expect(await status('secret', { authorization: 'Bearer secret' })).toBe(200);
  });
});
