import { ROW_SHOWS, type RowMoves, type RowShow, type SheetRow, type SheetRows } from '#contract/cost-rows.ts';
import { PLAINLY, figuresWords, flagsWords, itemWords, kindWords, widest } from '#contract/cost-rows.ts';
import { type CostChange, type SheetCorrections, type SheetEffect, needsLook } from '#contract/costs.ts';
import type { Arrangeable } from '../windows/arrange.ts';
import { type PackedBy, type PackedColumn, type PackedTable, Packing, buffersOf } from '../windows/pack.ts';
import { askedWindow, headOf, placeOfIds } from '../windows/window.ts';
import type { SheetTable, SheetEffectTable } from './cost-work.ts';

const figure = (text: string | null | undefined): number => (text === null || text === undefined ? NaN : Number(text));
/** A cost or quantity may have so many decimals. */
const PLACES = 6;

const cost = (of: 'before' | 'after'): readonly PackedBy<CostChange>[] => [
  { id: `${of}Cost`, places: PLACES, figure: (c) => figure(c[of]?.amount) },
  { id: `${of}Currency`, text: (c) => c[of]?.currency ?? '' },
  { id: `${of}Units`, places: PLACES, figure: (c) => figure(c[of]?.packUnits) },
];

const COLUMNS: readonly PackedBy<CostChange>[] = [
  { id: 'row', places: 0, figure: (c) => c.row },
  { id: 'code', text: (c) => c.code },
  { id: 'name', text: itemWords },
  { id: 'kind', text: kindWords },
  { id: 'change', places: 2, figure: (c) => figure(c.changePercent) },
  ...cost('before'),
  ...cost('after'),
  { id: 'flags', text: (c) => flagsWords(c, PLAINLY) },
  { id: 'from', text: (c) => c.after.from },
  { id: 'to', text: (c) => c.after.to ?? '' },
  { id: 'figures', text: (c) => figuresWords(c, PLAINLY) },
];
const SEARCHED = ['code', 'name', 'kind', 'flags', 'figures'];

/** What a row would move. The last two only tell, they are not sorted by. */
const MOVES: readonly PackedBy<RowMoves | undefined>[] = [
  { id: 'prices', places: 0, figure: (m) => m?.prices ?? NaN },
  { id: 'lists', places: 0, figure: (m) => m?.lists ?? NaN },
  { id: 'by', places: 2, figure: (m) => (m ? figure(widest(m) || null) : NaN) },
  { id: 'least', text: (m) => m?.least ?? '' },
  { id: 'most', text: (m) => m?.most ?? '' },
];
const OF_MOVES = ['prices', 'lists', 'by'];

const BITS = Object.fromEntries(ROW_SHOWS.map((show, n) => [show, 1 << n])) as Record<RowShow, number>;

/** Packs the rows of a sheet. */
export function packedSheet(
  { state, at, view }: Pick<SheetTable, 'state' | 'at' | 'view'>,
  changes: readonly CostChange[],
  corrections: SheetCorrections,
): SheetTable {
  const packing = new Packing<CostChange>(COLUMNS);
  const texts: string[] = [];
  const ends = new Uint32Array(changes.length);
  let end = 0;
  changes.forEach((c, i) => {
    packing.take(c);
    const said = corrections[c.row];
    const text = JSON.stringify(said ? { ...c, said } : c);
    texts.push(text);
    ends[i] = end += Buffer.byteLength(text);
  });
  // a buffer of its own, which can be handed over
  const rows = new TextEncoder().encode(texts.join(''));
  return {
    state,
    at,
    view,
    table: packing.packed(),
    masks: Uint16Array.from(changes, (c) => BITS[c.kind] | (needsLook(c) ? BITS.flagged : 0)),
    rows,
    ends,
    numbers: Uint32Array.from(changes, (c) => c.row),
  };
}

/** Packs what each row of a sheet would move. */
export function packedEffect(
  effect: SheetEffect,
  changes: readonly CostChange[],
  movesOf: (row: number) => RowMoves | undefined,
): SheetEffectTable {
  const packing = new Packing<RowMoves | undefined>(MOVES);
  for (const c of changes) packing.take(c.taken ? undefined : movesOf(c.row));
  return { effect, table: packing.packed(), numbers: Uint32Array.from(changes, (c) => c.row) };
}

export const buffersOfSheet = ({ table, masks, rows, ends, numbers }: SheetTable): ArrayBuffer[] => [
  ...buffersOf(table),
  ...[masks, rows, ends, numbers].map((a) => a.buffer as ArrayBuffer),
];
export const buffersOfEffect = ({ table, numbers }: SheetEffectTable): ArrayBuffer[] => [
  ...buffersOf(table),
  numbers.buffer as ArrayBuffer,
];

const sameRows = (a: Uint32Array, b: Uint32Array) => a.length === b.length && a.every((row, i) => row === b[i]);

const none = (rows: number): PackedColumn => ({ codes: new Uint16Array(rows), values: new Float64Array(0), places: 0 });

/** The columns of a sheet with those of its effect: made once, as orders are kept by them. */
const joined = new WeakMap<SheetTable, { effect: SheetEffectTable | null; table: PackedTable }>();

function joinedTable(sheet: SheetTable, effect: SheetEffectTable | null): PackedTable {
  const known = joined.get(sheet);
  if (known?.effect === effect) return known.table;
  const { rows } = sheet.table;
  // as long as nothing is known of them they are empty, not unknown: a grid may be sorted by them already
  const more = effect?.table.columns ?? Object.fromEntries(OF_MOVES.map((id) => [id, none(rows)]));
  const table = { rows, columns: { ...sheet.table.columns, ...more } };
  joined.set(sheet, { effect, table });
  return table;
}

function movesAt({ columns }: PackedTable, place: number): RowMoves | undefined {
  const of = (id: string) => {
    const column = columns[id]!;
    const code = column.codes[place]!;
    if (code === 0) return null;
    return 'words' in column ? column.words[code - 1]! : column.values[code - 1]!;
  };
  const prices = of('prices') as number | null;
  if (prices === null) return undefined;
  return {
    prices,
    lists: of('lists') as number,
    least: of('least') as string | null,
    most: of('most') as string | null,
  };
}

const decoder = new TextDecoder();

/** A stretch of the rows of a sheet. `effect`: what they would move, where it is known. */
export function sheetWindow(
  sheet: SheetTable,
  effect: SheetEffectTable | null,
  query: Readonly<Record<string, string>>,
): SheetRows {
  const moves = effect && sameRows(effect.numbers, sheet.numbers) ? effect : null;
  const table = joinedTable(sheet, moves);
  const of: Arrangeable = {
    table,
    columns: [...COLUMNS.map((c) => c.id), ...OF_MOVES],
    searched: SEARCHED,
    looks: { masks: sheet.masks, bits: BITS },
  };
  const state = moves ? `${sheet.state} ${moves.effect.state}` : sheet.state;
  const { head, places } = headOf(askedWindow(query), of, { state, at: sheet.at, stale: false }, (order) =>
    placeOfIds(order, query['key'], [sheet.numbers]),
  );
  const rowAt = (place: number): SheetRow => {
    const text = decoder.decode(sheet.rows.subarray(place === 0 ? 0 : sheet.ends[place - 1], sheet.ends[place]));
    const row = JSON.parse(text) as SheetRow;
    const moved = moves ? movesAt(table, place) : undefined;
    return moved ? { ...row, moves: moved } : row;
  };
  return { ...head, version: sheet.view.version, rows: Array.from(places, rowAt) };
}
