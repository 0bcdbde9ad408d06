import Papa from 'papaparse';
import type { ItemFileCheck } from '#contract/item-file.ts';
import { harmless } from '#contract/harmless.ts';
import type { Page } from '../costs/workbook.ts';
import { allRows, decode, proposeDelimiter, proposeEncoding, readTable } from '../costs/read-table.ts';
import { UnreadableSheet } from '../costs/unreadable.ts';
import { revisionText, revisionsOf } from '../ledger/audit.ts';
import type { Db, Queries } from '../platform/database.ts';
import { readDeclared } from '../records/load.ts';
import { readSettings } from '../setup/settings.ts';
import { categories, suppliers, taxRates } from '../setup/tables.ts';
import { type KeptItems, NoItemFile, compareItemFile } from './compare-item-file.ts';
import { itemFileColumns } from './item-file-columns.ts';
import { readItemBodies } from './register.ts';
import type { Decimal, ItemFile, CheckedItemFile } from './checked-file.ts';

async function keptItems(db: Queries, decimal: Decimal): Promise<KeptItems> {
  const settings = await readSettings(db);
  const { members } = await readDeclared(db);
  const rows = await db.select().from(categories);
  const byId = new Map(rows.map((c) => [c.id, c]));
  const pathOf = (id: number | null): string[] => {
    const found = id === null ? undefined : byId.get(id);
    return found ? [...pathOf(found.parent), found.name] : [];
  };
  return {
    items: await readItemBodies(db),
    described: members,
    names: {
      currency: settings.currency,
      decimal,
      categories: new Map(rows.map((c) => [String(c.id), pathOf(c.id).join(' / ')])),
      suppliers: new Map(
        (await db.select({ id: suppliers.id, name: suppliers.name }).from(suppliers)).map((s) => [
          String(s.id),
          s.name,
        ]),
      ),
      taxClasses: new Set((await db.selectDistinct({ name: taxRates.taxClass }).from(taxRates)).map((t) => t.name)),
      attributes: members.attributes,
    },
  };
}

/** Every item as a text table (RFC 4180), in the reader's form: with a decimal comma, cells are parted by semicolons. */
export async function writeItemFile(db: Queries, decimal: Decimal): Promise<string> {
  const { items, names } = await keptItems(db, decimal);
  const columns = itemFileColumns(names, Math.max(2, ...items.map((i) => i.packs.length)));
  const cell = (c: (typeof columns)[number], text: string) =>
    c.numeric ? text.replace('.', decimal) : depositInForm(c.title, harmless(text), decimal);
  const rows = items.map((i) => columns.map((c) => cell(c, c.read(i, names))));
  const delimiter = decimal === ',' ? ';' : ',';
  return `\ufeff${Papa.unparse([columns.map((c) => c.title), ...rows], { delimiter, newline: '\r\n' })}\r\n`;
}

/** "3.60 EUR": an amount with its currency in one cell. */
const depositInForm = (title: string, text: string, decimal: Decimal): string =>
  /^(Unit d|D)eposit \d/.test(title) ? text.replace('.', decimal) : text;

const FIGURE = /^-?\d+([.,])\d+$/;

/** The mark that parts decimals: that of cells which have one alone; where both occur or none, what goes with the delimiter. */
function proposeDecimal(rows: readonly { readonly cells: readonly string[] }[], delimiter: string): Decimal {
  const marks = new Set(rows.flatMap(({ cells }) => cells.flatMap((c) => FIGURE.exec(c)?.[1] ?? [])));
  if (marks.size === 1) return marks.has(',') ? ',' : '.';
  return delimiter === ';' ? ',' : '.';
}

/** Reads a file of items and holds it against what is kept now. Throws UnreadableSheet. */
export async function checkItemFile(db: Db, { content, pages, decimal }: ItemFile): Promise<CheckedItemFile> {
  const state = revisionText({ ...(await revisionsOf(db)), posted: 0 });
  const encoding = pages ? 'utf-8' : proposeEncoding(content);
  const delimiter = pages ? ',' : proposeDelimiter(decode(content, encoding));
  const page = pages ? (pages.find((p) => p.rows[0]?.some((c) => isSku(c)))?.name ?? pages[0]!.name) : null;
  const how = { encoding, delimiter, page, decimal: '.' as const };
  const mark = pages ? '.' : (decimal ?? proposeDecimal(allRows({ content, pages }, how).slice(1), delimiter));
  const table = readTable({ content, pages }, { ...how, skip: 0, headerRows: 1 });
  try {
    return { ...compareItemFile(table, await keptItems(db, mark)), state, decimal: mark };
  } catch (error) {
    throw error instanceof NoItemFile ? new UnreadableSheet(error.message) : error;
  }
}

const isSku = (cell: Page['rows'][number][number]) => typeof cell === 'string' && cell.trim().toLowerCase() === 'sku';

const SHOWN = 500;

/** What is told of a checked file. */
export const tellItemFile = (fileName: string, found: CheckedItemFile): ItemFileCheck => ({
  fileName,
  state: found.state,
  decimal: found.decimal,
  unknown: found.unknown,
  counts: found.counts,
  byColumn: found.byColumn,
  faults: found.faults.slice(0, SHOWN),
  rows: found.rows.slice(0, SHOWN),
});
