import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { stateThread } from './beside/beside.ts';
import { CONNECTIONS, fetchCosts, queueDue } from './connections/fetch-costs.ts';
import { supplierClient } from './connections/supplier-client.ts';
import { COST_INTAKES, leftIntakes } from './costs/intake.ts';
import { costThreads } from './costs/cost-threads.ts';
import { standingCheck } from './findings/standing-check.ts';
import { migrateDatabase, openDatabase } from './platform/database.ts';
import { type Work, startJobs } from './platform/jobs.ts';
import { metricsOf } from './platform/metrics.ts';
import { makeLog, withoutValues } from './platform/log.ts';
import { buildApp } from './platform/http/app.ts';
import { closing, serverOf } from './platform/http/server.ts';
import type { Context } from './platform/context.ts';
import { fileOf } from './platform/place.ts';
import { replicaAt } from './platform/replica.ts';
import { pdfThread } from './quotes/pdf-thread.ts';
import { prepareWorkspace } from './setup/prepare-workspace.ts';
import { carryOutOrder } from './worksheets/carry-out.ts';
import { PROPOSALS, WORKSHEET_POSTINGS, proposalProcess } from './worksheets/proposals.ts';
import { RATES, fetchRates, queueRates } from './rates/fetch-rates.ts';
import { undecided } from './worksheets/self-posting.ts';
import { carryOutAllDue } from './to-come/routes.ts';
import { standingStore } from './windows/keep-standing.ts';
import { standingTables } from './windows/standing-tables.ts';
import { leftWorksheets } from './worksheets/store.ts';
import { stateOn, today } from './workspace/asked-day.ts';
import { sharesStates } from './workspace/state.ts';

/**
 * Serves the application. The database's address comes in DATABASE_URL; its owner's, where that is another, in MIGRATIONS_URL;
 * that of a replica to read from, where there is one, in REPLICA_URL.
 */
const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '8080' },
    data: { type: 'string' },
    'log-level': { type: 'string', default: process.env['LOG_LEVEL'] ?? 'info' },
  },
});

/** Signs the cookies; kept beside the data, so that a restart signs nobody out. */
function secretIn(folder: string | undefined): string {
  if (!folder) return process.env['SESSION_SECRET'] ?? randomBytes(32).toString('hex');
  const file = `${folder}/session-secret`;
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

/** What the operator lists in a variable, with commas between. */
const listed = (name: string): string[] =>
  (process.env[name] ?? '')
    .split(',')
    .map((part) => part.trim().toLowerCase())
    .filter(Boolean);

const url = process.env['DATABASE_URL'];
if (!url) {
  console.error('DATABASE_URL is not set: start with bin/start, or name a PostgreSQL database.');
  process.exit(2);
}
await migrateDatabase(url, process.env['MIGRATIONS_URL']);
const database = openDatabase(url);
const webFolder = fileOf('dist');
const proposals = proposalProcess(url);
const pdf = pdfThread();
const log = makeLog(values['log-level']);
const beside = stateThread(url);
const check = standingCheck(beside.check, log);
const costs = costThreads(url);
const now = () => new Date();
const tables = standingTables(beside.table, { log, now, store: standingStore(database.db) });
const replicaUrl = process.env['REPLICA_URL'];
const replica = replicaUrl ? replicaAt(replicaUrl, database.db, log) : null;
if (replica) sharesStates(replica.database.db, database.db);
const metrics = metricsOf({
  database,
  replica,
  checked: () => ({ counts: tables.countedAt(), findings: check.checkedAt() }),
});
const queues: Readonly<Record<string, Work>> = {
  [PROPOSALS]: async (id) => {
    await proposals.work(id);
    if (await costs.decide(id)) await jobs.enqueue(WORKSHEET_POSTINGS, id);
  },
  [WORKSHEET_POSTINGS]: (id) => carryOutOrder(context, id),
  [COST_INTAKES]: async (id) => {
    const follows = await costs.intake(id, await today(context));
    if (follows !== null) await jobs.enqueue(PROPOSALS, follows);
  },
  [RATES]: () => fetchRates(context),
  [CONNECTIONS]: (id) => fetchCosts(context, id),
};
const jobs = await startJobs(url, log, metrics.jobs(queues));
const context: Context = {
  database,
  db: database.db,
  replica,
  now,
  jobs,
  log,
  pdf: pdf.make,
  check,
  metrics,
  metricsToken: process.env['METRICS_TOKEN'] || null,
  costs,
  tables,
  beside,
  suppliers: supplierClient(
    process.env['SUPPLIER_STANDINS'] || null,
    undefined,
    process.env['RATE_SERVICE'] || undefined,
    process.env['COUNTRY_SERVICE'] || undefined,
    {
      inside: listed('SUPPLIER_HOSTS'),
      noted: (service, trouble) => log.warn({ service, trouble }, 'a service of a supplier gave nothing usable'),
    },
  ),
  sessionSecret: secretIn(values.data),
  secureCookies: process.env['SECURE_COOKIES'] === '1',
  webFolder: existsSync(webFolder) ? webFolder : null,
  hostNames: listed('HOST_NAMES'),
  signInTries: 20,
  longestSession: 24,
  trustProxy: process.env['TRUST_PROXY'] || false,
};
// what a server that is gone left undone
for (const { id, state } of await leftWorksheets(database.db))
  await jobs.enqueue(state === 'posting' || state === 'reversing' ? WORKSHEET_POSTINGS : PROPOSALS, id);
for (const id of await undecided(database.db)) await jobs.enqueue(PROPOSALS, id);
for (const id of await leftIntakes(database.db)) await jobs.enqueue(COST_INTAKES, id);
const signIns = await prepareWorkspace(context, values.data ?? null);
const server = serverOf(buildApp(context));
server.listen(Number(values.port), '127.0.0.1');
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE' ? `Port ${values.port} is taken: choose another with --port.` : error.message,
  );
  process.exit(1);
});
server.on('listening', () => {
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : values.port;
  console.log(`\nHard Ledger is at  http://127.0.0.1:${port}/\n`);
  for (const line of signIns) console.log(`  ${line}`);
  console.log('\nStop with Ctrl-C.');
});
/** How long what is under way may take to answer before it is cut off, in milliseconds. */
const LAST_ANSWERS = 30_000;
/** How often it is looked which suppliers are asked again, in milliseconds. */
const LOOK_MS = 60_000;
const lookAround = () =>
  Promise.all([queueDue(context), queueRates(context), carryOutAllDue(context)]).catch((error: unknown) =>
    log.error({ stack: withoutValues(error) }, 'what is due was not looked at'),
  );
void lookAround();
// what prices are made from is read before anybody asks for it
void today(context)
  .then((day) => stateOn(context, day))
  .catch((error: unknown) => log.error({ stack: withoutValues(error) }, 'what prices are made from was not read'));
const looking = setInterval(() => void lookAround(), LOOK_MS);
/** How often it is looked whether another server has begun a long worksheet, in milliseconds. */
const HELP_MS = 1_000;
const helping = setInterval(() => {
  proposals
    .help(database.db)
    .catch((error: unknown) => log.warn({ stack: withoutValues(error) }, 'another server’s worksheet was not helped'));
}, HELP_MS);
let stopping = false;
const stop = async (): Promise<void> => {
  if (stopping) return;
  stopping = true;
  clearInterval(looking);
  clearInterval(helping);
  // a posting under way answers
  const closed = closing(server);
  const cut = setTimeout(() => server.closeAllConnections(), LAST_ANSWERS);
  await Promise.all([closed, proposals.stop()]);
  clearTimeout(cut);
  await jobs.stop();
  await pdf.stop();
  await tables.stop();
  await beside.stop();
  await costs.stop();
  await replica?.close();
  await database.close();
  process.exit(0);
};
process.on('SIGINT', () => void stop());
process.on('SIGTERM', () => void stop());
