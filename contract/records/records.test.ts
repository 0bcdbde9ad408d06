import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { emptyWorkspace } from '#core/workspace/sample.ts';
import { FACTS, OPERATORS } from '#core/quotes/rules/rule.ts';
import { workspaceSchema } from '../workspace-file/schema.ts';
import { readWorkspace } from '../workspace-file/workspace-file.ts';
import { conditionFaults } from './condition.ts';
import type { Fields } from './declare.ts';
import { KINDS, MEMBERS, kindNamed } from './kinds.ts';
import { linksOf } from './links.ts';
import type { PlainKind } from './plain-kind.ts';
import { PLAIN } from './plain.ts';
import { pruned, schemaOf } from './schema.ts';

type FileSchema = { properties: Record<string, { items: { properties: Record<string, unknown> } }> };
const inFile = (member: string) =>
  Object.keys((workspaceSchema as unknown as FileSchema).properties[member]!.items.properties);

describe('every declaration', () => {
  it.each(MEMBERS.map((m) => [m] as const))(
    '%s says of each field what the workspace file says, and of no other',
    (m) => {
      const declared = Object.keys(kindNamed(m)!.fields);
      expect([...declared, 'id', 'version'].sort()).toEqual(inFile(m).sort());
    },
  );

  it.each((Object.values(PLAIN) as PlainKind[]).filter((k) => k.member).map((k) => [k.name, k] as const))(
    '%s, with a table of its own, says what the workspace file says, and of no other field',
    (_, { member, fields, beside = [], unversioned, unnumbered }) => {
      const declared = Object.keys(fields).filter((f) => !beside.includes(f));
      const named = unnumbered ? [] : ['id', ...(unversioned ? [] : ['version'])];
      // entries stand inside of their list
      const inside = member === 'lists' ? ['entries'] : [];
      expect([...declared, ...named, ...inside].sort()).toEqual(inFile(member!).sort());
    },
  );

  it('every member of a workspace is kept', () => {
    const elsewhere = [
      ...['currency', 'supplierChoice', 'listChoice', 'items', 'costs', 'ladders', 'recipes', 'posted'],
    ];
    const kept = new Set<string>([
      ...elsewhere,
      ...MEMBERS,
      ...Object.values(PLAIN as Record<string, PlainKind>).flatMap((k) => k.member ?? []),
    ]);
    expect(Object.keys(emptyWorkspace()).filter((m) => !kept.has(m))).toEqual([]);
  });

  it('no two kinds go by one name, and each says what it is', () => {
    expect(new Set(KINDS.map((k) => k.name)).size).toBe(KINDS.length);
    for (const k of KINDS) expect(k.about.length).toBeGreaterThan(20);
  });
});

describe('what a record points to', () => {
  it('is found wherever it stands: in ties, in rows, in parts', () => {
    const row = { customer: '1', group: null, scope: { item: '2', lockstep: '3' }, lists: ['4', '4', '5'] };
    expect(linksOf(kindNamed('reductions')!.fields, row)).toEqual([
      { to: 'customers', id: '1' },
      { to: 'items', id: '2' },
      { to: 'lockstep', id: '3' },
      { to: 'lists', id: '4' },
      { to: 'lists', id: '5' },
    ]);
    const when = {
      any: [
        { fact: 'customer.group', operator: 'one_of', values: ['6', '7'] },
        { none: [{ fact: 'item.category', operator: 'is', value: '8' }] },
      ],
    };
    expect(linksOf(kindNamed('rules')!.fields, { rules: [{ when, effects: [] }] })).toEqual([
      { to: 'groups', id: '6' },
      { to: 'groups', id: '7' },
      { to: 'categories', id: '8' },
    ]);
    const list = { parent: { list: '7' }, recipes: [{ category: '8', recipe: '9' }] };
    expect(linksOf(PLAIN.lists.fields, list)).toEqual([
      { to: 'lists', id: '7' },
      { to: 'categories', id: '8' },
      { to: 'recipes', id: '9' },
    ]);
  });
});

const text = fc.stringMatching(/^[a-z0-9]{1,8}$/);
const test = fc.constantFrom(...OPERATORS).chain((operator): fc.Arbitrary<object> => {
  const fact = fc.oneof(
    fc.constantFrom(...FACTS),
    text.map((t) => `item.attributes.${t}`),
  );
  const number = fc.integer({ min: 0, max: 999 }).map(String);
  if (operator === 'one_of')
    return fc.record({ fact, operator: fc.constant(operator), values: fc.array(text, { minLength: 1, maxLength: 3 }) });
  if (operator === 'from_up_to')
    return fc.record({ fact, operator: fc.constant(operator), from: number, upTo: number });
  if (operator === 'is_empty') return fc.record({ fact, operator: fc.constant(operator) });
  const ordered = ['at_least', 'more_than', 'at_most', 'less_than'].includes(operator);
  return fc.record({ fact, operator: fc.constant(operator), value: ordered ? number : text });
});
const { condition } = fc.letrec<{ condition: unknown }>((tie) => ({
  condition: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    test,
    fc
      .tuple(fc.constantFrom('all', 'any', 'none'), fc.array(tie('condition'), { minLength: 1, maxLength: 3 }))
      .map(([word, inside]) => ({ [word]: inside })),
  ),
}));

describe('a condition', () => {
  it('that the form takes is one that the workspace file takes, and the other way round', () => {
    fc.assert(
      fc.property(condition, (when) => {
        expect(conditionFaults(when)).toEqual([]);
        const rules = [{ id: '1', name: 'r', when, effects: [{ kind: 'ask' }] }];
        const file = {
          ...emptyWorkspace(),
          format: 'hard-ledger workspace',
          version: 1,
          rules: [{ id: '1', version: 1, name: 's', active: true, mode: 'first', rules }],
        };
        expect(readWorkspace(JSON.stringify(file))).toMatchObject({ ok: true });
      }),
      { numRuns: 200 },
    );
  });

  it.each<[string, unknown, string]>([
    ['no fact that is known', { fact: 'item.smell', operator: 'is', value: 'x' }, '.fact'],
    ['a comparison nobody knows', { fact: 'item.brand', operator: 'like', value: 'x' }, '.operator'],
    ['without a value', { fact: 'item.brand', operator: 'is' }, '.value'],
    ['more than a word', { fact: 'line.quantity', operator: 'more_than', value: 'many' }, '.value'],
    ['one of nothing', { fact: 'item.brand', operator: 'one_of', values: [] }, '.values'],
    ['all of nothing', { all: [] }, ''],
    ['deep inside', { any: [{ none: [{ fact: 'x', operator: 'is', value: 'y' }] }] }, '.any[0].none[0].fact'],
    ['a list', [], ''],
  ])('is refused where it is wrong: %s', (_, given, path) => expect(conditionFaults(given)[0]!.path).toBe(path));
});

describe('a field that is asked for only in some cases', () => {
  const fields: Fields = {
    kind: { type: 'choice', title: 'kind', options: { a: 'a', b: 'b' } },
    value: { type: 'decimal', title: 'value', when: (r) => r['kind'] === 'a' },
  };
  it('is needed in them, and kept in no other', () => {
    expect(schemaOf(fields).isValidSync({ kind: 'a' })).toBe(false);
    expect(schemaOf(fields).isValidSync({ kind: 'b' })).toBe(true);
    expect(pruned(fields, { kind: 'b', value: '5' })).toEqual({ kind: 'b' });
    expect(pruned(fields, { kind: 'a', value: '5' })).toEqual({ kind: 'a', value: '5' });
  });
});
