import { type ChildProcess, fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { threadOf } from './place.ts';
import { refused } from './refused.ts';

export interface Limits {
  /** Of the engine's own memory, in MB. */
  readonly memory?: number;
  /** How long a piece of work may take, in milliseconds. */
  readonly patience?: number;
  /** Pieces that are worked on at the same time, and those that wait for it. */
  readonly atOnce?: number;
  readonly waiting?: number;
}

/** What the process says of its one piece of work; `why`: it cannot be done with what was sent. */
type Said<D> = { readonly done: D } | { readonly why: string };

/**
 * Work on what came from outside, each piece in a process of its own that is killed when it passes its limits: whatever it
 * makes of memory or time ends with it. `failure`: what is thrown where it cannot be done; without a reason, for its limits.
 */
export class LimitedProcess<A extends object, D> {
  private readonly children = new Set<ChildProcess>();
  private readonly queue: (() => void)[] = [];
  private running = 0;

  constructor(
    private readonly module: ReturnType<typeof threadOf>,
    private readonly failure: (why: string | null) => Error,
    private readonly limits: Limits = {},
  ) {}

  async run(asked: A): Promise<D> {
    const { atOnce = 4, waiting = 20 } = this.limits;
    if (this.running >= atOnce) {
      if (this.queue.length >= waiting) throw refused('too_busy');
      // whoever is done hands its place on
      await new Promise<void>((begin) => this.queue.push(begin));
    } else this.running++;
    try {
      return await this.runNow(asked);
    } finally {
      const next = this.queue.shift();
      if (next) next();
      else this.running--;
    }
  }

  stop(): void {
    for (const child of this.children) child.kill('SIGKILL');
  }

  private runNow(asked: A): Promise<D> {
    const { memory = 600, patience = 20_000 } = this.limits;
    const child = fork(fileURLToPath(this.module.filename), {
      execArgv: [...this.module.execArgv, `--max-old-space-size=${memory}`],
      serialization: 'advanced',
      // what the engine says when it runs out of memory belongs into no log of ours
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    this.children.add(child);
    const over = setTimeout(() => child.kill('SIGKILL'), patience);
    return new Promise<D>((done, failed) => {
      child.on('message', (said: Said<D>) => ('done' in said ? done(said.done) : failed(this.failure(said.why))));
      child.on('error', failed);
      child.on('exit', () => failed(this.failure(null)));
      child.send(asked, (error) => error && child.kill('SIGKILL'));
    }).finally(() => {
      clearTimeout(over);
      this.children.delete(child);
    });
  }
}

/** In the process: does its one piece of work. `isReason`: what is thrown that tells what is wrong with what was sent. */
export function workOnce<A, D>(work: (asked: A) => D | Promise<D>, isReason: (error: unknown) => error is Error): void {
  process.on('disconnect', () => process.exit());
  process.once('message', (asked) => {
    const say = (said: Said<D>) => process.send!(said, () => process.disconnect());
    Promise.resolve()
      .then(() => work(asked as A))
      .then(
        (done) => say({ done }),
        (error: unknown) => {
          if (!isReason(error)) throw error;
          say({ why: error.message });
        },
      );
  });
}
