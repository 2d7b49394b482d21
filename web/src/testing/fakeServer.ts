/** The server as the page sees it, in memory: versions on top of versions, refusals, undo and redo, events. For tests of the stores. */
import type { Target } from '@noble-prism/core/transmit/targets/target';
import type { Job, JobVersion, SourceRow } from '@noble-prism/wire/job';
import type { JobEvent, Task } from '@noble-prism/wire/task';

type Body = { base: number; note: string; steps: JobVersion['steps']; sources: string[]; keys?: string[] };

export class FakeServer {
  readonly versions: JobVersion[] = [
    { number: 1, parent: null, sources: [], steps: [], note: 'New job', made_at: '2026-01-01' },
  ];
  current = 1;
  sources: SourceRow[] = [];
  tasks: Task[] = [];
  readonly #blobs = new Map<string, Uint8Array>();
  results: Record<string, unknown> = {};
  /** Requests in their order: `POST versions on 1`. */
  readonly log: string[] = [];
  /** How many of the next saves fail without an answer. */
  failing = 0;
  /** How many of the next saves are made, and their answers lost. */
  losing = 0;
  /** What saves are answered with instead. */
  refusing: { status: number; code: string; message: string } | undefined;
  targets: Target[] = [];
  /** Waited for before a save is answered. */
  gate: Promise<void> = Promise.resolve();

  get job(): Job {
    const version = this.#version(this.current);
    const newest = this.versions.filter(({ parent }) => parent === this.current).at(-1)?.number ?? this.current;
    return {
      id: 'j',
      name: 'Job',
      view: null,
      version,
      newest,
      sources: this.sources,
      tasks: this.tasks,
      targets: this.targets,
      transmittals: [],
    };
  }

  #version(number: number): JobVersion {
    return this.versions.find((version) => version.number === number) as JobVersion;
  }

  /** A version that somebody else saves. */
  append(body: Pick<Body, 'note' | 'steps'> & Partial<Body>): JobVersion {
    const { sources } = this.#version(this.current);
    const version = { number: this.versions.length + 1, parent: this.current, sources, made_at: '', ...body };
    this.versions.push(version);
    this.current = version.number;
    return version;
  }

  /** A source that has been read: its scene as it is stored. */
  has(id: string, scene: Uint8Array): void {
    this.#blobs.set(`scene-${id}`, scene);
    this.sources.push({
      id,
      slot: id,
      revision: 1,
      name: 'test.stp',
      bytes: 1,
      state: 'ready',
      survey: null,
      scene: `scene-${id}`,
      error: null,
      received_at: '2026-01-01',
    });
  }

  /** Stands in for `fetch`. */
  fetch = async (
    path: string,
    { method = 'GET', body }: { method?: string; body?: string } = {},
  ): Promise<Response> => {
    const sent = (body ? JSON.parse(body) : {}) as Body;
    const what = path.split('/').at(-1) as string;
    this.log.push(`${method} ${what}${sent.base === undefined ? '' : ` on ${sent.base}`}`);
    const blob = method === 'GET' && this.#blobs.get(what);
    if (blob) return new Response(blob as Uint8Array<ArrayBuffer>);
    // Nobody has made any.
    if (what === 'materials') return Response.json([]);
    if (method === 'GET') return Response.json(this.job);
    if (what === 'results')
      return Response.json(
        Object.fromEntries(Object.entries(this.results).filter(([key]) => sent.keys?.includes(key))),
      );
    await this.gate;
    if (this.failing > 0) {
      this.failing--;
      throw new TypeError('fetch failed');
    }
    if (sent.base !== undefined && sent.base !== this.current)
      return Response.json(
        {
          error: { code: 'conflict', message: 'Somebody saved in the meantime.' },
          current: this.#version(this.current),
        },
        { status: 409 },
      );
    if (this.refusing) {
      const { status, ...error } = this.refusing;
      return Response.json({ error }, { status });
    }
    if (what === 'versions') this.append(sent);
    else if (what === 'undo') this.current = this.#version(this.current).parent ?? this.current;
    else if (what === 'redo') this.current = this.job.newest;
    if (this.losing > 0) {
      this.losing--;
      throw new TypeError('fetch failed');
    }
    return Response.json(this.job);
  };
}

/** Stands in for the browser's stream of events; the latest one made is `FakeEvents.latest`. */
export class FakeEvents {
  static latest: FakeEvents;
  onmessage?: (event: { data: string }) => void;
  onerror?: () => void;
  closed = false;
  readonly #listeners = new Map<string, () => void>();

  constructor(readonly url: string) {
    FakeEvents.latest = this;
  }

  addEventListener(name: string, listener: () => void): void {
    this.#listeners.set(name, listener);
  }

  /** What the connection does: `open`, or `resync` where the server has lost count. */
  happens(name: 'open' | 'resync'): void {
    this.#listeners.get(name)?.();
  }

  says(event: JobEvent): void {
    this.onmessage?.({ data: JSON.stringify(event) });
  }

  close(): void {
    this.closed = true;
  }
}
