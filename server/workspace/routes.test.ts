import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Answers } from '#contract/api/answers.ts';
import type { PriceCheck } from '#contract/quotes.ts';
import { readWorkspace, writeWorkspace } from '#contract/workspace-file/workspace-file.ts';
import { evaluateFiles } from '../../evaluator/evaluate-files.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter);
  await postAll(admin, shop.shop.yards);
  await admin.post('/reductions', {
    name: 'yards, rope',
    group: shop.shop.group,
    scope: { category: shop.shop.category },
    kind: 'percent_off',
    value: '3',
  });
  await admin.post('/entries', {
    list: shop.shop.counter,
    scope: { item: shop.shop.items[1] },
    kind: 'price',
    value: '4.44',
    from: TODAY,
    to: '2026-03-20',
  });
});
afterAll(() => shop.close());

const fileText = async () => (await admin.get(`/workspace-file?day=${TODAY}`)).text;
const compare = async (text: string) =>
  (await admin.bytes(`/workspace-file/difference?day=${TODAY}`, text)).body as Answers['file_difference'];

describe('the workspace as a file', () => {
  it('is read again as the workspace it was, and holds what is here', async () => {
    const text = await fileText();
    const read = readWorkspace(text);
    expect(read.ok ? [] : read.faults).toEqual([]);
    if (read.ok) expect(writeWorkspace(read.value)).toBe(text);
    const { faults, members } = await compare(text);
    expect(faults).toEqual([]);
    expect(members.filter((m) => m.added + m.gone + m.changed > 0)).toEqual([]);
  });
  it('answers every question as the server does', async () => {
    const days = [TODAY, '2026-03-15', '2026-03-21'];
    const questions = days.flatMap((day) =>
      shop.shop.items.flatMap((item, n) =>
        [...shop.shop.customers, null].flatMap((customer) =>
          ['1', '7', '60'].map((quantity) => ({
            kind: 'price',
            item,
            pack: shop.shop.packs[n]!,
            customer,
            quantity,
            day,
          })),
        ),
      ),
    );
    expect(questions.length).toBeGreaterThan(80);
    for (const day of days) {
      const own = questions.filter((q) => q.day === day);
      const files: Record<string, string> = {
        workspace: (await admin.get(`/workspace-file?day=${day}`)).text,
        questions: JSON.stringify(own),
      };
      const { answers } = evaluateFiles({ workspace: 'workspace', questions: 'questions' }, (name) => files[name]!, {
        buildUp: false,
      });
      const said = JSON.parse(answers!) as { ok: boolean; unitPrice: string }[];
      for (const [n, { kind: _, ...asked }] of own.entries()) {
        const { figures } = (await admin.post('/price-check', asked)).body as PriceCheck;
        expect([asked, said[n]!.ok ? Number(said[n]!.unitPrice) : null]).toEqual([
          asked,
          figures.lines[0]!.unitPrice === null ? null : Number(figures.lines[0]!.unitPrice),
        ]);
      }
    }
  });
  it('is held against what is here, change by change, and nothing is changed by that', async () => {
    const read = readWorkspace(await fileText());
    if (!read.ok) throw new Error('it was readable before');
    const [first, ...others] = read.value.items;
    const other = writeWorkspace({
      ...read.value,
      currency: 'SEK',
      items: [{ ...first!, name: 'Another name' }, ...others.slice(1), { ...first!, id: '77', sku: 'NEW' }],
      costs: [],
      posted: [],
      lists: read.value.lists.map((l) => ({ ...l, entries: [] })),
    });
    const { members } = await compare(other);
    const of = (member: string) => members.find((m) => m.member === member);
    expect(of('items')).toMatchObject({ added: 1, gone: 1, changed: 1, same: 1 });
    expect(of('settings')).toMatchObject({ changed: 1 });
    expect(of('lists')!.examples[0]).toMatchObject({ name: 'Counter', what: 'changed' });
    expect((await compare(await fileText())).members.every((m) => m.added + m.gone + m.changed === 0)).toBe(true);
  });
  it('one that is broken says where', async () => {
    const text = await fileText();
    const broken = text.replace('"supplierChoice": "preferred"', '"supplierChoice": "whatever"');
    expect((await compare(broken)).faults[0]!.path).toBe('$.supplierChoice');
    expect((await compare('not a file')).faults).not.toEqual([]);
  });
  it('is for those who change the rules', async () => {
    const seller = await signIn(shop.app, 'seller');
    expect((await seller.get('/workspace-file')).status).toBe(403);
  });
});
