// What of a changed scene has to be drawn anew, and what not; boxes against the corners of the part by hand.
import { describe, expect, it } from 'vitest';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene } from '@noble-prism/core/scene/types';
import { SceneEditor } from '@noble-prism/core/scene/editor';
import { translation } from '@noble-prism/core/scene/matrix';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import type { GeometryStore } from './geometry.ts';
import { StandingModel } from './standingModel.ts';

const { scene } = await sceneWith([
  { name: 'Post', mesh: boxMesh(1, 2, 3), materials: ['#112233'] },
  { name: 'Plate', mesh: boxMesh(4, 1, 1), materials: ['#112233'], transform: translation([10, 0, 0]) },
]);
const edited = (work: (edit: SceneEditor) => void, of: Scene = scene): Scene => {
  const edit = new SceneEditor(of);
  work(edit);
  return edit.finish().scene;
};

function model() {
  const wanted: string[][] = [];
  const store = { want: (meshes: string[]) => wanted.push(meshes), positionsOf: () => undefined, arrivals: 0 };
  return { model: new StandingModel(store as unknown as GeometryStore), wanted, store };
}
const rows = (...at: number[]) => new Rows(Uint8Array.from({ length: scene.nodes.rows }, (_, row) => (at.includes(row) ? 1 : 0))); // prettier-ignore

describe('the model as it stands', () => {
  it('tells shapes, looks and places from what is nothing to be drawn', () => {
    const { model: standing, wanted } = model();
    expect(standing.take(EMPTY_SCENE, undefined)).toBe('nothing');
    expect(standing.take(scene, undefined)).toBe('shapes');
    expect(wanted).toEqual([Object.keys(scene.meshes).sort((a, b) => scene.meshes[b].bounds.max[0] - scene.meshes[a].bounds.max[0])]); // prettier-ignore
    expect(
      standing.take(
        edited((edit) => edit.rename(0, 'Column')),
        undefined,
      ),
    ).toBe('nothing');
    expect(
      standing.take(
        edited((edit) => edit.setLayer(0, 'STEEL')),
        undefined,
      ),
    ).toBe('look');
    expect(standing.take({ ...scene, materials: { ...scene.materials } }, undefined)).toBe('look');
    expect(
      standing.take(
        edited((edit) => edit.remove(1)),
        undefined,
      ),
    ).toBe('shapes');
    expect(wanted.at(-1)).toHaveLength(1);
  });

  it('gathers what has moved until it is drawn, and knows nothing where a scene was passed over', () => {
    const { model: standing } = model();
    standing.take(scene, { number: 1, rows: 'all' });
    expect(standing.standing.moved).toBeUndefined();
    standing.drawn();
    standing.take(scene, { number: 2, rows: Int32Array.of(1) });
    standing.take(scene, { number: 3, rows: 'none' });
    expect([...(standing.standing.moved ?? [])]).toEqual([1]);
    standing.take(scene, { number: 5, rows: Int32Array.of(0) });
    expect(standing.standing.moved).toBeUndefined();
  });

  it('shows what has geometry and is not hidden', () => {
    const { model: standing } = model();
    standing.take(scene, undefined);
    expect([...standing.shown]).toEqual([0, 1]);
    expect(standing.hide(rows(1))).toBe(true);
    expect([...standing.shown]).toEqual([0]);
    expect([standing.hide(rows()), standing.hide(rows())]).toEqual([true, false]);
  });

  it('has a box that follows what an animation moves, and goes back with it', () => {
    const { model: standing, store } = model();
    standing.take(scene, undefined);
    const rest = standing.box;
    const bounds = scene.meshes[scene.nodes.row(1).mesh as string].bounds;
    expect(rest?.max[0]).toBeCloseTo(10 + bounds.max[0]);
    expect(standing.pose(new Map([[1, translation([-20, 0, 0])]]))).toBe(true);
    expect(standing.box?.min[0]).toBeCloseTo(-20 + bounds.min[0]);
    expect(standing.standing.moved).toBeUndefined();
    expect([standing.pose(undefined), standing.pose(undefined)]).toEqual([true, false]);
    expect(standing.box).toEqual(rest);
    // The same until more geometry is at hand.
    const known = standing.knownBox;
    expect(standing.box).toBe(known);
    store.arrivals++;
    expect(standing.box).not.toBe(known);
  });
});
