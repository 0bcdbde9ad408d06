import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const here = fileURLToPath(import.meta.url);

function folderWith(file: string, from: string): string {
  return existsSync(join(from, file)) ? from : folderWith(file, dirname(from));
}
const root = folderWith('package.json', dirname(here));
const compiled = here.startsWith(join(root, '.build'));

/** A file of the project, whether the server runs from its sources or compiled. */
export const fileOf = (path: string): string => join(root, path);

/** How a module is started in a thread of its own; `module`: from the project's folder, without its ending. */
export function threadOf(module: string): { readonly filename: string; readonly execArgv: string[] } {
  return compiled
    ? { filename: pathToFileURL(join(root, '.build', `${module}.js`)).href, execArgv: ['--enable-source-maps'] }
    : { filename: pathToFileURL(join(root, `${module}.ts`)).href, execArgv: ['--import', 'tsx'] };
}
