/** Calls to the server. Errors come back as PrismError, with what the server said. */
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import { PrismError } from '@noble-prism/core/errors';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { TessellateParameters } from '@noble-prism/core/steps/tessellate';
import type { TransmittalManifest } from '@noble-prism/core/transmit/manifest';
import type { Target } from '@noble-prism/core/transmit/targets/target';
import type {
  Job,
  JobSummary,
  JobVersion,
  SourceRow,
  Standpoint,
  Template,
  TransmitOrder,
} from '@noble-prism/wire/job';
import type { Batch, BatchOrder, BatchSummary } from '@noble-prism/wire/batch';
import type { Space } from '@noble-prism/wire/space';
import type { ErrorJson } from '@noble-prism/wire/task';

/** A source of the job, under the id of its slot: what steps and keys say of a source they say of this. */
export interface Source extends Omit<SourceRow, 'slot'> {
  /** Of the file received, which is one revision of the slot. */
  upload: string;
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

/** The server cannot be reached, or cannot do its work at the moment: the same may be asked again. */
export class Unreachable extends PrismError {
  constructor(message: string) {
    super('internal', message);
  }
}

/** How often, and after how many milliseconds. */
const [AGAIN, AGAIN_AFTER] = [5, 1500];

async function call<T>(method: string, path: string, body?: unknown, again = AGAIN): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
  } catch {
    throw new Unreachable('The server does not answer. What was saved is safe; try again when it runs.');
  }
  if (response.ok) return (await response.json()) as T;
  // Not available for the moment: what only asks is asked again by itself.
  if (response.status === 503 && method === 'GET' && again > 0) {
    await new Promise((resolve) => setTimeout(resolve, AGAIN_AFTER));
    return call<T>(method, path, body, again - 1);
  }
  const answer = (await response.json().catch(() => ({}))) as { error?: ErrorJson; current?: JobVersion };
  const { code = 'internal', message = `The server answered ${response.status}.`, file, where } = answer.error ?? {};
  if (response.status === 409) throw new Conflict(message, answer.current);
  if (response.status >= 500) throw new Unreachable(message);
  throw new PrismError(code, message, { file, where });
}

/** Keys of results that are asked for in one question. */
const KEYS_AT_ONCE = 5000;
/** Solids of which what is exact is asked for in one question. */
export const SOLIDS_AT_ONCE = 64;

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
  materials: () => call<OwnMaterial[]>('GET', '/api/materials'),
  keepMaterial: (own: OwnMaterial) => call<OwnMaterial[]>('PUT', '/api/materials', own),
  deleteMaterial: (id: string) => call<OwnMaterial[]>('DELETE', `/api/materials/${encodeURIComponent(id)}`),
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
  /** Has the work of steps done that are not saved. */
  tryOut: (id: string, steps: Step[]) => call<{ task: string }>('POST', `/api/jobs/${id}/try`, { steps }),
  /** @param solids by hash, at most {@link SOLIDS_AT_ONCE} */
  exact: (id: string, solids: string[]) => call<{ task: string }>('POST', `/api/jobs/${id}/exact`, { solids }),
  keepTargets: (id: string, targets: Target[]) => call<Job>('PUT', `/api/jobs/${id}/targets`, { targets }),
  manifest: (transmittal: string) => call<TransmittalManifest>('GET', `/api/transmittals/${transmittal}/manifest`),
  batches: () => call<BatchSummary[]>('GET', '/api/batches'),
  batch: (id: string) => call<Batch>('GET', `/api/batches/${encodeURIComponent(id)}`),
  makeBatch: (order: BatchOrder) => call<Batch>('POST', '/api/batches', order),
  /** @param jobs some of them; all that are through where nothing is said */
  sendBatch: (id: string, jobs?: string[]) => call<Batch>('POST', `/api/batches/${id}/send`, jobs ? { jobs } : {}),
  stopBatch: (id: string) => call<Batch>('POST', `/api/batches/${id}/stop`),
  deleteBatch: (id: string, withJobs: boolean) => call<unknown>('DELETE', `/api/batches/${id}?jobs=${withJobs}`),
  send: (id: string, what: TransmitOrder) => call<{ task: string }>('POST', `/api/jobs/${id}/transmittals`, what),
};

/** Bytes of a blob; the browser keeps them for ever. @throws PrismError `missing-blob` */
export async function fetchBlob(hash: string): Promise<Uint8Array> {
  const response = await fetch(`/api/blobs/${hash}`);
  if (!response.ok) throw new PrismError('missing-blob', 'Geometry is missing on the server.');
  return new Uint8Array(await response.arrayBuffer());
}
