/** Changes told to every process by PostgreSQL's NOTIFY, and heard again after a lost connection. */
import { sql } from 'kysely';
import pg from 'pg';
import type { Db } from './connect.ts';
import type { JobEvent } from '@noble-prism/wire/task';

const CHANNEL = 'noble_prism';
/** PostgreSQL refuses longer messages (8000 bytes, of which letters of other alphabets take several each). */
const MAX_PAYLOAD = 7500;

const fits = (payload: string) => Buffer.byteLength(payload) <= MAX_PAYLOAD;

export async function tell(db: Db, event: JobEvent): Promise<void> {
  let payload = JSON.stringify(event);
  if (!fits(payload) && event.type === 'result') payload = JSON.stringify({ ...event, value: undefined });
  if (!fits(payload)) payload = JSON.stringify({ type: 'job', job: event.job });
  await sql`select pg_notify(${CHANNEL}, ${payload})`.execute(db);
}

/** Hears events until closed. */
export class Listener {
  #client: pg.Client | undefined;
  #closed = false;
  #retry: NodeJS.Timeout | undefined;

  constructor(
    readonly databaseUrl: string,
    readonly hear: (event: JobEvent) => void,
    /** Called after each (re)connection: what was missed must be looked up. */
    readonly connected: () => void = () => {},
  ) {}

  async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.databaseUrl });
    client.on('notification', ({ payload }) => payload && this.hear(JSON.parse(payload) as JobEvent));
    client.on('error', () => this.#reopen(client));
    client.on('end', () => this.#reopen(client));
    this.#client = client;
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
    this.connected();
  }

  #reopen(client: pg.Client): void {
    if (this.#closed || this.#client !== client) return;
    this.#client = undefined;
    this.#retry = setTimeout(() => this.open().catch(() => this.#client && this.#reopen(this.#client)), 500);
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#retry);
    await this.#client?.end().catch(() => {});
  }
}
