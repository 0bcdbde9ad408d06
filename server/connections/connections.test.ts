import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { plusDays } from '#core/numbers/day.ts';
import { afterAll, afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Connection, SupplierCatalogue } from '#contract/connections.ts';
import type { SheetSummary } from '#contract/costs.ts';
import { viewOf } from '../platform/tests/bring-sheet.ts';
import { type Person, TODAY, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import type { Mood } from '../../standins/supplier-moods.ts';
import { type Listed, supplierService } from '../../standins/supplier-service.ts';
import { fetchCosts, queueDue } from './fetch-costs.ts';
import { supplierClient } from './supplier-client.ts';

/** Longer than a supplier may take here, in milliseconds. */
const PATIENCE = 300;

let shop: Workshop;
let admin: Person;
let seller: Person;
const shops: Workshop[] = [];
/** How the service does, and which day it is there. */
const state: { mood: Mood; day: string } = { mood: 'well', day: TODAY };
let service: Server;

const listed = (code: string, brand: string, cost: number): Listed => ({
  code,
  name: `Line ${code}`,
  brand,
  unit: 'metre',
  packUnits: '220',
  cost,
});
const ITEMS = [listed('R1', 'Kelwick', 215), listed('R2', 'Kelwick', 262), listed('R3', 'Other', 312)];

beforeEach(async () => {
  shop = await openWorkshop();
  shops.push(shop);
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
  Object.assign(state, { mood: 'well', day: TODAY });
  service = supplierService({
    suppliers: [{ key: 'kelwick', name: 'Rope works', currency: 'GBP', items: ITEMS }],
    today: () => state.day,
    mood: () => state.mood,
    letPass: (days) => (state.day = plusDays(state.day, days)),
    slowMs: PATIENCE * 20,
  });
  await new Promise<void>((done) => service.listen(0, '127.0.0.1', done));
  const { port } = service.address() as AddressInfo;
  shop.askSuppliers(supplierClient(`http://127.0.0.1:${port}`, PATIENCE));
});
afterEach(() => {
  service.closeAllConnections();
  service.close();
});
afterAll(() => Promise.all(shops.map((s) => s.close())));

const kept = { address: 'stand-in/kelwick', account: 'BR-4711', brands: ['Kelwick'], everyHours: 24, state: 'on' };
const connect = async (more: object = {}) =>
  (await admin.put(`/connections/${shop.shop.supplier}`, { ...kept, version: 0, ...more })).body as Connection;
const connection = async (as = admin) => (await as.get(`/items/${shop.shop.items[0]}/connection`)).body as Connection;
const sheets = async () => (await admin.get('/cost-sheets')).body as SheetSummary[];
const later = async (hours: number) => {
  const { now } = shop.context;
  Object.assign(shop.context, { now: () => new Date(now().getTime() + hours * 3_600_000) });
  await queueDue(shop.context);
};

describe('a supplier’s service', () => {
  it('is looked at before it is connected: brands, items, and whether the account is known', async () => {
    const browse = (account: string) => admin.post('/connections/browse', { address: kept.address, account });
    const found = (await browse('BR-4711')).body as SupplierCatalogue;
    expect(found.brands).toEqual([
      { name: 'Kelwick', items: 2 },
      { name: 'Other', items: 1 },
    ]);
    const unknown = await browse('nobody');
    expect([unknown.status, (unknown.body as { message: string }).message]).toEqual([
      424,
      'The supplier’s service: It does not know the account nobody.',
    ]);
    expect((await seller.post('/connections/browse', { address: kept.address, account: 'BR-4711' })).status).toBe(403);
  });

  it('once connected brings what is followed, which waits like a file and then counts', async () => {
    const made = await connect();
    expect(made).toMatchObject({ state: 'on', trouble: null, lastAnswer: expect.any(String) as string });
    const [sheet] = await sheets();
    expect(sheet).toMatchObject({ id: made.lastSheet, origin: 'connection', state: 'waiting', broughtBy: 'Ada' });
    const view = await viewOf(admin, sheet!.id);
    expect(view.changes.map((c) => c.sku)).toEqual(['BL-10', 'BL-12']);
    await admin.post(`/cost-sheets/${view.id}/take-in`, { version: view.version, rows: null, rest: 'left_out' });
    const costs = (await admin.get(`/items/${shop.shop.items[0]}/costs`)).body as { origin: string; amount: string }[];
    expect(costs.at(-1)).toMatchObject({ origin: 'connection', amount: view.changes[0]!.after.amount });
  });

  it('that says the same again brings no arrival; what changed does, once its time has come', async () => {
    await connect();
    await later(1);
    expect(await sheets()).toHaveLength(1);
    await later(24);
    expect([(await sheets()).length, (await connection()).trouble]).toEqual([1, null]);
    state.day = '2027-03-09';
    await later(25);
    expect(await sheets()).toHaveLength(2);
  });

  it('that two servers ask at the same time brings one arrival', async () => {
    state.mood = 'down';
    await connect();
    state.mood = 'well';
    await Promise.all([
      fetchCosts(shop.context, Number(shop.shop.supplier)),
      fetchCosts(shop.context, Number(shop.shop.supplier)),
    ]);
    expect([(await sheets()).length, (await connection()).trouble]).toEqual([1, null]);
  });

  it.each<[Mood, RegExp]>([
    ['slow', /did not answer within 0\.3 seconds/],
    ['down', /answers that it cannot \(503\)/],
    ['half', /broke off in the middle/],
    ['rubbish', /no list of costs/],
  ])('that is %s takes nothing in; it is told, and tried again soon, then less often', async (mood, expected) => {
    state.mood = mood;
    const first = await connect();
    expect([await sheets(), first.lastAnswer]).toEqual([[], null]);
    expect(first.trouble).toMatch(expected);
    const wait = (c: Connection) => (Date.parse(c.nextTry!) - Date.parse(c.lastTry!)) / 60_000;
    expect(wait(first)).toBe(5);
    await later(0.1);
    expect(wait(await connection())).toBe(10);
    state.mood = 'well';
    await later(1);
    expect([(await connection()).trouble, (await sheets()).length]).toEqual([null, 1]);
  });

  it('is stopped and begun again; of two who change it one is told', async () => {
    const made = await connect();
    const off = await connect({ version: made.version, state: 'off' });
    expect([off.state, off.nextTry]).toEqual(['off', null]);
    await later(48);
    expect((await connection()).lastTry).toBe(made.lastTry);
    const stale = await admin.put(`/connections/${shop.shop.supplier}`, { ...kept, version: made.version });
    expect([stale.status, (stale.body as { code: string }).code]).toEqual([409, 'changed_meanwhile']);
    const refused = await admin.post(`/connections/${shop.shop.supplier}/fetch`, { version: off.version });
    expect((refused.body as { code: string }).code).toBe('not_connected');
  });

  it('at an address that is none is refused, and one that nobody answers is told', async () => {
    const bad = await admin.put(`/connections/${shop.shop.supplier}`, { ...kept, version: 0, address: 'file:///etc' });
    expect(bad.status).toBe(422);
    await new Promise((done) => service.close(done));
    expect((await connect()).trouble).toBe('It cannot be reached.');
  });
});

describe('the stand-ins', () => {
  const ask = async (what: string, method = 'GET') =>
    (await fetch(`http://127.0.0.1:${(service.address() as AddressInfo).port}/${what}`, { method })).json();

  it('let days go by, and a supplier’s costs are those of the day it is there', async () => {
    expect(await ask('day')).toEqual({ day: TODAY });
    const costs = async () => ((await ask('kelwick/costs?account=BR-4711')) as { costs: { cost: string }[] }).costs;
    const before = await costs();
    expect(await ask('day?on=200', 'POST')).toEqual({ day: plusDays(TODAY, 200) });
    const after = await costs();
    expect(after.map((c) => c.cost)).not.toEqual(before.map((c) => c.cost));
    expect(await ask('day?on=-3', 'POST')).toEqual({ error: 'on by how many days, 1 to 366?' });
  });
});

describe('the country of a network address', () => {
  const find = async (address: string) => {
    const { status, body } = await seller.get(`/country-of?address=${encodeURIComponent(address)}`);
    const { country, code } = body as { country?: string | null; code?: string };
    return [status, status === 200 ? country : code];
  };

  it('is what the service knows; what it does not know, and what is no address, is said', async () => {
    expect(await find('203.0.113.1')).toEqual([200, 'SE']);
    expect(await find('2001:db8::2')).toEqual([200, 'NO']);
    expect(await find('198.18.0.1')).toEqual([200, null]);
    expect(await find('somewhere')).toEqual([422, 'fields_wrong']);
    state.mood = 'rubbish';
    expect(await find('203.0.113.1')).toEqual([502, 'no_country_service']);
    shop.askSuppliers(supplierClient(null));
    expect(await find('203.0.113.1')).toEqual([502, 'no_country_service']);
  });
});

describe('a seller', () => {
  it('asks for a connection from an item, sees how it stands, and neither account nor address', async () => {
    const asked = await seller.post('/connection-requests', { item: shop.shop.items[0], note: 'costs are old' });
    expect(asked.body).toMatchObject({ state: 'asked', askedBy: 'Cid', askedNote: 'costs are old', version: 1 });
    // a second wish changes nothing
    await seller.post('/connection-requests', { item: shop.shop.items[1], note: 'again' });
    expect(await connection()).toMatchObject({ state: 'asked', askedNote: 'costs are old' });
    await connect({ version: 1 });
    expect(await connection(seller)).toMatchObject({ state: 'on', address: null, account: null, lastSheet: null });
    expect((await seller.put(`/connections/${shop.shop.supplier}`, { ...kept, version: 2 })).status).toBe(403);
  });
});
