import { randomBytes } from 'node:crypto';
import pg from 'pg';

/** Addresses of one database: for its owner, and for the application that uses it. */
export interface Addresses {
  readonly owner: string;
  readonly use: string;
}

/** Makes a database beside the one at the given addresses, empty or as `like`; returns its own. */
export async function createDatabase(beside: Addresses, like: Addresses | null = null): Promise<Addresses> {
  const name = `test_${randomBytes(6).toString('hex')}`;
  const client = new pg.Client({ connectionString: beside.owner });
  await client.connect();
  await client.query(
    like
      ? `create database ${name} template ${like.owner.split('/').at(-1)}`
      : `create database ${name} template template0 encoding 'UTF8'`,
  );
  await client.end();
  const at = (url: string) => url.replace(/\/[^/]+$/, `/${name}`);
  return { owner: at(beside.owner), use: at(beside.use) };
}
