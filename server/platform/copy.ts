import type { PoolClient } from 'pg';
import { StringDecoder } from 'node:string_decoder';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { getTableColumns, getTableName } from 'drizzle-orm';
import { toSnakeCase } from 'drizzle-orm/casing';
import type { PgTable } from 'drizzle-orm/pg-core';
import copyStreams from 'pg-copy-streams';
import { turnsShared } from './turns.ts';

/** Rows of COPY's text format: a tab between fields, \N for null. Names of tables and columns are ours, never a user's. */
export async function copyIn(
  client: PoolClient,
  into: string,
  chunks: Iterable<Uint8Array | string> | AsyncIterable<Uint8Array | string>,
): Promise<void> {
  await pipeline(
    Readable.from(chunks, { objectMode: true }),
    client.query(copyStreams.from(`copy ${into} from stdin`)),
  );
}

/** A field as COPY reads it. */
export function copyField(value: string | number | null | undefined): string {
  if (value === null || value === undefined) return '\\N';
  return typeof value === 'number' ? String(value) : value.replace(/[\\\t\n\r]/g, (c) => ESCAPED[c]!);
}

const ESCAPED: Readonly<Record<string, string>> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' };

/** The lines of a query's answer, without their ends; fields as COPY writes them. */
export async function* copyOut(client: PoolClient, query: string): AsyncGenerator<string[]> {
  let rest = '';
  // a chunk may end inside a letter
  const decoder = new StringDecoder('utf8');
  for await (const chunk of client.query(copyStreams.to(`copy (${query}) to stdout`))) {
    const lines = (rest + decoder.write(chunk as Buffer)).split('\n');
    rest = lines.pop()!;
    if (lines.length > 0) yield lines;
  }
}

const DECODED: Readonly<Record<string, () => (text: string) => unknown>> = {
  number: () => Number,
  boolean: () => (text) => text === 't',
  json: () => shared((text) => JSON.parse(text) as unknown),
  string: () => shared((text) => text),
};

/** A column with more values than this has one of its own in most rows. */
const MOST_SHARED = 2_000;
/** A part of a text that is as long as this holds on to the whole. */
const HOLDS_ON = 13;

/**
 * One value for all rows of a column that have the same: units, currencies, days, attributes. Of a hundred thousand rows each
 * would else have its own.
 */
function shared<T>(decode: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  const own = (text: string) => (text.length < HOLDS_ON ? text : Buffer.from(text).toString());
  let many = false;
  return (text) => {
    if (many) return decode(own(text));
    const one = known.get(text);
    if (one !== undefined) return one;
    const key = own(text);
    const made = decode(key);
    known.set(key, made);
    if (known.size === MOST_SHARED) {
      many = true;
      known.clear();
    }
    return made;
  };
}

const UNESCAPED: Readonly<Record<string, string>> = { t: '\t', n: '\n', r: '\r', b: '\b', f: '\f', v: '\v' };

/** A field as it was before COPY wrote it. */
export const plainText = (text: string): string =>
  text.includes('\\') ? text.replace(/\\(.)/g, (_, c: string) => UNESCAPED[c] ?? c) : text;

/** Columns of a table as its definition types them, by COPY: for tables of a hundred thousand rows and more. `take` is given row after row; others have their turns meanwhile. */
export async function copyRows<T extends PgTable, K extends keyof T['$inferSelect'] & string>(
  client: PoolClient,
  table: T,
  keys: readonly K[],
  tail: string,
  take: (row: Pick<T['$inferSelect'], K>) => void,
): Promise<void> {
  const known = getTableColumns(table);
  const decoders = keys.map((key) => {
    const decode = DECODED[known[key]!.dataType];
    if (!decode)
      throw new Error(`COPY does not read ${known[key]!.dataType}, the type of ${getTableName(table)}.${key}`);
    return decode();
  });
  const columns = keys.map((key) => toSnakeCase(key)).join(', ');
  const turn = turnsShared();
  for await (const lines of copyOut(client, `select ${columns} from ${getTableName(table)} ${tail}`)) {
    for (const line of lines) {
      const fields = line.split('\t');
      const row: Record<string, unknown> = {};
      for (let i = 0; i < keys.length; i++) {
        const text = fields[i]!;
        row[keys[i]!] = text === '\\N' ? null : decoders[i]!(plainText(text));
      }
      take(row as Pick<T['$inferSelect'], K>);
    }
    await turn();
  }
}
