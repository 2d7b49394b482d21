/** Server-sent events: hears what happens to jobs and passes it on to the pages that watch them. */
import { PassThrough } from 'node:stream';
import { Listener } from '../db/events.ts';
import type { JobEvent } from '@noble-prism/wire/task';

/** Comment lines keep proxies and browsers from closing a silent stream. */
const KEEP_ALIVE = 15_000;

export class EventHub {
  readonly #streams = new Map<string, Set<PassThrough>>();
  readonly #listener: Listener;
  readonly #timer: NodeJS.Timeout;

  constructor(databaseUrl: string) {
    this.#listener = new Listener(
      databaseUrl,
      (event) => this.#pass(event),
      // After a lost connection the pages ask again for everything.
      () => this.#all((stream) => stream.write('event: resync\ndata: {}\n\n')),
    );
    this.#timer = setInterval(() => this.#all((stream) => stream.write(': still here\n\n')), KEEP_ALIVE);
  }

  open(): Promise<void> {
    return this.#listener.open();
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    this.#all((stream) => stream.end());
    await this.#listener.close();
  }

  /** A stream of the events of one job; it is forgotten when the page goes. */
  watch(job: string): PassThrough {
    const stream = new PassThrough();
    const streams = this.#streams.get(job) ?? new Set();
    this.#streams.set(job, streams.add(stream));
    const forget = () => streams.delete(stream);
    stream.on('close', forget);
    stream.on('error', forget);
    stream.write('event: open\ndata: {}\n\n');
    return stream;
  }

  #all(visit: (stream: PassThrough) => void): void {
    for (const streams of this.#streams.values()) for (const stream of streams) visit(stream);
  }

  #pass(event: JobEvent): void {
    if (event.type === 'queued' || event.type === 'cancel') return;
    for (const stream of this.#streams.get(event.job) ?? []) stream.write(`data: ${JSON.stringify(event)}\n\n`);
  }
}
