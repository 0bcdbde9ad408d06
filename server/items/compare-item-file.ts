import { ValidationError } from 'yup';
import { dec } from '#core/numbers/decimal.ts';
import { type ItemFileFault, type ItemFileRow, LIKE } from '#contract/item-file.ts';
import { startOf } from '#contract/records/declare.ts';
import { ITEM } from '#contract/records/item.ts';
import { schemaOf } from '#contract/records/schema.ts';
import { type AttributeTerms, type Named, descriptionFaults } from '#core/items/described.ts';
import type { Table } from '../costs/read-table.ts';
import { wordsOf } from './described.ts';
import {
  CellFault,
  type Draft,
  type ItemNames,
  type PlacedColumn,
  cellText,
  columnsByHeading,
  newPack,
} from './item-file-columns.ts';
import type { ComparedFile } from './checked-file.ts';
import type { Stored } from '../setup/stored.ts';
import type { ItemBody } from './item-body.ts';

/** What is kept, as a file is held against it. */
export interface KeptItems {
  readonly items: readonly (ItemBody & Stored)[];
  readonly names: ItemNames;
  readonly described: {
    readonly attributes: readonly AttributeTerms[];
    readonly brands: readonly Named[];
    readonly taxClasses: readonly Named[];
  };
}

/** A file that names no SKU cannot be a file of items. */
export class NoItemFile extends Error {}

const BODY = schemaOf(ITEM.fields);

/**
 * Holds a table of items against what is kept: found by its SKU, each column sets its field, an empty cell empties it, and what
 * has no column stays. A row with a fault is left out and told of.
 */
export function compareItemFile(table: Table, kept: KeptItems): ComparedFile {
  const { names } = kept;
  const columns = columnsByHeading(table.header, names);
  const skuAt = columns.find((c) => c.column.title === 'SKU')?.at;
  if (skuAt === undefined) throw new NoItemFile('no column is called SKU: the first row must name the columns');
  const likeAt = table.header.findIndex((h) => h.trim().toLowerCase() === LIKE.toLowerCase());
  const bySku = new Map(kept.items.map((i) => [i.sku.toLowerCase(), i]));
  const barcodes = new Map(
    kept.items.flatMap((i) => i.packs.flatMap((p) => (p.barcode ? [[p.barcode, i.sku] as const] : []))),
  );
  const out: ComparedFile = {
    unknown: table.header.filter((h, i) => h !== '' && i !== likeAt && !columns.some((c) => c.at === i)),
    counts: { new: 0, changed: 0, same: 0, faulty: 0 },
    byColumn: [],
    faults: [],
    rows: [],
    writes: [],
  };
  const seen = new Map<string, number>();
  const byColumn = new Map<string, number>();
  for (const { row, cells } of table.rows) {
    const faults: ItemFileFault[] = [];
    const say = (column: string, value: string, message: string) => faults.push({ row, column, value, message });
    const sku = cellText(cells[skuAt] ?? '');
    const first = seen.get(sku.toLowerCase());
    if (sku === '') say('SKU', '', 'is empty');
    else if (first !== undefined) say('SKU', sku, `stands in row ${first} already`);
    seen.set(sku.toLowerCase(), row);
    const before = bySku.get(sku.toLowerCase()) ?? null;
    const like = likeAt >= 0 ? cellText(cells[likeAt] ?? '') : '';
    const model = bySku.get(like.toLowerCase());
    // a row that is to make an item never changes one
    if (like !== '' && before) say('SKU', sku, 'is there already');
    else if (like !== '' && !model) say(LIKE, like, 'is no item that is here already');
    const draft: Draft = before ? { ...before } : model ? copyOf(model, sku) : { ...EMPTY, sku };
    if (faults.length === 0) fill(draft, columns, cells, names, say);
    const told = faults.length === 0 ? changesOf(columns, before, draft, names) : [];
    if (faults.length === 0 && (before === null || told.length > 0)) {
      if (draft.packs.length === 0) draft.packs = [newPack(draft.unit, 1)];
      judge(draft, kept, (c) => say(c.column, c.value, c.message));
      for (const p of draft.packs) {
        const owner = p.barcode && barcodes.get(p.barcode);
        if (owner && owner.toLowerCase() !== sku.toLowerCase())
          say('', p.barcode!, `the barcode stands for ${owner} already`);
        else if (p.barcode) barcodes.set(p.barcode, sku);
      }
    }
    if (faults.length > 0) {
      out.counts.faulty++;
      out.faults.push(...faults);
    } else if (before !== null && told.length === 0) out.counts.same++;
    else {
      out.counts[before ? 'changed' : 'new']++;
      for (const c of told) byColumn.set(c.column, (byColumn.get(c.column) ?? 0) + 1);
      out.rows.push({ row, sku, name: draft.name, item: before?.id ?? null, changes: told });
      const { id: _, version: _v, ...body } = draft as ItemBody & Partial<Stored>;
      out.writes.push({ body, before });
    }
  }
  out.byColumn.push(...[...byColumn].map(([column, n]) => ({ column, items: n })).sort((a, b) => b.items - a.items));
  return out;
}

const EMPTY: ItemBody = { ...(startOf(ITEM.fields) as unknown as ItemBody), packs: [] };

/** A new item like one that is there: all but what is that one's alone, its codes. */
function copyOf(item: ItemBody & Stored, sku: string): Draft {
  const { id: _, version: _v, ...body } = item;
  const packs = item.packs.map((p, i) => ({ ...p, id: `new ${i + 1}`, barcode: null }));
  return { ...body, sku, packs, supplierCode: null, retiredFrom: null };
}

function fill(
  draft: Draft,
  columns: readonly PlacedColumn[],
  cells: readonly string[],
  names: ItemNames,
  say: (column: string, value: string, message: string) => void,
): void {
  for (const { column, at } of columns) {
    const text = cellText(cells[at] ?? '');
    try {
      column.put(draft, text, names);
    } catch (error) {
      if (!(error instanceof CellFault)) throw error;
      say(column.title, text, error.message);
    }
  }
}

function changesOf(
  columns: readonly PlacedColumn[],
  before: ItemBody | null,
  after: ItemBody,
  names: ItemNames,
): ItemFileRow['changes'] {
  return columns.flatMap(({ column: c }) => {
    if (c.title === 'SKU') return [];
    const [was, is] = [before ? c.read(before, names) : '', c.read(after, names)];
    return was === is || (c.numeric && was !== '' && is !== '' && dec(was).eq(is))
      ? []
      : [{ column: c.title, before: was, after: is }];
  });
}

/** What no cell shows by itself. */
function judge(draft: Draft, kept: KeptItems, say: (fault: Omit<ItemFileFault, 'row'>) => void): void {
  const { id: _, version: _v, ...body } = draft as ItemBody & Partial<Stored>;
  try {
    BODY.validateSync(body, { abortEarly: false });
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    for (const e of error.inner.length > 0 ? error.inner : [error])
      say({
        column: ITEM.fields[(e.path ?? '').split(/[.[]/)[0]!]?.title ?? '',
        value: '',
        message: `${e.path ?? ''} ${e.message}`,
      });
  }
  for (const f of descriptionFaults(kept.described, { ...draft, attributes: draft.attributes ?? {} }))
    say({ column: ITEM.fields[f.at.split('.')[0]!]?.title ?? '', value: f.value, message: wordsOf(f) });
  const packNames = draft.packs.map((p) => p.name.toLowerCase());
  const twice = packNames.find((n, i) => packNames.indexOf(n) !== i);
  if (twice) say({ column: '', value: twice, message: 'two packs of the item have this name' });
}
