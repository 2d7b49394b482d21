import { expect, it } from 'vitest';
import { batchJob } from './batchState.ts';

type Known = Parameters<typeof batchJob>[1];
const source = (state: 'reading' | 'ready' | 'failed', code?: 'cancelled' | 'not-readable') => ({ name: 'a.stp', state, error: code ? { code, message: 'a.stp: no' } : null }); // prettier-ignore
const task = (kind: 'read' | 'transmit', state: 'queued' | 'running' | 'done' | 'failed' | 'cancelled') => ({ kind, state, progress: null, error: null }); // prettier-ignore
const sent = { id: 't', files: [], outputs: [], folder: null };

const cut = { name: 'Web', settings: {}, way: {}, files: ['a.glb'], readBack: { holds: true, differences: [], checks: [] }, notInFull: ['a.stp was not read in full: it ends early.'] }; // prettier-ignore

it('is sent in part where a source was not read in full, which is said once for all targets', () => {
  const known = { sources: [source('ready')], tasks: [task('transmit', 'done')], sent: { ...sent, outputs: [cut, { ...cut, name: 'Print' }] } }; // prettier-ignore
  const { state, problems } = batchJob(
    { id: 'j', name: 'a', sends: 'asked', picture: null },
    known as unknown as Known,
  );
  expect([state, problems]).toEqual(['incomplete', cut.notInFull]);
});

it.each<[string, 'waits' | 'asked' | 'stopped', Partial<Known>]>([
  ['waiting', 'waits', {}],
  ['queued', 'waits', { sources: [source('reading')], tasks: [task('read', 'queued')] }],
  ['reading', 'waits', { sources: [source('reading')], tasks: [task('read', 'running')] }],
  ['preparing', 'waits', { sources: [source('ready')], tasks: [task('read', 'done')] }],
  ['failed', 'waits', { sources: [source('failed', 'not-readable')], tasks: [task('read', 'failed')] }],
  // Stopped while it was read: to be read again, whichever is known first.
  ['stopped', 'waits', { sources: [source('failed', 'cancelled')], tasks: [task('read', 'cancelled')] }],
  ['stopped', 'stopped', { sources: [source('failed', 'cancelled')], tasks: [task('read', 'cancelled')] }],
  ['queued', 'waits', { sources: [source('reading')], tasks: [task('read', 'cancelled'), task('read', 'queued')] }],
  ['queued', 'asked', { sources: [source('ready')], tasks: [task('transmit', 'queued')] }],
  ['sending', 'asked', { sources: [source('ready')], tasks: [task('transmit', 'running')] }],
  ['stopped', 'asked', { sources: [source('ready')], tasks: [task('transmit', 'cancelled')] }],
  ['failed', 'asked', { sources: [source('ready')], tasks: [task('transmit', 'failed')] }],
  ['sent', 'asked', { sources: [source('ready')], tasks: [task('transmit', 'done')], sent }],
  ['incomplete', 'asked', { sources: [source('ready'), source('failed', 'not-readable')], tasks: [task('transmit', 'done')], sent }],
])('is %s where it %s and this is known of it', (state, sends, known) => {
  expect(batchJob({ id: 'j', name: 'a', sends, picture: null }, { sources: [], tasks: [], ...known }).state).toBe(state);
}); // prettier-ignore
