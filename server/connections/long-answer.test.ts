import { type Server, createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { SupplierTrouble, ofAnswer } from './supplier-answers.ts';
import { supplierClient } from './supplier-client.ts';

let service: Server;
let host: string;
let text = '';
beforeAll(async () => {
  service = createServer((_, response) => response.end(text));
  await new Promise<void>((done) => service.listen(0, '127.0.0.1', done));
  host = `127.0.0.1:${(service.address() as AddressInfo).port}`;
});
afterAll(() => service.close());

const row = (i: number) => ({
  ...{ code: `R${i}`, name: `Line ${i}`, brand: i % 2 ? 'Kelwick' : 'Other', packUnits: '220', from: '2026-03-09' },
  ...{ cost: `${i}.50`, quantityPrices: [{ from: '5', cost: `${i}.25` }] },
});
const answerOf = (rows: readonly object[]) => JSON.stringify({ currency: 'GBP', costs: rows });
const ask = async (brands: readonly string[]) => {
  const client = supplierClient(null, 20_000, undefined, undefined, { inside: [host] });
  return client.costs({ address: `http://${host}/`, account: 'A' }, brands);
};

describe('an answer of many megabytes', () => {
  it('comes to the same file as a short one does, looked at in a process of its own', async () => {
    const rows = Array.from({ length: 60_000 }, (_, i) => row(i));
    text = answerOf(rows);
    expect(text.length).toBeGreaterThan(8_000_000);
    const file = (await ask(['Kelwick']))!.toString('utf8');
    expect(file).toBe(
      Buffer.from(ofAnswer(text, { what: 'costs', brands: ['Kelwick'] }) as Uint8Array).toString('utf8'),
    );
    expect(file.split('\r\n')).toHaveLength(60_000 + 2);
    expect(await ask(['Nobody'])).toBeNull();
  });

  it('with one row that is no cost names it, and nothing of it is taken', async () => {
    text = answerOf([...Array.from({ length: 60_000 }, (_, i) => row(i)), { ...row(1), cost: 'on request' }]);
    await expect(ask([])).rejects.toThrow(SupplierTrouble);
    await expect(ask([])).rejects.toThrow(/costs, 60000, cost must match pattern/);
  });

  it.each([
    ['no JSON', '{'],
    ['a list instead of an answer', '[]'],
    ['a quantity of nothing', answerOf([{ ...row(1), quantityPrices: [{ from: '0', cost: '1' }] }])],
    ['a number instead of text', answerOf([{ ...row(1), cost: 1.5 }])],
  ])('%s is refused as no list of costs', (_, answer) =>
    expect(() => ofAnswer(answer, { what: 'costs', brands: [] })).toThrow(/no list of costs/),
  );
});
