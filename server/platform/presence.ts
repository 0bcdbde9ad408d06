import { setTimeout as after } from 'node:timers/promises';
import pg from 'pg';

/** Where locks that say "this work is being done" are kept apart from all others, by queue. */
const spaceOf = (queue: string) => `work ${queue}`;

/** So long after work was taken up, or the database came back, its server has said that it does it. In seconds. */
const GRACE_SECONDS = 10;
/** How long it is between two tries to be heard again, in milliseconds. */
const AGAIN_MS = 250;

/**
 * Says in the database which work this server does, on one connection of its own: who is gone, and how ever, says it no more
 * at once. A server whose machine lost power is noticed by the database within a minute.
 */
export class Presence {
  private client: pg.Client | null = null;
  private opening: Promise<pg.Client> | null = null;
  private readonly doing = new Map<string, { queue: string; id: number }>();
  private closed = false;
  private turn: Promise<unknown> = Promise.resolve();

  constructor(private readonly url: string) {}

  /** Does work that is said to be done meanwhile. */
  async during<T>(queue: string, id: number, work: () => Promise<T>): Promise<T> {
    const key = `${queue}/${id}`;
    this.doing.set(key, { queue, id });
    await this.tell((client) => say(client, queue, id));
    try {
      return await work();
    } finally {
      this.doing.delete(key);
      await this.tell((client) => unsay(client, queue, id));
    }
  }

  /** Gives back work that was taken up and that no server says it does: another takes it up. Its ids, by queue. */
  async giveBack(): Promise<{ queue: string; id: number }[]> {
    const { rows } = await this.ask((client) =>
      client.query<{ queue: string; id: number }>(
        `update jobs.job j
       set state = case when retry_count < retry_limit then 'retry' else 'failed' end::jobs.job_state,
         completed_on = case when retry_count < retry_limit then null else now() end
       where state = 'active'
         and started_on < now() - make_interval(secs => $1)
         and pg_postmaster_start_time() < now() - make_interval(secs => $1)
         and not exists (
           select 1 from pg_locks l
           where l.locktype = 'advisory' and l.granted and l.objsubid = 2
             and l.database = (select oid from pg_database where datname = current_database())
             and l.classid = (hashtext('${spaceOf('')}' || j.name)::bigint & 4294967295)::oid
             and l.objid = (j.data ->> 'id')::bigint::oid)
       returning j.name as queue, (j.data ->> 'id')::int as id`,
        [GRACE_SECONDS],
      ),
    );
    return rows;
  }

  async close(): Promise<void> {
    this.closed = true;
    await this.client?.end().catch(() => undefined);
  }

  /** A connection that was lost has taken with it what was said on it: the next says it again. */
  private async tell(said: (client: pg.Client) => Promise<unknown>): Promise<void> {
    await this.ask(said).catch(() => undefined);
  }

  /** One after the other: there is one connection. */
  private ask<T>(question: (client: pg.Client) => Promise<T>): Promise<T> {
    const answer = this.turn.then(async () => question(await this.connected()));
    this.turn = answer.catch(() => undefined);
    return answer;
  }

  private connected(): Promise<pg.Client> {
    if (this.client) return Promise.resolve(this.client);
    return (this.opening ??= this.open().finally(() => (this.opening = null)));
  }

  private async open(): Promise<pg.Client> {
    for (;;) {
      const client = new pg.Client({
        connectionString: this.url,
        application_name: 'work being done',
        keepAlive: true,
      });
      try {
        client.on('error', () => undefined);
        await client.connect();
        if (this.closed) throw new Error('nothing is done any more');
        await client.query(
          'set tcp_keepalives_idle = 20; set tcp_keepalives_interval = 10; set tcp_keepalives_count = 3',
        );
        for (const { queue, id } of this.doing.values()) await say(client, queue, id);
        client.on('end', () => {
          if (this.client !== client) return;
          this.client = null;
          if (!this.closed) void this.connected().catch(() => undefined);
        });
        return (this.client = client);
      } catch (error) {
        await client.end().catch(() => undefined);
        if (this.closed) throw error;
        await after(AGAIN_MS);
      }
    }
  }
}

const say = (client: pg.Client, queue: string, id: number) =>
  client.query('select pg_advisory_lock_shared(hashtext($1), $2::int)', [spaceOf(queue), id]);

/** As often as it was said: once more where a connection was made anew meanwhile. */
async function unsay(client: pg.Client, queue: string, id: number): Promise<void> {
  const held = await client.query<{ held: boolean }>(
    'select pg_advisory_unlock_shared(hashtext($1), $2::int) as held',
    [spaceOf(queue), id],
  );
  if (held.rows[0]!.held) await unsay(client, queue, id);
}
