import { Writable } from 'node:stream';
import type { Server } from 'node:http';
import { pino } from 'pino';
import supertest from 'supertest';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { buildApp } from '../platform/http/app.ts';
import { PASSWORD, TODAY, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { guessable } from './password.ts';
import { networkOf } from './tries.ts';

let shop: Workshop;
beforeAll(async () => {
  shop = await openWorkshop();
});
afterAll(() => shop.close());

/** The application over the same shop, as a proxy on loopback would reach it. */
const behindProxy = () => buildApp({ ...shop.context, trustProxy: 'loopback' }) as unknown as Server;

async function attempt(app: Server, name: string, password: string, from?: string): Promise<number> {
  const agent = supertest.agent(app);
  const { token } = (await agent.get('/api/session')).body as { token: string };
  const asked = agent.post('/api/session').set('x-session-token', token);
  if (from) void asked.set('x-forwarded-for', from);
  return (await asked.send({ signIn: name, password })).status;
}

async function attempts(n: number, app: Server, name: string, password: string, from?: string): Promise<number[]> {
  const seen: number[] = [];
  for (let i = 0; i < n; i++) seen.push(await attempt(app, name, password, from));
  return seen;
}

const rows = async (query: string) => (await shop.database.pool.query<Record<string, unknown>>(query)).rows;

describe('guessing a password', () => {
  beforeEach(() => shop.database.pool.query('delete from sign_in_tries'));

  it('ends after five wrong tries, the right password then waits too', async () => {
    expect(await attempts(6, shop.app, 'seller', 'guess')).toEqual([401, 401, 401, 401, 401, 429]);
    expect(await attempt(shop.app, 'seller', PASSWORD)).toBe(429);
  });
  it('shuts nobody out who knows the password and sits elsewhere', async () => {
    const app = behindProxy();
    await attempts(6, app, 'seller', 'guess', '192.0.2.7');
    expect(await attempt(app, 'seller', PASSWORD, '192.0.2.7')).toBe(429);
    expect(await attempt(app, 'seller', PASSWORD, '198.51.100.4')).toBe(200);
  });
  it('is not dodged by a header when nobody stands in front', async () => {
    const seen: number[] = [];
    for (let i = 0; i < 7; i++) seen.push(await attempt(shop.app, 'seller', 'guess', `192.0.2.${i}`));
    expect(seen.slice(-2)).toEqual([429, 429]);
  });
  it('is not dodged by asking all at once, nor by another server of the same database', async () => {
    const other = buildApp(shop.context) as unknown as Server;
    const seen = await Promise.all(
      Array.from({ length: 16 }, (_, i) => attempt(i % 2 ? other : shop.app, 'approver', 'guess')),
    );
    expect(seen.filter((s) => s === 401).length).toBeLessThanOrEqual(5);
    expect(seen.filter((s) => s === 429).length).toBeGreaterThanOrEqual(11);
  });
  it('over many accounts from one address ends as well', async () => {
    const seen: number[] = [];
    for (let i = 0; i < 52; i++) seen.push(await attempt(shop.app, `person ${i}`, 'guess'));
    expect([seen[0], seen[49], seen[50], seen[51]]).toEqual([401, 401, 429, 429]);
  });
  it('is over after a quarter of an hour; a slip counts no more once the password was right', async () => {
    await attempts(4, shop.app, 'seller', 'slip');
    expect(await attempt(shop.app, 'seller', PASSWORD)).toBe(200);
    expect(await attempts(5, shop.app, 'seller', 'slip')).toEqual([401, 401, 401, 401, 401]);
    const later = buildApp({
      ...shop.context,
      now: () => new Date(shop.context.now().getTime() + 16 * 60_000),
    }) as unknown as Server;
    expect(await attempt(later, 'seller', PASSWORD)).toBe(200);
    expect(await rows('select * from sign_in_tries')).toEqual([]);
  });
  it('keeps no name that was typed: it may be a password in the wrong field', async () => {
    await attempt(shop.app, 'my secret phrase', 'x');
    expect(JSON.stringify(await rows('select * from sign_in_tries'))).not.toContain('secret');
  });
});

it.each([
  ['192.0.2.7', '192.0.2.7'],
  ['::ffff:192.0.2.7', '192.0.2.7'],
  ['2001:db8:0:12:aaaa:1:2:3', '2001:db8:0:12::/64'],
  ['2001:DB8:0000:0012::9', '2001:db8:0:12::/64'],
  ['::1', '0:0:0:0::/64'],
  ['fe80::1%eth0', 'fe80:0:0:0::/64'],
])('an address %s is counted as %s: who has a whole network has one count', (address, network) => {
  expect(networkOf(address)).toBe(network);
});

describe('sessions', () => {
  it('visits without signing in leave nothing in the database', async () => {
    const before = await rows('select sid from session');
    for (let i = 0; i < 3; i++) expect((await supertest(shop.app).get('/api/session')).status).toBe(200);
    expect((await supertest(shop.app).post('/api/session').send({ signIn: 'x', password: 'y' })).status).toBe(403);
    expect(await rows('select sid from session')).toEqual(before);
  });
  it('a token of one visit is refused in another', async () => {
    const { token } = (await supertest.agent(shop.app).get('/api/session')).body as { token: string };
    const other = supertest.agent(shop.app);
    await other.get('/api/session');
    const sent = other.post('/api/session').set('x-session-token', token);
    expect((await sent.send({ signIn: 'seller', password: PASSWORD })).status).toBe(403);
  });
  it('end a day after signing in, however busy', async () => {
    const day = { now: shop.context.now() };
    const app = buildApp({ ...shop.context, longestSession: 24, now: () => day.now }) as unknown as Server;
    const seller = await signIn(app, 'seller');
    const after = async (hours: number) => {
      day.now = new Date(shop.context.now().getTime() + hours * 3_600_000);
      return (await seller.get('/items')).status;
    };
    expect([await after(9), await after(18), await after(23.9), await after(24.1), await after(1)]).toEqual([
      200, 200, 200, 401, 401,
    ]);
  });
  it('last on while they are used; that they were is written once a minute, not at every look', async () => {
    const { pool } = shop.database;
    const person = await signIn(shop.app, 'administrator');
    const ends = async () => {
      const { rows } = await pool.query<{ last: string }>('select max(expire)::text as last from session');
      return rows[0]!.last;
    };
    await person.get('/today');
    // as if it had been used an hour ago
    await pool.query(`update session set expire = expire - interval '1 hour'`);
    const before = await ends();
    await person.get('/today');
    expect(await ends()).toBe(before);
    shop.setDay('2026-03-10');
    await person.get('/today');
    expect((await ends()) > before).toBe(true);
    shop.setDay(TODAY);
  });

  it('that have run out are cleared away when somebody signs in', async () => {
    await shop.database.pool.query(
      `insert into session (sid, sess, expire) values ('old', '{}', localtimestamp - interval '1 minute')`,
    );
    await signIn(shop.app, 'seller');
    expect(await rows(`select sid from session where sid = 'old'`)).toEqual([]);
  });
  it('are seen and ended by their own person, by no other, and never by the key that opens them', async () => {
    const [here, there, other] = [
      await signIn(shop.app, 'approver'),
      await signIn(shop.app, 'approver'),
      await signIn(shop.app, 'seller'),
    ];
    type Own = { id: string; current: boolean; address: string; signedInAt: string };
    const seen = (await here.get('/me/sessions')).body as Own[];
    expect(seen.map((s) => s.current)).toEqual([true, false]);
    expect(seen[0]!.signedInAt).toBe('2026-03-09T09:00:00.000Z');
    expect(seen[0]!.address).toMatch(/127\.0\.0\.1|::1/);
    const sids = (await rows('select sid from session')).map((r) => String(r['sid']));
    expect(sids.filter((sid) => JSON.stringify(seen).includes(sid))).toEqual([]);
    expect((await other.delete(`/me/sessions/${seen[1]!.id}`)).status).toBe(404);
    expect((await there.get('/items')).status).toBe(200);
    expect((await here.delete(`/me/sessions/${seen[1]!.id}`)).status).toBe(200);
    expect((await there.get('/items')).status).toBe(401);
    expect((await here.get('/items')).status).toBe(200);
  });
});

describe('one’s own password', () => {
  const fault = (answer: { body: unknown }) =>
    (answer.body as { faults?: { path: string; message: string }[] }).faults?.map((f) => f.path);

  it('is changed by who knows the present one; other places are signed out, and it is written down without it', async () => {
    const [here, there] = [await signIn(shop.app, 'reader'), await signIn(shop.app, 'reader')];
    const to = (current: string, password: string) => here.put('/me/password', { current, password });
    expect(fault(await to('wrong', 'violet anchors drift slowly'))).toEqual(['current']);
    expect(fault(await to(PASSWORD, 'short'))).toEqual(['password']);
    const done = await to(PASSWORD, 'violet anchors drift slowly');
    expect([done.status, done.body]).toEqual([200, { ended: 1 }]);
    expect((await there.get('/items')).status).toBe(401);
    expect((await here.get('/items')).status).toBe(200);
    expect(await attempt(shop.app, 'reader', PASSWORD)).toBe(401);
    expect(await attempt(shop.app, 'reader', 'violet anchors drift slowly')).toBe(200);
    const [entry] = await rows(`select * from audit_entries where action = 'changed the own password'`);
    expect(entry).toBeDefined();
    expect(JSON.stringify(entry)).not.toContain('violet');
  });
  it('cannot be guessed through a browser left alone', async () => {
    await shop.database.pool.query('delete from sign_in_tries');
    const seller = await signIn(shop.app, 'seller');
    const seen: number[] = [];
    for (let i = 0; i < 6; i++)
      seen.push((await seller.put('/me/password', { current: `guess ${i}`, password: 'violet anchors drift' })).status);
    expect(seen).toEqual([422, 422, 422, 422, 422, 429]);
  });
  it.each([
    'password1234',
    'qwertyuiop12',
    '123456789012',
    'aaaaaaaaaaaa',
    'Ada Test shop',
    'iloveyou2026',
    'p@ssw0rd1234',
  ])('“%s” is refused: it would be guessed', (word) => {
    expect(guessable(word, ['Ada', 'administrator', 'Test shop'])).toMatch(/would be guessed/);
  });
  it.each(['violet anchors drift slowly', 'xK9#mmq2;Lw0pz', 'Zaunkönig trinkt Kaffee'])('“%s” is taken', (word) => {
    expect(guessable(word, ['Ada', 'administrator', 'Test shop'])).toBeNull();
  });
});

it('sign-ins, failures and refusals are in the log with person and address, and no password is', async () => {
  const lines: string[] = [];
  const stream = new Writable({ write: (chunk, _, done) => (lines.push(String(chunk)), done()) });
  const app = buildApp({ ...shop.context, log: pino({ level: 'info' }, stream) }) as unknown as Server;
  await shop.database.pool.query('delete from sign_in_tries');
  const seller = await signIn(app, 'seller');
  await attempts(6, app, 'seller', 'not the password');
  await seller.post('/categories', { name: 'x' });
  const told = lines.map((l) => JSON.parse(l) as { msg: string; person?: number | null; address?: string });
  const id = shop.shop.people['seller'];
  expect(told.filter((t) => t.msg === 'signed in')).toMatchObject([{ person: id }]);
  expect(told.filter((t) => t.msg === 'a sign-in failed')).toHaveLength(5);
  expect(told.filter((t) => t.msg === 'too many tries to sign in')).toHaveLength(1);
  expect(lines.find((l) => l.includes('"status":403'))).toMatch(new RegExp(`"person":${id}`));
  expect(told.every((t) => t.address !== undefined)).toBe(true);
  expect(lines.join('')).not.toMatch(/not the password|a long enough password/);
});
