import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fileURLToPath } from 'node:url';
import { DOC_PAGES, SCHEMA_FILES, schemaText } from '#contract/workspace-file/schema-files.ts';
import { writeWorkspace } from '#contract/workspace-file/workspace-file.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { EXAMPLES, docs } from './doc-files.ts';
import { evaluateFiles } from './evaluate-files.ts';

const price = fileURLToPath(new URL('../bin/price', import.meta.url));
const WORKSPACE = { format: 'hard-ledger workspace', version: 1, currency: 'EUR' };

function evaluate(workspace: unknown, questions: unknown) {
  const text = (value: unknown) => (typeof value === 'string' ? value : JSON.stringify(value));
  const texts: Record<string, string> = { w: text(workspace), q: text(questions) };
  return evaluateFiles({ workspace: 'w', questions: 'q' }, (name) => texts[name]!, { buildUp: false });
}

describe('the files that the documentation shows', () => {
  it.each(EXAMPLES)('the answers to the questions about %s are what the program answers today', (name) => {
    const read = (part: string) => readFileSync(docs(`examples/${name}.${part}.json`), 'utf8');
    const { answers } = evaluateFiles({ workspace: 'workspace', questions: 'questions' }, read, { buildUp: false });
    expect(answers).toBe(read('answers'));
  });
  it.each(Object.keys(DOC_PAGES))('%s is what the code makes (npm run doc-files makes it again)', (name) => {
    expect(readFileSync(docs(name), 'utf8')).toBe(DOC_PAGES[name]!());
  });
  it.each(Object.keys(SCHEMA_FILES))('%s is what the code makes (npm run doc-files makes it again)', (name) => {
    expect(readFileSync(docs(`schema/${name}`), 'utf8')).toBe(schemaText(SCHEMA_FILES[name]));
  });
});

describe('input that cannot be used is refused, saying where, what stands there and what was expected', () => {
  const refused: [string, unknown, unknown, string][] = [
    ['no JSON', '{"format":', [], 'w: $: nothing: expected JSON'],
    ['another format', { ...WORKSPACE, format: 'other' }, [], 'w: $.format: "other": expected "hard-ledger workspace"'],
    ['a version that is not known', { ...WORKSPACE, version: 2 }, [], 'w: $.version: 2: expected 1'],
    ['a field that is not known', { ...WORKSPACE, colour: 1 }, [], 'w: $.colour: 1: expected no such field'],
    [
      'a number where an amount is text',
      { ...WORKSPACE, rates: [{ from: 'EUR', to: 'SEK', day: '2026-01-01', rate: 11.2 }] },
      [],
      'w: $.rates[0].rate: 11.2: expected an exact decimal above 0 as text',
    ],
    [
      'a day that is none',
      { ...WORKSPACE, taxes: [{ taxClass: 'a', percent: '1', from: '2026-02-30' }] },
      [],
      'w: $.taxes[0].from: "2026-02-30": expected a calendar day',
    ],
    [
      'a field that is missing',
      { ...WORKSPACE, categories: [{ id: 'a' }] },
      [],
      'w: $.categories[0].name: nothing: expected a text that is not empty',
    ],
    [
      'a reference to nothing',
      { ...WORKSPACE, categories: [{ id: 'a', name: 'A', parent: 'b' }] },
      [],
      'w: $.categories[0].parent: "b": expected the id of a known category',
    ],
    [
      'an id twice',
      {
        ...WORKSPACE,
        groups: [
          { id: 'a', name: 'A' },
          { id: 'a', name: 'B' },
        ],
      },
      [],
      'w: $.groups[1].id: "a": expected a value that no other row of the list has',
    ],
    [
      'a method that is not known',
      {
        ...WORKSPACE,
        recipes: [
          {
            id: 'r',
            name: 'R',
            basis: { kind: 'landed' },
            uplift: [{ id: '1', scope: {}, method: 'times', value: '1' }],
          },
        ],
      },
      [],
      'w: $.recipes[0].uplift[0].method: "times": expected one of "markup", "margin"',
    ],
    [
      'an effect that is not known',
      { ...WORKSPACE, rules: [{ id: 'r', name: 'R', rules: [{ id: '1', name: 'N', effects: [{ kind: 'gift' }] }] }] },
      [],
      'w: $.rules[0].rules[0].effects[0].kind: "gift": expected one of "percent"',
    ],
    [
      'a condition that is none',
      {
        ...WORKSPACE,
        rules: [
          {
            id: 'r',
            name: 'R',
            rules: [{ id: '1', name: 'N', when: { fact: 'item.brand', operator: 'like' }, effects: [{ kind: 'ask' }] }],
          },
        ],
      },
      [],
      'w: $.rules[0].rules[0].when.operator: "like": expected one of "is"',
    ],
    ['a question of no kind', WORKSPACE, [{ kind: 'guess' }], 'q: $[0].kind: "guess": expected one of "price"'],
    [
      'a question that is no list',
      WORKSPACE,
      { kind: 'check' },
      'q: $: {"kind":"check"}: expected a list of questions',
    ],
  ];
  it.each(refused)('%s', (_, workspace, questions, message) => {
    const found = evaluate(workspace, questions);
    expect([found.code, found.answers]).toEqual([2, null]);
    expect(found.errors).toContain(message);
  });
});

describe('bin/price', () => {
  let folder = '';
  beforeAll(() => void (folder = mkdtempSync(join(tmpdir(), 'price-'))));
  afterAll(() => rmSync(folder, { recursive: true }));
  const file = (name: string, text: string) => {
    writeFileSync(join(folder, name), text);
    return join(folder, name);
  };

  it('answers 10,000 questions on 10,000 items in one call, in their order, all of them', () => {
    const w = largeWorkspace(10_000);
    const questions = w.items.map((item, i) => ({
      kind: 'price',
      id: String(i),
      item: item.id,
      list: w.lists[i % 12]!.id,
      day: LARGE_DAY,
    }));
    const out = execFileSync(price, [file('w.json', writeWorkspace(w)), file('q.json', JSON.stringify(questions))], {
      maxBuffer: 1e9,
    });
    const answers = JSON.parse(out.toString()) as { id: string; ok: boolean; unitPrice: string }[];
    expect(answers.map((a) => a.id)).toEqual(questions.map((q) => q.id));
    expect(answers.every((a) => a.ok && Number(a.unitPrice) > 0)).toBe(true);
  });

  it.each([
    ['all answered', 'counter', '[{"kind":"cost","item":"lj150","day":"2026-03-09"}]', 0],
    ['a question without an answer', 'counter', '[{"kind":"cost","item":"none","day":"2026-03-09"}]', 1],
    ['proofs that hold', 'rigging-quote', '[{"kind":"proofs"}]', 0],
    ['questions that cannot be used', 'counter', '{', 2],
  ])('%s, from standard input: exit code', (_, name, questions, code) => {
    const ran = spawnSync(price, [docs(`examples/${name}.workspace.json`)], { input: questions });
    expect([ran.status, ran.stderr.length > 0]).toEqual([code, code === 2]);
  });

  it('a proof that fails makes it 1', () => {
    const text = readFileSync(docs('examples/rigging-quote.workspace.json'), 'utf8').replace(
      '"price": "351.00"',
      '"price": "352.00"',
    );
    const ran = spawnSync(price, [file('failing.json', text), '-'], { input: '[{"kind":"proofs"}]' });
    expect([ran.status, JSON.parse(ran.stdout.toString())[0].failed]).toEqual([1, 1]);
  });

  it('says what another workspace changes in the answers', () => {
    const counter = docs('examples/counter.workspace.json');
    const other = file('other.json', readFileSync(counter, 'utf8').replaceAll('"214.50"', '"220.00"'));
    const questions = file('q2.json', '[{"id":"a","kind":"cost","item":"bl08-white","day":"2026-03-09"}]');
    const ran = spawnSync(price, [counter, questions, '--against', other]);
    const [found] = JSON.parse(ran.stdout.toString()) as { id: string; same: boolean; differences: object[] }[];
    expect([ran.status, found!.id, found!.same]).toEqual([0, 'a', false]);
    expect(found!.differences).toContainEqual(expect.objectContaining({ path: 'landed', before: '1.2469658' }));
  });

  it('a reader that has seen enough ends it without an error', () => {
    const w = file('large.json', writeWorkspace(largeWorkspace(3000)));
    const ran = spawnSync('bash', [
      '-c',
      `"${price}" "${w}" - <<< '[{"kind":"prices","day":"${LARGE_DAY}"}]' | head -c 100`,
    ]);
    expect([ran.stdout.length, ran.stderr.toString()]).toEqual([100, '']);
  });

  it('a file that is not there, and no file at all', () => {
    expect(spawnSync(price, [join(folder, 'missing.json'), '-'], { input: '[]' }).status).toBe(2);
    expect(spawnSync(price, []).status).toBe(2);
  });
});
