import { readFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { namesTwice } from '#contract/workspace-file/names.ts';
import { readWorkspace } from '#contract/workspace-file/workspace-file.ts';
import { people } from '../people/tables.ts';
import { migrateDatabase, openDatabase } from '../platform/database.ts';
import { prepareWorkspace } from '../setup/prepare-workspace.ts';

/** As a program: loads a workspace file into the empty database that DATABASE_URL names; turns it down naming all that is wrong with it. */
const { values, positionals } = parseArgs({ allowPositionals: true, options: { data: { type: 'string' } } });
const file = positionals[0] ?? '';
const url = process.env['DATABASE_URL'] ?? '';
const read = readWorkspace(readFileSync(file, 'utf8'));
const faults = read.ok ? namesTwice(read.value) : read.faults;
if (!read.ok || faults.length > 0) {
  console.error(`${file} is not taken:`);
  for (const f of faults) console.error(`  ${f.path}: ${f.value ?? 'nothing'} must be ${f.expected}`);
  process.exit(1);
}
await migrateDatabase(url, process.env['MIGRATIONS_URL']);
const database = openDatabase(url);
const [known] = await database.db.select({ id: people.id }).from(people).limit(1);
if (known)
  console.log(
    'The database holds a workspace already: the file is left alone. Compare them under "As a file" in Setup.',
  );
else {
  await prepareWorkspace({ db: database.db, now: () => new Date() }, values.data ?? null, read.value);
  console.log(`Loaded ${file}: ${read.value.items.length} items, ${read.value.lists.length} price lists.`);
}
await database.close();
