import { timingSafeEqual } from 'node:crypto';
import type { Request, RequestHandler } from 'express';
import { Counter, Gauge, Histogram, Registry, collectDefaultMetrics } from 'prom-client';
import type { Database } from './database.ts';
import type { Work } from './jobs.ts';
import type { Replica } from './replica.ts';

/** Seconds within which most answers come, up to the longest work. */
const SECONDS = [0.005, 0.02, 0.05, 0.1, 0.3, 1, 3, 10, 30, 120];

export interface Metrics {
  /** Counts every answer, by the address as it is declared: never by what stands in it. */
  readonly observe: RequestHandler;
  /** Work of a queue, with how long it took and how it ended. */
  jobs(queues: Readonly<Record<string, Work>>): Record<string, Work>;
  /** In the text form that collectors read. */
  text(): Promise<string>;
  readonly contentType: string;
}

export interface Observed {
  readonly database: Database;
  /** When the lists were last counted and the set-up was last checked; null: not yet. */
  readonly checked: () => { readonly counts: string | null; readonly findings: string | null };
  readonly replica: Replica | null;
}

/** What runs here, as numbers: nothing in them names a person, a price or a record. */
export function metricsOf({ database, checked, replica }: Observed): Metrics {
  const registry = new Registry();
  collectDefaultMetrics({ register: registry, prefix: 'hard_ledger_' });
  const registers = [registry];
  const requests = new Histogram({
    name: 'hard_ledger_request_seconds',
    help: 'How long answers took, by route, method and status.',
    labelNames: ['method', 'route', 'status'],
    buckets: SECONDS,
    registers,
  });
  const work = new Histogram({
    name: 'hard_ledger_job_seconds',
    help: 'How long the work of a queue took.',
    labelNames: ['queue'],
    buckets: SECONDS,
    registers,
  });
  const failed = new Counter({
    name: 'hard_ledger_jobs_failed_total',
    help: 'Work of a queue that ended with an error.',
    labelNames: ['queue'],
    registers,
  });
  new Gauge({
    name: 'hard_ledger_jobs_waiting',
    help: 'Work that is queued or being done, by queue and state.',
    labelNames: ['queue', 'state'],
    registers,
    async collect() {
      this.reset();
      // the queue makes its tables when it is first started
      const { rows: there } = await database.pool.query<{ jobs: string | null }>(
        `select to_regclass('jobs.job') as jobs`,
      );
      if (!there[0]?.jobs) return;
      const { rows } = await database.pool.query<{ name: string; state: string; n: number }>(
        `select name, state::text as state, count(*)::int as n from jobs.job where state in ('created', 'retry', 'active') group by 1, 2`,
      );
      for (const { name, state, n } of rows) this.set({ queue: name, state }, n);
    },
  });
  new Gauge({
    name: 'hard_ledger_connections',
    help: 'Connections to the database: all, idle, and those that wait for one.',
    labelNames: ['state'],
    registers,
    collect() {
      const { totalCount, idleCount, waitingCount } = database.pool;
      this.set({ state: 'all' }, totalCount);
      this.set({ state: 'idle' }, idleCount);
      this.set({ state: 'waiting' }, waitingCount);
    },
  });
  new Gauge({
    name: 'hard_ledger_age_seconds',
    help: 'How old the counts of the lists and the check of the set-up are; absent: not yet made.',
    labelNames: ['of'],
    registers,
    collect() {
      this.reset();
      for (const [of, at] of Object.entries(checked())) if (at) this.set({ of }, (Date.now() - Date.parse(at)) / 1000);
    },
  });
  if (replica)
    new Gauge({
      name: 'hard_ledger_replica_lag_seconds',
      help: 'By how much the replica that is read from lags behind; absent: it does not answer.',
      registers,
      async collect() {
        this.remove({});
        const { secondsBehind } = await replica.standing();
        if (secondsBehind !== null) this.set(secondsBehind);
      },
    });
  return {
    observe: (request, response, next) => {
      const end = requests.startTimer({ method: request.method });
      response.on('finish', () => end({ route: routeOf(request), status: String(response.statusCode) }));
      next();
    },
    jobs: (queues) =>
      Object.fromEntries(
        Object.entries(queues).map(([queue, carryOut]) => [
          queue,
          async (id: number) => {
            const end = work.startTimer({ queue });
            try {
              await carryOut(id);
            } catch (error) {
              failed.inc({ queue });
              throw error;
            } finally {
              end();
            }
          },
        ]),
      ),
    text: () => registry.metrics(),
    contentType: registry.contentType,
  };
}

/** The address as it is declared; of pages and files of the interface one for all. */
function routeOf({ route, baseUrl }: Request): string {
  const path = (route as { path?: unknown } | undefined)?.path;
  if (baseUrl === '/api') return typeof path === 'string' ? `/api${path}` : '/api (none)';
  return path === '/healthz' || path === '/metrics' ? path : 'interface';
}

/** What proxies say of who asked them. */
const PAST_A_PROXY = [
  ...['forwarded', 'via', 'x-real-ip', 'true-client-ip', 'cf-connecting-ip', 'x-client-ip', 'x-cluster-client-ip'],
  ...['x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-forwarded-port', 'x-forwarded-server'],
];

/** Whether somebody may read them: who shows the token, where one is set; else who asks from this very machine, past no proxy. */
export function mayReadMetrics(request: Request, token: string | null): boolean {
  if (token === null) {
    const from = request.socket.remoteAddress ?? '';
    return /^(::ffff:)?127\.|^::1$/.test(from) && !PAST_A_PROXY.some((name) => request.get(name) !== undefined);
  }
  const shown = Buffer.from(request.get('authorization') ?? '');
  const right = Buffer.from(`Bearer ${token}`);
  return shown.length === right.length && timingSafeEqual(shown, right);
}
