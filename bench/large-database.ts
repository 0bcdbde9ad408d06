import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { loadLarge } from '#demo/load-large.ts';
import { type Database, migrateDatabase, openDatabase } from '#server/platform/database.ts';

const script = fileURLToPath(new URL('../bin/database', import.meta.url));

/** A database of its own with the large workspace in it, for as long as the work takes. */
export async function withLargeDatabase(
  items: number,
  work: (database: Database, url: string) => Promise<void>,
): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-bench-'));
  try {
    const url = execFileSync(script, ['start', folder], { encoding: 'utf8' }).split('\n')[0]!;
    await migrateDatabase(url);
    const database = openDatabase(url);
    await loadLarge(database, items);
    await work(database, url);
    await database.close();
  } finally {
    execFileSync(script, ['remove', folder]);
  }
}
