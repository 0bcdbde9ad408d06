import { eq } from 'drizzle-orm';
import type { AnyPgColumn, PgTable } from 'drizzle-orm/pg-core';
import { startOf } from '#contract/records/declare.ts';
import { MORE, type WithMore } from '#contract/records/more.ts';
import { pruned, schemaOf } from '#contract/records/schema.ts';
import { holdState } from '../ledger/audit.ts';
import { type AnyRegister, type Register, anyOf } from '../setup/register.ts';
import { refuseFaults } from './check.ts';
import { keepLinks } from './links.ts';
import type { Stored } from '../setup/stored.ts';

type Body = Record<string, unknown>;
type TableWithMore = PgTable & { id: AnyPgColumn; more: AnyPgColumn };

/** A register whose records hold more than its table has columns for: as declared, and checked like every declared record. */
export function withMore<B extends object>(name: WithMore, r: Register<B>, table: TableWithMore): AnyRegister {
  const own = r as unknown as Register<Body>;
  const { fields, member } = MORE[name];
  const split = (body: Body) => {
    const entries = Object.entries(body);
    const more = Object.fromEntries(entries.filter(([k]) => k in fields));
    const rest = Object.fromEntries(entries.filter(([k]) => !(k in fields)));
    // what a field depends on may stand in a column
    const kept = Object.fromEntries(Object.entries(pruned(fields, { ...rest, ...more })).filter(([k]) => k in fields));
    return { rest, kept };
  };
  const register: Register<Body> = {
    ...own,
    body: own.body.concat(schemaOf(fields)),
    read: async (db, only) => {
      const rows = await own.read(db, only);
      const found = await db
        .select({ id: table.id, more: table.more })
        .from(table as PgTable)
        .where(only === undefined ? undefined : eq(table.id, only));
      const more = new Map(found.map((f) => [String(f.id), f.more as Body]));
      return rows.map(({ more: _, ...row }) => ({ ...startOf(fields), ...row, ...more.get(row.id) }) as Body & Stored);
    },
    check: async (tx, body, id) => {
      const { rest, kept } = split(body);
      await own.check?.(tx, rest, id);
      if (member === null) return;
      await holdState(tx);
      await refuseFaults(tx, (ws) => {
        const rows = ws[member] as readonly { id?: string }[];
        const at = id === null ? -1 : rows.findIndex((row) => row.id === String(id));
        const base = at < 0 ? { groups: [], ...rest, id: 'new', version: 1 } : { ...rows[at], ...rest };
        const record = { ...base, ...kept };
        return {
          ws: { ...ws, [member]: at < 0 ? [...rows, record] : rows.with(at, record) },
          at: `$.${member}[${at < 0 ? rows.length : at}]`,
        };
      });
    },
    write: async (tx, id, body, version) => {
      const { rest, kept } = split(body);
      // the register's own write takes it to its column
      const written = await own.write(tx, id, { ...rest, more: kept }, version);
      await keepLinks(tx, { kind: name, id: written }, fields, kept);
      return written;
    },
  };
  return anyOf(register);
}
