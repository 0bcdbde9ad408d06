import { and, eq, ne, sql } from 'drizzle-orm';
import { KINDS } from '#contract/records/kinds.ts';
import type { PlainBody } from '#contract/records/plain.ts';
import { costs } from '../costs/tables.ts';
import { type Group, lockstepRegister } from '../items/lockstep-register.ts';
import { postingLines } from '../ledger/tables.ts';
import { listRegister } from '../lists/list-register.ts';
import { personRegister } from '../people/person-register.ts';
import { isKnownCurrency } from '#core/numbers/currency.ts';
import type { Tx } from '../platform/database.ts';
import { wrongField } from '../platform/refused.ts';
import { breakRegister, floorRegister } from '../quotes/rule-registers.ts';
import { readDeclared } from '../records/load.ts';
import { recordRegister } from '../records/register.ts';
import { columnRegister } from './column-register.ts';
import type { AnyRegister, Register } from './register.ts';
import { readSettings } from './settings.ts';
import { categoryRows, customerRows, groupRows, rateRows, settingsRows, supplierRows, taxRows } from './rows.ts';
import { categories, exchangeRates, taxRates } from './tables.ts';

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
  if (!isKnownCurrency(body.currency))
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

/** Of two rates for one day only one could count. */
async function oneRateADay(tx: Tx, body: PlainBody<'exchange-rates'>, id: number | null): Promise<void> {
  const { from, to, day } = body;
  const [known] = await tx
    .select({ rate: exchangeRates.rate })
    .from(exchangeRates)
    .where(
      and(
        eq(exchangeRates.from, from),
        eq(exchangeRates.to, to),
        eq(exchangeRates.day, day),
        id === null ? undefined : ne(exchangeRates.id, id),
      ),
    );
  if (known)
    throw wrongField('day', `${from} to ${to} is known for this day already (${known.rate}): change that rate instead`);
  for (const [field, currency] of [['from', from] as const, ['to', to] as const])
    if (!isKnownCurrency(currency)) throw wrongField(field, `“${currency}” is no currency: write it like EUR`);
}

async function checkTaxRate(tx: Tx, body: PlainBody<'tax-rates'>, id: number | null): Promise<void> {
  await knownTaxClass(tx, body);
  const rows = await tx
    .select()
    .from(taxRates)
    .where(and(eq(taxRates.taxClass, body.taxClass), eq(taxRates.from, body.from)));
  const known = rows.find((r) => r.id !== id && (r.more['region'] ?? null) === (body.region ?? null));
  if (known)
    throw wrongField(
      'from',
      `the rate of ${body.taxClass} from this day is known already (${known.percent} %): change that rate instead`,
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
  columnRegister(rateRows, oneRateADay),
  columnRegister(groupRows),
  personRegister,
  ...KINDS.map((k) =>
    k.name === 'lockstep' ? lockstepRegister(recordRegister(k) as Register<Group>) : recordRegister(k),
  ),
  columnRegister(supplierRows),
  columnRegister(settingsRows, checkSettings),
  columnRegister(taxRows, checkTaxRate),
  columnRegister(customerRows),
  floorRegister,
  listRegister,
  breakRegister,
];
