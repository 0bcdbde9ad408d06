import { type ChildProcess, fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { threadOf } from '../platform/place.ts';
import { refused } from '../platform/refused.ts';
import type { Said } from './read-process.ts';
import { UnreadableSheet } from './unreadable.ts';

export interface Limits {
  /** Of the engine's own memory, in MB; what is unpacked beside it has bounds of its own. */
  readonly memory?: number;
  /** How long a file may be read, in milliseconds. */
  readonly patience?: number;
  /** Files that are read at the same time, and those that wait for it. */
  readonly atOnce?: number;
  readonly waiting?: number;
}

const TOO_MUCH =
  'it takes more memory or time to read than a table of costs or items does: save it anew in a spreadsheet, send it in parts, or as CSV';

/** Reads workbooks and electronic documents, each in a process of its own that is killed when it passes its limits. */
export class Reading {
  private readonly children = new Set<ChildProcess>();
  private readonly queue: (() => void)[] = [];
  private running = 0;

  constructor(private readonly limits: Limits = {}) {}

  /** The sheets of a file, as packed JSON. Throws UnreadableSheet. */
  async read(content: Buffer): Promise<Buffer> {
    const { atOnce = 4, waiting = 20 } = this.limits;
    if (this.running >= atOnce) {
      if (this.queue.length >= waiting) throw refused('too_busy');
      await new Promise<void>((begin) => this.queue.push(begin));
    }
    this.running++;
    try {
      return await this.readNow(content);
    } finally {
      this.running--;
      this.queue.shift()?.();
    }
  }

  stop(): void {
    for (const child of this.children) child.kill('SIGKILL');
  }

  private readNow(content: Buffer): Promise<Buffer> {
    const { memory = 600, patience = 20_000 } = this.limits;
    const { filename, execArgv } = threadOf('server/costs/read-process');
    const child = fork(fileURLToPath(filename), {
      execArgv: [...execArgv, `--max-old-space-size=${memory}`],
      serialization: 'advanced',
      // what the engine says when it runs out of memory belongs into no log of ours
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    this.children.add(child);
    const over = setTimeout(() => child.kill('SIGKILL'), patience);
    return new Promise<Buffer>((read, failed) => {
      child.on('message', (said: Said) => {
        if ('pages' in said) read(Buffer.from(said.pages));
        else failed(new UnreadableSheet(said.unreadable));
      });
      child.on('error', failed);
      child.on('exit', () => failed(new UnreadableSheet(TOO_MUCH)));
      child.send({ content }, (error) => error && child.kill('SIGKILL'));
    }).finally(() => {
      clearTimeout(over);
      this.children.delete(child);
    });
  }
}
