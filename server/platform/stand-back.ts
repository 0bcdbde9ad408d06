import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { platform, setPriority } from 'node:os';
import { isMainThread } from 'node:worker_threads';
import type pg from 'pg';

// `by`: how far, as the system counts it (up to 19)

/**
 * Lets others go first: a thread that computes for long takes what answers leave of the processors. Where a priority is the
 * whole process's, nothing is done.
 */
export function standBack(by: number): void {
  if (!isMainThread && platform() === 'linux') setPriority(by);
}

/** The same for a process that leads a session: its threads, with those that the engine has begun. */
export function standBackWhole(by: number): void {
  if (platform() !== 'linux') return setPriority(by);
  for (const thread of readdirSync('/proc/self/task')) setPriority(Number(thread), by);
  shareLess('self', by);
}

/**
 * The same for the database's process behind a connection, where it runs on this machine and we may: what it writes for a
 * computation it writes after what it reads for answers. The connection is to be of no other use.
 */
export function standBackBehind(client: pg.Client, by: number): void {
  const { processID, connection } = client as unknown as {
    processID: number | null;
    connection: { stream: { localPort?: number } };
  };
  try {
    // its title names our end of the connection: on another machine the number is another process's
    const title = readFileSync(`/proc/${processID}/cmdline`, 'utf8');
    if (!title.startsWith('postgres: ') || !title.includes(`(${connection.stream.localPort}) `)) return;
    setPriority(processID!, by);
    shareLess(processID!, by);
  } catch {
    // it is elsewhere, or another user's
  }
}

/** Where the system shares the processors out by session, a priority counts within one only: the session's own. */
function shareLess(process: number | 'self', by: number): void {
  try {
    writeFileSync(`/proc/${process}/autogroup`, String(by));
  } catch {
    // it does not
  }
}
