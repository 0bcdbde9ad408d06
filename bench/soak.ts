import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { setTimeout as after } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { Dice } from '#core/numbers/dice.ts';
import type { Worksheet } from '#contract/worksheets.ts';
import { migrateDatabase, openDatabase } from '#server/platform/database.ts';
import { loadLarge } from '../demo/load-large.ts';
import { manyClients } from './soak-clients.ts';
import { Client, OwnDatabase, OwnServer } from './soak-server.ts';
import { patiently, postEverything, settled, worksheetOf } from './whole-worksheets.ts';

/**
 * Long runs that try to break the ledger. Servers and the database are killed while worksheets are posted and reversed: the
 * ledger has all of it or nothing, and the job is done by the next server. Then many clients at two servers post,
 * reverse and edit at once: nothing that was accepted is lost, and no server fails.
 */
const { values } = parseArgs({
  options: {
    items: { type: 'string', default: '100000' },
    kills: { type: 'string', default: '20' },
    seconds: { type: 'string', default: '120' },
    seed: { type: 'string', default: '1' },
  },
});

const folder = mkdtempSync(path.join(tmpdir(), 'hard-ledger-soak-'));
const database = new OwnDatabase(folder);
const dice = new Dice(Number(values.seed));
const say = (text: string) => console.log(`${new Date().toISOString().slice(11, 19)} ${text}`);

/** How many lines the ledger has of a worksheet, by what they do; from the database itself. */
async function linesOf(id: string): Promise<{ post: number; reverse: number; entries: number; postings: number }> {
  const { pool, close } = openDatabase(database.owner);
  try {
    const { rows } = await pool.query<{ post: number; reverse: number; entries: number; postings: number }>(
      `with p as (select * from postings where worksheet_id = $1),
        all_of as (select id, 'post' as kind from p union all select r.id, 'reverse' from postings r join p on p.id = r.reverses_id)
       select (select count(*)::int from posting_lines l join all_of a on a.id = l.posting_id where a.kind = 'post') as post,
         (select count(*)::int from posting_lines l join all_of a on a.id = l.posting_id where a.kind = 'reverse') as reverse,
         (select count(*)::int from audit_entries e where e.subject = 'postings' and e.subject_id in (select id::text from all_of)) as entries,
         (select count(*)::int from all_of) as postings`,
      [id],
    );
    return rows[0]!;
  } finally {
    await close();
  }
}

async function kills(server: OwnServer, day: string): Promise<void> {
  let client = await new Client(server).signIn();
  const lists = async (id: string) => (await worksheetOf(client, id)).lists.map((l) => l.list);
  let took = 0;
  let [before, resumed] = [0, 0];
  for (let n = 0; n < 2 * Number(values.kills); n++) {
    const proposed = await client.ask('POST', '/worksheets', { reason: `soak ${n}`, day });
    const { id } = proposed.body as Worksheet;
    const total = (await settled(client, id)).lists.reduce((sum, l) => sum + l.rises + l.falls + l.first - l.held, 0);
    const acts = [
      ['postings', { reason: 'soak', lists: await lists(id), share: 'changed' }, 'post'],
      ['reversals', { reason: 'soak' }, 'reverse'],
    ] as const;
    for (const [act, body, kind] of acts) {
      const who = n % 2 === 0 ? 'server' : 'database';
      const began = performance.now();
      const ordered = await client.ask('POST', `/worksheets/${id}/${act}`, body);
      if (ordered.status !== 200) throw new Error(`not ordered: ${JSON.stringify(ordered.body)}`);
      if (took > 0) {
        await after(dice.next() * took);
        if (who === 'server') await server.end('SIGKILL');
        else {
          database.kill();
          await after(500);
          database.start();
        }
        const left = await patiently(() => linesOf(id));
        if (left[kind] !== 0 && left[kind] !== total) throw new Error(`${act}: ${left[kind]} of ${total} lines`);
        if (left[kind] === 0) before++;
        if (who === 'server') await server.start();
        client = await patiently(() => new Client(server).signIn());
      }
      const end = await settled(client, id);
      const lines = await linesOf(id);
      const done = lines[kind] === total;
      if (!done && lines[kind] !== 0) throw new Error(`${act}: ${lines[kind]} of ${total} lines`);
      if (lines.entries !== lines.postings) throw new Error(`${lines.postings} postings, ${lines.entries} entries`);
      say(
        `${n + 1} ${who} ${act}: ${end.state}${end.trouble ? `, ${end.trouble}` : ''}, ${lines[kind]} of ${total} lines`,
      );
      if (took === 0) took = performance.now() - began;
      if (!done) {
        // visibly not done: done now
        const again = await client.ask('POST', `/worksheets/${id}/${act}`, body);
        if (again.status !== 200) throw new Error(`not ordered again: ${JSON.stringify(again.body)}`);
        const state = await settled(client, id);
        const now = await linesOf(id);
        if (now[kind] !== total)
          throw new Error(`${act} again: ${state.state}, ${state.trouble}, ${now[kind]} of ${total}`);
      } else if (took > 0) resumed++;
    }
  }
  say(`killed before the end ${before} times, done by the next or before the kill ${resumed} times; never between`);
}

try {
  const { pool, db, close } = openDatabase(database.owner);
  await migrateDatabase(database.owner);
  await loadLarge({ pool, db, close }, Number(values.items));
  await close();
  const server = new OwnServer(database);
  await server.start();
  const { body } = await (await new Client(server).signIn()).ask('GET', '/session');
  const day = (body as { workspace: { today: string } }).workspace.today;
  say(`${values.items} items, seed ${values.seed}`);
  if (Number(values.kills) > 0) await kills(server, day);
  if (Number(values.seconds) > 0) {
    const other = new OwnServer(database);
    await other.start();
    const client = await new Client(server).signIn();
    await postEverything(client, day);
    await manyClients([server, other], { day, seconds: Number(values.seconds), dice, owner: database.owner, say });
    await other.end('SIGTERM');
  }
  await server.end('SIGTERM');
} finally {
  database.remove();
}
