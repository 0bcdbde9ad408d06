import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { createWriteStream, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { DEMO_PASSWORD, PEOPLE } from '../demo/brannholm.ts';

/** What the servers logged, to be read where a run ends badly. */
const SERVER_LOG = path.join(tmpdir(), 'hard-ledger-soak.log');
const ROOT = path.resolve(import.meta.dirname, '..');

/** A database in a folder of its own, that can be ended as if its machine had lost power. */
export class OwnDatabase {
  readonly owner: string;
  readonly use: string;

  constructor(private readonly folder: string) {
    [this.owner, this.use] = this.start();
  }

  /** Starts it, or brings it back after it was killed; the two addresses. */
  start(): [string, string] {
    const out = execFileSync(path.join(ROOT, 'bin/database'), ['start', this.folder], { encoding: 'utf8' });
    const [owner = '', use = ''] = out.trim().split('\n');
    return [owner, use];
  }

  /** Ends every process of it at once, without writing anything down. */
  kill(): void {
    const home = readFileSync(path.join(this.folder, 'location'), 'utf8').trim();
    const pid = Number(readFileSync(path.join(home, 'data/postmaster.pid'), 'utf8').split('\n')[0]);
    process.kill(pid, 'SIGQUIT');
  }

  remove(): void {
    execFileSync(path.join(ROOT, 'bin/database'), ['remove', this.folder]);
  }
}

/** A server as it is started for people, with what it answered badly. */
export class OwnServer {
  private child: ChildProcess | null = null;
  address = '';

  constructor(private readonly database: OwnDatabase) {}

  async start(): Promise<void> {
    const { owner, use } = this.database;
    const env = { ...process.env, DATABASE_URL: use, MIGRATIONS_URL: owner };
    const child = spawn(path.join(ROOT, 'bin/serve'), ['--port', '0', '--log-level', 'error'], {
      env,
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.child = child;
    child.stdout.pipe(createWriteStream(SERVER_LOG, { flags: 'a' }));
    this.address = await new Promise<string>((done, failed) => {
      child.stdout.on('data', (text: Buffer) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(text));
        if (found) done(found[0]);
      });
      child.once('exit', (code) => failed(new Error(`the server ended with ${code}`)));
    });
  }

  async end(signal: 'SIGKILL' | 'SIGTERM'): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((done) => child.once('exit', done));
    child.kill(signal);
    await ended;
  }
}

export interface Answered {
  readonly status: number;
  readonly body: unknown;
  /** How long it took, in milliseconds. */
  readonly ms: number;
}

/** Somebody who is signed in at a server. */
export class Client {
  private cookie = '';
  private token = '';

  constructor(private readonly server: { readonly address: string }) {}

  async signIn(): Promise<this> {
    this.token = ((await this.ask('GET', '/session')).body as { token: string }).token;
    const body = { signIn: PEOPLE[0]!.signIn, password: DEMO_PASSWORD };
    const answer = await this.ask('POST', '/session', body);
    if (answer.status !== 200) throw new Error(`not signed in: ${JSON.stringify(answer.body)}`);
    this.token = (answer.body as { token: string }).token;
    return this;
  }

  async ask(method: string, address: string, body?: unknown): Promise<Answered> {
    const began = performance.now();
    const response = await fetch(`${this.server.address}/api${address}`, {
      method,
      headers: { 'content-type': 'application/json', cookie: this.cookie, 'x-session-token': this.token },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const cookie = response.headers.get('set-cookie')?.split(';')[0];
    if (cookie) this.cookie = cookie;
    const text = await response.text();
    const answer: unknown = text === '' ? null : JSON.parse(text);
    return { status: response.status, body: answer, ms: performance.now() - began };
  }
}
