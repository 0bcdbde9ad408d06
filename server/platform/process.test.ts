import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, readFileSync } from 'node:fs';
import { getPriority } from 'node:os';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { afterEach, describe, expect, inject, it, vi } from 'vitest';
import { threadOf } from './place.ts';
import { OwnProcess } from './process.ts';
import { standBackBehind } from './stand-back.ts';
import type { Asked, Told } from './tests/own-process.ts';

const begun: OwnProcess<Asked, Told>[] = [];
const own = (idle?: number) => {
  const made = new OwnProcess<Asked, Told>(threadOf('server/platform/tests/own-process'), idle);
  begun.push(made);
  return made;
};
afterEach(() => Promise.all(begun.splice(0).map((o) => o.stop())));

const runs = (pid: number) => {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
};

describe('work in a process of its own', () => {
  it('stands back behind answers with every thread, those of the engine too', async () => {
    const told = await own().run({ what: 'who' });
    expect(told.pid).not.toBe(process.pid);
    expect(told.threads.length).toBeGreaterThan(1);
    expect(new Set(told.threads)).toEqual(new Set([Math.min(19, getPriority() + 7)]));
  });

  it('is done one piece after the other, in the same process, and says why a piece failed', async () => {
    const it = own();
    const [first, failed, last] = await Promise.allSettled([
      it.run({ what: 'who' }),
      it.run({ what: 'fail' }),
      it.run({ what: 'who' }),
    ]);
    expect(failed).toMatchObject({ status: 'rejected', reason: { message: 'it cannot be done' } });
    expect((failed as PromiseRejectedResult).reason).toHaveProperty('stack', expect.stringContaining('own-process'));
    expect(first).toMatchObject({ status: 'fulfilled' });
    expect(last).toEqual(first);
  });

  it('fails where its process ends before it is done; the next piece is done by another', async () => {
    const it = own();
    const first = await it.run({ what: 'who' });
    await expect(it.run({ what: 'end' })).rejects.toThrow('has ended (3)');
    const second = await it.run({ what: 'who' });
    const [hanging, last] = [it.run({ what: 'hang' }), it.run({ what: 'who' })];
    process.kill(second.pid, 'SIGKILL');
    await expect(hanging).rejects.toThrow('has ended (SIGKILL)');
    expect(new Set([first.pid, second.pid, (await last).pid]).size).toBe(3);
  });

  it('leaves no process behind: not when it stood idle, not when it is stopped, not when the server is killed', async () => {
    const idle = await own(1).run({ what: 'who' });
    await vi.waitFor(() => expect(runs(idle.pid)).toBe(false));
    const it = own();
    const stopped = await it.run({ what: 'who' });
    const left = Promise.allSettled([it.run({ what: 'hang' }), it.run({ what: 'who' })]);
    await new Promise(setImmediate);
    await it.stop();
    expect(runs(stopped.pid)).toBe(false);
    expect((await left).map((l) => String((l as PromiseRejectedResult).reason))).toEqual([
      'Error: The process that did it has ended (SIGKILL).',
      'Error: It was stopped before it was begun.',
    ]);

    const { filename, execArgv } = threadOf('server/platform/tests/server-with-process');
    const server = spawn(process.execPath, [...execArgv, fileURLToPath(filename)], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const [said] = (await once(server.stdout, 'data')) as [Buffer];
    const pid = Number(said.toString());
    expect(runs(pid)).toBe(true);
    server.kill('SIGKILL');
    await vi.waitFor(() => expect(runs(pid)).toBe(false), { timeout: 10_000 });
  });
});

/** How far a session stands back as a whole; null: the system does not count by session. */
function shareOf(id: number): number | null {
  const file = `/proc/${id}/autogroup`;
  return existsSync(file) ? Number(/nice (-?\d+)/.exec(readFileSync(file, 'utf8'))?.[1]) : null;
}

it('the database stands back behind a connection of such work, and behind no other', async () => {
  const clients = [1, 2].map(() => new pg.Client({ connectionString: inject('addresses').use }));
  await Promise.all(clients.map((c) => c.connect()));
  try {
    const ids = clients.map((c) => (c as unknown as { processID: number }).processID);
    const priorities = () => ids.map((id) => getPriority(id));
    const [before, shares] = [priorities()[0]!, ids.map(shareOf)];
    standBackBehind(clients[0]!, 3);
    expect(priorities()).toEqual([Math.min(19, before + 3), before]);
    // where the system shares the processors out by session, that alone is what is felt
    expect(ids.map(shareOf)).toEqual([shares[0] === null ? null : Math.min(19, shares[0]! + 3), shares[1]]);
  } finally {
    await Promise.all(clients.map((c) => c.end()));
  }
});
