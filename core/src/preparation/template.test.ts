// Steps that go to another job.
import { expect, it } from 'vitest';
import type { Selector } from '../select/select.ts';
import type { Step } from '../steps/kinds.ts';
import { slotsIn, stepsFor } from './template.ts';

const step = (selector: Selector): Step => ({
  id: 'a',
  kind: 'rename',
  on: true,
  selector,
  parameters: { name: 'x', of: 'picked' },
});
const from = [
  { id: 'f1', name: 'drive.stp' },
  { id: 'f2', name: 'hall.ifc' },
];
const to = [{ id: 't9', name: 'drive.stp' }];

it.each<[string, Selector, Selector]>([
  [
    'a rule about a source to that of the same name',
    { by: 'source', sources: ['f1'] },
    { by: 'source', sources: ['t9'] },
  ],
  [
    'picked rows to those of the same path',
    { by: 'picked', keys: ['f1:/A/B: left'] },
    { by: 'picked', keys: ['t9:/A/B: left'] },
  ],
  ['what is not there nowhere', { by: 'source', sources: ['f2'] }, { by: 'source', sources: ['f2'] }],
  ['other rules as they are', { by: 'layer', layers: ['f1'] }, { by: 'layer', layers: ['f1'] }],
  [
    'rules inside rules too',
    { by: 'and', of: [{ by: 'source', sources: ['f1', 'f2'] }, { by: 'all' }] },
    { by: 'and', of: [{ by: 'source', sources: ['t9', 'f2'] }, { by: 'all' }] },
  ],
])('take %s', (_, before, after) => expect(stepsFor([step(before)], from, to)[0].selector).toEqual(after));

it('parameters that name a row lead to that of the same path', () => {
  const attach: Step = { ...step({ by: 'all' }), kind: 'attach', parameters: { to: 'f1:/A/Motor' } };
  expect(stepsFor([attach], from, to)[0].parameters).toEqual({ to: 't9:/A/Motor' });
  const free: Step = { ...attach, parameters: {} };
  expect(stepsFor([free], from, to)[0].parameters).toEqual({});
});

it('points that were picked on a part lead to the part of the same path, in every field of a kind', () => {
  const spot = (on?: string) => ({ at: [1, 2, 3], axis: [0, 0, 1], what: 'axis', ...(on ? { on } : {}) });
  const link: Step = {
    ...step({ by: 'all' }),
    kind: 'link',
    parameters: { name: 'X', as: 'hinge', part: 'f1:/A/Crank', base: 'f1:/A/Body', axis: spot('f1:/A/Crank/Shaft') },
  };
  expect(stepsFor([link], from, to)[0].parameters).toEqual({
    ...link.parameters,
    part: 't9:/A/Crank',
    base: 't9:/A/Body',
    axis: spot('t9:/A/Crank/Shaft'),
  });
  const measure: Step = { ...link, kind: 'measure', parameters: { name: 'M', of: 'distance', a: spot('f1:/A'), b: spot() } };
  expect(stepsFor([measure], from, to)[0].parameters).toEqual({ ...measure.parameters, a: spot('t9:/A') });
}); // prettier-ignore

it('slots that steps say something of are told: of rules, of rules in rules, and of parameters', () => {
  const attach: Step = { ...step({ by: 'all' }), kind: 'attach', parameters: { to: 'f3:/A' } };
  const steps = [step({ by: 'source', sources: ['f1'] }), step({ by: 'not', of: [{ by: 'picked', keys: ['f2:/A'] }] }), attach]; // prettier-ignore
  expect([...slotsIn(steps)].sort()).toEqual(['f1', 'f2', 'f3']);
  expect(slotsIn([step({ by: 'layer', layers: ['f1'] })]).size).toBe(0);
});
