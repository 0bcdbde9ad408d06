import { existsSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { CAPABILITIES, capabilitiesPage } from './capabilities.ts';
import { routes } from './routes.ts';

const root = new URL('../', import.meta.url);
const all = Object.values(CAPABILITIES).flat();

describe('the table of what it can do', () => {
  it('names files, addresses and screens that are there', () => {
    const addresses = new Set(routes.map((r) => `${r.method} ${r.path}`));
    const screens = readFileSync(new URL('web/app.tsx', root), 'utf8');
    const missing = all.flatMap((row) => [
      ...row.core.filter((f) => !existsSync(new URL(`core/${f}`, root))),
      ...row.api.filter((a) => !addresses.has(a)),
      ...row.screens.filter((s) => !screens.includes(`path="${s}"`)),
    ]);
    expect(missing).toEqual([]);
  });
  it('says of what has no screen that something is left', () => {
    for (const row of all)
      if (row.screens.length === 0) expect([row.what, row.left]).toEqual([row.what, expect.any(String)]);
  });
  it('is kept in docs as the code has it: npm run doc-files', () => {
    expect(readFileSync(new URL('docs/capabilities.md', root), 'utf8')).toBe(capabilitiesPage());
  });
});
