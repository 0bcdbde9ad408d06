import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'postgresql',
  schema: './server/*/tables.ts',
  out: './server/platform/migrations',
  casing: 'snake_case',
});
