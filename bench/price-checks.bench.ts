import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import http from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setTimeout as after } from 'node:timers/promises';
import { migrateDatabase, openDatabase } from '#server/platform/database.ts';
import { plusDays } from '#core/numbers/day.ts';
import type { Worksheet } from '#contract/worksheets.ts';
import { loadLarge } from '../demo/load-large.ts';
import { say, takenByOthers } from './measure.ts';
import { Client, OwnDatabase, OwnServer } from './soak-server.ts';
import { atRest, checked, postEverything, settled } from './whole-worksheets.ts';

const ITEMS = Number(process.env['MOST_ITEMS'] ?? 100_000);
const SECONDS = Number(process.env['SECONDS_EACH'] ?? 60);

/** An answer that says what a unit costs. */
const PRICED = /"unitPrice":"\d/;

interface Asked {
  readonly address: string;
  readonly key: string;
  readonly day: string;
  readonly packs: readonly { readonly item: string; readonly pack: string }[];
  readonly customers: readonly string[];
}

/** Asks at an even rate, whether answers are there or not: who asks does not wait for who asked before. */
async function askEvenly(asked: Asked, rate: number, seconds: number): Promise<void> {
  const agent = new http.Agent({ keepAlive: true, maxSockets: 60 });
  const { hostname, port } = new URL(asked.address);
  const took: number[] = [];
  let [wrong, unpriced] = [0, 0];
  const one = (n: number): Promise<void> =>
    new Promise((done) => {
      const question = {
        ...asked.packs[(n * 7919) % asked.packs.length]!,
        customer: asked.customers[n % asked.customers.length]!,
        ...{ group: null, country: null, channel: null, quantity: '10', day: asked.day },
      };
      const body = JSON.stringify(question);
      const headers = { authorization: `Bearer ${asked.key}`, 'content-type': 'application/json' };
      const began = performance.now();
      const request = http.request(
        { agent, hostname, port, path: '/api/price-check', method: 'POST', headers },
        (answer) => {
          let text = '';
          answer.setEncoding('utf8').on('data', (part: string) => (text += part));
          answer.on('end', () => {
            took.push(performance.now() - began);
            if (answer.statusCode !== 200) wrong++;
            else if (!PRICED.test(text)) unpriced++;
            done();
          });
        },
      );
      request.on('error', () => (wrong++, done()));
      request.end(body);
    });
  // until everything is read and compiled
  for (let n = 0; n < 500; n++) await one(n);
  took.length = 0;
  [wrong, unpriced] = [0, 0];
  const began = performance.now();
  const taken = takenByOthers();
  const pending: Promise<void>[] = [];
  for (let sent = 0; sent < rate * seconds;) {
    const due = Math.min(rate * seconds, Math.floor(((performance.now() - began) / 1000) * rate));
    while (sent < due) pending.push(one(sent++));
    await after(2);
  }
  await Promise.all(pending);
  const whole = (performance.now() - began) / 1000;
  const others = taken();
  agent.destroy();
  took.sort((a, b) => a - b);
  const at = (share: number) => took[Math.min(took.length - 1, Math.floor(took.length * share))]!.toFixed(1);
  say(
    `  ${rate} asked a second for ${seconds} s: ${(took.length / whole).toFixed(0)} answered a second, p50 ${at(0.5)} ms, p95 ${at(0.95)} ms, p99 ${at(0.99)} ms, ${wrong} wrong, ${unpriced} without a price${others === null ? '' : `, ${others.toFixed(1)} % of the processors taken by other machines`}`,
  );
}

/** A worksheet of every price is computed, again and again, while something is done. */
async function besideWorksheets(client: Client, day: string, work: () => Promise<void>): Promise<void> {
  let going = true;
  let count = 0;
  const compute = async (): Promise<void> => {
    while (going) {
      const made = (await client.ask('POST', '/worksheets', { reason: 'bench', day, lists: [] })).body as Worksheet;
      await settled(client, made.id);
      count++;
      await client.ask('DELETE', `/worksheets/${made.id}`, {});
    }
  };
  const computing = compute();
  await work();
  going = false;
  await computing;
  say(`  (${count} worksheets of every price on twelve lists were computed beside it)`);
}

/** Price checks by program, at an even rate, of a server as it is started for people; who asks runs on the same machine. */
export async function benchPriceChecks(): Promise<void> {
  execFileSync(process.execPath, ['bin/compile-server.mjs']);
  const folder = mkdtempSync(path.join(tmpdir(), 'hard-ledger-bench-'));
  const own = new OwnDatabase(folder);
  const server = new OwnServer(own);
  try {
    await migrateDatabase(own.use, own.owner);
    const database = openDatabase(own.owner);
    await loadLarge(database, ITEMS);
    const { rows: packs } = await database.pool.query<{ item: string; pack: string }>(
      'select item_id::text as item, min(id)::text as pack from packs group by item_id order by item_id limit 5000',
    );
    const { rows: customers } = await database.pool.query<{ id: string }>('select id::text from customers order by id');
    await server.start();
    const client = await new Client(server).signIn();
    const { workspace } = (await client.ask('GET', '/session')).body as { workspace: { today: string } };
    const day = workspace.today;
    const lastDay = plusDays(day, 1);
    await postEverything(client, day);
    await atRest(client);
    await checked(client);
    // what a database does by itself minutes after a million rows were written is done before anybody asks
    for (const tidy of ['vacuum (analyze)', 'checkpoint']) await database.pool.query(tidy);
    await database.close();
    const made = await client.ask('POST', '/me/keys', { name: 'bench', rights: ['read'], lastDay });
    const { key } = made.body as { key: string };
    const asked = { address: server.address, key, day, packs, customers: customers.map((c) => c.id) };
    say(
      `price checks with ${ITEMS.toLocaleString('en-GB')} items posted on twelve lists, ${customers.length} customers`,
    );
    for (const rate of [200, 500]) await askEvenly(asked, rate, SECONDS);
    await besideWorksheets(client, day, () => askEvenly(asked, 200, SECONDS));
  } finally {
    await server.end('SIGTERM');
    own.remove();
  }
}
