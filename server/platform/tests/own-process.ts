import { readdirSync } from 'node:fs';
import { getPriority } from 'node:os';
import { workInProcess } from '../process.ts';

/** What the process is asked for in the tests. */
export interface Asked {
  readonly what: 'who' | 'fail' | 'hang' | 'end';
}

/** Which process it is, and how far its threads stand back. */
export interface Told {
  readonly pid: number;
  readonly threads: readonly number[];
}

workInProcess(7, async ({ what }: Asked): Promise<Told> => {
  if (what === 'fail') throw new TypeError('it cannot be done');
  if (what === 'end') process.exit(3);
  if (what === 'hang') await new Promise((end) => setTimeout(end, 600_000));
  const threads = readdirSync('/proc/self/task').map((thread) => getPriority(Number(thread)));
  return { pid: process.pid, threads };
});
