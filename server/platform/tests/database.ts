import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { TestProject } from 'vitest/node';
import type { Addresses } from './create-database.ts';

declare module 'vitest' {
  interface ProvidedContext {
    addresses: Addresses;
  }
}

const script = fileURLToPath(new URL('../../../bin/database', import.meta.url));

/** A PostgreSQL server for a run, in a folder that goes with it. */
export function startServer(): { addresses: Addresses; stop: () => void } {
  const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-test-'));
  const printed = execFileSync(script, ['start', folder], { encoding: 'utf8', env: { ...process.env, FAST: '1' } });
  const [owner, use] = printed.trim().split('\n') as [string, string];
  const stop = () => void execFileSync(script, ['remove', folder]);
  return { addresses: { owner, use }, stop };
}

/** One PostgreSQL server for the whole run; every test file makes its own database in it. */
export default function setup(project: TestProject): () => void {
  const { addresses, stop } = startServer();
  project.provide('addresses', addresses);
  return stop;
}
