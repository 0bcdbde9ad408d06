import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { TestProject } from 'vitest/node';
import { startServer } from '#server/platform/tests/database.ts';
import { type Addresses, createDatabase } from '#server/platform/tests/create-database.ts';

declare module 'vitest' {
  interface ProvidedContext {
    demo: Addresses;
  }
}

/** The database server, with the demo loaded once: every file of tests takes a copy of it. */
export default async function setup(project: TestProject): Promise<() => void> {
  const { addresses, stop } = startServer();
  project.provide('addresses', addresses);
  const demo = await createDatabase(addresses);
  const cwd = fileURLToPath(new URL('..', import.meta.url));
  execFileSync(process.execPath, ['bin/compile-server.mjs'], { cwd, stdio: 'inherit' });
  execFileSync(process.execPath, ['--enable-source-maps', '.build/demo/load.js'], {
    cwd,
    env: { ...process.env, DATABASE_URL: demo.use, MIGRATIONS_URL: demo.owner },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  project.provide('demo', demo);
  return stop;
}
