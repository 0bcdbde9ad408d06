import { configDefaults, defineConfig } from 'vitest/config';

/** Tests that put another module in a module's place: they share none with others. */
const ALONE = '**/*.alone.test.{ts,tsx}';
const exclude = [...configDefaults.exclude, ALONE];

export default defineConfig({
  test: {
    // every core: one is left idle otherwise
    maxWorkers: '100%',
    projects: [
      {
        extends: true,
        test: {
          name: 'core',
          exclude,
          // no test file changes what another one loads: each module is read once per thread
          isolate: false,
          include: ['{core,contract,evaluator,bench,demo}/**/*.test.ts'],
          environment: 'node',
          testTimeout: 120_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'server',
          exclude,
          isolate: false,
          include: ['server/**/*.test.ts'],
          environment: 'node',
          globalSetup: ['server/platform/tests/database.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'web',
          exclude,
          isolate: false,
          include: ['web/**/*.test.{ts,tsx}'],
          environment: 'jsdom',
          setupFiles: ['web/tests/setup.ts'],
          testTimeout: 120_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'alone',
          include: [ALONE],
          environment: 'node',
          globalSetup: ['server/platform/tests/database.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'e2e',
          include: ['e2e/**/*.test.ts'],
          environment: 'node',
          globalSetup: ['e2e/demo-database.ts'],
          fileParallelism: false,
          testTimeout: 180_000,
          hookTimeout: 180_000,
        },
      },
    ],
  },
});
