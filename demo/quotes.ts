import { desc, eq } from 'drizzle-orm';
import { RIGHTS } from '#contract/people.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { audit } from '#server/ledger/audit.ts';
import type { Db, Tx } from '#server/platform/database.ts';
import type { Here } from '#server/quotes/chain.ts';
import { acceptQuote, issueChange, keepChange } from '#server/quotes/change-orders.ts';
import { keepTerms } from '#server/quotes/kept-terms.ts';
import { quoteFigures } from '#server/quotes/figures.ts';
import { bodyOf, findQuote, listFor, questionOf } from '#server/quotes/store.ts';
import { quoteDecisions, quoteLines, quotes } from '#server/quotes/tables.ts';
import { loadWorkspace } from '#server/workspace/load-workspace.ts';
import { atNoon, daysBefore } from './days.ts';
import { Dice } from '#core/numbers/dice.ts';

/** Quotes of the last months, each priced by the lists of its day; the latest are still open. */
export async function demoQuotes(tx: Tx, today: string, person: Record<string, number>): Promise<number> {
  const dice = new Dice(31);
  const days = [
    ...[552, 540, 529, 515, 502, 488, 471, 460, 447, 431, 418, 402, 390, 377, 361, 350, 339, 322, 305, 281, 264, 250],
    ...[233, 219, 190, 176, 163, 140, 118, 95, 71, 58, 44, 30, 21, 12, 6, 3, 2, 1],
  ];
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
    const ropes = priced.filter((i) => i.sku.startsWith('BL-'));
    const open = back <= 3;
    const lines = Array.from({ length: 3 + dice.whole(0, 5) }, (_, position) => {
      const item = dice.pick(n % 6 === 3 && position % 2 === 0 ? ropes : priced);
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
    // every sixth is a refit in two parts, with the cover for the rigging and something off the whole
    const refit = n % 6 === 3;
    const parted = lines.map((l, i) => ({ ...l, section: refit ? (i % 2 === 0 ? 'rigging' : 'deck') : null }));
    await tx.insert(quoteLines).values(parted);
    if (refit) {
      const cover = ws.workspace.charges.find((c) => c.name === 'Rigging inspection cover')!;
      const terms = {
        charges: [{ charge: cover.id, sections: ['rigging'], periods: null }],
        reduction: { kind: 'percent_off' as const, value: '1', sections: [] },
      };
      await tx.update(quotes).set({ terms }).where(eq(quotes.id, row!.id));
    }
    const found = await findQuote(tx, row!.id);
    const figures = quoteFigures(ws, questionOf(ws, found.quote, found.lines, day));
    // what was told on the telephone, before anybody reckoned
    const told = String(20 * Math.round(Number(figures.toPay) / 19));
    if (refit)
      await tx
        .update(quotes)
        .set({ terms: { ...found.quote.terms, estimate: told } })
        .where(eq(quotes.id, row!.id));
    const at = new Date(`${day}T14:00:00Z`);
    if (open) {
      // the latest is still being written, the one before waits for the approver, the one before that has their yes
      if (back >= 2)
        await tx
          .update(quotes)
          .set({ state: back === 2 ? 'waiting' : 'approved', asked: figures, version: back })
          .where(eq(quotes.id, row!.id));
      if (back === 3)
        await tx.insert(quoteDecisions).values({
          quoteId: row!.id,
          quoteVersion: 2,
          decision: 'approved',
          note: 'Once, for this refit',
          decidedBy: person['oskar']!,
          decidedAt: at,
        });
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
        .set({
          state: 'issued',
          issued: figures,
          issuedAt: at,
          issuedOn: day,
          kept: await keepTerms(
            tx,
            ws,
            lines.map((l) => String(l.itemId)),
            customer.id,
          ),
          version: 3,
        })
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

/** The last three refits were accepted; the latest has one change that was issued and one that is being written. */
export async function demoChanges(db: Db, today: string, people: Record<string, number>): Promise<number> {
  const rights = new Set(RIGHTS);
  const seller = { id: people['tomas']!, name: 'Tomas', role: 'administrator' as const, rights };
  const approver = { id: people['oskar']!, name: 'Oskar', role: 'approver' as const, rights };
  const rows = (await db.select().from(quotes).orderBy(desc(quotes.id))).filter(
    (q) => q.state === 'issued' && (q.terms.charges?.length ?? 0) > 0,
  );
  for (const [n, { id, day, version }] of rows.slice(0, 3).entries()) {
    const accepted = daysBefore(day, -3);
    const here = (on: string): Here => ({ db, now: () => atNoon(on) });
    await acceptQuote(here(accepted), seller, id, accepted, { version, note: 'by letter', credits: n !== 1 });
    if (n > 0) continue;
    const { quote, lines } = await findQuote(db, id);
    const body = bodyOf(quote, lines);
    const more = body.lines.map((l, i) => (i === 0 ? { ...l, quantity: String(2 * Number(l.quantity)) } : l));
    const change = { terms: 'acceptance' as const, charges: body.charges, reductionStays: true, reduction: null };
    const keys = lines.map((l) => String(l.position));
    await keepChange(here(accepted), seller, id, accepted, version + 1, {
      ...change,
      reason: 'twice as much of the first line',
      lines: more,
      goesOnFrom: keys,
    });
    await issueChange(here(accepted), approver, id, accepted, version + 2);
    await keepChange(here(today), seller, id, today, version + 3, {
      ...change,
      reason: 'without the last line',
      lines: more.slice(0, -1),
      goesOnFrom: keys.slice(0, -1),
    });
  }
  return Math.min(3, rows.length);
}
