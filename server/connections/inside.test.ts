import { type Server, createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildApp } from '../platform/http/app.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { isInside } from './fetch-outside.ts';
import { supplierClient } from './supplier-client.ts';

let shop: Workshop;
let admin: Person;
let service: Server;
let port: number;
/** Requests that reached a machine inside. */
let reached = 0;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  service = createServer((request, response) => {
    reached++;
    const path = new URL(request.url!, 'http://x').pathname;
    if (path.startsWith('/moved')) return void response.writeHead(302, { location: '/good/catalogue' }).end();
    response.statusCode = path.startsWith('/locked') ? 401 : path.startsWith('/good') ? 200 : 404;
    response.end(JSON.stringify({ supplier: 'S', currency: 'EUR', items: [{ code: 'R1', name: 'n', brand: 'B' }] }));
  });
  await new Promise<void>((done) => service.listen(0, '127.0.0.1', done));
  ({ port } = service.address() as AddressInfo);
});
afterAll(async () => {
  service.close();
  await shop.close();
});

const browse = async (address: string) => {
  const { status, body } = await admin.post('/connections/browse', { address, account: 'A' });
  return { status, message: (body as { message?: string }).message ?? null };
};

describe('an address that a person names for a supplier’s service', () => {
  it.each([
    '0.0.0.0',
    '10.1.2.3',
    '100.64.0.1',
    '127.0.0.1',
    '127.255.255.255',
    '169.254.169.254',
    '172.16.0.1',
    '172.31.255.255',
    '192.168.0.1',
    '224.0.0.1',
    '::1',
    '::',
    'fe80::1',
    'fd00::1',
    '::ffff:127.0.0.1',
    '::ffff:7f00:1',
    '64:ff9b::7f00:1',
  ])('%s is inside', (address) => expect(isInside(address)).toBe(true));
  it.each(['172.15.255.255', '172.32.0.0', '192.167.255.255', '8.8.8.8', '100.63.255.255', '2a00::1'])(
    '%s is not',
    (address) => expect(isInside(address)).toBe(false),
  );

  it('is not asked where it is of this machine or its network, by number or by name, and says the same whatever is there', async () => {
    shop.askSuppliers(supplierClient(null, 2_000));
    const answers = [];
    for (const host of [
      `127.0.0.1:${port}`,
      `localhost:${port}`,
      `[::ffff:127.0.0.1]:${port}`,
      '127.0.0.1:1',
      `127.1:${port}`,
    ])
      for (const path of ['/good', '/locked', '/none']) answers.push(await browse(`http://${host}${path}`));
    expect(reached).toBe(0);
    expect(new Set(answers.map((a) => JSON.stringify(a))).size).toBe(1);
    expect(answers[0]).toMatchObject({ status: 424 });
  });

  it('is asked where the operator lists it, and follows nobody elsewhere', async () => {
    shop.askSuppliers(supplierClient(null, 2_000, undefined, undefined, { inside: [`127.0.0.1:${port}`] }));
    expect((await browse(`http://127.0.0.1:${port}/good`)).status).toBe(200);
    expect((await browse(`http://127.0.0.1:${port}/locked`)).message).toContain('does not know the account');
    const before = reached;
    expect((await browse(`http://127.0.0.1:${port}/moved`)).status).toBe(424);
    expect(reached).toBe(before + 1);
  });
});

describe('a request by another name than this server’s', () => {
  it('is refused, so that no page elsewhere can have its own name stand for it', async () => {
    const app = buildApp({ ...shop.context, hostNames: ['prices.example.com'] });
    const status = async (host: string) => (await supertest(app).get('/api/session').set('host', host)).status;
    for (const host of [
      'localhost',
      'LOCALHOST:8080',
      '127.0.0.1:8080',
      '[::1]:8080',
      'prices.example.com',
      'prices.example.com.',
    ])
      expect([host, await status(host)]).toEqual([host, 200]);
    for (const host of ['evil.example.com', 'localhost.example.com', '127.0.0.2', 'x.prices.example.com'])
      expect([host, await status(host)]).toEqual([host, 421]);
  });
});
