import { writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { pino } from 'pino';
import { people } from '#server/people/tables.ts';
import { dayIn } from '#server/platform/context.ts';
import { migrateDatabase, openDatabase } from '#server/platform/database.ts';
import { DEMO_PASSWORD, PEOPLE } from './brannholm.ts';
import proposePrices from '#server/worksheets/propose-prices.ts';
import { loadDemo } from './load-demo.ts';
import { demoWorksheet } from './worksheet.ts';

/** Loads the demo into an empty database named by DATABASE_URL; does nothing where there is something already. */
const { values } = parseArgs({ options: { data: { type: 'string' } } });
const url = process.env['DATABASE_URL'] ?? '';
await migrateDatabase(url, process.env['MIGRATIONS_URL']);
const database = openDatabase(url);
const [known] = await database.db.select({ id: people.id }).from(people).limit(1);
if (!known) {
  const log = pino({ level: 'warn' });
  const started = Date.now();
  const day = dayIn('Europe/Berlin', new Date());
  const counts = await loadDemo({ database, db: database.db, log }, day);
  await proposePrices({ url, worksheet: await demoWorksheet(database.db, day) });
  console.log(
    `Demo data: ${Object.entries(counts)
      .map(([k, v]) => `${v} ${k}`)
      .join(', ')} (${((Date.now() - started) / 1000).toFixed(1)} s)`,
  );
  if (values.data) {
    const lines = [
      ...PEOPLE.map(
        (p) => `${p.role.padEnd(14)} ${p.signIn.padEnd(7)}${p.seesCost && p.role === 'seller' ? '(sees costs)' : ''}`,
      ),
      `password of all: ${DEMO_PASSWORD}`,
    ];
    writeFileSync(`${values.data}/sign-ins.txt`, `${lines.join('\n')}\n`, { mode: 0o600 });
  }
}
await database.close();
