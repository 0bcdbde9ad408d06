import type { ItemPage } from '#contract/items.ts';
import { placeOf } from '#contract/places.ts';
import { describeChange } from '#core/lists/entries.ts';
import type { Condition } from '#core/quotes/rules/rule.ts';
import { describeUplift } from '#core/recipes/uplift.ts';
import type { Item } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import { type Scope, describeScope, fits } from '#core/items/scope.ts';

type Rule = ItemPage['rules'][number];

const days = ({ from, to }: { from?: string | null; to?: string | null }): string =>
  `${from ? `, from ${from}` : ''}${to ? `, until ${to}` : ''}`;

/** Whether a condition asks for an item by its SKU. */
function names(condition: Condition | null | undefined, sku: string): boolean {
  if (!condition) return false;
  if ('fact' in condition)
    return condition.fact === 'item.sku' && [condition.value, ...(condition.values ?? [])].includes(sku);
  const inner = 'all' in condition ? condition.all : 'any' in condition ? condition.any : condition.none;
  return inner.some((c) => names(c, sku));
}

/** The rules of prices that reach an item, those that name it first; recipes only for who may see costs. */
export function rulesReaching(ws: Prepared, item: Item, showCost: boolean): Rule[] {
  // through whatever channel it is sold
  const reaches = (scope: Scope) => fits(ws, scope, item, null, null);
  const scoped = (scope: Scope) => describeScope(ws, scope);
  const out: Rule[] = [];
  const add = (kind: string, name: string, detail: string, names: boolean, to: string) =>
    out.push({ kind, name, detail, names, to });
  for (const list of ws.workspace.lists)
    for (const e of list.entries ?? [])
      if (reaches(e.scope))
        add(
          'entry',
          list.name,
          `${describeChange(e)} for ${scoped(e.scope)}${days(e)}`,
          e.scope.item === item.id,
          placeOf('entries', e.id),
        );
  for (const r of ws.workspace.reductions)
    if (reaches(r.scope))
      add(
        'reduction',
        r.name,
        `${describeChange(r)} on ${scoped(r.scope)}${days(r)}`,
        r.scope.item === item.id,
        placeOf('reductions', r.id),
      );
  const lineage = ws.lineage(item.category);
  for (const t of ws.workspace.breaks)
    if ((t.item ?? item.id) === item.id && (!t.category || lineage.includes(t.category)))
      add('quantity breaks', t.name, ws.lists.get(t.list)?.name ?? '', t.item === item.id, placeOf('breaks', t.id));
  for (const f of showCost ? ws.workspace.floors : [])
    if (f.active && reaches(f))
      add(
        'floor',
        f.name,
        `${f.kind.replaceAll('_', ' ')} ${f.value}, ${f.outcome}`,
        f.item === item.id,
        placeOf('floors', f.id),
      );
  for (const p of ws.workspace.pools)
    if (p.items.some(reaches))
      add(
        'pool',
        p.name,
        'counts together',
        p.items.some((s) => s.item === item.id),
        placeOf('pools', p.id),
      );
  for (const c of ws.workspace.charges)
    if (c.covers.some(reaches))
      add(
        'charge',
        c.name,
        `${c.percent} %`,
        c.covers.some((s) => s.item === item.id),
        placeOf('charges', c.id),
      );
  for (const set of showCost ? ws.workspace.rules : [])
    for (const rule of set.rules)
      if (names(rule.when, item.sku)) add('attribute rule', rule.name, set.name, true, placeOf('rules', set.id));
  for (const recipe of showCost ? ws.workspace.recipes : [])
    for (const [n, row] of recipe.uplift.entries())
      if (row.scope.item === item.id)
        add('recipe', recipe.name, `row ${n + 1}: ${describeUplift(row)}`, true, placeOf('recipes', recipe.id));
  return out.sort((a, b) => Number(b.names) - Number(a.names));
}
