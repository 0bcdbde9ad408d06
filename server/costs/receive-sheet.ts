import { and, eq, sql } from 'drizzle-orm';
import { needsLook } from '#contract/costs.ts';
import { connections } from '../connections/tables.ts';
import { audit } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Db, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { suppliers } from '../setup/tables.ts';
import { isXml } from '../ubl/xml.ts';
import { PROPOSALS } from '../worksheets/proposals.ts';
import { examine, learntOf, outcomeOf, readable, readableSoon } from './arrivals.ts';
import { isLaidOutAlike, matchAsBefore } from './propose-match.ts';
import { packPages } from './read-table.ts';
import { costSheets, followedSuppliers } from './tables.ts';
import { writeTaken } from './take-in.ts';
import { type Page, isWorkbook } from './workbook.ts';
import type { Arriving, Received, Receiving } from './cost-work.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** What a person sends and no table is: told by its first bytes. */
const NO_TABLES: readonly [bytes: string, what: string][] = [
  ['\xd0\xcf\x11\xe0', 'it is a workbook of the old binary kind: save it as XLSX or CSV'],
  ['%PDF', 'it is a PDF: ask the supplier for the table it was made of'],
  ['\x1f\x8b', 'it is packed: unpack it first'],
  ['\xff\xd8\xff', 'it is a picture'],
  ['\x89PNG', 'it is a picture'],
];

/** A file of more bytes is worked on in a thread, to hold nobody up. */
export const LONG_SHEET_BYTES = 200_000;

/** Whether a file has to be unpacked to be read; refused where it is no table at all. */
export function isPacked(content: Buffer): boolean {
  const first = content.toString('latin1', 0, 4);
  const other = NO_TABLES.find(([bytes]) => first.startsWith(bytes));
  if (other) throw refused('sheet_unreadable', { why: other[1] });
  return content.length >= 4 && (isWorkbook(content) || isXml(content));
}

/**
 * Keeps a supplier's file as it came, read as its last one was read. Where the supplier's costs follow by themselves, and it
 * is laid out as before, every row can be read and nothing is suspicious, it is taken in at once. Null: another server was
 * first to bring what the supplier's service answered.
 */
export async function receiveSheet(
  context: Context,
  person: SignedIn,
  arriving: Arriving,
  today: string,
): Promise<{ id: string; byItself: boolean } | null> {
  if (arriving.content.length === 0) throw refused('sheet_unreadable', { why: 'it is empty' });
  const beside = isPacked(arriving.content) || arriving.content.length > LONG_SHEET_BYTES;
  const asked = { arriving, person: person.id, at: context.now(), today };
  const received = await (beside ? readableSoon(context.costs.receive(asked)) : keepSheet(context.db, asked, null));
  if (!received) return null;
  const { worksheet, ...known } = received;
  if (worksheet !== null) await context.jobs.enqueue(PROPOSALS, worksheet);
  return known;
}

/** Another server asked at the same time and was first: what this one brings is taken back. */
class BroughtAlready extends Error {}

/** Writes what arrived down; `pages`: the sheets of a workbook, or null. */
export async function keepSheet(
  db: Db,
  asked: Omit<Receiving, 'pages'>,
  pages: Page[] | null,
): Promise<Received | null> {
  const { supplierId, fileName, content, origin, answered } = asked.arriving;
  const { at, today } = asked;
  const person = { id: asked.person };
  const keep = inTransaction(db, async (tx): Promise<Received> => {
    const [supplier] = await tx.select().from(suppliers).where(eq(suppliers.id, supplierId));
    if (!supplier) throw refused('not_found', { what: 'The supplier', id: String(supplierId) });
    const learnt = await learntOf(tx, supplierId, origin);
    const how = readable(() => matchAsBefore({ content, pages }, today, learnt));
    const [sheet] = await tx
      .insert(costSheets)
      .values({
        supplierId,
        fileName,
        origin,
        content,
        pages: packPages(pages),
        ...how,
        arrivedAt: at,
        broughtBy: person.id,
      })
      .returning();
    const { id } = sheet!;
    await audit(tx, {
      at,
      personId: person.id,
      action: origin === 'file' ? 'brought in' : 'fetched',
      subject: 'cost-sheets',
      subjectId: String(id),
      // until it is taken in no price is made from it
      layers: [],
      after: { fileName, supplier: supplier.name, bytes: content.length },
    });
    const examined = await examine(tx, sheet!, today);
    const { counts } = outcomeOf(examined);
    await tx.update(costSheets).set({ counts }).where(eq(costSheets.id, id));
    const sound = counts.faulty === 0 && counts.unknown === 0 && !examined.changes.some(needsLook);
    const [followed] = await tx.select().from(followedSuppliers).where(eq(followedSuppliers.supplierId, supplierId));
    const byItself = followed !== undefined && isLaidOutAlike(how.layout) && sound;
    if (answered) {
      const { lastTry, nextTry, lastContent } = answered;
      const written = await tx
        .update(connections)
        .set({ lastTry, lastAnswer: lastTry, nextTry, lastContent, trouble: null, tries: 0, lastSheetId: id })
        .where(
          and(eq(connections.supplierId, supplierId), sql`${connections.lastContent} is distinct from ${lastContent}`),
        )
        .returning({ id: connections.supplierId });
      if (written.length === 0) throw new BroughtAlready();
    }
    const taken = byItself
      ? await writeTaken(tx, { at, person, sheet: sheet!, examined, rows: null, rest: 'left_out', byItself, today })
      : null;
    return { id: String(id), byItself, worksheet: taken?.worksheet ?? null };
  });
  return keep.catch((error: unknown) => {
    if (error instanceof BroughtAlready) return null;
    throw error;
  });
}
