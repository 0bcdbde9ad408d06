import { setTimeout as after } from 'node:timers/promises';
import type { Findings } from '#contract/findings.ts';
import type { Today } from '#contract/today.ts';
import type { Worksheet } from '#contract/worksheets.ts';
import type { Client } from './soak-server.ts';

/** Asks until a server is there to answer. */
export async function patiently<T>(work: () => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++)
    try {
      return await work();
    } catch (error) {
      if (attempt === 120) throw error;
      await after(500);
    }
}

export const worksheetOf = (client: Client, id: string) =>
  patiently(async () => {
    const { status, body } = await client.ask('GET', `/worksheets/${id}`);
    if (status !== 200) throw new Error(`worksheet ${id}: ${status}`);
    return body as Worksheet;
  });

/** How long a worksheet may take to its end, in milliseconds: other work may run beside. */
const PATIENCE = 15 * 60_000;

/** A worksheet once nothing is under way on it. */
export async function settled(client: Client, id: string): Promise<Worksheet> {
  const end = performance.now() + PATIENCE;
  for (;;) {
    const found = await worksheetOf(client, id);
    if (!['waiting', 'computing', 'posting', 'reversing'].includes(found.state)) return found;
    if (performance.now() > end) {
      const { state, trouble, lists } = found;
      throw new Error(`worksheet ${id} does not come to its end: ${JSON.stringify({ state, trouble, lists })}`);
    }
    await after(200);
  }
}

/** Prices of all lists proposed and posted, as people do. */
export async function postEverything(client: Client, day: string): Promise<Worksheet> {
  const made = (await client.ask('POST', '/worksheets', { reason: 'first prices', day })).body as Worksheet;
  const order = { reason: 'first prices', lists: made.lists.map((l) => l.list), share: 'changed' };
  await settled(client, made.id);
  await client.ask('POST', `/worksheets/${made.id}/postings`, order);
  const posted = await settled(client, made.id);
  if (posted.state !== 'posted') throw new Error(`first prices: ${posted.state}, ${posted.trouble}`);
  return posted;
}

/** Asks until it is so. */
async function until(so: () => Promise<boolean>, otherwise: string): Promise<void> {
  const end = performance.now() + PATIENCE;
  while (!(await so())) {
    if (performance.now() > end) throw new Error(otherwise);
    await after(200);
  }
}

/** Until what follows from the last change has been counted. */
export const atRest = (client: Client): Promise<void> =>
  until(async () => {
    const { at, stale } = (await client.ask('GET', '/today')).body as Today;
    return at !== null && !stale;
  }, 'what the lists make now is not counted');

/** Until the set-up as it stands has been checked. */
export const checked = (client: Client): Promise<void> =>
  until(async () => {
    const { at, stale, running } = (await client.ask('GET', '/findings')).body as Findings;
    return at !== null && !stale && !running;
  }, 'the set-up is not checked');
