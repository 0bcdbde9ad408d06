import { type SQL, sql } from 'drizzle-orm';
import { type OpenExactPrice, type RecordFault, openExactPrices, recordFaults } from '#core/checks/check-records.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Tx } from '../platform/database.ts';

/** What is wrong with a record at one of its fields. */
export interface FieldMessage {
  readonly path: string;
  readonly message: string;
}

/** A record's place in a workspace by index ("$.lists[3].entries[2]") as the core names it ("lists/7/entries/12"). */
function placeOf(ws: Workspace, at: string): string {
  let value: unknown = ws;
  return at
    .match(/[a-z]\w*|\d+/gi)!
    .map((part) => {
      value = Reflect.get(Object(value), part);
      return /^\d/.test(part) ? String((value as { id?: string }).id ?? part) : part;
    })
    .join('/');
}

/** Whether a place is a record's own or, of a rule set, that of one of its rules. Entries are records of their own. */
const isOf = (record: string, place: string): boolean =>
  place === record || (record.startsWith('rules/') && place.startsWith(`${record}/`));

const othersNamed = (fault: RecordFault, named: string, place: string): string => {
  const at = fault.places.indexOf(place);
  return (fault.example[named] ?? '')
    .split('; ')
    .filter((_, i) => i !== at)
    .join(', ');
};

/** What a person is told; codes that the forms already tell in their own words have none. */
const MESSAGES: Partial<Record<RecordFault['code'], (fault: RecordFault, place: string) => string>> = {
  breaks_tie: (f, place) =>
    `“${othersNamed(f, 'tables', place)}” is for the same items and buyers, so only one of the two would count: choose another item, category, pack or buyer`,
  default_ladders_tie: (f, place) =>
    `“${othersNamed(f, 'ladders', place)}” is the default ladder of ${f.example['currency']} already: make it no longer the default first`,
  ends_before_it_begins: () => 'comes before the first day',
  currency_unknown: (f) => `“${f.example['currency']}” is no currency: write it like EUR`,
};

/** What other records or its own days make wrong with the record at a place of a workspace. */
export function conflictsAt(ws: Workspace, at: string): FieldMessage[] {
  const place = placeOf(ws, at);
  return recordFaults(ws).flatMap((fault) => {
    const message = MESSAGES[fault.code];
    const own = fault.places.find((p) => isOf(place, p));
    if (!message || own === undefined) return [];
    const [part, id] = own.slice(place.length + 1).split('/');
    const rows = part ? (Reflect.get(Object(recordAt(ws, at)), part) as { id: string }[]) : [];
    const inside = part ? `${part}[${rows.findIndex((r) => r.id === id)}].` : '';
    return [{ path: `${inside}${fault.field}`, message: message(fault, place) }];
  });
}

const recordAt = (ws: Workspace, at: string): unknown =>
  at.match(/[a-z]\w*|\d+/gi)!.reduce<unknown>((value, part) => Reflect.get(Object(value), part), ws);

/** Exact prices of the record at a place that reach items of several packs and do not say which one they are for. */
export async function openPricesAt(tx: Tx, ws: Workspace, at: string): Promise<FieldMessage[]> {
  const place = placeOf(ws, at);
  const out: FieldMessage[] = [];
  for (const price of openExactPrices(ws)) {
    if (!isOf(place, price.place)) continue;
    const found = await itemsOfSeveralPacks(tx, ws, price);
    if (!found) continue;
    const [, , part, id] = price.place.split('/');
    const rule = place.startsWith('rules/') && part === 'rules';
    const rules = rule ? ws.rules.find((s) => `rules/${s.id}` === place)!.rules : [];
    const at = rules.findIndex((r) => r.id === id);
    const effect = rules[at]?.effects.findIndex((e) => e.kind === 'set_price' && !e.perUnit);
    const which =
      found.items === 1
        ? `${found.sku} has several packs (${found.packs})`
        : `${found.items} of the items it reaches have several packs, such as ${found.sku} (${found.packs})`;
    out.push({
      path: rule ? `rules[${at}].effects[${effect}].perUnit` : 'perUnit',
      message: `${which}: name the pack this price is for${rule ? ' in the condition' : ''}, or mark it as a price per unit`,
    });
  }
  return out;
}

async function itemsOfSeveralPacks(
  tx: Tx,
  ws: Workspace,
  { scope }: OpenExactPrice,
): Promise<{ items: number; sku: string; packs: string } | null> {
  const group = scope.item ? ws.lockstep.find((g) => g.members.includes(scope.item!)) : undefined;
  // a member of a lockstep group is sold in its lead's packs
  const item = group?.lead ?? scope.item;
  const lockstep = scope.lockstep ? ws.lockstep.find((g) => g.id === scope.lockstep) : null;
  const where: SQL[] = [
    sql`(i.retired_from is null)`,
    ...(item ? [sql`i.id = ${Number(item)}`] : []),
    ...(lockstep ? [sql`i.id = ${Number(lockstep.lead)}`] : []),
    ...(scope.model ? [sql`i.model = ${scope.model}`] : []),
    ...(scope.brand ? [sql`i.brand = ${scope.brand}`] : []),
    ...(scope.supplier ? [sql`i.supplier_id = ${Number(scope.supplier)}`] : []),
    ...(scope.category
      ? [
          sql`i.category_id in (${sql.join(
            below(ws, scope.category).map((c) => sql`${c}`),
            sql`, `,
          )})`,
        ]
      : []),
    ...Object.entries(scope.attributes ?? {}).map(([name, value]) => sql`i.attributes->>${name} = ${value}`),
  ];
  const { rows } = await tx.execute<{ items: number; sku: string; packs: string }>(sql`
    with open as (
      select i.sku, string_agg(p.name, ', ' order by p.units, p.id) as packs
      from items i join packs p on p.item_id = i.id where ${sql.join(where, sql` and `)}
      group by i.id, i.sku having count(*) > 1)
    select (select count(*)::int from open) as items, sku, packs from open order by sku limit 1`);
  return rows[0] ?? null;
}

/** A category and everything below it. */
function below(ws: Workspace, category: string): number[] {
  const found = new Set([category]);
  for (let before = 0; before < found.size;) {
    before = found.size;
    for (const c of ws.categories) if (c.parent && found.has(c.parent)) found.add(c.id);
  }
  return [...found].map(Number);
}
