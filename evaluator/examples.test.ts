import { readFileSync, readdirSync } from 'node:fs';
import { Ajv } from 'ajv';
import { describe, expect, it } from 'vitest';
import { answersSchema } from '#contract/workspace-file/answers-schema.ts';
import { STEP_KINDS, type Step, replay } from '#core/buildup/steps.ts';
import { FINDING_CODES } from '#core/checks/finding.ts';
import { ENTRY_KINDS } from '#core/lists/entries.ts';
import { QUESTION_KINDS } from '#core/evaluator/questions.ts';
import { BREAK_COUNTS, BREAK_KINDS, BREAK_WAYS } from '#core/quotes/breaks.ts';
import { CHANGE_ALERTS } from '#core/quotes/change-orders.ts';
import { FLOOR_KINDS, FLOOR_OUTCOMES } from '#core/quotes/floors.ts';
import { REDUCTION_KINDS } from '#core/quotes/questions.ts';
import { testsOf } from '#core/quotes/rules/condition.ts';
import { EFFECT_KINDS, FACTS, OPERATORS, RULE_MODES } from '#core/quotes/rules/rule.ts';
import { REASONS } from '#core/reasons.ts';
import { ADD_ON_KINDS, BASES, GUARD_KINDS, UPLIFT_METHODS } from '#core/recipes/recipe.ts';
import { TAX_TREATMENTS } from '#core/regions/region.ts';
import { DIRECTIONS } from '#core/rounding/ladder.ts';
import { LIST_CHOICES } from '#core/lists/price-list.ts';
import { SUPPLIER_CHOICES } from '#core/costs/cost.ts';
import { HOLDS } from '#core/worksheets/propose-price.ts';
import { type ExampleFile, type RanExample, runExample } from './tests/run-example.ts';

// Every example is one question about one workspace, as bin/price would answer it.

const folder = new URL('./examples/', import.meta.url);
const files = readdirSync(folder).map((name) => ({
  name: name.replace('.json', ''),
  file: JSON.parse(readFileSync(new URL(name, folder), 'utf8')) as ExampleFile,
}));
const ran: RanExample[] = [];

/** Every build-up in an answer, wherever it stands. */
function buildUps(value: unknown): Step[][] {
  if (Array.isArray(value)) return value.flatMap(buildUps);
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, inner]) => (key === 'buildUp' ? [inner as Step[]] : buildUps(inner)));
}

for (const { name, file } of files) {
  describe(name, () => {
    it.each(file.cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
      const result = runExample(file, example);
      ran.push(result);
      expect(result.answer).toMatchObject(example.expect);
      for (const field of example.absent ?? []) expect(result.answer).not.toHaveProperty(field);
      for (const steps of buildUps(result.answer)) expect(replay(steps)).toMatchObject({ ok: true });
    });
  });
}

describe('what is answered', () => {
  it('has the shape that docs/schema/answers.schema.json describes, every field of it', () => {
    const validate = new Ajv({ strict: false, allErrors: true }).compile(answersSchema);
    for (const { answer, question } of ran) {
      const fits = validate(JSON.parse(JSON.stringify([answer])));
      const shape = answersSchema.items.anyOf.findIndex(
        (s) => (s as { description?: string }).description === question.kind,
      );
      const mine = (validate.errors ?? []).filter((e) => e.schemaPath.includes(`/${shape}/`));
      expect([question, fits || mine]).toEqual([question, true]);
    }
  });
});

describe('nothing the program can do is without an example', () => {
  const ws = () => ran.map((r) => r.workspace);
  const covered: [string, readonly string[], () => string[]][] = [
    ['guard', GUARD_KINDS, () => ran.flatMap((r) => guardsThatBit(r))],
    [
      'uplift method',
      UPLIFT_METHODS,
      () => ws().flatMap((w) => w.recipes.flatMap((r) => r.uplift.map((u) => u.method))),
    ],
    ['basis', BASES, () => ws().flatMap((w) => w.recipes.map((r) => r.basis.kind))],
    ['add-on', ADD_ON_KINDS, () => ws().flatMap((w) => w.recipes.flatMap((r) => r.addOns?.map((a) => a.kind) ?? []))],
    [
      'direction of a rung',
      DIRECTIONS,
      () => ws().flatMap((w) => w.ladders.flatMap((l) => l.rungs.map((r) => r.direction))),
    ],
    ['choice of supplier', SUPPLIER_CHOICES, () => ws().map((w) => w.supplierChoice)],
    ['choice of list', LIST_CHOICES, () => ws().map((w) => w.listChoice)],
    ['entry', ENTRY_KINDS, () => ws().flatMap((w) => w.lists.flatMap((l) => l.entries?.map((e) => e.kind) ?? []))],
    ['tax treatment', TAX_TREATMENTS, () => ws().flatMap((w) => w.regions.map((r) => r.tax))],
    ['break way', BREAK_WAYS, () => ws().flatMap((w) => w.breaks.map((b) => b.way))],
    ['break count', BREAK_COUNTS, () => ws().flatMap((w) => w.breaks.map((b) => b.count))],
    ['break kind', BREAK_KINDS, () => ws().flatMap((w) => w.breaks.flatMap((b) => b.rows.map((r) => r.kind)))],
    ['floor', FLOOR_KINDS, () => ws().flatMap((w) => w.floors.map((f) => f.kind))],
    ['floor outcome', FLOOR_OUTCOMES, () => ran.flatMap((r) => strings(r.answer, 'outcome'))],
    ['operator', OPERATORS, () => rules().flatMap((r) => testsOf(r.when).map((t) => t.operator))],
    ['fact', FACTS, () => rules().flatMap((r) => testsOf(r.when).map((t) => t.fact))],
    ['effect', EFFECT_KINDS, () => rules().flatMap((r) => r.effects.map((e) => e.kind))],
    ['mode of a rule set', RULE_MODES, () => ws().flatMap((w) => w.rules.map((s) => s.mode))],
    ['reduction by hand', REDUCTION_KINDS, () => ran.flatMap((r) => strings(r.question, 'kind'))],
    ['alert of a change', CHANGE_ALERTS, () => ran.flatMap((r) => strings(r.answer, 'alert'))],
    ['hold', HOLDS, () => ran.flatMap((r) => lists(r.answer, 'holds'))],
    ['question', QUESTION_KINDS, () => ran.map((r) => r.question.kind)],
    ['step', STEP_KINDS, () => ran.flatMap((r) => buildUps(r.answer).flatMap((steps) => steps.map((s) => s.kind)))],
    ['reason', Object.keys(REASONS), () => ran.flatMap((r) => strings(r.answer, 'code'))],
    ['finding', FINDING_CODES, () => ran.flatMap((r) => strings(r.answer, 'code'))],
  ];
  const rules = () => ws().flatMap((w) => w.rules.flatMap((s) => s.rules));

  it.each(covered)('%s', (_, all, seen) => {
    const found = new Set(seen());
    expect(all.filter((name) => !found.has(name))).toEqual([]);
  });
});

/** The values of every field of this name, wherever it stands. */
function strings(value: unknown, field: string): string[] {
  if (Array.isArray(value)) return value.flatMap((v) => strings(v, field));
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, inner]) =>
    key === field && typeof inner === 'string' ? [inner] : strings(inner, field),
  );
}

function lists(value: unknown, field: string): string[] {
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, inner]) =>
    key === field && Array.isArray(inner) ? inner.map(String) : lists(inner, field),
  );
}

const NAMES: Record<string, string> = {
  'not below cost': 'not_below_cost',
  'least markup': 'least_markup',
  'least margin': 'least_margin',
  'least price': 'least_price',
  'minimum advertised price': 'map',
  'raise only': 'raise_only',
  'not above RRP': 'rrp',
  'most markup': 'most_markup',
  'most margin': 'most_margin',
  'most price': 'most_price',
};

const guardsThatBit = (r: RanExample): string[] => lists(r.answer, 'guards').map((g) => NAMES[g] ?? g);
