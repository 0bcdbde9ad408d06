import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PriceCheck, QuoteView } from '#contract/quotes.ts';
import { TODAY, type Person, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
const as = {} as Record<'admin' | 'seller' | 'approver', Person>;
beforeAll(async () => {
  shop = await openWorkshop();
  as.admin = await signIn(shop.app, 'administrator');
  as.seller = await signIn(shop.app, 'seller');
  as.approver = await signIn(shop.app, 'approver');
  await postAll(as.admin, shop.shop.counter);
  await postAll(as.admin, shop.shop.yards);
  const floor = { kind: 'margin', outcome: 'ask', active: true };
  await as.admin.post('/floors', { ...floor, name: 'Least margin', value: '20' });
  await as.admin.post('/floors', { ...floor, name: 'Never under cost', value: '0', outcome: 'refuse' });
  await as.admin.post('/breaks', {
    name: 'By the length',
    list: shop.shop.yards,
    way: 'whole',
    count: 'item',
    rows: [{ from: '50', kind: 'percent_off', value: '6' }],
  });
});
afterAll(() => shop.close());

const line = (n: number, quantity: string, off: string | null = null) => ({
  item: shop.shop.items[n],
  pack: shop.shop.packs[n],
  quantity,
  reductionKind: off === null ? null : 'percent_off',
  reductionValue: off,
});
const write = async (lines: object[], customer = shop.shop.customers[0]) =>
  (await as.seller.post('/quotes', { customer, lines, note: '' })).body as QuoteView;
const lastPosting = async () => ((await as.admin.get('/postings')).body as { id: string }[])[0]!.id;
const code = (answer: { body: unknown }) => (answer.body as { code?: string }).code;

describe('a quote', () => {
  it('takes the list of the customer’s group, and the list for everyone otherwise', async () => {
    const yard = await write([line(0, '10')]);
    expect([yard.listName, yard.figures.taxIn, yard.figures.lines[0]!.listPrice]).toEqual(['Yards', false, '1.76']);
    const passer = await write([line(0, '10')], shop.shop.customers[1]);
    expect([passer.listName, passer.figures.toPay]).toEqual(['Counter', '24.00']);
    expect(yard.listLost).toEqual([{ name: 'Counter', why: 'comes later: meant for everyone' }]);
  });
  it('another list needs a reason', async () => {
    const body = { customer: shop.shop.customers[0], list: shop.shop.counter, lines: [line(0, '10')], note: '' };
    expect((await as.seller.post('/quotes', body)).status).toBe(422);
    expect(((await as.seller.post('/quotes', { ...body, listReason: 'cash sale' })).body as QuoteView).listWhy).toBe(
      'chosen by hand: cash sale',
    );
  });
  it('prices follow the quantity: the break counts over both lines of an item', async () => {
    const { figures } = await write([line(0, '30'), line(0, '20')]);
    expect(figures.lines.map((l) => [l.unitPrice, l.total])).toEqual([
      ['1.65', '49.50'],
      ['1.65', '33.00'],
    ]);
    expect(figures.lines[0]!.breakWords).toContain('one price for all units');
  });
  it('shows the seller what a floor does, and neither cost nor margin nor a figure that is made from them', async () => {
    const { figures, id } = await write([line(0, '10', '15')]);
    expect(figures.lines[0]).toMatchObject({
      margin: null,
      broken: { name: null, outcome: 'ask', least: null, short: null },
    });
    expect(figures.margin).toBeNull();
    // a name such as "Least margin 15 %" would tell with the least price what the goods cost
    expect(JSON.stringify(figures)).not.toContain('Least margin');
    expect(JSON.stringify(figures)).not.toMatch(/1\.56|0\.06/);
    expect(((await as.admin.get(`/quotes/${id}`)).body as QuoteView).figures.lines[0]!.broken).toMatchObject({
      least: '1.56',
      short: '0.06',
    });
  });
  it('nor the figure of a floor that lost beside it', async () => {
    const { figures } = await write([line(0, '10', '40')]);
    const losers = figures.lines[0]!.steps.flatMap((s) => (s.kind === 'floor' ? (s.lost ?? []) : []));
    expect(losers.every((l) => l.figure === undefined)).toBe(true);
  });
  it('where the administrator allows it, the seller sees the floor', async () => {
    const [settings] = (await as.admin.get('/settings')).body as { id: string; version: number }[];
    const { id, ...body } = settings!;
    const kept = await as.admin.put(`/settings/${id}`, { ...body, showsCostFloors: true });
    expect(kept.status, JSON.stringify(kept.body)).toBe(200);
    const { figures } = await write([line(0, '10', '15')]);
    expect(figures.lines[0]!.broken).toMatchObject({ name: null, least: '1.56', short: '0.06' });
    expect(JSON.stringify(figures)).not.toContain('Least margin');
    const { version } = kept.body as { version: number };
    await as.admin.put(`/settings/${id}`, { ...body, version, showsCostFloors: false });
  });
  it('a reduction without its value is refused: it would be lost silently', async () => {
    const half = { ...line(0, '10'), reductionKind: 'percent_off', reductionValue: null };
    const answer = await as.seller.post('/quotes', { customer: shop.shop.customers[0], lines: [half], note: '' });
    expect([answer.status, (answer.body as { faults: { path: string }[] }).faults[0]!.path]).toEqual([
      422,
      'lines[0].reductionValue',
    ]);
  });
  it('a quote past its last day is not issued', async () => {
    const body = { customer: shop.shop.customers[0], lines: [line(0, '10')], note: '', validUntil: '2026-03-08' };
    const q = (await as.seller.post('/quotes', body)).body as QuoteView;
    expect(code(await as.seller.post(`/quotes/${q.id}/issue`, { version: q.version }))).toBe('quote_expired');
  });
});

describe('approval', () => {
  it('a broken floor asks a second person; changing the quote lets the yes lapse', async () => {
    const q = await write([line(0, '10', '15')]);
    expect(code(await as.seller.post(`/quotes/${q.id}/issue`, { version: q.version }))).toBe('quote_needs_approval');
    const asked = (await as.seller.post(`/quotes/${q.id}/ask`, { version: q.version })).body as QuoteView;
    expect(asked.state).toBe('waiting');
    expect(
      (await as.seller.post(`/quotes/${q.id}/decide`, { version: asked.version, decision: 'approved' })).status,
    ).toBe(403);
    const yes = (
      await as.approver.post(`/quotes/${q.id}/decide`, { version: asked.version, decision: 'approved', note: 'once' })
    ).body as QuoteView;
    expect([yes.state, yes.decisions[0]!.by]).toEqual(['approved', 'Bo']);
    const changed = (
      await as.seller.put(`/quotes/${q.id}`, {
        customer: q.customer,
        lines: [line(0, '10', '18')],
        note: '',
        version: yes.version,
      })
    ).body as QuoteView;
    expect(changed.state).toBe('draft');
    expect(code(await as.seller.post(`/quotes/${q.id}/issue`, { version: changed.version }))).toBe(
      'quote_needs_approval',
    );
  });
  it('once approved it can be issued', async () => {
    const q = await write([line(0, '10', '15')]);
    const asked = (await as.seller.post(`/quotes/${q.id}/ask`, { version: q.version })).body as QuoteView;
    const yes = (await as.approver.post(`/quotes/${q.id}/decide`, { version: asked.version, decision: 'approved' }))
      .body as QuoteView;
    expect(((await as.seller.post(`/quotes/${q.id}/issue`, { version: yes.version })).body as QuoteView).state).toBe(
      'issued',
    );
  });
  it('another’s quote is changed and issued only by who may', async () => {
    const { id, version, customer } = (
      await as.admin.post('/quotes', { customer: shop.shop.customers[0], lines: [line(0, '10')], note: '' })
    ).body as QuoteView;
    const mine = { customer, lines: [line(0, '11')], note: '', version };
    expect(code(await as.seller.put(`/quotes/${id}`, mine))).toBe('right_missing');
    expect(code(await as.seller.post(`/quotes/${id}/issue`, { version }))).toBe('right_missing');
  });
  it('who changed it last, or asked for approval, does not approve it, and the record names every hand', async () => {
    const q = await write([line(0, '10', '14')]);
    const changed = (
      await as.admin.put(`/quotes/${q.id}`, {
        customer: q.customer,
        lines: [line(0, '10', '15')],
        note: '',
        version: q.version,
      })
    ).body as QuoteView;
    const asked = (await as.seller.post(`/quotes/${q.id}/ask`, { version: changed.version })).body as QuoteView;
    const decide = { version: asked.version, decision: 'approved' };
    expect(code(await as.admin.post(`/quotes/${q.id}/decide`, decide))).toBe('own_quote');
    const yes = (await as.approver.post(`/quotes/${q.id}/decide`, decide)).body as QuoteView;
    expect(yes.hands.map((h) => [h.by, h.did])).toEqual([
      ['Cid', 'wrote a quote'],
      ['Ada', 'changed a quote'],
      ['Cid', 'asked for approval'],
      ['Bo', 'approved a quote'],
    ]);
  });
  it('nobody approves a quote of their own', async () => {
    const q = (
      await as.admin.post('/quotes', { customer: shop.shop.customers[0], lines: [line(0, '10', '15')], note: '' })
    ).body as QuoteView;
    const asked = (await as.admin.post(`/quotes/${q.id}/ask`, { version: q.version })).body as QuoteView;
    expect(code(await as.admin.post(`/quotes/${q.id}/decide`, { version: asked.version, decision: 'approved' }))).toBe(
      'own_quote',
    );
  });
  it('a yes holds only for the figures it was asked for: a cost that rises since makes it ask again', async () => {
    const q = await write([line(1, '10', '14')]);
    const asked = (await as.seller.post(`/quotes/${q.id}/ask`, { version: q.version })).body as QuoteView;
    const yes = (await as.approver.post(`/quotes/${q.id}/decide`, { version: asked.version, decision: 'approved' }))
      .body as QuoteView;
    await as.admin.post('/costs', {
      item: shop.shop.items[1],
      supplier: shop.shop.supplier,
      amount: '262.00',
      currency: 'GBP',
      packUnits: '220',
      validFrom: '2026-03-09',
    });
    expect(code(await as.seller.post(`/quotes/${q.id}/issue`, { version: yes.version }))).toBe('quote_figures_moved');
  });
  it('a floor that refuses cannot be approved away', async () => {
    const q = await write([line(0, '10', '40')]);
    expect(q.figures.outcome).toBe('refused');
    expect(code(await as.seller.post(`/quotes/${q.id}/ask`, { version: q.version }))).toBe('quote_refused');
  });
});

describe('an issued quote', () => {
  it('has the price in force when it is issued, not that of a moment before', async () => {
    const q = await write([line(2, '10')]);
    const price = '9.99';
    const [answer] = await shop.heldBack(
      7302,
      // supertest asks only once somebody waits
      () => [as.seller.post(`/quotes/${q.id}/issue`, { version: q.version }).then((a) => a)],
      async (client) => {
        const { rows } = await client.query<{ id: number }>(
          `insert into postings (list_id, kind, reason, effective, posted_by, posted_at) values ($1, 'post', 'meanwhile', $2, $3, now()) returning id`,
          [shop.shop.yards, TODAY, shop.shop.people['administrator']],
        );
        await client.query(
          `insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, before, after) values ($1, $2, $3, $4, $5, $6, $7)`,
          [
            rows[0]!.id,
            shop.shop.yards,
            shop.shop.items[2],
            shop.shop.packs[2],
            TODAY,
            q.figures.lines[0]!.listPrice,
            price,
          ],
        );
        await client.query(
          `with entry as (insert into audit_entries (at, action, subject, subject_id) values (now(), 'posted', 'postings', $1) returning id)
             update layers set revision = entry.id from entry where name = 'posted'`,
          [rows[0]!.id],
        );
      },
    );
    expect((answer!.body as QuoteView).figures.lines[0]!.listPrice).toBe(price);
    expect((answer!.body as QuoteView).figures.toPay).not.toBe(q.figures.toPay);
    await as.admin.post(`/postings/${await lastPosting()}/reverse`, { reason: 'back' });
  });

  it('keeps its figures whatever happens to prices, and cannot be changed', async () => {
    const q = await write([line(2, '10')]);
    const issued = (await as.seller.post(`/quotes/${q.id}/issue`, { version: q.version })).body as QuoteView;
    await as.admin.post('/costs', {
      item: shop.shop.items[2],
      supplier: shop.shop.supplier,
      amount: '500.00',
      currency: 'GBP',
      packUnits: '220',
      validFrom: '2026-03-09',
    });
    await postAll(as.admin, shop.shop.counter);
    await postAll(as.admin, shop.shop.yards);
    const later = (await as.seller.get(`/quotes/${q.id}`)).body as QuoteView;
    expect(later.figures.toPay).toBe(issued.figures.toPay);
    expect((await write([line(2, '10')])).figures.toPay).not.toBe(issued.figures.toPay);
    expect(
      code(
        await as.seller.put(`/quotes/${q.id}`, { customer: q.customer, lines: [], note: '', version: issued.version }),
      ),
    ).toBe('quote_not_draft');
  });
  it('prints as a PDF that shows number, lines and sums', async () => {
    const q = await write([line(0, '60')]);
    const issued = (await as.seller.post(`/quotes/${q.id}/issue`, { version: q.version })).body as QuoteView;
    const pdf = await as.seller
      .get(`/quotes/${q.id}/pdf`)
      .buffer(true)
      .parse((res, done) => {
        const parts: Buffer[] = [];
        res.on('data', (d: Buffer) => parts.push(d));
        res.on('end', () => done(null, Buffer.concat(parts)));
      });
    expect(pdf.headers['content-type']).toBe('application/pdf');
    expect((pdf.body as Buffer).subarray(0, 5).toString()).toBe('%PDF-');
    expect((pdf.body as Buffer).length).toBeGreaterThan(5000);
    const { quoteDocument } = await import('./quote-pdf.ts');
    const page = JSON.stringify(quoteDocument(issued, 'Test shop'));
    // what the customer accepted is no draft
    expect(JSON.stringify(quoteDocument({ ...issued, state: 'accepted' }, 'Test shop'))).not.toContain('DRAFT');
    for (const text of [
      issued.number,
      'Braided line 10 mm',
      issued.figures.lines[0]!.total,
      issued.figures.toPay,
      issued.figures.taxes[0]!.tax,
    ])
      expect(page).toContain(text);
    expect(page).not.toContain('not an offer');
  });
});

describe('a quote that cannot be', () => {
  it('an item without a posted price says so, and cannot be issued', async () => {
    const late = (await as.admin.post('/quotes', { customer: shop.shop.customers[0], lines: [], note: '' }))
      .body as QuoteView;
    expect(code(await as.admin.post(`/quotes/${late.id}/issue`, { version: late.version }))).toBe('quote_incomplete');
  });
  it('two sellers at once: the second is told', async () => {
    const q = await write([line(0, '1')]);
    const change = { customer: q.customer, lines: [line(0, '2')], note: '', version: q.version };
    expect((await as.seller.put(`/quotes/${q.id}`, change)).status).toBe(200);
    expect(code(await as.admin.put(`/quotes/${q.id}`, change))).toBe('changed_meanwhile');
  });
  it('numbers follow each other without gap or double', async () => {
    const made = await Promise.all(Array.from({ length: 5 }, () => write([line(0, '1')])));
    const numbers = made.map((q) => Number(q.number.slice(5))).sort((a, b) => a - b);
    expect(numbers.map((n) => n - numbers[0]!)).toEqual([0, 1, 2, 3, 4]);
  });
});

it('price check asks what a customer would pay on any day', async () => {
  const ask = (day: string) =>
    as.seller.post('/price-check', {
      customer: shop.shop.customers[0],
      item: shop.shop.items[0],
      pack: shop.shop.packs[0],
      quantity: '50',
      day,
    });
  const now = (await ask('2026-03-09')).body as PriceCheck;
  expect([now.list!.name, now.figures.lines[0]!.unitPrice]).toEqual(['Yards', '1.65']);
  expect(((await ask('2026-03-08')).body as typeof now).figures.lines[0]!.reason).toContain(
    'has no price on the list Yards',
  );
});

it('price check shows every list that was looked at, for a group or anybody, and how the posted price was made to whoever sees costs', async () => {
  const of = { item: shop.shop.items[0], pack: shop.shop.packs[0], quantity: '10', day: TODAY };
  const check = async (person: Person, more: object) =>
    (await person.post('/price-check', { ...of, ...more })).body as PriceCheck;
  const group = await check(as.seller, { group: shop.shop.group });
  expect([group.list!.name, group.candidates.map((c) => [c.name, c.wins])]).toEqual([
    'Yards',
    [
      ['Yards', true],
      ['Counter', false],
    ],
  ]);
  expect(group.behind).toBeNull();
  const anybody = await check(as.admin, {});
  expect([anybody.list!.name, anybody.leftOut.map((l) => l.name)]).toEqual(['Counter', ['Yards']]);
  expect(anybody.behind!.map((s) => s.kind)).toContain('exchange');
  const answer = await as.seller.post('/price-check', { ...of, country: 'Norway' });
  expect([answer.status, (answer.body as { faults: { path: string }[] }).faults[0]!.path]).toEqual([422, 'country']);
});
