/** What is said of how far a job of a batch is, and of all together. */
import { counted } from '@noble-prism/core/units';
import type { BatchJob, BatchSummary } from '@noble-prism/wire/batch';
import { SETTLED } from '@noble-prism/wire/batch';
import { progressWords } from '../../bench/progressWords.ts';
import type { BatchUpload } from '../../stores/batchUploads.ts';

export interface StateWords {
  text: string;
  tone: 'good' | 'bad' | 'quiet' | '';
}

/** @param now milliseconds since 1970 */
export function stateWords({ state, progress }: BatchJob, upload: BatchUpload | undefined, now: number): StateWords {
  const under = (what: string) => ({ text: [what, progress && progressWords(progress, now)].filter(Boolean).join(' '), tone: '' as const }); // prettier-ignore
  switch (state) {
    case 'waiting':
      if (upload?.error) return { text: 'did not arrive', tone: 'bad' };
      if (!upload) return { text: 'waits for its file', tone: 'quiet' };
      return upload.sent > 0
        ? { text: `arriving ${Math.floor((100 * upload.sent) / Math.max(1, upload.total))} %`, tone: '' }
        : { text: 'waits to be sent', tone: 'quiet' };
    case 'queued':
      return { text: 'in the queue', tone: 'quiet' };
    case 'reading':
      return under('reading');
    case 'preparing':
      return { text: 'preparing', tone: '' };
    case 'sending':
      return under('sending');
    case 'sent':
      return { text: 'sent, holds ✓', tone: 'good' };
    case 'incomplete':
      return { text: 'sent in part', tone: 'bad' };
    case 'failed':
      return { text: 'failed', tone: 'bad' };
    case 'stopped':
      return { text: 'stopped', tone: 'quiet' };
  }
}

/** `28 sent, 1 in part, 1 failed, 3 to come`; what is none of is not said. */
export function summaryWords({
  sent,
  incomplete,
  failed,
  stopped,
  open,
}: Omit<BatchSummary, 'id' | 'name' | 'made_at' | 'jobs'>): string {
  // prettier-ignore
  const said = [[sent, 'sent'], [incomplete, 'in part'], [failed, 'failed'], [stopped, 'stopped'], [open, 'to come']] as const; // prettier-ignore
  return said.flatMap(([count, word]) => (count > 0 ? `${count} ${word}` : [])).join(', ');
}

/** How many of some jobs are how far. */
export function summaryOf(jobs: readonly BatchJob[]) {
  const count = (state: BatchJob['state']) => jobs.filter((job) => job.state === state).length;
  return {
    sent: count('sent'),
    incomplete: count('incomplete'),
    failed: count('failed'),
    stopped: count('stopped'),
    open: jobs.filter(({ state }) => !SETTLED.includes(state)).length,
  };
}

export const modelsIn = (count: number) => counted(count, 'model');

/** Equal sentences once, with all whom they concern; those of the most first. */
export function gathered<J>(jobs: readonly J[], saidOf: (job: J) => readonly string[]): { text: string; jobs: J[] }[] {
  const by = new Map<string, J[]>();
  for (const job of jobs) for (const text of new Set(saidOf(job))) by.set(text, [...(by.get(text) ?? []), job]);
  return [...by].map(([text, concerned]) => ({ text, jobs: concerned })).sort((a, b) => b.jobs.length - a.jobs.length);
}
