import { asc, eq, ilike, inArray, or } from 'drizzle-orm';
import type { Found, Waiting } from '#contract/today.ts';
import { plusDays } from '#core/numbers/day.ts';
import { costSheets } from '../costs/tables.ts';
import { items, packs } from '../items/tables.ts';
import { listPrices } from '../lists/list-prices.ts';
import { priceLists } from '../lists/tables.ts';
import { route } from '../platform/http/route.ts';
import { todayRoutes as declared } from '#contract/api/today.ts';
import { quotes } from '../quotes/tables.ts';
import { recipes } from '../recipes/tables.ts';
import { customers, suppliers } from '../setup/tables.ts';
import { today } from '../workspace/asked-day.ts';
import { ladders } from '../rounding/tables.ts';
import { findRecords } from './find-records.ts';
import { revisionOf } from '../ledger/audit.ts';
import { workspaceOn } from '../workspace/load-workspace.ts';

/** How many days before its end a price set by hand is told of. */
const SOON = 7;

const some = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

export const todayRoutes = [
  route(declared.today, async ({ context, person }) => {
    const out: Waiting[] = [];
    const add = (kind: Waiting['kind'], count: number, text: string, to: string) =>
      count > 0 && out.push({ kind, count, text, to });
    if (person.rights.has('see_cost')) {
      const sheets = await context.db
        .select({ id: costSheets.id, fileName: costSheets.fileName, supplier: suppliers.name })
        .from(costSheets)
        .innerJoin(suppliers, eq(suppliers.id, costSheets.supplierId))
        .where(eq(costSheets.state, 'waiting'))
        .orderBy(asc(costSheets.id));
      for (const s of sheets)
        add('cost_sheet', 1, `Cost sheet ${s.fileName} from ${s.supplier} waits to be taken in`, `/costs/${s.id}`);
      const loaded = await workspaceOn(context.db, await today(context));
      for (const list of loaded.ws.workspace.lists.filter((l) => l.active && l.recipe)) {
        const { rows, summary } = await listPrices(loaded, list.id, true);
        const fresh = rows.filter((r) => r.posted === null && r.proposed !== null).length;
        const moved = summary.up + summary.down - fresh;
        add(
          'price_changes',
          moved,
          `${list.name}: ${some(moved, 'posted price differs', 'posted prices differ')} from what its recipe computes`,
          `/lists/${list.id}?show=changed`,
        );
        add(
          'without_price',
          fresh,
          `${list.name}: ${some(fresh, 'item has', 'items have')} no posted price yet`,
          `/lists/${list.id}?show=new`,
        );
        add(
          'held_prices',
          summary.held,
          `${list.name}: ${some(summary.held, 'price is', 'prices are')} held, a floor lies above a ceiling`,
          `/lists/${list.id}?show=held`,
        );
        const low = rows.filter((r) => r.marginBefore !== null && r.marginBefore.startsWith('-')).length;
        add(
          'below_floor',
          low,
          `${list.name}: ${some(low, 'posted price lies', 'posted prices lie')} below cost`,
          `/lists/${list.id}?show=loss`,
        );
        const soon = plusDays(loaded.day, SOON);
        const ending = rows.filter((r) => r.handSetLastDay !== null && r.handSetLastDay <= soon).length;
        add(
          'hand_set_ends',
          ending,
          `${list.name}: ${some(ending, 'price set by hand ends', 'prices set by hand end')} within a week; what is due then comes into force`,
          `/lists/${list.id}?show=hand`,
        );
        const without = rows.filter((r) => r.proposed === null).length;
        add(
          'without_cost',
          without,
          `${list.name}: ${some(without, 'price cannot', 'prices cannot')} be computed`,
          `/lists/${list.id}?show=without`,
        );
      }
    }
    if (person.rights.has('see_cost')) {
      const { findings } = context.check.look(await revisionOf(context.db), await today(context));
      add(
        'findings',
        findings.length,
        `The check finds ${some(findings.length, 'thing', 'things')} that may be wrong in the set-up`,
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
        add('quote_to_approve', 1, `Quote ${q.number} for ${q.customer} waits for your approval`, `/quotes/${q.id}`);
      if (q.state === 'approved' && q.writtenBy === person.id)
        add(
          'quote_approved',
          1,
          `Quote ${q.number} for ${q.customer} is approved and can be issued`,
          `/quotes/${q.id}`,
        );
    }
    return out;
  }),
  route(declared.search, async ({ context, person, query }) => {
    const text = (query['text'] ?? '').trim().slice(0, 80);
    if (text === '') return [];
    const like = `%${text.replace(/[\\%_]/g, '\\$&')}%`;
    const found: Found[] = [];
    const byBarcode = context.db
      .select({ id: packs.itemId })
      .from(packs)
      .where(eq(packs.barcode, text.replace(/[\s-]/g, '')));
    for (const i of await context.db
      .select()
      .from(items)
      .where(or(ilike(items.sku, like), ilike(items.name, like), inArray(items.id, byBarcode)))
      .orderBy(asc(items.sku))
      .limit(12)) {
      found.push({
        kind: 'item',
        id: String(i.id),
        title: i.name,
        detail: i.sku,
        to: `/items/${i.id}`,
      });
    }
    for (const l of await context.db.select().from(priceLists).where(ilike(priceLists.name, like)).limit(6))
      found.push({ kind: 'list', id: String(l.id), title: l.name, detail: l.currency, to: `/lists/${l.id}` });
    for (const q of await context.db
      .select({ id: quotes.id, number: quotes.number, customer: customers.name })
      .from(quotes)
      .innerJoin(customers, eq(customers.id, quotes.customerId))
      .where(or(ilike(quotes.number, like), ilike(customers.name, like)))
      .orderBy(asc(quotes.id))
      .limit(6)) {
      found.push({ kind: 'quote', id: String(q.id), title: q.number, detail: q.customer, to: `/quotes/${q.id}` });
    }
    if (person.rights.has('see_cost')) {
      for (const r of await context.db.select().from(recipes).where(ilike(recipes.name, like)).limit(6))
        found.push({ kind: 'recipe', id: String(r.id), title: r.name, detail: 'recipe', to: `/recipes/${r.id}` });
      for (const l of await context.db.select().from(ladders).where(ilike(ladders.name, like)).limit(6))
        found.push({ kind: 'ladder', id: String(l.id), title: l.name, detail: 'ladder', to: `/ladders/${l.id}` });
    }
    found.push(...(await findRecords(context.db, person.rights, like)));
    return found;
  }),
];
