// Compiles the evaluator into one file, its schemas too, so that it starts at once. Two who compile at the same time
// each leave a whole one.
import { mkdir, rename, rm } from 'node:fs/promises';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { Ajv, _ } from 'ajv';
import standaloneCode from 'ajv/dist/standalone/index.js';
import { build } from 'esbuild';

const into = '.build/price.mjs';
const made = `${into}.${process.pid}`;
// the form of this package that can be bundled
const alias = { 'jsonc-parser': 'jsonc-parser/lib/esm/main.js' };
const common = { alias, bundle: true, platform: 'node', format: 'esm', target: 'node20', logLevel: 'error' };
// ajv is CommonJS and asks for parts of itself
const banner = { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" };

/** The validators as code, in place of the module that compiles them when they are first asked for. */
async function compiledShapes() {
  const source = `${made}.shapes.mjs`;
  const entry = `
    export { AJV_OPTIONS, FORMATS } from './contract/workspace-file/shapes.ts';
    export { workspaceSchema } from './contract/workspace-file/schema.ts';
    export { questionsSchema } from './contract/workspace-file/questions-schema.ts';`;
  await build({ ...common, stdin: { contents: entry, resolveDir: '.' }, outfile: source, banner });
  const from = await import(pathToFileURL(resolve(source)).href);
  await rm(source);
  const ajv = new Ajv({ ...from.AJV_OPTIONS, code: { source: true, esm: true, formats: _`known` } });
  for (const [name, format] of Object.entries(from.FORMATS)) ajv.addFormat(name, format);
  for (const schema of [from.workspaceSchema, from.questionsSchema]) ajv.addSchema(schema);
  const code = standaloneCode(ajv, { workspace: from.workspaceSchema.$id, questions: from.questionsSchema.$id });
  return `
    import { isDay } from '#core/numbers/day.ts';
    const known = { day: { type: 'string', validate: isDay } };
    ${code}
    export const workspaceShape = () => workspace;
    export const questionsShape = () => questions;`;
}

await mkdir('.build', { recursive: true });
const shapes = await compiledShapes();
await build({
  ...common,
  entryPoints: ['evaluator/main.ts'],
  outfile: made,
  sourcemap: 'linked',
  minifyWhitespace: true,
  banner,
  plugins: [
    {
      name: 'compiled shapes',
      setup(b) {
        b.onLoad({ filter: /workspace-file\/shapes\.ts$/ }, () => ({
          contents: shapes,
          loader: 'js',
          resolveDir: resolve('contract/workspace-file'),
        }));
      },
    },
  ],
});
await rename(`${made}.map`, `${into}.map`);
await rename(made, into);
