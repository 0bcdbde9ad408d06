import { eq, inArray } from 'drizzle-orm';
import type { BillBody } from '#contract/bills.ts';
import { dec, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { shownTerms, toNet } from '#core/lists/terms.ts';
import { codeBook } from '../costs/arrivals.ts';
import { bills } from '../costs/tables.ts';
import type { Page } from '../costs/workbook.ts';
import { UnreadableSheet } from '../costs/unreadable.ts';
import { items, packs } from '../items/tables.ts';
import { findList } from '../lists/build-up.ts';
import type { Queries } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';
import { suppliers } from '../setup/tables.ts';
import type { Loaded } from '../workspace/state.ts';
import { cataloguePages, writeCatalogue } from './catalogue.ts';
import { type InvoiceRead, readInvoice, writeInvoice } from './invoice.ts';
import { readXml } from './xml.ts';

/** The lines of a UBL catalogue as a sheet of cells. Throws UnreadableSheet. */
export function xmlPages(bytes: Buffer): Page[] {
  const { name, root } = readXml(bytes);
  if (name === 'Catalogue') return cataloguePages(root);
  throw new UnreadableSheet(
    name === 'Invoice'
      ? 'it is an invoice: bring it in as a bill'
      : `it is XML, a “${name.slice(0, 40)}”: of XML a UBL catalogue is read`,
  );
}

/** Reads an invoice. Throws UnreadableSheet. */
export function invoiceIn(bytes: Buffer): InvoiceRead {
  const { name, root } = readXml(bytes);
  if (name !== 'Invoice') throw new UnreadableSheet(`it is a “${name.slice(0, 40)}”, no UBL invoice`);
  return readInvoice(root);
}

/** A bill of the invoice; what names no item of ours is left out, and told. */
export async function billOf(
  db: Queries,
  supplier: number,
  invoice: InvoiceRead,
): Promise<{ body: BillBody; left: string[] }> {
  const codes = await codeBook(db, supplier);
  const lines: BillBody['lines'] = [];
  const left: string[] = [];
  for (const l of invoice.lines) {
    const item = codes.find({ code: l.code ?? l.barcode ?? '', barcode: l.barcode });
    const quantity = dec(l.quantity);
    if (item === null || quantity.isZero()) {
      left.push(`line ${l.line}: ${l.code ?? l.barcode ?? 'no code'} ${l.name ?? ''}`.trim());
      continue;
    }
    const kind = quantity.isNegative() ? 'return' : 'goods';
    lines.push({ item, kind, quantity: plain(quantity.abs()), packUnits: l.packUnits, price: l.price });
  }
  if (lines.length === 0) throw new UnreadableSheet(`no line names an item of ours: ${left.slice(0, 3).join('; ')}`);
  const said = left.length > 0 ? `Not taken over: ${left.join('; ')}` : null;
  const note = [invoice.note, said].filter((t) => t !== null).join(' · ') || null;
  return {
    body: {
      supplier: String(supplier),
      number: invoice.number,
      day: invoice.day,
      currency: invoice.currency,
      note: note && note.slice(0, 500),
      fee: invoice.fee,
      lines,
    },
    left,
  };
}

/** A bill as a UBL invoice: its goods and what was sent back. A corrected price is no delivery, and stands in no invoice. */
export async function invoiceOut(db: Queries, id: number): Promise<{ name: string; xml: string }> {
  const [bill] = await db.select().from(bills).where(eq(bills.id, id));
  if (!bill) throw refused('not_found', { what: 'The bill', id: String(id) });
  const [supplier] = await db.select().from(suppliers).where(eq(suppliers.id, bill.supplierId));
  const settings = await readSettings(db);
  const ids = [...new Set(bill.lines.map((l) => Number(l.item)))];
  const named = new Map(
    (await db.select().from(items).where(inArray(items.id, ids))).map((i) => [String(i.id), i] as const),
  );
  const lines = bill.lines.filter((l) => l.kind !== 'correction');
  const xml = writeInvoice({
    number: bill.number,
    day: bill.day,
    currency: bill.currency,
    note: bill.note,
    supplier: supplier!.name,
    customer: settings.name,
    fee: bill.fee,
    lines: lines.map((l) => ({
      sku: named.get(l.item)!.sku,
      name: named.get(l.item)!.name,
      quantity: l.kind === 'return' ? `-${l.quantity}` : l.quantity,
      packUnits: l.packUnits,
      price: l.price,
    })),
  });
  return { name: `${bill.number.replace(/[^\w.-]+/g, '-')}.xml`, xml };
}

/** Decimals of a price without tax, where the list shows tax. */
const NET_PLACES = 6;

/** What a list asks on a day as a UBL catalogue: posted prices, without tax and deposit, a line for each pack. */
export async function catalogueOut(
  db: Queries,
  { ws, day }: Loaded,
  listId: string,
): Promise<{ name: string; xml: string }> {
  const list = findList(ws, listId);
  const settings = await readSettings(db);
  const coded = new Map(
    (await db.select({ id: packs.id, barcode: packs.barcode }).from(packs)).map((p) => [String(p.id), p.barcode]),
  );
  const lines = ws.workspace.items.flatMap((item) =>
    item.packs.flatMap((pack) => {
      const posted = ws.postedFor(list.id, item, pack.id, day);
      const own = ws.packOf(item, pack.id);
      const terms = posted && own ? shownTerms(ws, list, ws.followed(item), own, day) : null;
      if (!posted || !terms?.ok) return [];
      const net = toNet(terms.value, dec(posted.price!));
      return [
        {
          sku: item.sku,
          barcode: coded.get(pack.id) ?? null,
          name: item.name,
          brand: item.brand ?? null,
          price: plain(list.taxIn ? roundHalfUp(net, NET_PLACES) : net),
          units: plain(dec(own!.units)),
          from: posted.from,
        },
      ];
    }),
  );
  const xml = writeCatalogue({
    id: `${list.id}-${day}`,
    name: list.name,
    day,
    provider: settings.name,
    receiver: list.name,
    currency: list.currency,
    lines,
  });
  return { name: `${list.name.replace(/[^\w.-]+/g, '-')}-${day}.xml`, xml };
}
