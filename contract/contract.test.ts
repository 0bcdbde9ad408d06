import { readFileSync, readdirSync } from 'node:fs';
import { ValidationError } from 'yup';
import { describe, expect, it } from 'vitest';
import { REASONS, refusal, wording } from '#core/reasons.ts';
import { COST_FLAGS, COST_FLAG_TEXT, ROW_FAULT_TEXT } from './costs.ts';
import { SHEET_FIELDS, SHEET_FIELD_NAMES } from './sheet-match.ts';
import { currencyCode, dayText, decimalText, faultsOf, idText, optional, positiveText } from './fields.ts';
import { postBody } from './lists.ts';
import { ROLES, rightsOf } from './people.ts';
import { PROBLEMS, problem, problemFromReason, statusOf } from './problems.ts';
import { ladderBody, recipeBody } from './recipes.ts';
import { PLAIN } from './records/plain.ts';
import { schemaOf } from './records/schema.ts';

describe('fields', () => {
  it.each(['0', '214.50', '-3.5', '12345678901234567890.123456789012345'])('%s is an exact decimal', (text) => {
    expect(decimalText().validateSync(text)).toBe(text);
  });
  it.each(['1,5', '1e5', 'abc', '.5', '1.', '0x10', '123456789012345678901', 'NaN', 'Infinity'])(
    '%s is none',
    (text) => {
      expect(() => decimalText().validateSync(text)).toThrow(ValidationError);
    },
  );
  it('a number that is no text loses nothing either: it is refused where it would', () => {
    expect(() => decimalText().validateSync(1e21)).toThrow();
  });
  it('below zero is refused where it makes no sense', () =>
    expect(() => positiveText().validateSync('-1')).toThrow('must not be negative'));
  it.each(['2026-03-09', '2024-02-29'])('%s is a day', (text) => expect(dayText().validateSync(text)).toBe(text));
  it.each(['2026-02-29', '2026-13-01', '09.03.2026', '2026-3-9', 'today'])('%s is none', (text) => {
    expect(() => dayText().validateSync(text)).toThrow('must be a day such as 2026-03-09');
  });
  it('currencies are three letters', () => {
    expect(currencyCode().validateSync('eur')).toBe('EUR');
    expect(() => currencyCode().validateSync('euro')).toThrow();
  });
  it('nothing is nothing, not an empty text', () => {
    expect(optional(idText()).validateSync('')).toBeNull();
    expect(optional(idText()).validateSync(undefined)).toBeNull();
    expect(optional(idText()).validateSync('7')).toBe('7');
  });
});

describe('bodies', () => {
  const faults = (work: () => unknown): string[] => {
    try {
      work();
      return [];
    } catch (error) {
      if (!(error instanceof ValidationError)) throw error;
      return faultsOf(error).map((f) => f.path);
    }
  };
  const all = { abortEarly: false, stripUnknown: false };

  it('every fault of a recipe is named by its path, at once', () => {
    const recipe = {
      name: '',
      basis: { kind: 'guess' },
      uplift: [{ id: '1', method: 'markup', value: 'many' }],
      guards: [{ kind: 'luck' }],
    };
    expect(faults(() => recipeBody.validateSync(recipe, all)).sort()).toEqual([
      'basis.kind',
      'guards[0].kind',
      'name',
      'uplift[0].value',
    ]);
  });
  it('a ladder without a rung, and a rung without an ending', () => {
    expect(faults(() => ladderBody.validateSync({ name: 'L', currency: 'EUR', rungs: [] }, all))).toEqual(['rungs']);
    const rung = { from: '0', step: '1', endings: [], direction: 'up' };
    expect(faults(() => ladderBody.validateSync({ name: 'L', currency: 'EUR', rungs: [rung] }, all))).toEqual([
      'rungs[0].endings',
    ]);
  });
  it('a posting without a reason, and a typed price without one', () => {
    const line = { item: '1', pack: '1', after: '2.00', handSet: { reason: ' ' } };
    const found = faults(() => postBody.validateSync({ effective: '2026-03-09', reason: '', lines: [line] }, all));
    expect(found.sort()).toEqual(['lines[0].handSet.reason', 'reason']);
  });
  it('what is left out gets its default, and is never dropped in silence when it is unknown', () => {
    const list = { name: 'Counter', currency: 'EUR', taxIn: true, rank: 1 };
    const listBody = schemaOf(PLAIN.lists.fields);
    expect(listBody.validateSync(list, all)).toMatchObject({
      groups: [],
      active: false,
      advertised: false,
      recipe: null,
      from: null,
    });
    expect(() => listBody.validateSync({ ...list, colour: 'green' }, all)).toThrow();
  });
});

describe('problems', () => {
  it('every one has a status of refusal and a wording whose names are filled in', () => {
    for (const [code, { status, text }] of Object.entries(PROBLEMS)) {
      expect(status).toBeGreaterThanOrEqual(400);
      const names = [...text.matchAll(/\{(\w+)\}/g)].map((m) => m[1]!);
      const said = problem(code as keyof typeof PROBLEMS, Object.fromEntries(names.map((n) => [n, `<${n}>`])));
      expect(said.message).not.toMatch(/[{}?]/);
      expect(statusOf(said.code)).toBe(status);
    }
  });
  it('a reason of the core travels with its own wording', () => {
    const found = problemFromReason(refusal('no_cost', 'items/7', { item: 'BL-10', day: '2026-03-09' }).reason);
    expect([found.message, statusOf(found.code)]).toEqual(['No cost is known for BL-10 on 2026-03-09.', 422]);
  });
  it('every reason is worded as a sentence, and one that is missing a name shows it', () => {
    for (const text of Object.values(REASONS)) expect(text).toMatch(/^[A-Z{].*[.}]$/);
    expect(wording({ code: 'no_rrp', path: '', params: {} })).toContain('?');
  });
  it('each problem is said somewhere: none is promised in vain', () => {
    const sources = ['server', 'contract'].flatMap((folder) =>
      (readdirSync(new URL(`../${folder}`, import.meta.url), { recursive: true }) as string[])
        .filter((f) => f.endsWith('.ts') && !f.endsWith('.test.ts') && f !== 'problems.ts')
        .map((f) => readFileSync(new URL(`../${folder}/${f}`, import.meta.url), 'utf8')),
    );
    const unsaid = Object.keys(PROBLEMS).filter((code) => !sources.some((s) => s.includes(`'${code}'`)));
    expect(unsaid).toEqual([]);
  });
});

describe('words', () => {
  it('every flag, fault and column has its words', () => {
    expect(Object.keys(COST_FLAG_TEXT).sort()).toEqual([...COST_FLAGS].sort());
    expect(Object.keys(SHEET_FIELD_NAMES).sort()).toEqual([...SHEET_FIELDS].sort());
    for (const text of Object.values(ROW_FAULT_TEXT)) expect(text.length).toBeGreaterThan(5);
  });
});

describe('rights', () => {
  it('only an administrator does everything; nobody but those who need it sees costs, unless given', () => {
    const may = (role: (typeof ROLES)[number], seesCost = false) => rightsOf({ role, seesCost });
    expect(may('administrator').has('manage_people')).toBe(true);
    for (const role of ['approver', 'seller', 'reader'] as const) expect(may(role).has('manage_people')).toBe(false);
    expect([may('seller').has('see_cost'), may('seller', true).has('see_cost')]).toEqual([false, true]);
    expect([
      may('reader').has('write_quotes'),
      may('seller').has('approve'),
      may('approver').has('write_quotes'),
    ]).toEqual([false, false, false]);
  });
});
