import { asc, eq } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { BodyOf, ColumnsOf } from '#contract/records/body-of.ts';
import type { Fields } from '#contract/records/declare.ts';
import type { PlainKind } from '#contract/records/plain.ts';
import { schemaOf } from '#contract/records/schema.ts';
import type { Tx } from '../platform/database.ts';
import type { Register } from './register.ts';
import type { Stored } from './stored.ts';

type Row<T extends PgTable> = Omit<T['$inferSelect'], 'id' | 'version' | 'more'>;
/** Nothing fits a table whose columns are other than the declared fields: one that is missing, or of another type, does not compile. */
type Fits<F extends Fields, T extends PgTable> = [Row<T>, ColumnsOf<F>] extends [ColumnsOf<F>, Row<T>] ? T : never;

type Flat = PgTable & { id: never; version: never };

/** What every register has of its declaration. */
export const declaredAs = <F extends Fields>(kind: PlainKind & { readonly fields: F }) => ({
  name: kind.name,
  title: `The ${kind.one}`,
  body: schemaOf(kind.fields),
  readRight: kind.readRight,
  changeRight: kind.changeRight,
  ...(kind.single ? { single: true as const } : {}),
});

/** A register whose record is one row of one table; ids travel as text. */
export function flatRegister<F extends Fields, T extends PgTable>(
  kind: PlainKind & { readonly fields: F },
  of: Fits<F, T>,
  check?: Register<BodyOf<F>>['check'],
): Register<BodyOf<F>> {
  const table = of as unknown as Flat & Record<string, never>;
  const references = new Set(Object.entries(kind.fields).flatMap(([name, f]) => (f.type === 'one' ? [name] : [])));
  const out = (row: Record<string, unknown>) =>
    Object.fromEntries(
      Object.entries(row).map(([k, v]) => [
        k,
        (k === 'id' || references.has(k)) && v !== null ? String(v as number) : v,
      ]),
    ) as BodyOf<F> & Stored;
  const into = (body: BodyOf<F>) =>
    Object.fromEntries(
      Object.entries(body).map(([k, v]) => [k, references.has(k) && v !== null ? Number(v) : (v as unknown)]),
    );
  return {
    ...declaredAs(kind),
    ...(check ? { check } : {}),
    read: async (db, only) => {
      const rows = await db
        .select()
        .from(table as PgTable)
        .where(only === undefined ? undefined : eq(table.id, only))
        .orderBy(asc(table.id));
      return rows.map((row) => out(row as Record<string, unknown>));
    },
    write: async (tx, id, body, version) => {
      const values = { ...into(body), version } as never;
      const rows =
        id === null
          ? await tx
              .insert(table as PgTable)
              .values(values)
              .returning()
          : await tx
              .update(table as PgTable)
              .set(values)
              .where(eq(table.id, id))
              .returning();
      return (rows[0] as unknown as { id: number }).id;
    },
    ...(kind.removable
      ? { remove: async (tx: Tx, id: number) => void (await tx.delete(table as PgTable).where(eq(table.id, id))) }
      : {}),
  };
}
