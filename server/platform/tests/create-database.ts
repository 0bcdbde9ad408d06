import { randomBytes } from 'node:crypto';
import pg from 'pg';

/** Makes an empty database beside the one at the given address; returns its address. */
export async function createDatabase(beside: string): Promise<string> {
  const name = `test_${randomBytes(6).toString('hex')}`;
  const client = new pg.Client({ connectionString: beside });
  await client.connect();
  await client.query(`create database ${name} template template0 encoding 'UTF8'`);
  await client.end();
  return beside.replace(/\/[^/]+$/, `/${name}`);
}
