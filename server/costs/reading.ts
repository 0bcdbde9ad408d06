import { type Limits, LimitedProcess } from '../platform/limited-process.ts';
import { threadOf } from '../platform/place.ts';
import { UnreadableSheet } from './unreadable.ts';

const TOO_MUCH =
  'it takes more memory or time to read than a table of costs or items does: save it anew in a spreadsheet, send it in parts, or as CSV';

/** Reads workbooks and electronic documents, each in a process of its own that is killed when it passes its limits. */
export class Reading {
  private readonly process: LimitedProcess<{ content: Buffer }, Uint8Array>;

  constructor(limits?: Limits) {
    const module = threadOf('server/costs/read-process');
    this.process = new LimitedProcess(module, (why) => new UnreadableSheet(why ?? TOO_MUCH), limits);
  }

  /** The sheets of a file, as packed JSON. Throws UnreadableSheet. */
  async read(content: Buffer): Promise<Buffer> {
    return Buffer.from(await this.process.run({ content }));
  }

  stop(): void {
    this.process.stop();
  }
}
