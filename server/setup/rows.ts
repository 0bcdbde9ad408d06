import { PLAIN } from '#contract/records/plain.ts';
import type { LandedTerms } from '#core/costs/cost.ts';
import { columnTable } from './column-table.ts';
import { readSettings } from './settings.ts';
import {
  categories,
  customerGroups,
  customers,
  exchangeRates,
  suppliers,
  taxRates,
  workspaceSettings,
} from './tables.ts';

/** Goods that come in: the parts of landed cost stand in columns, those declared later in `more`. */
export const supplierRows = columnTable(PLAIN.suppliers, suppliers, {
  elsewhere: {
    fields: ['landed'],
    columns: [
      ...(['freightPer', 'freightAmount', 'freightCurrency', 'dutyPercent'] as const),
      ...(['handlingAmount', 'handlingCurrency', 'overheadPercent'] as const),
    ],
    read: async (db, rows) => {
      const { currency } = await readSettings(db);
      const landed = new Map((rows as (typeof suppliers.$inferSelect)[]).map((s) => [s.id, landedIn(s, currency)]));
      return (id) => ({ landed: landed.get(id)! });
    },
    into: (body) => {
      const { freight, dutyPercent, handling, overheadPercent, ...more } = body.landed as LandedTerms;
      return {
        freightPer: freight?.per ?? null,
        freightAmount: freight?.amount.amount ?? null,
        freightCurrency: freight?.amount.currency ?? null,
        dutyPercent: dutyPercent ?? null,
        handlingAmount: handling?.amount ?? null,
        handlingCurrency: handling?.currency ?? null,
        overheadPercent: overheadPercent ?? null,
        more,
      };
    },
  },
});

function landedIn(s: typeof suppliers.$inferSelect, own: string): LandedTerms {
  const amount = (text: string, currency: string | null) => ({ amount: text, currency: currency ?? own });
  return {
    freight:
      s.freightPer && s.freightAmount
        ? { per: s.freightPer, amount: amount(s.freightAmount, s.freightCurrency) }
        : null,
    dutyPercent: s.dutyPercent,
    handling: s.handlingAmount === null ? null : amount(s.handlingAmount, s.handlingCurrency),
    overheadPercent: s.overheadPercent,
    ...s.more,
  };
}

/** The first group of a customer stands in a column of its own. */
export const customerRows = columnTable(PLAIN.customers, customers, {
  elsewhere: {
    fields: ['groups'],
    linked: ['groups'],
    columns: ['groupId'],
    read: (_, rows) => {
      const groups = new Map((rows as (typeof customers.$inferSelect)[]).map((c) => [c.id, groupsIn(c)]));
      return Promise.resolve((id) => ({ groups: groups.get(id)! }));
    },
    into: ({ groups: [first, ...otherGroups] }) => ({
      groupId: first === undefined ? null : Number(first),
      more: otherGroups.length > 0 ? { otherGroups } : {},
    }),
  },
});

function groupsIn({ groupId, more }: typeof customers.$inferSelect): string[] {
  const others = (more['otherGroups'] as string[] | undefined) ?? [];
  return [...new Set([...(groupId === null ? [] : [String(groupId)]), ...others])];
}

export const rateRows = columnTable(PLAIN['exchange-rates'], exchangeRates);
export const categoryRows = columnTable(PLAIN.categories, categories);
export const taxRows = columnTable(PLAIN['tax-rates'], taxRates);
export const groupRows = columnTable(PLAIN['customer-groups'], customerGroups);
export const settingsRows = columnTable(PLAIN.settings, workspaceSettings);
