// Compiles the server, its threads and the programs that fill a database into .build/, one file for each: so they start at
// once. Source maps lie beside them and are not served. What is compiled already and newer than every source is left.
import { existsSync, statSync } from 'node:fs';
import { readFile, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { build } from 'esbuild';

const stamp = '.build/server/main.js';
const sources = [];
for (const folder of ['server', 'core', 'contract', 'demo', 'standins'])
  for (const f of await readdir(folder, { recursive: true }))
    if (/\.(ts|json)$/.test(f) && !f.includes('.test.')) sources.push(join(folder, f));
const newest = Math.max(...['package-lock.json', 'bin/compile-server.mjs', ...sources].map((f) => statSync(f).mtimeMs));
if (existsSync(stamp) && statSync(stamp).mtimeMs > newest) process.exit(0);

const threads = new Set();
for (const file of sources.filter((f) => f.startsWith('server/') && !f.includes('/tests/')))
  for (const [, module] of (await readFile(file, 'utf8')).matchAll(/threadOf\('([^']+)'\)/g))
    threads.add(`${module}.ts`);
const { metafile } = await build({
  entryPoints: ['server/main.ts', 'server/workspace/load-file.ts', 'demo/load.ts', 'standins/main.ts', ...threads],
  outdir: '.build',
  outbase: '.',
  bundle: true,
  splitting: true,
  chunkNames: 'parts/[name]-[hash]',
  // the form of this package that can be bundled
  alias: { 'jsonc-parser': 'jsonc-parser/lib/esm/main.js' },
  // what starts threads of its own or holds machine code stays a package
  external: ['@node-rs/argon2', 'pdfmake', 'piscina', 'pino', 'pg-native'],
  banner: {
    js: "import { createRequire as requireOf } from 'node:module'; const require = requireOf(import.meta.url);",
  },
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  metafile: true,
  logLevel: 'error',
});
// parts of earlier builds stay a day: a server that runs may still start a thread from them
const parts = '.build/parts';
for (const f of await readdir(parts)) {
  const path = join(parts, f);
  if (!(path in metafile.outputs) && statSync(path).mtimeMs < Date.now() - 86_400_000) await rm(path);
}
