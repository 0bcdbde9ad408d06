import { sql } from 'drizzle-orm';
import { KINDS } from '#contract/records/kinds.ts';
import type { PlainBody } from '#contract/records/plain.ts';
import { costs } from '../costs/tables.ts';
import { type Group, lockstepRegister } from '../items/lockstep-register.ts';
import { postingLines } from '../ledger/tables.ts';
import { listRegister } from '../lists/list-register.ts';
import { personRegister } from '../people/person-register.ts';
import type { Tx } from '../platform/database.ts';
import { wrongField } from '../platform/refused.ts';
import { breakRegister, floorRegister } from '../quotes/rule-registers.ts';
import { readDeclared } from '../records/load.ts';
import { recordRegister } from '../records/register.ts';
import { columnRegister } from './column-register.ts';
import type { AnyRegister, Register } from './register.ts';
import { readSettings } from './settings.ts';
import { categoryRows, customerRows, groupRows, rateRows, settingsRows, supplierRows, taxRows } from './rows.ts';
import { categories } from './tables.ts';

/** Advisory lock of whoever moves a category: a change that holds a rule together with another waits for it. */
const TURN_OF_CATEGORIES = 7304;

/** A category may not lie below itself. */
async function noCircle(tx: Tx, body: { parent: string | null }, id: number | null): Promise<void> {
  // two moves at the same time could make a circle that neither sees: they take turns
  await tx.execute(sql`select pg_advisory_xact_lock(${TURN_OF_CATEGORIES})`);
  const rows = await tx.select().from(categories);
  const parents = new Map(rows.map((c) => [c.id, c.parent]));
  for (
    let at = body.parent === null ? null : Number(body.parent), steps = 0;
    at !== null && at !== undefined;
    at = parents.get(at) ?? null
  ) {
    if (at === id || ++steps > 100) throw wrongField('parent', 'a category may not lie below itself');
  }
}

/** The time zone and the currency must be known; books that hold prices stay in their currency. */
async function checkSettings(tx: Tx, body: PlainBody<'settings'>): Promise<void> {
  if (!Intl.supportedValuesOf('timeZone').includes(body.timeZone) && body.timeZone !== 'UTC')
    throw wrongField('timeZone', `"${body.timeZone}" is no time zone; write it like Europe/Berlin`);
  if (!Intl.supportedValuesOf('currency').includes(body.currency))
    throw wrongField('currency', `"${body.currency}" is no currency; write it like EUR`);
  const now = await readSettings(tx);
  if (body.currency === now.currency) return;
  const [posted] = await tx.select({ id: postingLines.id }).from(postingLines).limit(1);
  const [cost] = await tx.select({ id: costs.id }).from(costs).limit(1);
  if (posted || cost)
    throw wrongField(
      'currency',
      `the books are in ${now.currency} and hold ${posted ? 'posted prices' : 'costs'}: their currency cannot change`,
    );
}

async function knownTaxClass(tx: Tx, { taxClass }: PlainBody<'tax-rates'>): Promise<void> {
  const { taxClasses } = (await readDeclared(tx)).members;
  if (taxClasses.length > 0 && !taxClasses.some((c) => c.name === taxClass))
    throw wrongField(
      'taxClass',
      `is declared first under Setup, Tax classes; there are ${taxClasses.map((c) => c.name).join(', ')}`,
    );
}

/** Every kind of record that people keep by its address; recipes and ladders have forms of their own. */
export const registers: readonly AnyRegister[] = [
  columnRegister(categoryRows, noCircle),
  columnRegister(rateRows),
  columnRegister(groupRows),
  personRegister,
  ...KINDS.map((k) =>
    k.name === 'lockstep' ? lockstepRegister(recordRegister(k) as Register<Group>) : recordRegister(k),
  ),
  columnRegister(supplierRows),
  columnRegister(settingsRows, checkSettings),
  columnRegister(taxRows, knownTaxClass),
  columnRegister(customerRows),
  floorRegister,
  listRegister,
  breakRegister,
];
