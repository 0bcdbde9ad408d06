import type { PostingLine, PostingLines } from '#contract/lists.ts';
import type { Posted } from '#contract/posting-requests.ts';
import type { Server } from 'node:http';
import pg from 'pg';
import { pino } from 'pino';
import supertest from 'supertest';
import { inject, vi } from 'vitest';
import type { Today, Waiting } from '#contract/today.ts';
import { hashPassword } from '../../people/password.ts';
import { people } from '../../people/tables.ts';
import { priceLists } from '../../lists/tables.ts';
import { items, packs } from '../../items/tables.ts';
import { costs } from '../../costs/tables.ts';
import {
  categories,
  customerGroups,
  customers,
  exchangeRates,
  suppliers,
  taxRates,
  workspaceSettings,
} from '../../setup/tables.ts';
import { writeLadder } from '../../rounding/store.ts';
import { writeRecipe } from '../../recipes/store.ts';
import { audit } from '../../ledger/audit.ts';
import { fromTheBeginning } from '../history.ts';
import { priceListGroups } from '../../lists/tables.ts';
import type { Context } from '../context.ts';
import { migrateDatabase, openDatabase } from '../database.ts';
import { buildApp } from '../http/app.ts';
import { CONNECTIONS, fetchCosts } from '../../connections/fetch-costs.ts';
import { type SupplierClient, supplierClient } from '../../connections/supplier-client.ts';
import { standingTables } from '../../windows/standing-tables.ts';
import { stateThread } from '../../beside/beside.ts';
import { stateWork } from '../../beside/state-thread.ts';
import { costWork } from '../../costs/cost-thread.ts';
import { COST_INTAKES, carryOutIntake } from '../../costs/intake.ts';
import { costThreads } from '../../costs/cost-threads.ts';
import { standingCheck } from '../../findings/standing-check.ts';
import { metricsOf } from '../metrics.ts';
import { pdfThread } from '../../quotes/pdf-thread.ts';
import { carryOutOrder } from '../../worksheets/carry-out.ts';
import { decideByItself } from '../../worksheets/self-posting.ts';
import { PROPOSALS, WORKSHEET_POSTINGS } from '../../worksheets/proposals.ts';
import proposePrices from '../../worksheets/propose-prices.ts';
import { type Addresses, createDatabase } from './create-database.ts';
import { heldTo } from './held-to.ts';

export const PASSWORD = 'a long enough password';
export const TODAY = '2026-03-09';

/** A fresh database of its own, migrated. */
async function freshDatabase(beside: Addresses) {
  const { owner, use: url } = await createDatabase(beside);
  await migrateDatabase(url, owner);
  return { database: openDatabase(url), url, owner };
}

/** What waits for somebody, once the lists have been counted. */
export const waitingFor = (person: Person): Promise<Waiting[]> =>
  vi.waitFor(async () => {
    const { lines, stale } = (await person.get('/today')).body as Today;
    if (stale) throw new Error('not counted yet');
    return lines;
  });

export type Workshop = Awaited<ReturnType<typeof openWorkshop>>;

/** The application over a small shop: one supplier in pounds, three items, a list at the counter and one for yards. */
export async function openWorkshop(beside: Addresses = inject('addresses')) {
  const { database, url, owner } = await freshDatabase(beside);
  const state = { now: new Date(`${TODAY}T09:00:00Z`) };
  const pdf = pdfThread();
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'silent' });
  const thread = stateThread(url, stateWork);
  const check = standingCheck(thread.check, log);
  const tables = standingTables(thread.table, { log, now: () => state.now });
  const context: Context = {
    database,
    db: database.db,
    replica: null,
    now: () => state.now,
    // the work is done before the answer comes
    jobs: {
      enqueue: async (queue, id) => {
        if (queue === WORKSHEET_POSTINGS) return carryOutOrder(context, id);
        if (queue === CONNECTIONS) return fetchCosts(context, id);
        if (queue === COST_INTAKES) {
          const follows = await carryOutIntake(context, id, TODAY);
          return follows === null ? undefined : context.jobs.enqueue(PROPOSALS, follows);
        }
        await proposePrices({ url, worksheet: id, threads: 1 });
        if (await decideByItself(context, id)) await carryOutOrder(context, id);
      },
    },
    log,
    pdf: pdf.make,
    check,
    metrics: metricsOf({
      database,
      replica: null,
      checked: () => ({ counts: tables.countedAt(), findings: check.checkedAt() }),
    }),
    tables,
    beside: thread,
    metricsToken: null,
    costs: costThreads(url, costWork),
    suppliers: supplierClient(null),
    answered: heldTo,
    sessionSecret: 'test',
    secureCookies: false,
    webFolder: null,
    signInTries: 5,
    // tests let weeks go by
    longestSession: 24 * 366,
    hostNames: [],
    trustProxy: false,
  };
  const shop = await stock(context);
  const app = buildApp(context) as unknown as Server;
  return {
    database,
    url,
    owner,
    context,
    app,
    shop,
    /** Runs what only the owner of the tables may. */
    asOwner: async (statement: string) => {
      const client = new pg.Client({ connectionString: owner });
      await client.connect();
      await client.query(statement).finally(() => client.end());
    },
    /**
     * Starts requests while another transaction holds an advisory lock; once all of them wait for it, that transaction
     * does its own work and commits, and they go on.
     */
    heldBack: async <T>(
      lock: number,
      requests: () => readonly PromiseLike<T>[],
      work: (client: pg.PoolClient) => Promise<unknown> = () => Promise.resolve(),
    ): Promise<T[]> => {
      const client = await database.pool.connect();
      try {
        await client.query('begin');
        await client.query('select pg_advisory_xact_lock($1)', [lock]);
        const asked = requests();
        const answers = Promise.all(asked);
        await vi.waitFor(async () => {
          const { rows } = await client.query<{ n: number }>(
            `select count(*)::int as n from pg_locks where locktype = 'advisory' and not granted and objid = $1
               and database = (select oid from pg_database where datname = current_database())`,
            [lock],
          );
          if (rows[0]!.n < asked.length) throw new Error(`${rows[0]!.n} of ${asked.length} wait`);
        });
        await work(client);
        await client.query('commit');
        return await answers;
      } finally {
        client.release();
      }
    },
    /** Has suppliers' services asked through another client. */
    askSuppliers: (client: SupplierClient) => void Object.assign(context, { suppliers: client }),
    setDay: (day: string) => void (state.now = new Date(`${day}T09:00:00Z`)),
    close: async () => {
      await pdf.stop();
      await database.close();
    },
  };
}

async function stock(context: Context) {
  return context.db.transaction(async (tx) => {
    await fromTheBeginning(tx);
    await tx
      .insert(workspaceSettings)
      .values({ name: 'Test shop', currency: 'EUR', timeZone: 'Europe/Berlin', supplierChoice: 'preferred' });
    const passwordHash = await hashPassword(PASSWORD);
    const made = await tx
      .insert(people)
      .values([
        { name: 'Ada', signIn: 'administrator', role: 'administrator', seesCost: true, passwordHash },
        { name: 'Bo', signIn: 'approver', role: 'approver', seesCost: true, passwordHash },
        { name: 'Cid', signIn: 'seller', role: 'seller', seesCost: false, passwordHash },
        { name: 'Dee', signIn: 'reader', role: 'reader', seesCost: false, passwordHash },
      ])
      .returning();
    const [supplier] = await tx
      .insert(suppliers)
      .values({
        name: 'Rope works',
        currency: 'GBP',
        freightPer: 'kg',
        freightAmount: '0.85',
        freightCurrency: 'EUR',
        dutyPercent: '2.7',
        handlingAmount: '0.01',
        handlingCurrency: 'EUR',
        overheadPercent: '1.5',
      })
      .returning();
    const [category] = await tx.insert(categories).values({ name: 'rope' }).returning();
    await tx.insert(taxRates).values({ taxClass: 'standard', percent: '20', from: '2020-01-01' });
    await tx.insert(exchangeRates).values({ from: 'GBP', to: 'EUR', day: '2025-01-01', rate: '1.1640' });
    const [group] = await tx.insert(customerGroups).values({ name: 'yards', rank: 1 }).returning();
    const madeCustomers = await tx
      .insert(customers)
      .values([
        { name: 'Yard', groupId: group!.id },
        { name: 'Passer-by', groupId: null },
      ])
      .returning();
    const ladder = await writeLadder(
      tx,
      null,
      {
        name: 'Counter endings',
        currency: 'EUR',
        rungs: [
          { from: '0', to: null, step: '0.05', endings: ['0'], direction: 'nearest', downUntil: null, upFrom: null },
        ],
      },
      1,
    );
    const row = (method: 'markup' | 'percent_off', value: string) => ({ id: '1', scope: {}, method, value });
    const guards = [{ kind: 'not_below_cost' as const }];
    const recipe = await writeRecipe(
      tx,
      null,
      {
        name: 'Counter',
        basis: { kind: 'landed' },
        ladder: String(ladder),
        uplift: [row('markup', '62')],
        guards,
      },
      1,
    );
    const [counter] = await tx
      .insert(priceLists)
      .values({ name: 'Counter', currency: 'EUR', taxIn: true, rank: 9, recipe })
      .returning();
    const yardRecipe = await writeRecipe(
      tx,
      null,
      {
        name: 'Yards',
        basis: { kind: 'list', list: String(counter!.id) },
        ladder: null,
        uplift: [row('percent_off', '12')],
        guards,
      },
      1,
    );
    const [yards] = await tx
      .insert(priceLists)
      .values({ name: 'Yards', currency: 'EUR', taxIn: false, rank: 1, recipe: yardRecipe })
      .returning();
    await tx.insert(priceListGroups).values({ listId: yards!.id, groupId: group!.id });
    const madeItems = await tx
      .insert(items)
      .values(
        ['BL-10', 'BL-12', 'BL-14'].map((sku, i) => ({
          sku,
          name: `Braided line ${10 + 2 * i} mm`,
          unit: 'metre',
          categoryId: category!.id,
          supplierId: supplier!.id,
          supplierCode: `R${i + 1}`,
          weightKg: '0.064',
          taxClass: 'standard',
        })),
      )
      .returning();
    const madePacks = await tx
      .insert(packs)
      .values(madeItems.map((i) => ({ itemId: i.id, name: 'metre', units: '1' })))
      .returning();
    await tx.insert(costs).values(
      madeItems.map((i, n) => ({
        itemId: i.id,
        supplierId: supplier!.id,
        amount: ['214.50', '260.00', '310.00'][n]!,
        currency: 'GBP',
        packUnits: '220',
        validFrom: '2026-01-01',
        origin: 'file' as const,
        enteredBy: made[0]!.id,
        enteredAt: context.now(),
      })),
    );
    await audit(tx, {
      at: context.now(),
      personId: made[0]!.id,
      action: 'stocked',
      subject: 'settings',
      subjectId: '1',
    });
    const text = (r: { id: number }[]) => r.map((x) => String(x.id));
    return {
      people: Object.fromEntries(made.map((p) => [p.signIn, p.id])),
      supplier: String(supplier!.id),
      category: String(category!.id),
      group: String(group!.id),
      customers: text(madeCustomers),
      recipe: String(recipe),
      counter: String(counter!.id),
      yards: String(yards!.id),
      items: text(madeItems),
      packs: text(madePacks),
      ladder: String(ladder),
    };
  });
}

export type Role = 'administrator' | 'approver' | 'seller' | 'reader';

/** Somebody who is signed in: asks with the cookie and the token of their session. */
export async function signIn(app: Server, as: Role) {
  const agent = supertest.agent(app);
  const before = await agent.get('/api/session');
  const answer = await agent
    .post('/api/session')
    .set('x-session-token', (before.body as { token: string }).token)
    .send({ signIn: as, password: PASSWORD });
  if (answer.status !== 200) throw new Error(`${as} could not sign in: ${JSON.stringify(answer.body)}`);
  const { token } = answer.body as { token: string };
  const send =
    (method: 'post' | 'put' | 'delete') =>
    (path: string, body: object = {}) =>
      agent[method](`/api${path}`).set('x-session-token', token).send(body);
  return {
    agent,
    token,
    get: (path: string) => agent.get(`/api${path}`),
    post: send('post'),
    put: send('put'),
    delete: send('delete'),
    bytes: (path: string, content: Buffer | string) =>
      agent
        .post(`/api${path}`)
        .set('x-session-token', token)
        .set('content-type', 'application/octet-stream')
        .send(content),
  };
}

export type Person = Awaited<ReturnType<typeof signIn>>;

/** Posts everything that a list's recipe computes; returns the posting's number. */
export async function postAll(person: Person, list: string, effective = TODAY, reason = 'new costs'): Promise<string> {
  const { body } = (await person.get(`/lists/${list}/prices?day=${effective}`)) as {
    body: { rows: { item: string; pack: string; posted: string | null; proposed: string | null }[] };
  };
  const lines = body.rows
    .filter((r) => r.proposed !== null && r.proposed !== r.posted)
    .map((r) => ({ item: r.item, pack: r.pack, before: r.posted, after: r.proposed }));
  const answer = await person.post(`/lists/${list}/postings`, { effective, reason, lines });
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  return (answer.body as Posted).postings[0]!;
}

/** The posted prices of a list on a day, by item and pack. */
export async function postedOn(person: Person, list: string, day: string): Promise<Record<string, string | null>> {
  const { body } = (await person.get(`/lists/${list}/prices?day=${day}`)) as {
    body: { rows: { item: string; pack: string; posted: string | null }[] };
  };
  return Object.fromEntries(body.rows.map((r) => [`${r.item}/${r.pack}`, r.posted]));
}

/** The lines of a posting, as far as they fit into one answer. */
export const linesOf = async (person: Person, posting: string): Promise<PostingLine[]> =>
  ((await person.get(`/postings/${posting}/lines?count=2000`)).body as PostingLines).rows;
