import { gzipSync } from 'node:zlib';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AnyObjectSchema } from 'yup';
import { Dice } from '#core/numbers/dice.ts';
import { routes } from '../../routes.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../tests/workshop.ts';
import type { Route } from './route.ts';

// What a stranger, a broken script or a slip of the finger may send: every answer says why, and none is ours to explain.

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

interface Described {
  readonly type: string;
  readonly fields?: Readonly<Record<string, Described>>;
  readonly innerType?: Described;
  readonly oneOf?: readonly unknown[];
}

const HOSTILE: readonly unknown[] = [
  null,
  [],
  [[]],
  {},
  true,
  0,
  -1,
  1.5,
  2 ** 31,
  2 ** 53,
  1e308,
  '',
  ' ',
  'a\u0000b',
  '\ud800',
  '0000-00-00',
  '0000-01-01',
  '9999-12-31',
  '2026-02-30',
  '-0',
  '1e9',
  '99999999999999999999999999',
  '0.0000000000000000001',
  'Infinity',
  'NaN',
  '2147483648',
  "'; drop table items; --",
  '<script>alert(1)</script>',
  '=1+1',
  { toString: 1 },
  { valueOf: null, hasOwnProperty: [] },
  [null],
  [[{}]],
  'x'.repeat(30_000),
];

/** A body of the right shape with values that may be right, some of them hostile. */
function bodyFor(dice: Dice, schema: Described, hostility: number): unknown {
  if (dice.next() < hostility) return dice.pick(HOSTILE);
  if (schema.type === 'object' && schema.fields)
    return Object.fromEntries(Object.entries(schema.fields).map(([k, f]) => [k, bodyFor(dice, f, hostility)]));
  if (schema.type === 'array')
    return Array.from({ length: dice.whole(0, 3) }, () => bodyFor(dice, schema.innerType ?? schema, hostility));
  if (schema.oneOf?.length) return dice.pick(schema.oneOf);
  if (schema.type === 'boolean') return dice.next() < 0.5;
  if (schema.type === 'number') return dice.whole(0, 9);
  return dice.pick(['1', '2', 'EUR', '2026-03-09', '12.50', 'a text', '']);
}

const addressOf = (r: Route, id: string) => r.path.replace(/:\w+/g, id);
const send = (method: Route['method'], path: string) =>
  admin.agent[method](`/api${path}`).set('x-session-token', admin.token);

/** Anything but success must say why, in words that are not about us. */
function expectReason(what: string, answer: { status: number; body: unknown }): void {
  expect([what, answer.status < 500]).toEqual([what, true]);
  if (answer.status < 400) return;
  const { code, message } = answer.body as { code?: string; message?: string };
  expect([what, typeof code, (message ?? '').length > 5]).toEqual([what, 'string', true]);
}

describe('malformed requests are refused with the reason, on every route', () => {
  const withBody = routes.filter((r) => r.body && r.body !== 'bytes');

  it.each(withBody.map((r) => [`${r.method} ${r.path}`, r] as const))(
    '%s takes nothing it cannot keep',
    async (name, r) => {
      const dice = new Dice(name.length * 7919);
      const shape = (r.body as AnyObjectSchema).describe() as unknown as Described;
      for (const id of ['1', '2147483648', '%00', 'abc']) {
        for (let n = 0; n < 6; n++) {
          const body = bodyFor(dice, shape, n === 0 ? 1 : 0.15 + n * 0.1);
          const answer = await send(r.method, addressOf(r, id)).send(JSON.stringify(body)).type('json');
          expectReason(`${name} ${id} ${JSON.stringify(body).slice(0, 300)}`, answer);
        }
      }
    },
  );

  it.each(routes.map((r) => [`${r.method} ${r.path}`, r] as const))('%s reads no odd address', async (name, r) => {
    const queries = [
      '?day=0000-01-01',
      '?day=2026-02-30',
      '?day=%00',
      '?day[]=1&day[]=2',
      '?list=%ED%A0%80',
      '?q=' + 'x'.repeat(3000),
    ];
    // an address without a name in it is asked once
    const ids = r.path.includes(':') ? ['0', '-1', '999999999999', '%E0%A4%A', '..%2f..%2fetc', '%00'] : [''];
    for (const id of ids)
      for (const query of queries)
        expectReason(`${name} ${id} ${query}`, await send(r.method, addressOf(r, id) + query));
  });

  it.each([
    ['no JSON', Buffer.from('{"a":'), {}],
    ['a hundred thousand levels', Buffer.from('['.repeat(100_000)), {}],
    ['a key with a meaning of its own', Buffer.from('{"__proto__":{"admin":true},"name":"x"}'), {}],
    ['bytes that are no text', Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x22, 0x7d]), {}],
    ['broken compression', gzipSync('{}').subarray(0, 10), { 'content-encoding': 'gzip' }],
    ['unknown compression', Buffer.from('{}'), { 'content-encoding': 'rot13' }],
    ['another kind of body', Buffer.from('a=1'), { 'content-type': 'application/x-www-form-urlencoded' }],
  ])('%s', async (name, body, headers) => {
    const answer = await send('post', '/categories')
      .set({ 'content-type': 'application/json', ...headers })
      .send(body);
    expectReason(name, answer);
    expect(answer.status).toBeGreaterThanOrEqual(400);
  });
});

describe('one request cannot bring the server down', () => {
  it.each([
    ['/quotes', { customer: '1', lines: Array.from({ length: 600_000 }, () => ({})) }],
    ['/quotes/figures', { customer: '1', lines: Array.from({ length: 600_000 }, () => ({})) }],
    [
      '/recipes',
      { name: 'x', basis: { kind: 'landed' }, uplift: Array.from({ length: 600_000 }, () => ({})), guards: [] },
    ],
    ['/items/changes', { changes: Array.from({ length: 600_000 }, () => ({})) }],
    ['/price-check', { customer: Array.from({ length: 600_000 }, () => ({})) }],
  ])('600,000 empty entries to %s are refused before any is looked at', async (path, body) => {
    const answer = await send('post', path).send(body);
    expect([413, 422]).toContain(answer.status);
    expect(JSON.stringify(answer.body).length).toBeLessThan(1_000);
  });

  it('faults are told one by one up to two hundred, never one for each of many thousand', async () => {
    const lines = Array.from({ length: 2_000 }, () => ({}));
    const answer = await send('post', '/quotes').send({ customer: '1', lines });
    expect(answer.status).toBe(422);
    expect((answer.body as { faults: unknown[] }).faults.length).toBeLessThanOrEqual(200);
  });

  it('the limit that was met is the one that is named', async () => {
    const answer = await send('post', '/categories').send({ name: 'x'.repeat(17_000_000) });
    expect([answer.status, (answer.body as { message: string }).message]).toEqual([
      413,
      'The file is larger than 16 MB. Split it and bring in the parts.',
    ]);
  });

  it('an answer carries the id that the log has, and says what the browser may not use', async () => {
    const answer = await supertest(shop.app).get('/api/session');
    expect(answer.headers['x-request-id']).toMatch(/^[0-9a-f-]{36}$/);
    expect(answer.headers['permissions-policy']).toContain('camera=()');
  });
});
