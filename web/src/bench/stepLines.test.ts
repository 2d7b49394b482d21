// The list of steps in words: what is found in it, what stands first in the strip.
import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, expect, it } from 'vitest';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { SceneNode } from '@noble-prism/core/scene/types';
import { stepKind } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { useJob } from '../stores/job.ts';
import { linesWith, stationFirst, useStepLines } from './stepLines.ts';

const step = (id: string, kind: string, layer?: string): Step => ({
  id,
  kind,
  on: true,
  selector: layer ? { by: 'layer', layers: [layer] } : { by: 'all' },
  parameters: stepKind(kind).defaults,
});
const report = (id: string, triangles: number, problems: string[] = []): StepReport => ({
  id, kind: '', on: true, matched: 1, changed: 1, pending: 0, lost: [], problems, triangles, seconds: 0,
}); // prettier-ignore

beforeEach(() => {
  setActivePinia(createPinia());
  const store = useJob();
  store.base = {
    ...EMPTY_SCENE,
    nodes: nodeTable([{ id: 0, key: 'k', parent: null, name: 'Bolt', kind: 'part' } as SceneNode]),
  };
  store.steps = [step('t', 'tessellate'), step('p', 'pivot', 'BOLTS'), step('r', 'reduce'), step('n', 'rename')];
  store.evaluation = {
    reports: [report('t', 900), report('p', 900), report('r', 300, ['Case: did not reach 50 %.']), report('n', 300)],
  } as typeof store.evaluation;
});

it('says of each how many triangles it took away', () => {
  const lines = useStepLines().value;
  expect(lines.map(({ change }) => change)).toEqual([undefined, 0, -600, 0]);
  expect(lines.map(({ number, station }) => [number, station])).toEqual([
    [1, 'receive'],
    [2, 'arrange'],
    [3, 'lighten'],
    [4, 'arrange'],
  ]);
});

it('is searched by step, rule and problem', () => {
  const found = (sought: string) => linesWith(useStepLines().value, sought).map(({ step: { id } }) => id);
  expect(found('bolts pivot')).toEqual(['p']);
  expect(found('reach')).toEqual(['r']);
  expect(found('everything')).toEqual(['t', 'r', 'n']);
  expect(found('')).toHaveLength(4);
});

it('begins with the steps of the station, the others keep their order', () => {
  const ids = (station: string) => stationFirst(useStepLines().value, station).map(({ step: { id } }) => id);
  expect(ids('arrange')).toEqual(['p', 'n', 't', 'r']);
  expect(ids('lighten')).toEqual(['r', 't', 'p', 'n']);
});
