import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BillView } from '#contract/bills.ts';
import { runs } from '#core/tests/runs.ts';
import { XMLParser } from 'fast-xml-parser';
import { bringFile } from '../platform/tests/bring-sheet.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import { cataloguePages, writeCatalogue } from './catalogue.ts';
import { type InvoiceOut, readInvoice, writeInvoice } from './invoice.ts';
import { STRUCTURE } from './structure.ts';
import { readXml } from './xml.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const money = fc.tuple(fc.nat(99_999), fc.nat(99)).map(([a, b]) => `${a}.${String(b).padStart(2, '0')}`);
const words = fc
  .string({ minLength: 1, maxLength: 30 })
  .map((t) => `a${t.replace(/\s+/g, ' ')}z`.replace(/[^\P{C}]/gu, ''));
const day = fc.integer({ min: 0, max: 3000 }).map((n) => new Date(Date.UTC(2020, 0, 1 + n)).toISOString().slice(0, 10));
const units = fc.constantFrom('1', '6', '220', '0.5');
const invoices: fc.Arbitrary<InvoiceOut> = fc.record({
  number: words,
  day,
  currency: fc.constantFrom('EUR', 'GBP'),
  note: fc.option(words),
  supplier: words,
  customer: words,
  fee: fc.option(money.filter((m) => Number(m) > 0)),
  lines: fc.array(
    fc.record({
      sku: words,
      name: words,
      quantity: fc.constantFrom('1', '12', '-2', '0.25'),
      packUnits: units,
      price: money,
    }),
    { minLength: 1, maxLength: 5 },
  ),
});
const catalogues = fc.record({
  id: words,
  name: words,
  day,
  provider: words,
  receiver: words,
  currency: fc.constantFrom('EUR', 'SEK'),
  lines: fc.array(
    fc.record({
      sku: words,
      barcode: fc.option(words),
      name: words,
      brand: fc.option(words),
      price: money,
      units,
      from: day,
    }),
    { minLength: 1, maxLength: 5 },
  ),
});

/** Every element whose order the standard says, with the elements in it, in their order. */
function ordered(xml: string): [string, string[]][] {
  const tree = new XMLParser({ preserveOrder: true, removeNSPrefix: true }).parse(xml) as Record<string, unknown>[];
  const out: [string, string[]][] = [];
  const walk = (nodes: Record<string, unknown>[]) => {
    for (const node of nodes)
      for (const [name, inside] of Object.entries(node)) {
        if (!Array.isArray(inside)) continue;
        const names = (inside as object[]).map((n) => Object.keys(n)[0]!);
        if (STRUCTURE[name]) out.push([name, names]);
        walk(inside as Record<string, unknown>[]);
      }
  };
  walk(tree);
  return out;
}

const fitsStandard = (xml: string): void => {
  const found = ordered(xml);
  expect(found.length).toBeGreaterThan(1);
  for (const [name, inside] of found) {
    const places = inside.map((n) => STRUCTURE[name]!.indexOf(n));
    expect([name, inside.filter((_, i) => places[i]! < 0)]).toEqual([name, []]);
    expect([name, places]).toEqual([name, [...places].sort((a, b) => a - b)]);
  }
};

describe('business documents in UBL', () => {
  it('have the elements of the standard in its order, and invoices come back as they went out', () => {
    fc.assert(
      fc.property(invoices, (out) => {
        const xml = writeInvoice(out);
        fitsStandard(xml);
        const { number, day: on, currency, note, supplier, fee, lines } = readInvoice(readXml(Buffer.from(xml)).root);
        const alike = (text: string | null) => (text === null ? null : Number(text));
        expect({ number, on, currency, note, supplier, fee: alike(fee) }).toEqual({
          number: out.number,
          on: out.day,
          currency: out.currency,
          note: out.note,
          supplier: out.supplier,
          fee: alike(out.fee),
        });
        const plain = (l: { quantity: string; price: string; packUnits: string }) =>
          [l.quantity, l.price, l.packUnits].map(Number);
        expect(lines.map((l) => [l.code, l.name, ...plain(l)])).toEqual(
          out.lines.map((l) => [l.sku, l.name, ...plain(l)]),
        );
      }),
      { numRuns: runs(200) },
    );
  });

  it('and so do catalogues', () => {
    fc.assert(
      fc.property(catalogues, (out) => {
        const xml = writeCatalogue(out);
        fitsStandard(xml);
        const [page] = cataloguePages(readXml(Buffer.from(xml)).root);
        const [heads, ...rows] = page!.rows as (string | { n: string })[][];
        const cell = (row: (string | { n: string })[], head: string) => {
          const found = row[heads!.indexOf(head)] ?? '';
          return typeof found === 'string' ? found : found.n;
        };
        expect(
          rows.map((r) =>
            ['Code', 'Barcode', 'Description', 'Net price', 'Currency', 'Pack size', 'Valid from'].map((h) =>
              cell(r, h),
            ),
          ),
        ).toEqual(out.lines.map((l) => [l.sku, l.barcode ?? '', l.name, l.price, out.currency, l.units, l.from]));
      }),
      { numRuns: runs(200) },
    );
  });

  it.each([
    ['<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa">]><Catalogue>&a;</Catalogue>', 'entities'],
    ['<Catalogue><CatalogueLine></Catalogue>', 'damaged'],
    ['<Catalogue></Catalogue>', 'no line'],
    ['<Order><ID>1</ID></Order>', 'Order'],
    ['<Invoice><ID>1</ID></Invoice>', 'bill'],
  ])('%s is refused as a cost sheet, and the words say why', async (xml, why) => {
    const answer = await admin.bytes(`/cost-sheets?supplier=${shop.shop.supplier}&file=c.xml`, Buffer.from(xml));
    expect([answer.status, answer.body]).toMatchObject([422, { code: 'sheet_unreadable' }]);
    expect((answer.body as { message: string }).message).toContain(why);
  });
});

describe('a supplier’s catalogue', () => {
  it('is read by itself, each price for its base quantity from its day', async () => {
    const line = (code: string, price: string, base: string, from: string) => `
      <cac:CatalogueLine><cbc:ID>1</cbc:ID><cac:LineValidityPeriod><cbc:StartDate>${from}</cbc:StartDate></cac:LineValidityPeriod>
        <cac:RequiredItemLocationQuantity><cac:Price><cbc:PriceAmount currencyID="GBP">${price}</cbc:PriceAmount>
          <cbc:BaseQuantity unitCode="MTR">${base}</cbc:BaseQuantity></cac:Price></cac:RequiredItemLocationQuantity>
        <cac:Item><cbc:Name>Line &amp; twine</cbc:Name>
          <cac:SellersItemIdentification><cbc:ID>${code}</cbc:ID></cac:SellersItemIdentification></cac:Item></cac:CatalogueLine>`;
    const xml = `<?xml version="1.0"?><Catalogue xmlns:cac="a" xmlns:cbc="b">${line('R1', '221.50', '220', '2026-03-01')}${line('R9', '0.29', '1', '2026-04-01')}</Catalogue>`;
    const view = await bringFile(shop, admin, xml, 'catalogue.xml');
    expect(view.counts).toMatchObject({ up: 1, unknown: 1, faulty: 0 });
    expect(view.changes.map((c) => [c.code, c.after])).toMatchObject([
      ['R1', { amount: '221.50', currency: 'GBP', packUnits: '220', from: '2026-03-01' }],
      ['R9', { packUnits: '1', from: '2026-04-01' }],
    ]);
  });
});

describe('a price of a catalogue with a least quantity', () => {
  it('is what so many packs at once cost', async () => {
    const priced = (price: string, least: string) =>
      `<cac:RequiredItemLocationQuantity>${least ? `<cbc:MinimumQuantity unitCode="MTR">${least}</cbc:MinimumQuantity>` : ''}<cac:Price><cbc:PriceAmount currencyID="GBP">${price}</cbc:PriceAmount><cbc:BaseQuantity unitCode="MTR">220</cbc:BaseQuantity></cac:Price></cac:RequiredItemLocationQuantity>`;
    const xml = `<?xml version="1.0"?><Catalogue xmlns:cac="a" xmlns:cbc="b"><cac:ValidityPeriod><cbc:StartDate>2026-03-01</cbc:StartDate></cac:ValidityPeriod><cac:CatalogueLine>${priced('221.50', '220')}${priced('210.00', '2200')}<cac:Item><cbc:Name>Line</cbc:Name><cac:SellersItemIdentification><cbc:ID>R1</cbc:ID></cac:SellersItemIdentification></cac:Item></cac:CatalogueLine></Catalogue>`;
    const view = await bringFile(shop, admin, xml, 'catalogue.xml');
    expect(view.counts).toMatchObject({ faulty: 0 });
    expect(view.changes.map((c) => c.after)).toMatchObject([
      { amount: '221.50', packUnits: '220', quantityPrices: [{ from: '10', cost: '210.00' }] },
    ]);
  });
});

describe('a bill', () => {
  it('that went out as an invoice comes in again as it was; a line that names no item of ours is told', async () => {
    const [first, second] = shop.shop.items as [string, string];
    const lines = [
      { item: first, kind: 'goods', quantity: '3', packUnits: '220', price: '218.00' },
      { item: second, kind: 'return', quantity: '1', packUnits: '220', price: '260.00' },
    ];
    const written = (
      await admin.post('/bills', {
        ...{ supplier: shop.shop.supplier, number: 'K-77', day: TODAY, currency: 'GBP', note: 'March', fee: '12.5' },
        lines,
      })
    ).body as BillView;
    const { text } = await admin.get(`/bills/${written.id}/ubl`);
    const again =
      text.replace('K-77', 'K-78').replace('</Invoice>', '') +
      `<cac:InvoiceLine><cbc:ID>9</cbc:ID><cbc:InvoicedQuantity>1</cbc:InvoicedQuantity><cac:Item><cbc:Name>Carriage</cbc:Name></cac:Item><cac:Price><cbc:PriceAmount>9</cbc:PriceAmount></cac:Price></cac:InvoiceLine></Invoice>`;
    const made = await admin.bytes(`/bill-files?supplier=${shop.shop.supplier}`, Buffer.from(again));
    expect(made.body).toMatchObject({ left: ['line 9: no code Carriage'] });
    const { body, state } = (await admin.get(`/bills/${(made.body as { id: string }).id}`)).body as BillView;
    expect([state, body]).toEqual([
      'draft',
      { ...written.body, number: 'K-78', note: 'March · Not taken over: line 9: no code Carriage' },
    ]);
    const twice = await admin.bytes(`/bill-files?supplier=${shop.shop.supplier}`, Buffer.from(again));
    expect(twice.status).toBe(409);
  });
});

describe('a price list as a catalogue', () => {
  it('asks what the list asks, without tax', async () => {
    await postAll(admin, shop.shop.counter);
    const { text } = await admin.get(`/lists/${shop.shop.counter}/ubl`);
    const { rows } = (await admin.get(`/lists/${shop.shop.counter}/prices`)).body as { rows: ListPriceRow[] };
    const [page] = cataloguePages(readXml(Buffer.from(text)).root);
    const read = (page!.rows.slice(1) as (string | { n: string })[][]).map((r) => [
      r[0],
      Number((r[2] as { n: string }).n),
    ]);
    // the counter shows 20 % tax
    expect(read).toEqual(rows.map((r) => [r.sku, Number((Number(r.posted) / 1.2).toFixed(6))]));
  });
});
