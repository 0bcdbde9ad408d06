import { dec } from '#core/numbers/decimal.ts';
import { ascending, breakFaults } from '#core/quotes/breaks.ts';
import { items } from '../items/tables.ts';
import type { Tx } from '../platform/database.ts';
import { refused, wrongField } from '../platform/refused.ts';
import { columnRegister } from '../setup/column-register.ts';
import { breakTableRows, floorRows } from './rule-rows.ts';

export const breakRegister = columnRegister(breakTableRows, async (_, body) => {
  const faults = breakFaults(body.rows).map((f) => ({
    path: `rows[${f.row}].${f.code === 'twice' || f.code.startsWith('from') ? 'from' : 'value'}`,
    message: f.code.replaceAll('_', ' '),
  }));
  const rows = ascending(body.rows);
  rows.forEach((row, i) => {
    const before = rows[i - 1];
    if (before?.kind !== row.kind) return;
    const worse = row.kind === 'price' ? dec(row.value).gt(before.value) : dec(row.value).lt(before.value);
    const at = body.rows.indexOf(row);
    if (worse) faults.push({ path: `rows[${at}].value`, message: `gives less than the break from ${before.from}` });
  });
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
});

/** A rule for a brand that no item has reaches nothing: a letter was missed. */
async function knownBrand(tx: Tx, brand: string): Promise<void> {
  const rows = await tx.selectDistinct({ brand: items.brand }).from(items);
  const known = rows.flatMap((r) => r.brand ?? []);
  if (known.includes(brand)) return;
  const near = known.find((k) => k.toLowerCase().slice(0, 3) === brand.toLowerCase().slice(0, 3));
  throw wrongField('brand', `no item is of the brand "${brand}"${near ? `; is "${near}" meant?` : ''}`);
}

export const floorRegister = columnRegister(floorRows, async (tx, body) => {
  if (body.kind === 'amount' && !body.currency) throw wrongField('currency', 'an amount needs its currency');
  if (body.kind === 'margin' && dec(body.value).gte(100)) throw wrongField('value', 'a margin must be less than 100 %');
  if (body.brand) await knownBrand(tx, body.brand);
});
