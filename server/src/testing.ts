/** Starts a server of its own for a test: fresh database, fresh folder, worker included; and talks to it. */
import { spawn } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { Upload } from 'tus-js-client';
import { unpackScene } from '@noble-prism/core/scene/sceneFile';
import { programFile } from '@noble-prism/node/programs';
import type { Scene } from '@noble-prism/core/scene/types';
import { connect, migrate } from './db/connect.ts';
import type { Db } from './db/connect.ts';

/** Address of the test cluster. */
function cluster(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set: run the tests with "npm test", which starts PostgreSQL.');
  return url;
}

async function administer(statement: string): Promise<void> {
  const admin = new pg.Client({ connectionString: cluster() });
  await admin.connect();
  await admin.query(statement);
  await admin.end();
}

/** A database of its own, empty. */
export async function emptyDatabase(): Promise<{ url: string; drop(): Promise<void> }> {
  const { database, url } = await freshDatabase();
  return { url, drop: () => dropDatabase(database) };
}

async function freshDatabase(): Promise<{ database: string; url: string }> {
  const database = `test_${randomUUID().replaceAll('-', '')}`;
  await administer(`create database ${database}`);
  return { database, url: cluster().replace(/\/[^/]*$/, `/${database}`) };
}

const dropDatabase = (database: string) => administer(`drop database if exists ${database} with (force)`);

/** A database with all tables, for tests of what needs no server. */
export async function testDatabase(): Promise<{ db: Db; drop(): Promise<void> }> {
  const { url, drop } = await emptyDatabase();
  const db = connect(url);
  await migrate(db);
  return {
    db,
    async drop() {
      await db.destroy();
      await drop();
    },
  };
}

async function freePort(): Promise<number> {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as AddressInfo;
  await new Promise((resolve) => server.close(resolve));
  return port;
}

export interface Answer<T = never> {
  status: number;
  body: T;
}

/** Takes a database away from those who use it, as a restart of the server does or a network that fails, and gives it back. */
export class DatabaseGate {
  constructor(readonly database: string) {}

  /** Ends all connections, once. */
  async cut(): Promise<void> {
    await administer(`select pg_terminate_backend(pid) from pg_stat_activity where datname = '${this.database}'`);
  }

  /** Ends all connections, and lets none be made. */
  async shut(): Promise<void> {
    await administer(`alter database ${this.database} allow_connections false`);
    await this.cut();
  }

  async open(): Promise<void> {
    await administer(`alter database ${this.database} allow_connections true`);
  }
}

export class TestServer {
  process: ChildProcess | undefined;

  private constructor(
    readonly port: number,
    readonly dataDir: string,
    readonly databaseUrl: string,
    readonly database: string,
    /** Folder of the built interface; the API alone where it is empty. */
    readonly webDir: string,
  ) {}

  static async start(webDir = ''): Promise<TestServer> {
    const { database, url } = await freshDatabase();
    const dataDir = await mkdtemp(join(tmpdir(), 'noble-prism-test-'));
    const server = new TestServer(await freePort(), dataDir, url, database, webDir);
    await server.launch();
    return server;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** Starts the processes (again); resolves when the server answers. */
  async launch(): Promise<void> {
    const child = spawn(process.execPath, [programFile('server')], {
      env: {
        ...process.env,
        DATABASE_URL: this.databaseUrl,
        DATA_DIR: this.dataDir,
        PORT: String(this.port),
        WEB_DIR: this.webDir,
        LOG_LEVEL: 'fatal',
        // Several servers are tested side by side: a second kernel takes longer to start than it helps.
        THREADS: '1',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    this.process = child;
    await new Promise<void>((resolve, reject) => {
      child.stdout?.once('data', () => resolve());
      child.once('exit', (code) => reject(new Error(`The server ended with ${code}.`)));
    });
  }

  /** Kills the server as a power cut would. */
  async kill(): Promise<void> {
    const child = this.process;
    if (!child || child.exitCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGKILL');
    await gone;
  }

  async stop(): Promise<void> {
    await this.kill();
    // The worker notices that its server is gone; the database can be dropped when its connections are.
    await dropDatabase(this.database);
    await rm(this.dataDir, { recursive: true, force: true });
  }

  /** A stored scene, as a page reads it. */
  async scene(hash: string): Promise<Scene> {
    const blob = async (name: string) =>
      new Uint8Array(await (await fetch(`${this.url}/api/blobs/${name}`)).arrayBuffer());
    return unpackScene(await blob(hash), async (survey) => unpackScene(await blob(survey)));
  }

  async call<T = never>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await fetch(`${this.url}${path}`, {
      method,
      headers: { ...(body === undefined ? {} : { 'Content-Type': 'application/json' }), ...headers },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    return { status: response.status, body: (await response.json()) as T };
  }

  /** Changes what only time would change. */
  async query(text: string): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl });
    await client.connect();
    await client.query(text);
    await client.end();
  }

  /** What a page hears of a job. */
  async events(job: string): Promise<{ until(what: RegExp): Promise<void>; close(): void }> {
    const aborted = new AbortController();
    const response = await fetch(`${this.url}/api/jobs/${job}/events`, { signal: aborted.signal });
    let heard = '';
    const hearing = (async () => {
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>)
        heard += Buffer.from(chunk).toString();
    })().catch(() => {});
    return {
      async until(what) {
        for (let tries = 0; tries < 200 && !what.test(heard); tries++)
          await new Promise((resolve) => setTimeout(resolve, 50));
        if (!what.test(heard)) throw new Error(`${what} was not heard, but ${heard}`);
      },
      close() {
        aborted.abort();
        void hearing;
      },
    };
  }

  async makeJob(name = 'Job'): Promise<TestJob> {
    return (await this.call<TestJob>('POST', '/api/jobs', { name })).body;
  }

  async job(id: string): Promise<TestJob> {
    return (await this.call<TestJob>('GET', `/api/jobs/${id}`)).body;
  }

  /** @param slot source that it is a new revision of */
  upload(job: string, name: string, bytes: Uint8Array, slot?: string): Promise<void> {
    return new Promise((resolve, reject) => {
      new Upload(Buffer.from(bytes) as never, {
        endpoint: `${this.url}/api/uploads`,
        metadata: { filename: name, job, ...(slot ? { slot } : {}) },
        retryDelays: null,
        uploadSize: bytes.length,
        onSuccess: () => resolve(),
        onError: reject,
      }).start();
    });
  }

  /** Asks again until the job is as wanted. */
  async until(id: string, wanted: (job: TestJob) => boolean, seconds = 45): Promise<TestJob> {
    const end = Date.now() + seconds * 1000;
    for (;;) {
      const job = await this.job(id).catch(() => undefined);
      if (job && wanted(job)) return job;
      if (Date.now() > end)
        throw new Error(`The job did not get there: ${JSON.stringify(job?.tasks)} ${JSON.stringify(job?.sources)}`);
      await new Promise((resolve) => setTimeout(resolve, 80));
    }
  }

  /** Process ids below a process, deepest last. */
  async children(pid = this.process?.pid): Promise<number[]> {
    const { readFile } = await import('node:fs/promises');
    const list = await readFile(`/proc/${pid}/task/${pid}/children`, 'utf8').catch(() => '');
    const direct = list.trim().split(' ').filter(Boolean).map(Number);
    return [...direct, ...(await Promise.all(direct.map((child) => this.children(child)))).flat()];
  }
}

export interface TestJob {
  id: string;
  name: string;
  version: { number: number; parent: number | null; sources: string[]; steps: TestStep[]; note: string };
  newest: number;
  sources: {
    id: string;
    slot: string;
    revision: number;
    name: string;
    state: string;
    blob: string;
    scene: string | null;
    survey: string | null;
    error: { message: string; file?: string } | null;
  }[];
  tasks: {
    id: string;
    kind: string;
    state: string;
    error: { message: string } | null;
    result: Record<string, unknown> | null;
    progress: { done: number; total: number } | null;
  }[];
  targets: { id: string; name: string; on: boolean; settings: Record<string, unknown> }[];
  transmittals: {
    id: string;
    name: string;
    files: { name: string; mime: string; bytes: number }[];
    folder: string | null;
    outputs: {
      name: string;
      files: string[];
      parts?: number;
      triangles?: number;
      readBack?: { holds: boolean };
      error?: { code: string };
    }[];
  }[];
}

export interface TestStep {
  id: string;
  kind: string;
  on: boolean;
  selector: object;
  parameters: Record<string, unknown>;
}
