import { type Fields, startOf } from '#contract/records/declare.ts';
import type { PlainKind } from '#contract/records/plain-kind.ts';
import { pruned, schemaOf } from '#contract/records/schema.ts';
import { holdState } from '../ledger/audit.ts';
import { putMember, refuseFaults } from '../records/check.ts';
import { type ColumnTable, coreRecords } from './column-table.ts';
import type { Register } from './register.ts';

/** What every register has of its declaration. */
export const declaredAs = <F extends Fields>(kind: PlainKind & { readonly fields: F }) => ({
  name: kind.name,
  title: `The ${kind.one}`,
  body: schemaOf(kind.fields),
  readRight: kind.readRight,
  changeRight: kind.changeRight,
  ...(kind.single ? { single: true as const } : {}),
  ...(kind.inPerson ? { inPerson: true as const } : {}),
});

/** The register of records that have a table of their own. `check`: what no single field shows, beside references. */
export function columnRegister<B extends object>(of: ColumnTable<B>, check?: Register<B>['check']): Register<B> {
  const { kind, kept, write, remove } = of;
  return {
    ...declaredAs(kind),
    read: async (db, only) => (await kept(db, only)).map((row) => ({ ...startOf(kind.fields), ...row })),
    check: async (tx, body, id) => {
      await check?.(tx, body, id);
      const { member } = kind;
      if (!member) return;
      await holdState(tx);
      const record = coreRecords(kind)({ ...pruned(kind.fields, body), id: String(id ?? 'new'), version: 1 });
      await refuseFaults(tx, (ws) => putMember(ws, member, record));
    },
    write,
    ...(kind.removable ? { remove } : {}),
  };
}
