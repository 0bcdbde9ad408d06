import { exchangeOn } from '../costs/exchange.ts';
import { landedCost } from '../costs/landed-cost.ts';
import { type EntryKind, compareEntries, isDated } from '../lists/entries.ts';
import { priceOnList } from '../lists/list-price.ts';
import { type Dec, dec, divide, plain, settle } from '../numbers/decimal.ts';
import { inOrder } from '../quotes/charges.ts';
import { regionsOf } from '../regions/region.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { type Scope, describeScope, fits, meet } from '../items/scope.ts';
import { type Finding, finding } from './finding.ts';

const itemsIn = (ws: Prepared, ...scopes: Scope[]): number =>
  ws.workspace.items.filter((item) => scopes.every((s) => fits(ws, s, item, null, null))).length;

/** Lists whose fall-back goes round, entries that tie, dated prices above the undated. */
export function checkLists(ws: Prepared, day: Day): Finding[] {
  const out: Finding[] = [];
  const told = new Set<string>();
  for (const list of ws.workspace.lists) {
    const round: string[] = [];
    for (let at: string | undefined = list.id; at && !round.includes(at);) {
      round.push(at);
      at = ws.lists.get(at)?.parent?.list;
      if (at === list.id && !told.has(at)) {
        for (const id of round) told.add(id);
        const names = [...round, at].map((id) => ws.lists.get(id)?.name ?? id).join(' → ');
        out.push(
          finding(
            'lists_in_a_circle',
            round.map((id) => `lists/${id}/parent`),
            ws.workspace.items.length,
            { lists: names },
          ),
        );
      }
    }
    const entries = list.entries ?? [];
    for (const [a, b] of tied(ws, entries)) {
      out.push(
        finding(
          'entries_tie',
          [`lists/${list.id}/entries/${a.id}`, `lists/${list.id}/entries/${b.id}`],
          itemsIn(ws, a.scope, b.scope),
          {
            entries: `${describeScope(ws, a.scope)}; ${describeScope(ws, b.scope)}`,
            values: `${a.value}; ${b.value}`,
          },
        ),
      );
    }
    for (const e of entries) {
      if (!isDated(e) || !e.scope.item) continue;
      const item = ws.items.get(e.scope.item)!;
      const pack = ws.followed(item).packs.find((p) => !e.scope.pack || p.name === e.scope.pack);
      const on = e.from && e.from > day ? e.from : e.to && e.to < day ? e.to : day;
      const found = pack && priceOnList(ws, { item: item.id, pack: pack.id, list: list.id, day: on }, 'compute');
      if (!found?.ok || found.value.dated?.entry !== e || !found.value.dated.aboveRegular) continue;
      out.push(
        finding('dated_above_regular', [`lists/${list.id}/entries/${e.id}`], 1, {
          item: item.sku,
          dated: plain(found.value.dated.price),
          regular: plain(found.value.regular),
        }),
      );
    }
  }
  for (const [a, b] of tied(ws, ws.workspace.reductions, (r) => `${r.customer ?? ''}/${r.group ?? ''}`)) {
    if (a.lists?.length && b.lists?.length && !a.lists.some((l) => b.lists!.includes(l))) continue;
    out.push(
      finding('reductions_tie', [`reductions/${a.id}`, `reductions/${b.id}`], itemsIn(ws, a.scope, b.scope), {
        reductions: `${a.name}; ${b.name}`,
        values: `${a.value}; ${b.value}`,
      }),
    );
  }
  return out;
}

/** Pairs that are equally specific, hold a common item and share a day. */
function tied<
  T extends {
    id: string;
    scope: Scope;
    kind: EntryKind;
    value: string;
    from?: Day | null;
    to?: Day | null;
  },
>(ws: Prepared, rows: readonly T[], who: (row: T) => string = () => ''): [T, T][] {
  const buckets = new Map<string, T[]>();
  for (const row of rows) {
    const key = `${who(row)}\u0000${row.scope.item ?? ''}`;
    buckets.set(key, [...(buckets.get(key) ?? []), row]);
  }
  const out: [T, T][] = [];
  for (const bucket of buckets.values()) {
    bucket.forEach((a, i) => {
      for (const b of bucket.slice(i + 1)) {
        const apart = (x: T, y: T) => Boolean(x.to && y.from && x.to < y.from);
        if (compareEntries(ws, a, b) === 0 && meet(ws, a.scope, b.scope) && !apart(a, b) && !apart(b, a))
          out.push([a, b]);
      }
    });
  }
  return out;
}

/** Countries in no region or in two, and groups of equal rank that share customers. */
export function checkAudiences(ws: Prepared): Finding[] {
  const out: Finding[] = [];
  const { regions, customers } = ws.workspace;
  const perCountry = new Map<string, string[]>();
  for (const c of customers) if (c.country) perCountry.set(c.country, [...(perCountry.get(c.country) ?? []), c.name]);
  const countries = new Set([...perCountry.keys(), ...regions.flatMap((r) => r.countries)]);
  for (const country of regions.length > 0 ? [...countries].sort() : []) {
    const found = regionsOf(ws, country);
    if (found.length === 1) continue;
    const there = perCountry.get(country) ?? [];
    out.push(
      finding(
        found.length === 0 ? 'country_in_no_region' : 'country_in_two_regions',
        found.length === 0 ? ['regions'] : found.map((r) => `regions/${r.id}`),
        0,
        {
          country,
          ...(there[0] ? { customer: there[0] } : {}),
          ...(found.length > 1 ? { regions: found.map((r) => r.name).join(', ') } : {}),
        },
        there.length,
      ),
    );
  }
  const shared = new Map<string, string[]>();
  for (const c of customers) {
    c.groups.forEach((a, i) => {
      for (const b of c.groups.slice(i + 1)) {
        if (ws.groups.get(a)?.rank !== ws.groups.get(b)?.rank) continue;
        const key = [a, b].sort().join('\u0000');
        shared.set(key, [...(shared.get(key) ?? []), c.name]);
      }
    });
  }
  for (const [key, names] of shared) {
    const groups = key.split('\u0000');
    out.push(
      finding(
        'equal_rank_groups',
        groups.map((g) => `groups/${g}`),
        0,
        { customer: names[0]!, rank: String(ws.groups.get(groups[0]!)?.rank) },
        names.length,
      ),
    );
  }
  return out;
}

/** Charges that cover each other, and currencies without a rate. */
export function checkMoney(ws: Prepared, day: Day): Finding[] {
  const out: Finding[] = [];
  const ordered = inOrder(ws.workspace.charges);
  if (!ordered.ok) out.push(finding('charges_in_a_circle', [ordered.reason.path], 0, { ...ordered.reason.params }));
  const own = ws.workspace.currency;
  const used = new Map<string, { places: Set<string>; items: Set<string> }>();
  const use = (currency: string, place: string, item?: string) => {
    const known = used.get(currency) ?? { places: new Set(), items: new Set() };
    known.places.add(place);
    if (item) known.items.add(item);
    used.set(currency, known);
  };
  for (const s of ws.workspace.suppliers) use(s.currency, `suppliers/${s.id}`);
  for (const l of ws.workspace.lists) use(l.currency, `lists/${l.id}`);
  for (const r of ws.workspace.regions) use(r.currency, `regions/${r.id}`);
  for (const c of ws.workspace.costs) use(c.cost.currency, `suppliers/${c.supplier}`, c.item);
  for (const [currency, { places, items }] of used) {
    if (exchangeOn(ws, currency, own, day)) continue;
    out.push(finding('currency_without_rate', [...places], items.size, { from: currency, to: own, day }));
  }
  return out;
}

/** Tax classes of items for which no rate is known: none of them can be quoted. */
export function checkTaxClasses(ws: Prepared, day: Day): Finding[] {
  const items = new Map<string, Item[]>();
  for (const item of ws.workspace.items) {
    const known = items.get(item.taxClass);
    if (known) known.push(item);
    else items.set(item.taxClass, [item]);
  }
  return [...items].flatMap(([taxClass, of]) => {
    if (ws.taxOn(taxClass, day)) return [];
    const places = of.slice(0, PLACES_NAMED).map((i) => `items/${i.id}`);
    return [finding('tax_class_without_rate', places, of.length, { item: of[0]!.sku, taxClass, day })];
  });
}

/** Items named as places of one finding. */
const PLACES_NAMED = 10;

/** How far from the middle cost of its model an item may stand. */
const FAR = dec(5);

/** Costs that stand far from those of the other items of the same model: one by the piece among ones by the carton. */
export function checkCosts(ws: Prepared, day: Day): Finding[] {
  const models = new Map<string, { item: Item; landed: Dec }[]>();
  for (const item of ws.workspace.items) {
    if (!item.model) continue;
    const landed = landedCost(ws, ws.followed(item), day);
    if (landed.ok) models.set(item.model, [...(models.get(item.model) ?? []), { item, landed: landed.value.landed }]);
  }
  return [...models].flatMap(([model, found]) => {
    if (found.length < 3) return [];
    const middle = [...found].sort((a, b) => a.landed.cmp(b.landed))[Math.floor(found.length / 2)]!.landed;
    if (middle.lte(0)) return [];
    const far = found.filter(({ landed }) => landed.gte(middle.times(FAR)) || landed.times(FAR).lte(middle));
    if (far.length === 0) return [];
    const { item, landed } = far[0]!;
    return [
      finding(
        'cost_far_from_siblings',
        far.map((f) => `items/${f.item.id}`),
        far.length,
        {
          item: item.sku,
          model,
          landed: plain(settle(landed)),
          'middle of its model': plain(settle(middle)),
          times: plain(divide(landed, middle).toDecimalPlaces(2)),
        },
      ),
    ];
  });
}
