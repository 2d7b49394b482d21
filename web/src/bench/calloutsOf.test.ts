// What is named and measured is shown where it is: points at theirs, distances in their middle, angles at their corner.
import { describe, expect, it } from 'vitest';
import type { Measured } from '@noble-prism/core/measure/kept';
import type { StepReport } from '@noble-prism/core/preparation/evaluate';
import { POINT } from '@noble-prism/core/scene/nodes';
import { SceneEditor } from '@noble-prism/core/scene/editor';
import { translation } from '@noble-prism/core/scene/matrix';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import { calloutsOf, linkCallouts } from './calloutsOf.ts';

const reportOf = (measured: Measured) => ({ measured }) as StepReport;

describe('callouts', () => {
  it('of named points stand at their places in the world, under what they hang', async () => {
    const { scene } = await sceneWith([{ name: 'Root', transform: translation([10, 0, 0]), children: [] }]);
    const edit = new SceneEditor(scene);
    edit.add({ name: 'Grid A', kind: 'assembly', parent: 0, key: 's:+a', source: 's', transform: translation([1, 2, 3]), flags: POINT });
    expect(calloutsOf(edit.finish().scene, [])).toEqual([{ at: [11, 2, 3], text: 'Grid A' }]);
  }); // prettier-ignore

  it.each([
    [{ of: 'distance', value: 2, points: [[0, 0, 0], [2, 0, 0]] }, [1, 0, 0], 'M: 2\u2009000\u00a0mm', 2],
    [{ of: 'angle', value: Math.PI / 2, points: [[1, 0, 0], [0, 0, 0], [0, 1, 0]] }, [0, 0, 0], 'M: 90°', 4],
    [{ of: 'radius', value: 0.5, points: [[1, 0, 0], [0, 1, 0], [-1, 0, 0]] }, [1, 0, 0], 'M: r 500\u00a0mm, ⌀ 1\u2009000\u00a0mm', 6],
  ] as const)('of a %o stand where it is', async (measured, at, text, ends) => {
    const { scene } = await sceneWith([{ name: 'A', mesh: boxMesh(1, 1, 1) }]);
    const [callout] = calloutsOf(scene, [reportOf({ name: 'M', ...measured } as never)]);
    expect(callout).toMatchObject({ at, text });
    expect(callout.lines).toHaveLength(ends);
  }); // prettier-ignore

  it('of parts have no place: they stand in the list alone', async () => {
    const { scene } = await sceneWith([{ name: 'A', mesh: boxMesh(1, 1, 1) }]);
    expect(calloutsOf(scene, [reportOf({ name: 'M', of: 'mass', value: 1, points: [] }), {} as StepReport])).toEqual([]);
  }); // prettier-ignore

  it('of links lie on their axes, where their part stands now', async () => {
    const { scene } = await sceneWith([{ name: 'A', mesh: boxMesh(1, 1, 1), transform: translation([5, 0, 0]) }]);
    const seat = { point: [1, 0, 0], axis: [0, 0, 1], across: [1, 0, 0] } as const;
    const link = { id: 'h', name: 'Hinge', kind: 'hinge', part: 0, base: -1, inPart: seat, inBase: seat } as const;
    const slide = { ...link, name: 'Slide', inPart: { ...seat, point: [3, 0, 0] } } as const;
    const through = { ...link, name: 'Through', inPart: { ...seat, axis: [0, 1, 0] } } as const;
    expect(linkCallouts({ ...scene, links: [link, slide] })).toEqual([
      { at: [6, 0, 0], text: 'Hinge', lines: [[6, 0, -0.5], [6, 0, 0.5]] },
      { at: [8, 0, 0], text: 'Slide', lines: [[8, 0, -0.5], [8, 0, 0.5]] },
    ]);
    // Two on one point have one text.
    const [both] = linkCallouts({ ...scene, links: [link, through, slide] });
    expect(both).toMatchObject({ text: 'Hinge, Through', lines: { length: 4 } });
  }); // prettier-ignore
});
