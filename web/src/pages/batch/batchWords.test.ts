import { expect, it } from 'vitest';
import type { BatchJob, BatchState } from '@noble-prism/wire/batch';
import { gathered, stateWords, summaryOf, summaryWords } from './batchWords.ts';

const job = (state: BatchState, change: Partial<BatchJob> = {}): BatchJob => ({ job: 'j', name: 'n', picture: null, sources: [], sendable: true, state, progress: null, error: null, problems: [], ...change }); // prettier-ignore
const cancel = () => {};

it('says how far a file is on its way, and what waits for nobody', () => {
  expect(stateWords(job('waiting'), undefined, 0).text).toBe('waits for its file');
  expect(stateWords(job('waiting'), { sent: 0, total: 200, cancel }, 0).text).toBe('waits to be sent');
  expect(stateWords(job('waiting'), { sent: 90, total: 200, cancel }, 0).text).toBe('arriving 45 %');
  expect(stateWords(job('waiting'), { sent: 90, total: 200, error: 'gone', cancel }, 0)).toMatchObject({ tone: 'bad' });
});

it('says what is done and for how long', () => {
  const progress = { what: 'Writing', done: 2, total: 9, since: 1000 };
  expect(stateWords(job('sending', { progress }), undefined, 4000).text).toBe('sending 2 of 9 · 3 s');
});

it('sums up without saying what there is none of', () => {
  const jobs = [job('sent'), job('sent'), job('failed'), job('reading'), job('waiting')];
  expect(summaryWords(summaryOf(jobs))).toBe('2 sent, 1 failed, 2 to come');
});

it('says once what concerns many', () => {
  const jobs = [job('failed', { name: 'a', problems: ['too thin', 'too thin'] }), job('failed', { name: 'b', problems: ['open', 'too thin'] })]; // prettier-ignore
  const said = gathered(jobs, ({ problems }) => problems).map(({ text, jobs: of }) => [
    text,
    of.map(({ name }) => name),
  ]);
  expect(said).toEqual([['too thin', ['a', 'b']], ['open', ['b']]]); // prettier-ignore
});
