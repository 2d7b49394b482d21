// While a part is computed anew its old triangles stay.
import { describe, expect, it } from 'vitest';
import { IDENTITY } from '@noble-prism/core/scene/matrix';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';
import { StandIns } from './standIns.ts';

const part = (id: number, more: Partial<SceneNode>): SceneNode => ({
  id, key: `/${id}`, parent: null, name: `P${id}`, kind: 'part', source: 's', transform: IDENTITY, materials: [], layer: null, ...more,
}); // prettier-ignore
const figures = { triangles: 12 } as Scene['meshes'][string];
const scene = (nodes: SceneNode[], meshes: string[]): Scene => ({
  ...EMPTY_SCENE,
  nodes: nodeTable(nodes),
  meshes: Object.fromEntries(meshes.map((mesh) => [mesh, figures])),
});

describe('stand-ins', () => {
  it('are the triangles that a solid had, with their figures, until it has new ones', () => {
    const standIns = new StandIns();
    const before = scene([part(0, { solid: 'a', mesh: 'a1' }), part(1, { solid: 'b', mesh: 'b1' })], ['a1', 'b1']);
    expect(standIns.shown(before)).toBe(before);
    const between = standIns.shown(scene([part(0, { solid: 'a' }), part(1, { solid: 'b', mesh: 'b2' })], ['b2']));
    expect(between.nodes.map(({ mesh }) => mesh)).toEqual(['a1', 'b2']);
    expect(between.meshes.a1).toBe(figures);
    const after = scene([part(0, { solid: 'a', mesh: 'a2' }), part(1, { solid: 'b', mesh: 'b2' })], ['a2', 'b2']);
    expect(standIns.shown(after)).toBe(after);
  });

  it('stand for no part that failed, that is new, or that was never seen', () => {
    const standIns = new StandIns();
    standIns.shown(scene([part(0, { solid: 'a', mesh: 'a1' })], ['a1']));
    const next = scene(
      [part(0, { solid: 'a', problem: 'The kernel failed.' }), part(1, { solid: 'c' }), part(2, {})],
      [],
    );
    expect(standIns.shown(next)).toBe(next);
    standIns.clear();
    const cleared = scene([part(0, { solid: 'a' })], []);
    expect(standIns.shown(cleared)).toBe(cleared);
  });
});
