import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { getPriority, platform, setPriority } from 'node:os';
import { isMainThread } from 'node:worker_threads';
import type pg from 'pg';

/** As far back as the system lets anything stand. */
const FURTHEST = 19;

/** `id`: of a thread or a process, 0 the one that asks; `by`: how far behind what it has now. */
function stepBack(id: number, by: number): void {
  setPriority(id, Math.min(FURTHEST, getPriority(id) + by));
}

/**
 * Lets others go first: a thread that computes for long takes what answers leave of the processors. Where a priority is the
 * whole process's, nothing is done.
 */
export function standBack(by: number): void {
  if (!isMainThread && platform() === 'linux') stepBack(0, by);
}

/** The same for a process as a whole: its threads, with those that the engine has begun. */
export function standBackWhole(by: number): void {
  if (platform() === 'linux') for (const thread of readdirSync('/proc/self/task')) stepBack(Number(thread), by);
  else stepBack(0, by);
}

/**
 * The same for the database's process behind a connection, where it runs on this machine and we may: what it writes for a
 * computation it writes after what it reads for answers. The connection is to be of no other use.
 */
export function standBackBehind(client: pg.Client, by: number): void {
  const { processID: id, connection } = client as unknown as {
    processID: number;
    connection: { stream: { localPort?: number } };
  };
  try {
    // its title names our end of the connection: on another machine the number is another process's
    const title = readFileSync(`/proc/${id}/cmdline`, 'utf8');
    if (!title.startsWith('postgres: ') || !title.includes(`(${connection.stream.localPort}) `)) return;
    stepBack(id, by);
    // where the system shares the processors out by session, a priority counts within one only: its own, of one process
    const share = `/proc/${id}/autogroup`;
    const now = Number(/nice (-?\d+)/.exec(readFileSync(share, 'utf8'))?.[1] ?? 0);
    writeFileSync(share, String(Math.min(FURTHEST, now + by)));
  } catch {
    // it is elsewhere, another user's, or there are no such shares
  }
}
