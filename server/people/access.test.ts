import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { RIGHTS, type Right, rightsOf } from '#contract/people.ts';
import { routes } from '../routes.ts';
import { PASSWORD, type Person, type Role, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

const ROLES = ['administrator', 'approver', 'seller', 'reader'] as const;
let shop: Workshop;
const as = new Map<Role, Person>();

beforeAll(async () => {
  shop = await openWorkshop();
  for (const role of ROLES) as.set(role, await signIn(shop.app, role));
});
afterAll(() => shop.close());

const mayDo = (role: Role, right: Right) =>
  rightsOf({ role, seesCost: role === 'administrator' || role === 'approver' }).has(right);
const address = (path: string) => path.replace(/:\w+/g, '999999');

describe('a wrong role is refused on every route', () => {
  for (const r of routes) {
    it(`${r.method.toUpperCase()} ${r.path} needs the right "${r.right}"`, async () => {
      expect(RIGHTS).toContain(r.right);
      expect((await supertest(shop.app)[r.method](`/api${address(r.path)}`)).status, 'nobody is signed in').toBe(
        r.method === 'get' ? 401 : 403,
      );
      for (const role of ROLES) {
        const person = as.get(role)!;
        const answer = await person.agent[r.method](`/api${address(r.path)}`).set('x-session-token', person.token);
        const code = (answer.body as { code?: string }).code;
        expect({ role, refused: code === 'right_missing' }).toEqual({ role, refused: !mayDo(role, r.right) });
        expect(answer.status).not.toBe(500);
      }
    });
  }
});

describe('sessions', () => {
  it('a change without the session’s token is refused: another site cannot know it', async () => {
    const admin = as.get('administrator')!;
    const answer = await admin.agent.post('/api/categories').send({ name: 'smuggled' });
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([403, 'session_token_wrong']);
    expect(
      (await admin.agent.post('/api/categories').set('x-session-token', 'guessed').send({ name: 'smuggled' })).status,
    ).toBe(403);
  });
  it('passwords are kept as Argon2id, never as text', async () => {
    const rows = await shop.database.pool.query<{ password_hash: string }>('select password_hash from people');
    for (const { password_hash } of rows.rows) {
      expect(password_hash).toMatch(/^\$argon2id\$/);
      expect(password_hash).not.toContain(PASSWORD);
    }
  });
  it('a new password ends the sessions that were open, and no answer shows a hash', async () => {
    const admin = as.get('administrator')!;
    const people = (await admin.get('/people')).body as {
      id: string;
      version: number;
      signIn: string;
      name: string;
      role: string;
      seesCost: boolean;
      active: boolean;
    }[];
    expect(JSON.stringify(people)).not.toContain('argon2');
    const { id, version, ...rest } = people.find((p) => p.signIn === 'reader')!;
    const other = await signIn(shop.app, 'reader');
    expect((await other.get('/items')).status).toBe(200);
    expect((await admin.put(`/people/${id}`, { ...rest, version, password: 'another long password' })).status).toBe(
      200,
    );
    expect((await other.get('/items')).status).toBe(401);
  });
  it('the last administrator cannot lock everyone out', async () => {
    const admin = as.get('administrator')!;
    const people = (await admin.get('/people')).body as { id: string; version: number; signIn: string }[];
    const { id, ...rest } = people.find((p) => p.signIn === 'administrator')!;
    const answer = await admin.put(`/people/${id}`, { ...rest, role: 'reader' });
    expect(answer.status).toBe(422);
  });
});

describe('what leaves the server', () => {
  it.each(['/healthz', '/api/session', '/api/no-such-thing'])('security headers are on %s', async (address) => {
    const { headers } = await supertest(shop.app).get(address);
    expect(headers['content-security-policy']).toContain("script-src 'self'");
    expect(headers['content-security-policy']).toContain("frame-ancestors 'self'");
    expect(headers['content-security-policy']).not.toContain('unsafe-');
    expect(headers).toMatchObject({
      'x-content-type-options': 'nosniff',
      'x-frame-options': 'SAMEORIGIN',
      'referrer-policy': 'no-referrer',
      'permissions-policy': expect.stringContaining('camera=()') as string,
    });
    expect(headers['x-powered-by']).toBeUndefined();
  });
  it('a load balancer is told that the database answers', async () =>
    expect((await supertest(shop.app).get('/healthz')).body).toEqual({ database: 'answers' }));
  it('text that is no JSON, and a body too large, get a problem without a stack trace', async () => {
    const admin = as.get('administrator')!;
    const send = (body: string) =>
      admin.agent
        .post('/api/categories')
        .set('x-session-token', admin.token)
        .set('content-type', 'application/json')
        .send(body);
    const broken = await send('{"name": ');
    expect([broken.status, (broken.body as { code: string }).code]).toEqual([400, 'body_unreadable']);
    const large = await send(JSON.stringify({ name: 'x'.repeat(17_000_000) }));
    expect([large.status, (large.body as { code: string }).code]).toEqual([413, 'too_large']);
    expect(broken.text + large.text).not.toMatch(/node_modules|at \w+ \(/);
  });
  it('a seller without the right sees no cost: not in items, lists, build-ups or ledger', async () => {
    const seller = as.get('seller')!;
    const { counter, items, packs } = shop.shop;
    const texts = await Promise.all(
      [`/items`, `/lists/${counter}/prices`, `/lists/${counter}/build-up/${items[0]}/${packs[0]}`].map(
        async (p) => (await seller.get(p)).text,
      ),
    );
    for (const text of texts) expect(text).not.toMatch(/1\.2469|214\.5|"markup":"\d|landed":"/);
    const forAdmin = (await as.get('administrator')!.get(`/lists/${counter}/build-up/${items[0]}/${packs[0]}`)).text;
    expect(forAdmin).toMatch(/1\.2469658/);
  });
});

it('healthz says so when the database does not answer', async () => {
  const other = await openWorkshop();
  await other.close();
  const answer = await supertest(other.app).get('/healthz');
  expect([answer.status, answer.body]).toEqual([503, { database: 'does not answer' }]);
});
