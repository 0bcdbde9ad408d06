import { isKnownCurrency } from '../numbers/currency.ts';
import { dec } from '../numbers/decimal.ts';
import { type Scope, describeScope, fits } from '../items/scope.ts';
import type { Item } from '../items/item.ts';
import { exactPriceReaches } from '../lists/exact-price.ts';
import { breakScope } from '../quotes/breaks.ts';
import { namesPack } from '../quotes/rules/rule.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { type Finding, type FindingCode, finding } from './finding.ts';

/** A place in a workspace that two or more rules claim, so that a name or an order of rows would decide. */
export interface RecordFault {
  readonly code: FindingCode;
  /** The records concerned, as paths into the workspace. */
  readonly places: readonly string[];
  /** The field of each at which it is mended. */
  readonly field: string;
  readonly example: Readonly<Record<string, string>>;
}

/** Rows of equal keys, where there are several. */
function twins<T>(rows: readonly T[], keyOf: (row: T) => string | null): { row: T; at: number }[][] {
  const groups = new Map<string, { row: T; at: number }[]>();
  rows.forEach((row, at) => {
    const key = keyOf(row);
    if (key === null) return;
    const known = groups.get(key);
    if (known) known.push({ row, at });
    else groups.set(key, [{ row, at }]);
  });
  return [...groups.values()].filter((group) => group.length > 1);
}

const keyOf = (...parts: (string | null | undefined)[]): string => JSON.stringify(parts.map((p) => p ?? null));

interface Dated {
  readonly id: string;
  readonly from?: string | null;
  readonly to?: string | null;
}

/** Records that end before they begin, with where they stand. */
function backwards(w: Workspace): { place: string; row: Dated }[] {
  const at = (place: string, rows: readonly Dated[]) => rows.map((row) => ({ place: `${place}/${row.id}`, row }));
  return [
    ...at('lists', w.lists),
    ...w.lists.flatMap((l) => at(`lists/${l.id}/entries`, l.entries ?? [])),
    ...at('reductions', w.reductions),
    ...w.rules.flatMap((set) => at(`rules/${set.id}/rules`, set.rules)),
  ].filter(({ row }) => row.from && row.to && row.to < row.from);
}

/** Categories that lie below themselves, each circle once. */
function circles(w: Workspace): string[][] {
  const parents = new Map(w.categories.map((c) => [c.id, c.parent]));
  const told = new Set<string>();
  return w.categories.flatMap(({ id }) => {
    const round: string[] = [];
    for (let at: string | null | undefined = id; at && !round.includes(at); at = parents.get(at)) round.push(at);
    const closes = parents.get(round.at(-1)!) === id;
    if (!closes || told.has(id)) return [];
    for (const c of round) told.add(c);
    return [round];
  });
}

/**
 * What is wrong with records whatever the items are: rules that tie, so that an id or the order of rows would decide; bands
 * and days that hold nothing; currencies that do not exist. Refused when one is saved, a finding where a file brings it.
 */
export function recordFaults(w: Workspace): RecordFault[] {
  const names = <T extends { readonly name: string }>(rows: readonly { row: T }[]) =>
    rows.map((r) => r.row.name).join('; ');
  const used = [
    ...w.suppliers.map((s) => ({ place: `suppliers/${s.id}`, currency: s.currency })),
    ...w.lists.map((l) => ({ place: `lists/${l.id}`, currency: l.currency })),
    ...w.regions.map((r) => ({ place: `regions/${r.id}`, currency: r.currency })),
    ...w.ladders.map((l) => ({ place: `ladders/${l.id}`, currency: l.currency })),
  ];
  return [
    ...twins(w.breaks, (t) => keyOf(t.list, ...breakScope(t))).map((group) => ({
      code: 'breaks_tie' as const,
      places: group.map((g) => `breaks/${g.row.id}`),
      field: 'name',
      example: { tables: names(group) },
    })),
    ...twins(w.ladders, (l) => (l.byDefault ? l.currency : null)).map((group) => ({
      code: 'default_ladders_tie' as const,
      places: group.map((g) => `ladders/${g.row.id}`),
      field: 'byDefault',
      example: { currency: group[0]!.row.currency, ladders: names(group) },
    })),
    ...twins(w.rates, (r) => keyOf(r.from, r.to, r.day)).map((group) => ({
      code: 'exchange_rates_tie' as const,
      places: group.map((g) => `rates/${g.at}`),
      field: 'day',
      example: {
        ...{ from: group[0]!.row.from, to: group[0]!.row.to, day: group[0]!.row.day },
        rates: group.map((g) => g.row.rate).join('; '),
      },
    })),
    ...twins(w.taxes, (t) => keyOf(t.taxClass, t.region, t.from)).map((group) => ({
      code: 'tax_rates_tie' as const,
      places: group.map((g) => `taxes/${g.at}`),
      field: 'from',
      example: {
        ...{ 'tax class': group[0]!.row.taxClass, day: group[0]!.row.from },
        'per cent': group.map((g) => g.row.percent).join('; '),
      },
    })),
    ...circles(w).map((round) => ({
      code: 'categories_in_a_circle' as const,
      places: round.map((id) => `categories/${id}`),
      field: 'parent',
      example: {
        categories: [...round, round[0]!].map((id) => w.categories.find((c) => c.id === id)!.name).join(' → '),
      },
    })),
    ...backwards(w).map(({ place, row }) => ({
      code: 'ends_before_it_begins' as const,
      places: [place],
      field: 'to',
      example: { 'first day': row.from!, 'last day': row.to! },
    })),
    ...w.ladders.flatMap((l) =>
      l.rungs.flatMap((r, i) =>
        r.to !== null && dec(r.to).lte(r.from)
          ? [
              {
                code: 'rung_holds_nothing' as const,
                places: [`ladders/${l.id}/rungs/${i}`],
                field: `rungs[${i}].to`,
                example: { from: r.from, to: r.to },
              },
            ]
          : [],
      ),
    ),
    ...used
      .filter(({ currency }) => !isKnownCurrency(currency))
      .map(({ place, currency }) => ({
        code: 'currency_unknown' as const,
        places: [place],
        field: 'currency',
        example: { currency },
      })),
  ];
}

/** Items with one SKU, and packs of one item with one name: by neither can anybody tell which is meant. */
function itemFaults(w: Workspace): RecordFault[] {
  return [
    ...twins(w.items, (i) => i.sku).map((group) => ({
      code: 'sku_twice' as const,
      places: group.map((g) => `items/${g.row.id}`),
      field: 'sku',
      example: { sku: group[0]!.row.sku },
    })),
    ...w.items.flatMap((i) =>
      twins(i.packs, (p) => p.name).map((group) => ({
        code: 'pack_names_twice' as const,
        places: [`items/${i.id}`],
        field: 'packs',
        example: { item: i.sku, pack: group[0]!.row.name, units: group.map((g) => g.row.units).join('; ') },
      })),
    ),
  ];
}

/** An exact price that says neither which pack it is for nor that it is per unit. */
export interface OpenExactPrice {
  readonly place: string;
  readonly scope: Scope;
  readonly value: string;
}

/** Such prices of entries, discounts and rules; a rule is for whatever its conditions hold, so for every item. */
export function openExactPrices(w: Pick<Workspace, 'lists' | 'reductions' | 'rules'>): OpenExactPrice[] {
  const open = (place: string, row: { kind: string; perUnit?: boolean; scope: Scope; value: string }) =>
    row.kind === 'price' && !row.perUnit && !row.scope.pack ? [{ place, scope: row.scope, value: row.value }] : [];
  return [
    ...w.lists.flatMap((l) => (l.entries ?? []).flatMap((e) => open(`lists/${l.id}/entries/${e.id}`, e))),
    ...w.reductions.flatMap((r) => open(`reductions/${r.id}`, r)),
    ...w.rules.flatMap((set) =>
      set.rules.flatMap((rule) =>
        rule.effects.flatMap((e) =>
          e.kind === 'set_price' && !e.perUnit && !namesPack(rule.when)
            ? [{ place: `rules/${set.id}/rules/${rule.id}`, scope: {}, value: e.value }]
            : [],
        ),
      ),
    ),
  ];
}

/** The items that an exact price reaches and that have packs it does not say whether it is for. */
export function itemsLeftOpen(ws: Prepared, { scope }: OpenExactPrice): Item[] {
  const packsOf = (item: Item) => ws.followed(item);
  return ws.workspace.items.filter((item) => {
    if (!fits(ws, scope, item, null, null)) return false;
    const of = packsOf(item);
    return of.packs.some((p) => !exactPriceReaches({}, of, p));
  });
}

export function checkRecords(ws: Prepared): Finding[] {
  const w = ws.workspace;
  const faults = [...recordFaults(w), ...itemFaults(w)].map((f) =>
    finding(f.code, f.places, itemsOf(ws, f), { ...f.example }),
  );
  const open = openExactPrices(w).flatMap((price) => {
    const items = itemsLeftOpen(ws, price);
    const [first] = items;
    if (!first) return [];
    const packs = ws
      .followed(first)
      .packs.map((p) => p.name)
      .join(', ');
    return [
      finding('exact_price_without_pack', [price.place], items.length, {
        ...{ item: first.sku, for: describeScope(ws, price.scope), price: price.value, packs },
      }),
    ];
  });
  return [...faults, ...open];
}

/** How many items a fault touches: those named, and those that a break table reaches. */
function itemsOf(ws: Prepared, { code, places }: RecordFault): number {
  if (code === 'sku_twice') return places.length;
  if (code === 'pack_names_twice') return 1;
  if (code !== 'breaks_tie') return 0;
  const table = ws.workspace.breaks.find((t) => `breaks/${t.id}` === places[0])!;
  const { item, category, pack } = table;
  return ws.workspace.items.filter(
    (i) => fits(ws, { item, category }, i, null, null) && (!pack || ws.followed(i).packs.some((p) => p.name === pack)),
  ).length;
}
