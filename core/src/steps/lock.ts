/** Step: lock rows in their place, or free them. What is locked is not moved, turned or scaled by later steps. */
import { LOCKED } from '../scene/nodes.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export interface LockParameters {
  lock: 'locked' | 'free';
}

export const lockStep = defineStep<LockParameters>({
  kind: 'lock',
  title: 'Lock',
  purpose: 'Locks rows with all below them, so that nothing moves by accident; or frees them.',
  also: ['freeze', 'protect', 'unlock', 'fix', 'pin'],
  act: 'Lock or free',
  station: 'arrange',
  topic: 'Handle',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    lock: {
      type: 'choice',
      label: 'Rows are',
      called: 'state',
      choices: [
        { value: 'locked', label: 'locked' },
        { value: 'free', label: 'free' },
      ],
    },
  },
  defaults: { lock: 'locked' },

  summary: ({ lock }) => lock,
  counts: () => 'rows',

  apply(edit, rows, { lock }) {
    eachRow(edit.scene, rows, (row) => edit.setFlag(row, LOCKED, lock === 'locked'));
    return { pending: 0, problems: [] };
  },
});
