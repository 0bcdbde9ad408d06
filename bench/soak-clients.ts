import type { BuildUp } from '#contract/lists.ts';
import type { Dice } from '#core/numbers/dice.ts';
import { openDatabase } from '#server/platform/database.ts';
import { type Answered, Client, type OwnServer } from './soak-server.ts';

const CLIENTS = 20;
/** So few items that clients meet on them. */
const HOT = 12;

interface Asked {
  readonly day: string;
  readonly seconds: number;
  readonly dice: Dice;
  readonly owner: string;
  readonly say: (text: string) => void;
}

interface Kept {
  readonly id: string;
  readonly version: number;
  readonly [field: string]: unknown;
}

/** Twenty clients at two servers post, reverse and edit; then the ledger and the records are held against what was accepted. */
export async function manyClients(
  servers: readonly OwnServer[],
  { day, seconds, dice, owner, say }: Asked,
): Promise<void> {
  const database = openDatabase(owner);
  const { pool } = database;
  const list = (await pool.query<{ id: string }>('select min(id)::text as id from price_lists')).rows[0]!.id;
  const { rows: hot } = await pool.query<{ item: string; pack: string }>(
    `select item_id::text as item, min(id)::text as pack from packs group by item_id order by item_id limit ${HOT}`,
  );
  const statuses = new Map<string, number>();
  const accepted = { prices: 0, reversals: 0, recipes: new Map<string, number>() };
  const took = new Map<string, number[]>();
  const count = (what: string, { status, body, ms }: Answered): boolean => {
    took.set(what, [...(took.get(what) ?? []), ms]);
    const code = (body as { code?: string } | null)?.code;
    const key = `${what} ${status}${code ? ` ${code}` : ''}`;
    statuses.set(key, (statuses.get(key) ?? 0) + 1);
    if (status >= 500) throw new Error(`${key}: ${JSON.stringify(body)}`);
    return status === 200;
  };
  const recipes = async (client: Client) => (await client.ask('GET', '/recipes')).body as Kept[];
  const first = await recipes(await new Client(servers[0]!).signIn());
  const until = performance.now() + seconds * 1000;

  const oneClient = async (n: number): Promise<void> => {
    const client = await new Client(servers[n % servers.length]!).signIn();
    const own: string[] = [];
    while (performance.now() < until) {
      const roll = dice.next();
      if (roll < 0.5) {
        const { item, pack } = dice.pick(hot);
        const seen = (await client.ask('GET', `/lists/${list}/build-up/${item}/${pack}`)).body as BuildUp;
        const before = seen.posted?.price ?? null;
        const line = { item, pack, before, after: `${dice.whole(1, 900)}.${dice.whole(10, 99)}` };
        const body = {
          effective: day,
          reason: 'soak',
          lines: [{ ...line, handSet: { reason: 'soak', lastDay: null } }],
        };
        const answer = await client.ask('POST', `/lists/${list}/postings`, body);
        if (count('price', answer)) {
          accepted.prices++;
          own.push((answer.body as { postings: string[] }).postings[0]!);
        }
      } else if (roll < 0.7 && own.length > 0) {
        const answer = await client.ask('POST', `/postings/${own.pop()}/reverse`, { reason: 'soak' });
        if (count('reversal', answer)) accepted.reversals++;
      } else {
        const { id, ...recipe } = dice.pick(await recipes(client));
        const answer = await client.ask('PUT', `/recipes/${id}`, {
          ...recipe,
          name: `recipe ${id} of ${dice.whole(1, 1e6)}`,
        });
        if (count('recipe', answer)) accepted.recipes.set(id, (accepted.recipes.get(id) ?? 0) + 1);
      }
    }
  };
  await Promise.all(Array.from({ length: CLIENTS }, (_, n) => oneClient(n)));

  for (const { id, version } of await recipes(await new Client(servers[1]!).signIn())) {
    const was = first.find((r) => r.id === id)!.version;
    const changes = accepted.recipes.get(id) ?? 0;
    if (version !== was + changes)
      throw new Error(`recipe ${id}: ${changes} changes were accepted, version ${was} is now ${version}`);
  }
  // of each price every line begins where the one before it ended
  const { rows: torn } = await pool.query(
    `select * from (select pack_id, before, after, lag(after) over (partition by pack_id order by id) as stood, lag(id) over (partition by pack_id order by id) as prior
       from posting_lines where list_id = $1 and item_id = any($2::int[])) l where prior is not null and before is distinct from stood`,
    [list, hot.map((h) => h.item)],
  );
  if (torn.length > 0) throw new Error(`lost updates: ${JSON.stringify(torn.slice(0, 3))}`);
  const { rows } = await pool.query<{ post: number; reverse: number }>(
    `select count(*) filter (where kind = 'post')::int as post, count(*) filter (where kind = 'reverse')::int as reverse from postings where reason = 'soak' and worksheet_id is null and list_id = $1`,
    [list],
  );
  await database.close();
  const middle = (of: number[]) => Math.round([...of].sort((a, b) => a - b)[Math.floor(of.length / 2)]!);
  say(
    [...took]
      .map(([what, of]) => `${what}: ${middle(of)} ms in the middle, ${Math.round(Math.max(...of))} at most`)
      .join('; '),
  );
  say([...statuses].map(([key, n]) => `${n} ${key}`).join(', '));
  if (rows[0]!.post !== accepted.prices)
    throw new Error(`${accepted.prices} prices were accepted, ${rows[0]!.post} are in the ledger`);
  say(`${accepted.prices} prices and ${accepted.reversals} reversals accepted, none lost; both servers agree`);
}
