import { type LadderBody, ladderBody } from '#contract/recipes.ts';
import { type RungFault, rungFaults } from '#core/rounding/ladder.ts';
import { isKnownCurrency } from '#core/numbers/currency.ts';
import { holdState } from '../ledger/audit.ts';
import { refused, wrongField } from '../platform/refused.ts';
import type { Register } from '../setup/register.ts';
import { readLadders, writeLadder } from './store.ts';
import { ladders } from './tables.ts';
import { and, eq } from 'drizzle-orm';

const FAULT_TEXT: Record<RungFault['code'], string> = {
  not_a_number: 'must be a number',
  negative: 'must not be negative',
  not_above_from: 'must be above the start of the band',
  not_above_zero: 'must be more than 0',
  no_ending: 'needs at least one ending',
  outside_step: 'must lie inside the step: from 0 up to, but not including, the step',
  missing: 'is needed with two cuts',
  overlap: 'this band overlaps the one before it',
};

export const ladderRegister: Register<LadderBody> = {
  name: 'ladders',
  title: 'The ladder',
  body: ladderBody,
  readRight: 'see_cost',
  changeRight: 'edit_rules',
  read: readLadders,
  write: writeLadder,
  check: async (tx, body, id) => {
    const faults = rungFaults(body.rungs).map((f) => ({
      path: `rungs[${f.row}].${f.field}`,
      message: FAULT_TEXT[f.code],
    }));
    if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
    if (!isKnownCurrency(body.currency))
      throw wrongField('currency', `“${body.currency}” is no currency: write it like EUR`);
    if (!body.byDefault) return;
    await holdState(tx);
    const others = await tx
      .select({ id: ladders.id, name: ladders.name })
      .from(ladders)
      .where(and(eq(ladders.currency, body.currency), eq(ladders.byDefault, true)));
    const other = others.find((l) => l.id !== id);
    if (other)
      throw wrongField(
        'byDefault',
        `“${other.name}” is the default ladder of ${body.currency} already: make it no longer the default first`,
      );
  },
};
