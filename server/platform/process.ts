import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import type { threadOf } from './place.ts';
import { standBackWhole } from './stand-back.ts';

/** What the process says of a piece of work. */
type Said<D> = { readonly done: D } | { readonly failed: string; readonly stack: string | null };

/** How long a process stays without work, warm for the next, in milliseconds. */
const IDLE_MS = 20_000;

/**
 * Work that takes the processors for long, in a process of its own: unlike a thread's, what the engine does beside it (it
 * compiles, it collects) stands back too. Begun when there is work, ended when there was none for `idle` milliseconds, and
 * gone with the server.
 */
export class OwnProcess<A extends object, D> {
  private child: ChildProcess | null = null;
  private last: Promise<unknown> = Promise.resolve();
  private ending: NodeJS.Timeout | undefined;
  private stopped = false;

  constructor(
    private readonly module: ReturnType<typeof threadOf>,
    private readonly idle = IDLE_MS,
  ) {}

  /** One piece after another. Throws what the work throws, and where the process ends before it is done. */
  run(asked: A): Promise<D> {
    const mine = this.last.then(() => this.work(asked));
    this.last = mine.catch(() => undefined);
    return mine;
  }

  /** Ends it, whatever it does, and begins no other. */
  async stop(): Promise<void> {
    this.stopped = true;
    const child = this.forget();
    if (!child) return;
    const gone = once(child, 'exit');
    child.kill('SIGKILL');
    await gone;
  }

  private async work(asked: A): Promise<D> {
    if (this.stopped) throw new Error('It was stopped before it was begun.');
    clearTimeout(this.ending);
    const child = (this.child ??= this.begin());
    child.ref();
    child.channel?.ref();
    try {
      return await answerOf<D>(child, asked);
    } finally {
      child.unref();
      child.channel?.unref();
      if (this.child === child) this.ending = setTimeout(() => this.forget()?.disconnect(), this.idle).unref();
    }
  }

  private begin(): ChildProcess {
    const { filename, execArgv } = this.module;
    const child = fork(fileURLToPath(filename), { execArgv });
    for (const end of ['exit', 'error']) child.on(end, () => this.child === child && this.forget());
    return child;
  }

  private forget(): ChildProcess | null {
    clearTimeout(this.ending);
    const child = this.child;
    this.child = null;
    return child;
  }
}

async function answerOf<D>(child: ChildProcess, asked: object): Promise<D> {
  const over = new AbortController();
  const heard = once(child, 'message', { signal: over.signal });
  const ended = once(child, 'exit', { signal: over.signal });
  // one that hears nothing any more is of no use
  child.send(asked, (error) => error && child.kill('SIGKILL'));
  try {
    return await Promise.race([
      heard.then(([message]) => {
        const said = message as Said<D>;
        if ('done' in said) return said.done;
        throw Object.assign(new Error(said.failed), said.stack === null ? {} : { stack: said.stack });
      }),
      ended.then(([code, signal]) => {
        throw new Error(`The process that did it has ended (${signal ?? code}).`);
      }),
    ]);
  } finally {
    over.abort();
  }
}

/** In the process: does what is asked until the server is gone, or has no more; stands back by `by`. */
export function workInProcess<A, D>(by: number, work: (asked: A) => Promise<D>): void {
  standBackWhole(by);
  process.on('disconnect', () => process.exit());
  // who interrupts the server at a terminal interrupts this one with it: it is the server's to end
  process.on('SIGINT', () => undefined);
  process.on('message', (asked) => {
    const say = (said: Said<D>) => process.send!(said);
    work(asked as A).then(
      (done) => say({ done }),
      (error: unknown) =>
        say(
          error instanceof Error
            ? { failed: error.message, stack: error.stack ?? null }
            : { failed: String(error), stack: null },
        ),
    );
  });
}
