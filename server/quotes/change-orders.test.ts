import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ChainView } from '#contract/change-orders.ts';
import type { QuoteView } from '#contract/quotes.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
let seller: Person;
let approver: Person;
let charge: string;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
  approver = await signIn(shop.app, 'approver');
  await postAll(admin, shop.shop.counter);
  await postAll(admin, shop.shop.yards);
  charge = (
    await made<{ id: string }>(admin, '/charges', {
      name: 'Delivery',
      percent: '10',
      period: null,
      least: null,
      most: null,
      taxClass: 'standard',
      covers: [{}],
      coversCharges: [],
    })
  ).id;
});
afterAll(() => shop.close());

async function made<T>(person: Person, path: string, body: object): Promise<T> {
  const answer = await person.post(path, body);
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return answer.body as T;
}
/** Posts another price for an item, the first, on the yards' list. */
async function dearer(day: string, after: string, n = 0): Promise<void> {
  const { rows } = (await admin.get(`/lists/${shop.shop.yards}/prices?day=${day}`)).body as {
    rows: { item: string; pack: string; posted: string | null }[];
  };
  const row = rows.find((r) => r.item === shop.shop.items[n])!;
  await made(admin, `/lists/${shop.shop.yards}/postings`, {
    effective: day,
    reason: 'dearer',
    lines: [
      { item: row.item, pack: row.pack, before: row.posted, after, handSet: { reason: 'as agreed', lastDay: null } },
    ],
  });
}
const code = (answer: { body: unknown }) => (answer.body as { code?: string }).code;

const line = (n: number, quantity: string, more: object = {}) => ({
  item: shop.shop.items[n]!,
  pack: shop.shop.packs[n]!,
  quantity,
  ...more,
});
const body = (more: object = {}) => ({
  customer: shop.shop.customers[0]!,
  lines: [line(0, '100', { section: 'rigging' }), line(1, '50', { section: 'mooring' })],
  charges: [{ charge, sections: ['rigging'] }],
  reduction: { kind: 'amount_off', value: '10', sections: [] },
  ...more,
});

async function accepted(more: object = {}, credits = true): Promise<QuoteView> {
  const quote = await made<QuoteView>(seller, '/quotes', body(more));
  const issued = await made<QuoteView>(seller, `/quotes/${quote.id}/issue`, { version: quote.version });
  const view = await made<ChainView>(seller, `/quotes/${quote.id}/accept`, {
    version: issued.version,
    note: 'by letter',
    credits,
  });
  expect(view.documents).toHaveLength(1);
  expect(view.documents[0]!.toPayInAll).toBe(issued.figures.toPay);
  return (await seller.get(`/quotes/${quote.id}`)).body as QuoteView;
}
const change = (quote: QuoteView, more: object = {}) => ({
  reason: 'ten metres more',
  terms: 'acceptance',
  lines: [{ ...quote.lines[0]!, quantity: '110' }, quote.lines[1]!],
  goesOnFrom: ['0', '1'],
  charges: quote.charges,
  ...more,
});
const versionNow = async (id: string) => ((await seller.get(`/quotes/${id}`)).body as QuoteView).version;

describe('a quote with sections, a charge and a reduction on the whole', () => {
  it('is priced with them, and comes back as it was sent', async () => {
    const quote = await made<QuoteView>(seller, '/quotes', body({ estimate: '500', channel: 'fair', country: 'NO' }));
    expect(quote).toMatchObject({
      estimate: '500',
      channel: 'fair',
      country: 'NO',
      charges: [{ charge, sections: ['rigging'] }],
    });
    expect(quote.lines.map((l) => l.section)).toEqual(['rigging', 'mooring']);
    const { figures } = quote;
    expect(figures.reduction).toMatchObject({ asked: '10.00', given: '10.00' });
    // a tenth of the net of the rigging alone, after its share of the reduction
    const [rigging] = figures.lines;
    expect(figures.charges[0]).toMatchObject({ name: 'Delivery', covered: rigging!.netTotal });
    expect(Number(figures.charges[0]!.net)).toBeCloseTo(Number(rigging!.netTotal) / 10, 2);
    const shares = figures.lines.map((l) => Number(l.shareOfReduction));
    expect(shares.reduce((a, b) => a + b)).toBeCloseTo(10, 9);
  });
  it('keeps its charge from being removed', async () => {
    const [row] = ((await admin.get('/charges')).body as { id: string; version: number }[]).filter(
      (c) => c.id === charge,
    );
    expect(code(await admin.delete(`/charges/${charge}`, { version: row!.version }))).toBe('in_use');
  });
  it('a region other than the country’s needs its reason', async () => {
    const region = await made<{ id: string }>(admin, '/regions', {
      name: 'the fells',
      countries: ['IS'],
      currency: 'EUR',
      tax: 'charged',
      inside: null,
    });
    const answer = await seller.post('/quotes', body({ country: 'NO', region: region.id }));
    expect(code(answer)).toBe('no_reason_for_region');
    const quote = await made<QuoteView>(
      seller,
      '/quotes',
      body({ country: 'NO', region: region.id, regionReason: 'goes on by ship' }),
    );
    expect(quote.regionName).toBe('the fells');
  });
});

describe('an accepted quote', () => {
  it('is changed by change orders: was, will be, difference, by what counted when it was issued', async () => {
    const quote = await accepted();
    // afterwards everything becomes dearer
    await dearer(TODAY, '9.95');
    await made(admin, '/reductions', {
      name: 'gone up',
      group: shop.shop.group,
      customer: null,
      scope: {},
      lists: [],
      kind: 'percent_more',
      value: '50',
      onTop: true,
      zeroConfirmed: false,
      from: null,
      to: null,
    });
    const tried = await made<ChainView>(seller, `/quotes/${quote.id}/changes/figures`, change(quote));
    const [first, second] = tried.documents;
    const [grown, same] = second!.lines;
    expect(same!.difference).toBe('0.00');
    expect(grown).toMatchObject({ quantityWas: '100', quantityNow: '110', was: first!.lines[0]!.now });
    // the same price each: ten hundredths more
    const perMetre = Number(first!.figures.lines[0]!.unitPrice);
    expect(second!.figures.lines[0]!.unitPrice).toBe(String(perMetre.toFixed(2)));
    expect(second!.carried).toMatchObject({ amount: '10.00' });
    expect(second!.charges[0]).toMatchObject({ name: 'Delivery', was: first!.charges[0]!.now });
    expect(Number(second!.toPayInAll)).toBeCloseTo(Number(first!.toPay) + Number(second!.toPay), 9);
    // today's terms are dearer, and only where they are asked for
    const today = await made<ChainView>(
      seller,
      `/quotes/${quote.id}/changes/figures`,
      change(quote, { terms: 'today' }),
    );
    expect(Number(today.documents[1]!.toPay)).toBeGreaterThan(Number(second!.toPay));
    // nothing of it was kept
    expect(((await seller.get(`/quotes/${quote.id}/changes`)).body as ChainView).documents).toHaveLength(1);
    for (const r of (await admin.get('/reductions')).body as { id: string; version: number }[])
      await admin.delete(`/reductions/${r.id}`, { version: r.version });
  });
  it('keeps one draft, issues it, and shows it later exactly as it was issued', async () => {
    const quote = await accepted();
    const put = (version: number, more: object = {}) =>
      seller.put(`/quotes/${quote.id}/changes/draft`, { ...change(quote, more), version });
    expect((await put(quote.version)).status).toBe(200);
    expect(code(await put(quote.version))).toBe('changed_meanwhile');
    const extra = { lines: [...change(quote).lines, line(2, '5')], goesOnFrom: ['0', '1', ''] };
    expect((await put(quote.version + 1, extra)).status).toBe(200);
    const issued = await made<ChainView>(seller, `/quotes/${quote.id}/changes/issue`, { version: quote.version + 2 });
    expect(issued.documents[1]).toMatchObject({ state: 'issued', number: 1, by: 'Cid' });
    expect(issued.documents[1]!.lines[2]).toMatchObject({ was: '0.00', quantityWas: null, quantityNow: '5' });
    shop.setDay('2026-05-01');
    await dearer('2026-05-01', '12.95');
    const later = (await seller.get(`/quotes/${quote.id}/changes`)).body as ChainView;
    expect(later.documents[1]).toEqual(issued.documents[1]);
    // the next change goes on from it, by name of its lines
    const back = change(quote, { lines: quote.lines, reason: 'without the last' });
    const second = await made<ChainView>(seller, `/quotes/${quote.id}/changes/figures`, back);
    expect(second.documents[2]!.toPayInAll).toBe(second.documents[0]!.toPayInAll);
    expect(second.documents[2]!.lines.find((l) => l.id === '1.3')).toMatchObject({ now: '0.00', quantityNow: null });
    shop.setDay(TODAY);
  });
  it('an item that an issued change added is from then on priced as it was then', async () => {
    const quote = await accepted({ lines: [line(0, '10')], charges: [], reduction: null });
    const extra = { lines: [quote.lines[0], line(2, '5')], goesOnFrom: ['0', ''], charges: [] };
    await seller.put(`/quotes/${quote.id}/changes/draft`, { ...change(quote), ...extra, version: quote.version });
    const issued = await made<ChainView>(seller, `/quotes/${quote.id}/changes/issue`, { version: quote.version + 1 });
    const added = issued.documents[1]!.lines[1]!;
    await dearer(TODAY, '19.95', 2);
    const again = { ...change(quote), lines: extra.lines, goesOnFrom: issued.documents[1]!.keys, charges: [] };
    const tried = await made<ChainView>(seller, `/quotes/${quote.id}/changes/figures`, again);
    expect(tried.documents[2]!.lines[1]).toMatchObject({ was: added.now, now: added.now, difference: '0.00' });
  });
  it('gives nothing back where that was agreed, and says so', async () => {
    const quote = await accepted({}, false);
    const less = change(quote, { lines: [{ ...quote.lines[0]!, quantity: '10' }, quote.lines[1]!] });
    const { documents } = await made<ChainView>(seller, `/quotes/${quote.id}/changes/figures`, less);
    expect(documents[1]!.toPay).toBe('0.00');
    expect(documents[1]!.alerts.map((a) => a.alert)).toContain('not_credited');
    expect(documents[1]!.goods.notCredited).not.toBeNull();
  });
  it('is not changed as a draft is, nor accepted twice, nor before it is issued', async () => {
    const quote = await accepted();
    expect(code(await seller.put(`/quotes/${quote.id}`, { ...body(), version: quote.version }))).toBe(
      'quote_not_draft',
    );
    expect(code(await seller.post(`/quotes/${quote.id}/accept`, { version: quote.version, credits: true }))).toBe(
      'quote_not_issued',
    );
    const draft = await made<QuoteView>(seller, '/quotes', body());
    expect(code(await seller.post(`/quotes/${draft.id}/accept`, { version: draft.version, credits: true }))).toBe(
      'quote_not_issued',
    );
    expect(code(await seller.get(`/quotes/${draft.id}/changes`))).toBe('quote_not_accepted');
  });
  it('a change under a floor that asks is issued by a second person', async () => {
    const quote = await accepted({ lines: [line(0, '100')], charges: [], reduction: null });
    await made(admin, '/floors', {
      name: 'margin 10',
      kind: 'margin',
      value: '10',
      currency: null,
      item: null,
      category: null,
      brand: null,
      group: null,
      outcome: 'ask',
      active: true,
    });
    const deep = {
      lines: [line(0, '100', { reductionKind: 'percent_off', reductionValue: '95' })],
      goesOnFrom: ['0'],
      charges: [],
    };
    await seller.put(`/quotes/${quote.id}/changes/draft`, { ...change(quote, deep), version: quote.version });
    // the floor came after the quote was issued: by its own terms the change breaks nothing
    const kept = (await seller.get(`/quotes/${quote.id}/changes`)).body as ChainView;
    expect(kept.documents[1]!.alerts.map((a) => a.alert)).not.toContain('needs_approval');
    const version = await versionNow(quote.id);
    await seller.put(`/quotes/${quote.id}/changes/draft`, { ...change(quote, { ...deep, terms: 'today' }), version });
    expect(code(await seller.post(`/quotes/${quote.id}/changes/issue`, { version: version + 1 }))).toBe(
      'change_needs_second',
    );
    const done = await made<ChainView>(approver, `/quotes/${quote.id}/changes/issue`, { version: version + 1 });
    expect(done.documents[1]!.state).toBe('issued');
    expect(JSON.stringify((await admin.get('/audit')).body)).toContain('issued change order 1');
  });
});
