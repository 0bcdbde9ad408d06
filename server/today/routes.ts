import { and, asc, count, eq, gt, ilike, inArray, isNotNull, or, sql } from 'drizzle-orm';
import { placeOf } from '#contract/places.ts';
import type { Found, Today, Waiting } from '#contract/today.ts';
import { connections } from '../connections/tables.ts';
import { costSheets } from '../costs/tables.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { route } from '../platform/http/route.ts';
import { todayRoutes as declared } from '#contract/api/today.ts';
import { quotes } from '../quotes/tables.ts';
import { customers, suppliers } from '../setup/tables.ts';
import { stateNameOn, today } from '../workspace/asked-day.ts';
import { ofChangesToCome } from './of-changes.ts';
import { ofRequests } from './of-requests.ts';
import { FINDABLE, foundRecords } from '../records/find.ts';
import { foundItems } from '../items/named-items.ts';
import { revisionOf } from '../ledger/audit.ts';
import { postingLines, postings } from '../ledger/tables.ts';
import { worksheets } from '../worksheets/tables.ts';
import type { ListCounts } from '../windows/standing.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** Of each register the one search tells so many. */
const MOST_OF_EACH = 6;

const some = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

type Add = (kind: Waiting['kind'], count: number, text: string, to: string) => void;

/** The lines of one list, each to the prices it speaks of. */
function ofList(add: Add, { id, name }: { id: string; name: string }, { looks, falling, ending }: ListCounts): void {
  const say = (kind: Waiting['kind'], count: number, words: string, shows: string) =>
    add(kind, count, `${name}: ${words}`, `${placeOf('lists', id)}?show=${shows}`);
  const differ = some(looks.changed, 'posted price differs', 'posted prices differ');
  say('price_changes', looks.changed, `${differ} from what its recipe computes`, 'changed');
  say('without_price', looks.new, `${some(looks.new, 'item has', 'items have')} no posted price yet`, 'new');
  if (falling > 0)
    add(
      'falls',
      falling,
      `${name}: ${some(falling, 'price would fall, and stays', 'prices would fall, and stay')} for now`,
      '/falls',
    );
  const held = some(looks.held, 'price is', 'prices are');
  say('held_prices', looks.held, `${held} held, a floor lies above a ceiling`, 'held');
  say('below_floor', looks.loss, `${some(looks.loss, 'posted price lies', 'posted prices lie')} below cost`, 'loss');
  const ends = some(ending, 'price ends', 'prices end');
  say('prices_end', ending, `${ends} within a week; what is due then comes into force`, 'ending');
  say('without_cost', looks.without, `${some(looks.without, 'price cannot', 'prices cannot')} be computed`, 'without');
}

/** For so many days what was taken in by itself is told, in milliseconds. */
const TOLD_MS = 2 * 86_400_000;

/** What suppliers' services did, and did not do. */
async function ofSuppliers({ db, now }: Pick<Context, 'db' | 'now'>, person: SignedIn, add: Add): Promise<void> {
  const since = new Date(now().getTime() - TOLD_MS);
  const taken = await db
    .select({ id: costSheets.id, fileName: costSheets.fileName, supplier: suppliers.name, counts: costSheets.counts })
    .from(costSheets)
    .innerJoin(suppliers, eq(suppliers.id, costSheets.supplierId))
    .where(and(costSheets.byItself, gt(costSheets.takenInAt, since)))
    .orderBy(asc(costSheets.id));
  for (const s of taken) {
    const costs = some(s.counts?.taken ?? 0, 'cost', 'costs');
    add(
      'taken_by_itself',
      1,
      `${costs} of ${s.fileName} from ${s.supplier}; it can be taken back`,
      placeOf('cost-sheets', s.id),
    );
  }
  const connected = await db
    .select({ c: connections, supplier: suppliers.name, by: people.name })
    .from(connections)
    .innerJoin(suppliers, eq(suppliers.id, connections.supplierId))
    .leftJoin(people, eq(people.id, connections.askedBy))
    .orderBy(asc(suppliers.name));
  for (const { c, supplier, by } of connected) {
    if (c.state === 'asked' && person.rights.has('edit_rules'))
      add('connection_asked', 1, `${by ?? 'Somebody'} asks for a connection of ${supplier}`, '/costs');
    if (c.state === 'on' && c.trouble) add('connection_trouble', 1, `${supplier}: ${c.trouble}`, '/costs');
  }
}

/** What was posted by itself after costs were taken in, and what was left to a person. */
async function ofWorksheets({ db, now }: Pick<Context, 'db' | 'now'>, add: Add): Promise<void> {
  const since = new Date(now().getTime() - TOLD_MS);
  const found = await db
    .select()
    .from(worksheets)
    .where(and(gt(worksheets.madeAt, since), sql`${worksheets.byItself} is not null`))
    .orderBy(asc(worksheets.id));
  if (found.length === 0) return;
  const names = new Map(
    (await db.select({ id: priceLists.id, name: priceLists.name }).from(priceLists)).map((l) => [String(l.id), l.name]),
  );
  const made = await db
    .select({ worksheet: postings.worksheetId, list: postings.listId, lines: count(postingLines.id) })
    .from(postings)
    .innerJoin(postingLines, eq(postingLines.postingId, postings.id))
    .where(
      and(
        inArray(
          postings.worksheetId,
          found.map((w) => w.id),
        ),
        eq(postings.kind, 'post'),
      ),
    )
    .groupBy(postings.worksheetId, postings.listId)
    .orderBy(asc(postings.listId));
  for (const w of found) {
    const to = placeOf('worksheets', w.id);
    for (const m of made.filter((one) => one.worksheet === w.id)) {
      const prices = some(m.lines, 'price was', 'prices were');
      const list = names.get(String(m.list)) ?? '';
      add('posted_by_itself', 1, `${list}: ${prices} posted. ${w.reason}; it can be reversed`, to);
    }
    if (w.state !== 'draft') continue;
    for (const { list, left } of w.byItself!.lists)
      if (left) add('left_by_itself', 1, `${names.get(list) ?? ''}: ${left}. ${w.reason}`, to);
    if (w.trouble) add('left_by_itself', 1, `${w.reason}: ${w.trouble}`, to);
  }
}

export const todayRoutes = [
  route(declared.today, async ({ context, person }) => {
    const out: Waiting[] = [];
    let asOf: Pick<Today, 'at' | 'stale'> = { at: null, stale: false };
    const add: Add = (kind, count, text, to) => {
      if (count > 0) out.push({ kind, count, text, to });
    };
    if (person.rights.has('see_cost')) {
      const sheets = await context.db
        .select({ id: costSheets.id, fileName: costSheets.fileName, state: costSheets.state, supplier: suppliers.name })
        .from(costSheets)
        .innerJoin(suppliers, eq(suppliers.id, costSheets.supplierId))
        .where(inArray(costSheets.state, ['waiting', 'part_taken']))
        .orderBy(asc(costSheets.id));
      for (const s of sheets)
        add(
          'cost_sheet',
          1,
          s.state === 'waiting'
            ? `Cost sheet ${s.fileName} from ${s.supplier} waits to be taken in`
            : `Rows of cost sheet ${s.fileName} from ${s.supplier} wait to be decided`,
          placeOf('cost-sheets', s.id),
        );
      await ofRequests(context, person, add);
      await ofSuppliers(context, person, add);
      await ofWorksheets(context, add);
      const day = await today(context);
      await ofChangesToCome(context.db, day, add);
      const priced = await context.db
        .select({ id: priceLists.id, name: priceLists.name })
        .from(priceLists)
        .where(and(priceLists.active, isNotNull(priceLists.recipe)))
        .orderBy(asc(priceLists.id));
      const lists = priced.map(({ id, name }) => ({ id: String(id), name }));
      const counts = context.tables.counts(
        lists.map((l) => l.id),
        day,
        await stateNameOn(context, day),
      );
      asOf = { at: counts.at, stale: counts.stale };
      for (const list of lists) {
        const table = counts.lists.get(list.id);
        if (table) ofList(add, list, table);
      }
      add(
        'failing_proofs',
        counts.failing,
        `${some(counts.failing, 'proof no longer comes', 'proofs no longer come')} out as it was checked`,
        '/findings',
      );
      // what a working day begins with comes first, then the check of the whole set-up
      const { check } = context;
      if (!counts.stale) check.look(await revisionOf(context.db), day);
      const found = check.found().length;
      add(
        'findings',
        found,
        `The check finds ${some(found, 'thing', 'things')} that may be wrong in the set-up`,
        '/findings',
      );
    }
    const open = await context.db
      .select({
        id: quotes.id,
        number: quotes.number,
        state: quotes.state,
        writtenBy: quotes.writtenBy,
        changedBy: quotes.changedBy,
        askedBy: quotes.askedBy,
        customer: customers.name,
      })
      .from(quotes)
      .innerJoin(customers, eq(customers.id, quotes.customerId))
      .where(inArray(quotes.state, ['waiting', 'approved']))
      .orderBy(asc(quotes.id));
    for (const q of open) {
      const own = [q.writtenBy, q.changedBy, q.askedBy].includes(person.id);
      if (q.state === 'waiting' && person.rights.has('approve') && !own)
        add(
          'quote_to_approve',
          1,
          `Quote ${q.number} for ${q.customer} waits for your approval`,
          placeOf('quotes', q.id),
        );
      if (q.state === 'approved' && q.writtenBy === person.id)
        add(
          'quote_approved',
          1,
          `Quote ${q.number} for ${q.customer} is approved and can be issued`,
          placeOf('quotes', q.id),
        );
    }
    return { lines: out, ...asOf };
  }),
  route(declared.search, async ({ context, person, query }) => {
    const text = (query['text'] ?? '').trim().slice(0, 80);
    if (text === '') return [];
    const like = `%${text.replace(/[\\%_]/g, '\\$&')}%`;
    const found: Found[] = [];
    for (const i of await foundItems(context.db, text, null))
      found.push({ kind: 'item', id: i.id, title: i.name, detail: i.sku, to: placeOf('items', i.id) });
    for (const q of await context.db
      .select({ id: quotes.id, number: quotes.number, customer: customers.name })
      .from(quotes)
      .innerJoin(customers, eq(customers.id, quotes.customerId))
      .where(or(ilike(quotes.number, like), ilike(customers.name, like)))
      .orderBy(asc(quotes.id))
      .limit(6)) {
      found.push({ kind: 'quote', id: String(q.id), title: q.number, detail: q.customer, to: placeOf('quotes', q.id) });
    }
    for (const of of FINDABLE.filter((f) => person.rights.has(f.right)))
      for (const { id, name, detail } of await foundRecords(
        context.db,
        { ...of, choosable: sql`true` },
        text,
        MOST_OF_EACH,
      ))
        found.push({
          kind: 'record',
          id: `${of.register}/${id}`,
          title: name,
          detail: [of.one, detail].filter(Boolean).join(' · '),
          to: of.to(id),
        });
    return found;
  }),
];
