/** How far a job of a batch is, from what is known of it. */
import type { SentFile, SentOutput } from '@noble-prism/wire/job';
import type { ErrorJson, TaskKind, TaskState } from '@noble-prism/wire/task';
import type { BatchJob } from '@noble-prism/wire/batch';
import type { Progress } from '@noble-prism/core/surroundings';

interface Known {
  /** Of its current version. */
  sources: readonly { name: string; state: 'reading' | 'ready' | 'failed'; error: ErrorJson | null }[];
  /** Oldest first. */
  tasks: readonly { kind: TaskKind; state: TaskState; progress: Progress | null; error: ErrorJson | null }[];
  /** The latest transmittal. */
  sent?: { id: string; files: SentFile[]; outputs: SentOutput[]; folder: string | null };
}

export function batchJob(
  {
    id,
    name,
    sends,
    picture,
  }: { id: string; name: string; sends: 'waits' | 'asked' | 'stopped' | null; picture: string | null },
  { sources, tasks, sent }: Known,
): BatchJob {
  // One whose reading was stopped can be read again: that is no fault of it.
  const isGivenUp = ({ state, error }: Known['sources'][number]) => state === 'failed' && error?.code === 'cancelled';
  const failedSources = sources.filter((source) => source.state === 'failed' && !isGivenUp(source));
  const base = {
    job: id,
    name,
    picture,
    sources: sources.map((source) => source.name),
    sendable: failedSources.length < sources.length,
    progress: null,
    error: null,
    problems: failedSources.map(({ name: file, error }) => messageOf(file, error)),
  };
  const last = (kind: TaskKind) => tasks.findLast((task) => task.kind === kind);
  const transmit = last('transmit');
  if (sends === 'asked' && transmit) {
    if (transmit.state === 'queued') return { ...base, state: 'queued' };
    if (transmit.state === 'running') return { ...base, state: 'sending', progress: transmit.progress };
    if (transmit.state === 'cancelled') return { ...base, state: 'stopped' };
    if (transmit.state === 'failed') return { ...base, state: 'failed', error: transmit.error };
    if (sent) return { ...base, ...sentJob(sent, base.problems) };
  }
  if (sends === 'stopped') return { ...base, state: 'stopped' };
  if (sources.length === 0) return { ...base, state: 'waiting' };
  if (failedSources.length === sources.length) return { ...base, state: 'failed', error: failedSources[0].error };
  if (sources.some(isGivenUp)) return { ...base, state: 'stopped' };
  // One that was given up leaves its source as it was; what was queued since counts alone.
  const read = last('read');
  if (read?.state === 'failed') return { ...base, state: 'failed', error: read.error };
  const running = tasks.find(({ kind, state }) => kind === 'read' && state === 'running');
  if (running) return { ...base, state: 'reading', progress: running.progress };
  return { ...base, state: sources.some(({ state }) => state === 'reading') ? 'queued' : 'preparing' };
}

function sentJob({ id, files, outputs, folder }: NonNullable<Known['sent']>, before: readonly string[]) {
  const problems = [
    ...before,
    // The same of all targets: it is said once.
    ...new Set(outputs.flatMap(({ notInFull = [] }) => notInFull)),
    ...outputs.flatMap(({ name, piece, error, readBack }) => {
      const what = piece === undefined ? name : `${name}, ${piece}`;
      if (error) return `${what}: not written: ${error.message}`;
      return readBack?.holds ? [] : `${what}: differs: ${readBack?.differences.join('; ') ?? ''}`;
    }),
  ];
  // What is over a limit was sent all the same, and holds.
  const over = outputs.flatMap(({ name, piece, overLimits = [] }) => overLimits.map((words) => `${piece === undefined ? name : `${name}, ${piece}`}: ${words}`)); // prettier-ignore
  // All targets are of the same scene: what the largest of them holds.
  const most = (figure: 'parts' | 'triangles') => Math.max(0, ...outputs.map((output) => output[figure] ?? 0));
  return {
    state: problems.length === 0 ? ('sent' as const) : ('incomplete' as const),
    problems: [...problems, ...over],
    parts: most('parts'),
    triangles: most('triangles'),
    files: files.length,
    bytes: files.reduce((sum, { bytes }) => sum + bytes, 0),
    transmittal: id,
    ...(folder === null ? {} : { folder }),
  };
}

/** Names the file once. */
function messageOf(file: string, error: ErrorJson | null): string {
  const message = error?.message ?? 'not read';
  return message.includes(file) ? message : `${file}: ${message}`;
}
