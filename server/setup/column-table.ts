import { type SQL, asc, eq, getTableColumns } from 'drizzle-orm';
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core';
import type { BodyOf, ColumnsOf } from '#contract/records/body-of.ts';
import { type Fields, startOf } from '#contract/records/declare.ts';
import type { PlainKind } from '#contract/records/plain-kind.ts';
import { pruned } from '#contract/records/schema.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { keepLinks } from '../records/links.ts';
import type { Stored } from './stored.ts';

type Body = Record<string, unknown>;
type Named = 'id' | 'version' | 'more';
type Row<T extends PgTable> = Omit<T['$inferSelect'], Named>;
type Shared<F, T extends PgTable> = keyof Row<T> & keyof F;
/** A column that is no field, one of another type, or a field with no place in the table: it does not compile. */
type Fits<F extends Fields, T extends PgTable, Own> =
  Exclude<keyof Row<T>, keyof F | Own> extends never
    ? [Pick<Row<T>, Shared<F, T>>, Pick<ColumnsOf<F>, Shared<F, T>>] extends [
        Pick<ColumnsOf<F>, Shared<F, T>>,
        Pick<Row<T>, Shared<F, T>>,
      ]
      ? 'more' extends keyof T['$inferSelect']
        ? T
        : Exclude<keyof F, keyof Row<T>> extends never
          ? T
          : never
      : never
    : never;
type Flat = PgTable & { readonly id: PgColumn; readonly version: PgColumn };

/** Fields that stand in columns of other names, or in rows of another table. */
export interface Elsewhere<B, Own extends string = string> {
  readonly fields: readonly (keyof B & string)[];
  /** Of these, those that point to others where no foreign key says so. */
  readonly linked?: readonly (keyof B & string)[];
  /** Columns that are no fields. */
  readonly columns: readonly Own[];
  /** What the fields hold, by the number of the record. `rows`: those of the table itself. */
  read(db: Queries, rows: readonly Body[]): Promise<(id: number) => Partial<B>>;
  /** What goes into the columns; `more`: beside what is kept there anyway. */
  into?(body: B): Readonly<Partial<Record<Own, unknown>>> & { readonly more?: Body };
  /** Writes the rows of another table anew. */
  write?(tx: Tx, id: number, body: B): Promise<void>;
  remove?(tx: Tx, id: number): Promise<void>;
}

/** A table in which the records of one kind stand: its columns are fields of theirs. */
export interface ColumnTable<B extends object = Body> {
  readonly kind: PlainKind;
  /** Its records without what nobody ever said. */
  kept(db: Queries, only?: number): Promise<(B & Stored)[]>;
  write(tx: Tx, id: number | null, body: B, version: number): Promise<number>;
  remove(tx: Tx, id: number): Promise<void>;
  /** Writes records of a workspace, with their numbers, into a database that holds none of them. */
  load(tx: Tx, rows: readonly object[]): Promise<void>;
}

/** Makes records of a kind what the core knows them as. */
export function coreRecords(kind: PlainKind): (record: Body) => Body {
  const left = [...(kind.beside ?? []), ...(kind.unnumbered ? ['id', 'version'] : kind.unversioned ? ['version'] : [])];
  return (record) => {
    const core = { ...record };
    for (const field of left) delete core[field];
    return core;
  };
}

const BATCH = 1000;

/** How records of a kind are kept in a table of its own, by their declaration; `order`: before their numbers. */
export function columnTable<F extends Fields, T extends PgTable, Own extends string = never>(
  kind: PlainKind & { readonly fields: F },
  of: Fits<F, T, Own>,
  { elsewhere, order }: { readonly elsewhere?: Elsewhere<BodyOf<F>, Own>; readonly order?: readonly PgColumn[] } = {},
): ColumnTable<BodyOf<F>> {
  type B = BodyOf<F>;
  const table = of as unknown as Flat;
  const columns = new Set(Object.keys(getTableColumns(table)));
  const own = new Set<string>(elsewhere?.fields);
  const pick = (fits: (name: string) => boolean): Fields =>
    Object.fromEntries(Object.entries(kind.fields).filter(([name]) => fits(name)));
  const inColumns = pick((name) => columns.has(name) && !own.has(name));
  /** Kept in `more`. */
  const further = pick((name) => !columns.has(name) && !own.has(name));
  /** What points to others without a foreign key. */
  const linked = pick(
    (name) => name in further || (elsewhere?.linked as readonly string[] | undefined)?.includes(name) === true,
  );

  const columnNames = Object.keys(inColumns);
  const isNumber = (name: string, v: unknown) => inColumns[name]!.type === 'one' && v !== null;
  const moreOf = (said: Body) =>
    Object.fromEntries(Object.entries(pruned(kind.fields, said)).filter(([k, v]) => k in further && v !== undefined));
  /** `said`: without what is filled in where nothing was said. */
  const rowOf = (body: Body, said: Body) => {
    const { more, ...ownColumns } = elsewhere?.into?.(body as B) ?? ({} as { readonly more?: Body });
    return {
      ...Object.fromEntries(
        columnNames.map((k) => [k, isNumber(k, body[k] ?? null) ? Number(body[k]) : (body[k] ?? null)]),
      ),
      ...ownColumns,
      ...(columns.has('more') ? { more: { ...moreOf(said), ...more } } : {}),
    };
  };
  const kept = async (db: Queries, only?: number): Promise<(B & Stored)[]> => {
    const where: SQL | undefined = only === undefined ? undefined : eq(table.id, only);
    const rows = (await db
      .select()
      .from(table as PgTable)
      .where(where)
      .orderBy(...[...(order ?? []), table.id].map((c) => asc(c)))) as Body[];
    const parts = await elsewhere?.read(db, rows);
    // of thousands of customers, with every change of the rules
    return rows.map((row) => {
      const record: Body = { id: String(row['id']), version: row['version'] };
      for (const k of columnNames) record[k] = isNumber(k, row[k]) ? String(row[k] as number) : row[k];
      const more = (row['more'] ?? {}) as Body;
      for (const k in more) if (k in further) record[k] = more[k];
      return Object.assign(record, parts?.(row['id'] as number));
    }) as (B & Stored)[];
  };
  const keep = async (tx: Tx, id: number, body: Body) => {
    if (Object.keys(linked).length > 0) await keepLinks(tx, { kind: kind.name, id }, linked, pruned(kind.fields, body));
  };

  return {
    kind,
    kept,
    write: async (tx, id, body, version) => {
      const values = { ...rowOf(body as Body, body as Body), version } as never;
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
      const written = (rows[0] as { id: number }).id;
      await elsewhere?.write?.(tx, written, body);
      await keep(tx, written, body as Body);
      return written;
    },
    load: async (tx, rows) => {
      const whole = rows.map((r) => ({ said: r as Body, body: { ...startOf(kind.fields), ...r } as Body }));
      const values = whole.map(({ said, body }) => ({
        ...(kind.unnumbered ? {} : { id: Number(body['id']), version: (body['version'] as number | undefined) ?? 1 }),
        ...rowOf(body, said),
      }));
      for (let at = 0; at < values.length; at += BATCH)
        await tx
          .insert(table as PgTable)
          .overridingSystemValue()
          .values(values.slice(at, at + BATCH) as never);
      if (kind.unnumbered) return;
      for (const { said, body } of whole) {
        await elsewhere?.write?.(tx, Number(body['id']), body as B);
        await keep(tx, Number(body['id']), said);
      }
    },
    remove: async (tx, id) => {
      await elsewhere?.remove?.(tx, id);
      await tx.delete(table as PgTable).where(eq(table.id, id));
    },
  };
}
