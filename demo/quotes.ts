import { eq } from 'drizzle-orm';
import { Prepared } from '#core/workspace/index.ts';
import { audit } from '#server/ledger/audit.ts';
import type { Tx } from '#server/platform/database.ts';
import { quoteFigures } from '#server/quotes/figures.ts';
import { findQuote, listFor, questionOf } from '#server/quotes/store.ts';
import { quoteDecisions, quoteLines, quotes } from '#server/quotes/tables.ts';
import { loadWorkspace } from '#server/workspace/load-workspace.ts';
import { daysBefore } from './days.ts';
import { Dice } from '#core/numbers/dice.ts';

/** Quotes of the last months, each priced by the lists of its day; the latest are still open. */
export async function demoQuotes(tx: Tx, today: string, person: Record<string, number>): Promise<number> {
  const dice = new Dice(31);
  const days = [340, 305, 281, 250, 219, 190, 163, 140, 118, 95, 71, 44, 30, 21, 12, 6, 2, 1];
  const numbers = new Map<string, number>();
  for (const [n, back] of days.entries()) {
    const day = daysBefore(today, back);
    const ws = new Prepared(await loadWorkspace(tx, day));
    const customer = ws.workspace.customers[1 + (n % (ws.workspace.customers.length - 1))]!;
    const listId = Number(listFor(ws, { customer: customer.id, list: null, listReason: null }, day));
    const year = day.slice(0, 4);
    numbers.set(year, (numbers.get(year) ?? 0) + 1);
    const writtenBy = person[n % 3 === 0 ? 'tomas' : 'liv']!;
    const [row] = await tx
      .insert(quotes)
      .values({
        number: `${year}-${String(numbers.get(year)).padStart(4, '0')}`,
        customerId: Number(customer.id),
        listId,
        day,
        validUntil: daysBefore(day, -30),
        writtenBy,
        writtenAt: new Date(`${day}T13:00:00Z`),
      })
      .returning();
    const priced = ws.workspace.items.filter((i) => i.category !== '' && i.packs.length > 0);
    const open = back <= 2;
    const lines = Array.from({ length: 3 + dice.whole(0, 5) }, (_, position) => {
      const item = dice.pick(priced);
      const pack = item.packs[0]!;
      const quantity = item.order?.step ? 5 * dice.whole(2, 20) : dice.whole(1, item.unit === 'metre' ? 80 : 14);
      const reduced = dice.next() < 0.3;
      return {
        quoteId: row!.id,
        position,
        itemId: Number(item.id),
        packId: Number(pack.id),
        quantity: String(quantity),
        reductionKind: reduced ? ('percent_off' as const) : null,
        reductionValue: reduced ? String(dice.whole(2, 6)) : null,
      };
    });
    if (open) {
      // a rope line so far reduced that the floor asks for approval
      const rope = priced.find((i) => i.sku === 'BL-12-NA')!;
      lines.push({
        quoteId: row!.id,
        position: lines.length,
        itemId: Number(rope.id),
        packId: Number(rope.packs[0]!.id),
        quantity: '120',
        reductionKind: 'percent_off',
        reductionValue: '30',
      });
    }
    await tx.insert(quoteLines).values(lines);
    const found = await findQuote(tx, row!.id);
    const figures = quoteFigures(ws, questionOf(ws, found.quote, found.lines, day));
    const at = new Date(`${day}T14:00:00Z`);
    if (open) {
      if (back === 2)
        await tx.update(quotes).set({ state: 'waiting', asked: figures, version: 2 }).where(eq(quotes.id, row!.id));
    } else if (figures.outcome === 'fine' || figures.outcome === 'asks_approval') {
      if (figures.outcome === 'asks_approval')
        await tx.insert(quoteDecisions).values({
          quoteId: row!.id,
          quoteVersion: 2,
          decision: 'approved',
          note: 'Agreed by telephone',
          decidedBy: person['oskar']!,
          decidedAt: at,
        });
      await tx
        .update(quotes)
        .set({ state: 'issued', issued: figures, issuedAt: at, version: 3 })
        .where(eq(quotes.id, row!.id));
    }
    await audit(tx, {
      at,
      personId: writtenBy,
      action: 'wrote a quote',
      subject: 'quotes',
      subjectId: String(row!.id),
      after: { lines: lines.length },
    });
  }
  return days.length;
}
