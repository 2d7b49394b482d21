/** Calls to the server. Errors come back as PrismError, with what the server said. */
import { PrismError } from '@noble-prism/core/errors';
import type { ErrorCode } from '@noble-prism/core/errors';
import type { NamedSource } from '@noble-prism/core/preparation/template';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import type { Progress } from '@noble-prism/core/surroundings';
import type { ReadBack } from '@noble-prism/core/transmit/result';

export interface JobSummary {
  id: string;
  name: string;
  version: number;
  sources: number;
  created_at: string;
  updated_at: string;
  /** Hash of its small picture. */
  picture: string | null;
}

export interface Space {
  used: { files: number; bytes: number };
  uploads: { files: number; bytes: number };
  /** Bytes. */
  database: number;
  latest?: { at: string; freed: { files: number; bytes: number } };
}

/** Metres; the upright angle of the lens in degrees. */
export interface Standpoint {
  from: [number, number, number];
  to: [number, number, number];
  lens: number;
}

/** A preparation kept without sources. */
export interface Template {
  id: string;
  name: string;
  steps: Step[];
  sources: NamedSource[];
  /** Every new job begins with it. */
  every: boolean;
  made_at: string;
}

export interface JobVersion {
  number: number;
  parent: number | null;
  sources: string[];
  steps: Step[];
  note: string;
  made_at: string;
}

export interface ErrorJson {
  code: ErrorCode;
  message: string;
  file?: string;
  where?: string;
}

export interface Source {
  /** Of the slot: what steps and keys say of a source they say of this. */
  id: string;
  /** Of the file received, which is one revision of the slot. */
  upload: string;
  /** Counted from 1. */
  revision: number;
  name: string;
  bytes: number;
  state: 'reading' | 'ready' | 'failed';
  survey: string | null;
  scene: string | null;
  error: ErrorJson | null;
  received_at: string;
}

export interface Task {
  id: string;
  kind: 'read' | 'evaluate' | 'transmit' | 'forecast' | 'compare';
  state: 'queued' | 'running' | 'done' | 'failed' | 'cancelled';
  progress: Progress | null;
  error: ErrorJson | null;
  result: { version?: number; key?: string; transmittal?: string; source?: string } | null;
}

export interface Transmittal {
  id: string;
  version: number;
  target: string;
  /** Name of the files without ending. */
  name: string;
  /** The first is what a receiving tool opens. */
  files: { name: string; mime: string; bytes: number }[];
  parts: number;
  triangles: number;
  read_back: ReadBack;
  made_at: string;
}

/** A source as the server has it: a row for each file received. */
export interface SourceRow extends Omit<Source, 'upload'> {
  slot: string;
}

export interface Job {
  id: string;
  name: string;
  /** Where it is looked at from when it is opened; null frames everything. */
  view: Standpoint | null;
  version: JobVersion;
  newest: number;
  sources: SourceRow[];
  tasks: Task[];
  transmittals: Transmittal[];
}

/** The save was refused: this is the version that is current now. */
export class Conflict extends PrismError {
  constructor(
    message: string,
    readonly current: JobVersion | undefined,
  ) {
    super('conflict', message);
  }
}

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
  } catch {
    throw new PrismError('internal', 'The server does not answer. What was saved is safe; try again when it runs.');
  }
  if (response.ok) return (await response.json()) as T;
  const answer = (await response.json().catch(() => ({}))) as { error?: ErrorJson; current?: JobVersion };
  const { code = 'internal', message = `The server answered ${response.status}.`, file, where } = answer.error ?? {};
  if (response.status === 409) throw new Conflict(message, answer.current);
  throw new PrismError(code, message, { file, where });
}

/** Keys of results that are asked for in one question. */
const KEYS_AT_ONCE = 5000;

export const api = {
  jobs: () => call<JobSummary[]>('GET', '/api/jobs'),
  job: (id: string) => call<Job>('GET', `/api/jobs/${encodeURIComponent(id)}`),
  /** @param template id of one; null for the usual steps; where nothing is said, what every new job begins with */
  makeJob: (name: string, template?: string | null) =>
    call<Job>('POST', '/api/jobs', { name, ...(template === undefined ? {} : { template }) }),
  templates: () => call<Template[]>('GET', '/api/templates'),
  keepTemplate: (template: Pick<Template, 'name' | 'steps' | 'sources'>) =>
    call<Template[]>('POST', '/api/templates', template),
  changeTemplate: (id: string, change: Partial<Pick<Template, 'name' | 'every'>>) =>
    call<Template[]>('PATCH', `/api/templates/${id}`, change),
  deleteTemplate: (id: string) => call<Template[]>('DELETE', `/api/templates/${id}`),
  renameJob: (id: string, name: string) => call<Job>('PATCH', `/api/jobs/${id}`, { name }),
  copyJob: (id: string, name: string) => call<Job>('POST', `/api/jobs/${id}/copy`, { name }),
  deleteJob: (id: string) => call<unknown>('DELETE', `/api/jobs/${id}`),
  /** @param picture JPEG, PNG or WebP as base64 */
  keepPicture: (id: string, picture: string) => call<unknown>('PUT', `/api/jobs/${id}/picture`, { picture }),
  keepView: (id: string, view: Standpoint | null) => call<Job>('PUT', `/api/jobs/${id}/view`, { view }),
  deleteTransmittal: (id: string, transmittal: string) =>
    call<Job>('DELETE', `/api/jobs/${id}/transmittals/${transmittal}`),
  space: () => call<Space>('GET', '/api/space'),
  sweep: () => call<{ freed: Space['used'] }>('POST', '/api/sweep'),
  save: (id: string, version: { base: number; note: string; steps: Step[]; sources: string[] }) =>
    call<Job>('POST', `/api/jobs/${id}/versions`, version),
  undo: (id: string, base: number) => call<Job>('POST', `/api/jobs/${id}/undo`, { base }),
  redo: (id: string, base: number) => call<Job>('POST', `/api/jobs/${id}/redo`, { base }),
  evaluate: (id: string) => call<{ task: string }>('POST', `/api/jobs/${id}/evaluate`),
  /** Results that are known, some thousand keys at a time: the server takes no more, and the first ones need not wait for the last. */
  async *results(id: string, keys: string[]): AsyncGenerator<Record<string, unknown>> {
    for (let at = 0; at < keys.length; at += KEYS_AT_ONCE)
      yield await call<Record<string, unknown>>('POST', `/api/jobs/${id}/results`, {
        keys: keys.slice(at, at + KEYS_AT_ONCE),
      });
  },
  cancel: (task: string) => call<unknown>('POST', `/api/tasks/${task}/cancel`),
  /** @param angle radians */
  forecast: (id: string, angle: number) => call<{ task: string }>('POST', `/api/jobs/${id}/forecast`, { angle }),
  want: (id: string, keys: string[]) => call<unknown>('POST', `/api/jobs/${id}/want`, { keys }),
  compare: (id: string, part: string, settings: TessellateParameters[]) =>
    call<{ task: string }>('POST', `/api/jobs/${id}/compare`, { part, settings }),
  send: (id: string, what: { target: string; name: string; version: number }) =>
    call<{ task: string }>('POST', `/api/jobs/${id}/transmittals`, what),
};

/** Bytes of a blob; the browser keeps them for ever. @throws PrismError `missing-blob` */
export async function fetchBlob(hash: string): Promise<Uint8Array> {
  const response = await fetch(`/api/blobs/${hash}`);
  if (!response.ok) throw new PrismError('missing-blob', 'Geometry is missing on the server.');
  return new Uint8Array(await response.arrayBuffer());
}
