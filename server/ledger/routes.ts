import { inWordsOfNow } from '#contract/records/earlier-words.ts';
import { type SQL, and, desc, eq, lt, sql } from 'drizzle-orm';
import type { AuditRow, PostingSummary } from '#contract/lists.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import { alias } from 'drizzle-orm/pg-core';
import type { Db } from '../platform/database.ts';
import { route } from '../platform/http/route.ts';
import { ledgerRoutes as declared } from '#contract/api/ledger.ts';
import { worksheets } from '../worksheets/tables.ts';
import { refused } from '../platform/refused.ts';
import { recordId } from '../setup/one-record.ts';
import { linesCounted } from './count-lines.ts';
import { postingWindow } from './posting-window.ts';
import { auditEntries, postings } from './tables.ts';
import { today } from '../workspace/asked-day.ts';
import { reversalOf, reversePosting } from './reverse-posting.ts';

const PAGE = 200;
const second = alias(people, 'second');

async function readPostings(db: Db, where?: SQL): Promise<PostingSummary[]> {
  const rows = await db
    .select({
      id: postings.id,
      kind: postings.kind,
      list: postings.listId,
      listName: priceLists.name,
      currency: priceLists.currency,
      effective: postings.effective,
      lastDay: postings.lastDay,
      // it may have been discarded since
      worksheet: worksheets.id,
      ofWorksheet: sql<number>`(select count(distinct o.list_id)::int from postings o where o.worksheet_id = ${postings.worksheetId} and o.kind = 'post')`,
      at: postings.postedAt,
      by: people.name,
      agreedBy: second.name,
      reason: postings.reason,
      reverses: postings.reversesId,
      reversedBy: sql<number[]>`array(select r.id from postings r where r.reverses_id = ${postings.id} order by r.id)`,
    })
    .from(postings)
    .innerJoin(priceLists, eq(priceLists.id, postings.listId))
    .innerJoin(people, eq(people.id, postings.postedBy))
    .leftJoin(second, eq(second.id, postings.agreedBy))
    .leftJoin(worksheets, eq(worksheets.id, postings.worksheetId))
    .where(where)
    .orderBy(desc(postings.id))
    .limit(PAGE);
  const counts = await linesCounted(
    db,
    rows.flatMap((r) => [r.id, ...r.reversedBy]),
  );
  return rows.map(({ ofWorksheet, ...r }) => ({
    ...r,
    ...counts(r.id),
    reversedLines: r.reversedBy.reduce((sum, id) => sum + counts(id).lines, 0),
    worksheet: r.worksheet === null ? null : { id: String(r.worksheet), lists: ofWorksheet },
    id: String(r.id),
    list: String(r.list),
    at: r.at.toISOString(),
    reverses: r.reverses === null ? null : String(r.reverses),
    reversedBy: r.reversedBy.map(String),
  }));
}

/** A page of the ledger goes on below the id that the last one ended with. */
const below = (query: Record<string, string>, column: typeof postings.id | typeof auditEntries.id) =>
  /^\d{1,9}$/.test(query['below'] ?? '') ? lt(column, Number(query['below'])) : undefined;

export const ledgerRoutes = [
  route(declared.postings, ({ context, query }) =>
    readPostings(
      context.db,
      and(
        below(query, postings.id),
        query['list'] ? eq(postings.listId, recordId('The price list', query['list'])) : undefined,
      ),
    ),
  ),
  route(declared.posting, async ({ context, params }) => {
    const id = recordId('The posting', params['id']);
    const [summary] = await readPostings(context.db, eq(postings.id, id));
    if (!summary) throw refused('not_found', { what: 'The posting', id: String(id) });
    const { rows } = await context.db.execute<{ dated: boolean }>(sql`
      select exists (select 1 from posting_lines l join postings h on h.id = l.posting_id
        where h.id = ${id} and (l.last_day is distinct from h.last_day or l.effective <> h.effective)) as dated`);
    return { ...summary, dated: rows[0]!.dated };
  }),
  route(declared.lines, ({ context, person, params, query }) =>
    postingWindow(context, recordId('The posting', params.id), query, person.rights.has('see_cost')),
  ),
  route(declared.reversal, ({ context, params, body }) =>
    reversalOf(context.db, recordId('The posting', params['id']), body.lines),
  ),
  route(declared.reverse, async ({ context, person, params, body }) =>
    reversePosting(context, person, recordId('The posting', params['id']), body, await today(context)),
  ),
  route(declared.audit, async ({ context, query }) => {
    const rows = await context.db
      .select({
        id: auditEntries.id,
        at: auditEntries.at,
        by: people.name,
        action: auditEntries.action,
        subject: auditEntries.subject,
        subjectId: auditEntries.subjectId,
        before: auditEntries.before,
        after: auditEntries.after,
      })
      .from(auditEntries)
      .leftJoin(people, eq(people.id, auditEntries.personId))
      .where(
        and(
          below(query, auditEntries.id),
          query['subject'] ? eq(auditEntries.subject, query['subject']) : undefined,
          query['of'] ? eq(auditEntries.subjectId, query['of']) : undefined,
        ),
      )
      .orderBy(desc(auditEntries.id))
      .limit(PAGE);
    const now = (kind: string, kept: unknown) => (kept && typeof kept === 'object' ? inWordsOfNow(kind, kept) : kept);
    return rows.map((r): AuditRow => ({
      ...r,
      id: String(r.id),
      at: r.at.toISOString(),
      by: r.by ?? 'start',
      before: now(r.subject, r.before),
      after: now(r.subject, r.after),
    }));
  }),
];
