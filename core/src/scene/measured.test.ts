import { describe, expect, it } from 'vitest';
import { measuredParts, asTessellated } from './measured.ts';
import { EMPTY_SCENE } from './types.ts';
import type { MeshFigures, Scene, SceneNode } from './types.ts';
import { IDENTITY } from './matrix.ts';
import { nodeTable } from './nodeWriter.ts';

const figures = (triangles: number, more: Partial<MeshFigures> = {}): MeshFigures => ({
  triangles,
  vertices: 3,
  bounds: { min: [0, 0, 0], max: [1, 1, 1] },
  area: 1,
  volume: 0,
  slots: [triangles],
  edges: 0,
  bytes: 1,
  ...more,
});
const part = (id: number, name: string, mesh?: string): SceneNode => ({
  id,
  key: `/${name}#${id}`,
  parent: null,
  name,
  kind: 'part',
  source: 's',
  transform: IDENTITY,
  materials: [],
  layer: null,
  ...(mesh ? { mesh } : {}),
});
const scene: Scene = {
  ...EMPTY_SCENE,
  nodes: nodeTable([
    part(0, 'Bolt', 'bolt'),
    part(1, 'Ring', 'ring'),
    part(2, 'Bolt', 'bolt'),
    part(3, 'Plate', 'plate'),
    part(4, 'Gone'),
  ]),
  meshes: {
    bolt: figures(40, { exact: { max: 0.0001, chord: 0.0002 } }),
    ring: figures(10, { deviation: { max: 0.002, mean: 0.001, from: 'whole' } }),
    whole: figures(90, { exact: { max: 0.00019, chord: 0.0002 } }),
    plate: figures(12),
  },
};

describe('measured parts', () => {
  it('gathers equal parts and lists the worst first, also where they were reduced since', () => {
    const list = measuredParts(scene, (mesh) => asTessellated(scene, mesh).exact?.max);
    expect(list.map(({ name, keys, max }) => [name, keys.length, max])).toEqual([
      ['Ring', 1, 0.00019],
      ['Bolt', 2, 0.0001],
    ]);
  });

  it('leaves out what was not measured', () => {
    expect(measuredParts(scene, ({ deviation }) => deviation?.max).map(({ name }) => name)).toEqual(['Ring']);
    expect(measuredParts(EMPTY_SCENE, () => 1)).toEqual([]);
  });
});
