import { type Dec, dec, plain } from '../numbers/decimal.ts';
import { asFact, holds, testsOf } from '../quotes/rules/condition.ts';
import type { AttributeRule, Condition, RuleSet, Test } from '../quotes/rules/rule.ts';
import type { Item } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { type Finding, finding } from './finding.ts';

/** A stretch of a number that a rule holds for; null: open. */
interface Stretch {
  readonly low: Dec | null;
  readonly lowIn: boolean;
  readonly high: Dec | null;
  readonly highIn: boolean;
}

const NUMBER = /^-?\d+(\.\d+)?$/;

/** Attribute rules with holes, overlaps, or no chance to win. */
export function checkRules(ws: Prepared): Finding[] {
  return ws.workspace.rules.filter((set) => set.active).flatMap((set) => [...gapsIn(ws, set), ...losersIn(ws, set)]);
}

function itemFact(ws: Prepared, item: Item, fact: string): readonly string[] {
  const attribute = fact.startsWith('item.attributes.') ? fact.slice('item.attributes.'.length) : null;
  if (attribute !== null) return asFact(item.attributes?.[attribute]);
  const known: Record<string, readonly string[]> = {
    'item.sku': [item.sku],
    'item.name': [item.name],
    'item.unit': [item.unit],
    'item.category': ws.lineage(item.category),
    'item.brand': asFact(item.brand),
    'item.model': asFact(item.model),
    'item.supplier': asFact(item.supplier),
    'item.weight': asFact(item.weightKg),
  };
  return known[fact] ?? [];
}

/** A condition that is one test, or all of several: its tests. Anything else is not looked into. */
function allOf(condition: Condition | null | undefined): readonly Test[] | null {
  if (!condition) return [];
  if ('all' in condition) return condition.all.every((c) => 'fact' in c) ? (condition.all as Test[]) : null;
  return 'fact' in condition ? [condition] : null;
}

function stretchOf(test: Test): Stretch | null {
  const edge = (text: string | null | undefined) => (text && NUMBER.test(text) ? dec(text) : null);
  const value = edge(test.value);
  const open = { low: null, lowIn: false, high: null, highIn: false };
  switch (test.operator) {
    case 'is':
      return value && { low: value, lowIn: true, high: value, highIn: true };
    case 'at_least':
      return value && { ...open, low: value, lowIn: true };
    case 'more_than':
      return value && { ...open, low: value };
    case 'at_most':
      return value && { ...open, high: value, highIn: true };
    case 'less_than':
      return value && { ...open, high: value };
    case 'from_up_to':
      return { low: edge(test.from), lowIn: true, high: edge(test.upTo), highIn: false };
    default:
      return null;
  }
}

/** The rule's stretch of one numeric fact, and what else it asks (to compare with other rules). */
function rangedRules(set: RuleSet): { rule: AttributeRule; fact: string; stretch: Stretch; rest: string }[] {
  return set.rules.flatMap((rule) => {
    const tests = allOf(rule.when);
    const ranged = tests?.filter((t) => stretchOf(t) !== null) ?? [];
    if (!tests || ranged.length !== 1) return [];
    const [test] = ranged;
    const rest = JSON.stringify(
      tests
        .filter((t) => t !== test)
        .map((t) => JSON.stringify(t))
        .sort(),
    );
    return [{ rule, fact: test!.fact, stretch: stretchOf(test!)!, rest }];
  });
}

function compareLow(a: Stretch, b: Stretch): number {
  if (a.low === null || b.low === null) return Number(b.low === null) - Number(a.low === null);
  return a.low.cmp(b.low) || Number(b.lowIn) - Number(a.lowIn);
}

function within(s: Stretch, value: string): boolean {
  if (!NUMBER.test(value)) return false;
  const v = dec(value);
  const over = s.low === null || v.gt(s.low) || (s.lowIn && v.eq(s.low));
  return over && (s.high === null || v.lt(s.high) || (s.highIn && v.eq(s.high)));
}

function gapsIn(ws: Prepared, set: RuleSet): Finding[] {
  const out: Finding[] = [];
  const groups = new Map<string, ReturnType<typeof rangedRules>>();
  for (const r of rangedRules(set)) {
    const key = `${r.fact} ${r.rest}`;
    groups.set(key, [...(groups.get(key) ?? []), r]);
  }
  for (const rules of groups.values()) {
    const sorted = [...rules].sort((a, b) => compareLow(a.stretch, b.stretch));
    for (let i = 1; i < sorted.length; i++) {
      const [before, after] = [sorted[i - 1]!, sorted[i]!];
      const [end, start] = [before.stretch.high, after.stretch.low];
      const places = [before, after].map((r) => `rules/${set.id}/rules/${r.rule.id}`);
      const touched = (s: Stretch) =>
        ws.workspace.items.filter((item) => itemFact(ws, item, before.fact).some((v) => within(s, v)));
      const shows = (s: Stretch): Record<string, string> => {
        const [item] = touched(s);
        return item ? { item: item.sku, value: itemFact(ws, item, before.fact)[0]! } : {};
      };
      const both = before.stretch.highIn && after.stretch.lowIn;
      const neither = !before.stretch.highIn && !after.stretch.lowIn;
      if (end && start && (end.lt(start) || (end.eq(start) && neither))) {
        const hole = { low: end, lowIn: !before.stretch.highIn, high: start, highIn: !after.stretch.lowIn };
        const value = end.eq(start) ? plain(end) : `${plain(end)} to ${plain(start)}`;
        out.push(
          finding('rule_conditions_leave_hole', places, touched(hole).length, {
            fact: before.fact,
            hole: value,
            ...shows(hole),
          }),
        );
      } else if (set.mode === 'first' && (!end || !start || end.gt(start) || (end.eq(start) && both))) {
        const shared = {
          low: start,
          lowIn: after.stretch.lowIn,
          high: lower(end, after.stretch.high),
          highIn: before.stretch.highIn && after.stretch.highIn,
        };
        out.push(
          finding('rule_conditions_overlap', places, touched(shared).length, {
            fact: before.fact,
            from: start ? plain(start) : 'any',
            to: shared.high ? plain(shared.high) : 'any',
            ...shows(shared),
          }),
        );
      }
    }
  }
  return out;
}

function lower(a: Dec | null, b: Dec | null): Dec | null {
  if (!a) return b;
  return b && b.lt(a) ? b : a;
}

function losersIn(ws: Prepared, set: RuleSet): Finding[] {
  const out: Finding[] = [];
  const winners = new Set<string>();
  const reached = new Map<string, number>();
  const onItems = (r: AttributeRule) => testsOf(r.when).every((t) => t.fact.startsWith('item.'));
  for (const item of ws.workspace.items) {
    let won = false;
    for (const rule of set.rules) {
      if (!onItems(rule)) continue;
      if (!holds(rule.when, (fact) => itemFact(ws, item, fact))) continue;
      reached.set(rule.id, (reached.get(rule.id) ?? 0) + 1);
      if (!won || set.mode === 'every') winners.add(rule.id);
      won = true;
    }
  }
  set.rules.forEach((rule, i) => {
    const earlier = set.rules.slice(0, i);
    const blanket = set.mode === 'first' ? earlier.find((r) => coversRule(r, rule)) : undefined;
    const nothing =
      ws.workspace.items.length > 0 && onItems(rule) && testsOf(rule.when).length > 0 && !winners.has(rule.id);
    if (!blanket && !nothing) return;
    const why: Record<string, string> = blanket
      ? { 'always taken by': blanket.name }
      : { 'items it reaches': String(reached.get(rule.id) ?? 0), 'items it wins': '0' };
    out.push(
      finding('rule_never_wins', [`rules/${set.id}/rules/${rule.id}`], reached.get(rule.id) ?? 0, {
        rule: rule.name,
        ...why,
      }),
    );
  });
  return out;
}

/** Whether whatever the later rule holds for, the earlier one does too, on every day. */
function coversRule(earlier: AttributeRule, later: AttributeRule): boolean {
  if (earlier.from || earlier.to) return false;
  const [mine, theirs] = [allOf(earlier.when), allOf(later.when)];
  if (!mine || !theirs) return JSON.stringify(earlier.when) === JSON.stringify(later.when);
  return mine.every((t) => theirs.some((other) => impliesTest(other, t)));
}

function impliesTest(narrow: Test, wide: Test): boolean {
  if (narrow.fact !== wide.fact) return false;
  if (JSON.stringify(narrow) === JSON.stringify(wide)) return true;
  const [n, w] = [stretchOf(narrow), stretchOf(wide)];
  if (!n || !w) return false;
  const low = w.low === null || (n.low !== null && (n.low.gt(w.low) || (n.low.eq(w.low) && (w.lowIn || !n.lowIn))));
  const high =
    w.high === null || (n.high !== null && (n.high.lt(w.high) || (n.high.eq(w.high) && (w.highIn || !n.highIn))));
  return low && high;
}
