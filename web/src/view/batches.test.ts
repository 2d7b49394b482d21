// Draw calls follow meshes and materials, not parts: counted on what three.js is given.
import {
  BoxGeometry,
  BufferGeometry,
  Color,
  InstancedMesh,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  MeshBasicMaterial,
  Points,
  PointsMaterial,
  Vector3,
} from 'three';
import { describe, expect, it } from 'vitest';
import { IDENTITY, translation } from '@noble-prism/core/scene/matrix';
import { SceneEditor } from '@noble-prism/core/scene/editor';
import { factsOf } from '@noble-prism/core/scene/facts';
import { nodeTable } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';
import { disposeBatches, lateCrowdsIn, makeBatches, placeBatches } from './batches.ts';
import { randomNumbers } from '@noble-prism/core/testing/random';
import type { GeometryStore, ViewGeometry } from './geometry.ts';

const geometry = (shape: ViewGeometry['shape'], slots = [0]): ViewGeometry =>
  ({ shape, slots, surface: new BoxGeometry(), edges: new BoxGeometry(), coloured: false }) as unknown as ViewGeometry;
const KNOWN: Record<string, ViewGeometry> = {
  bolt: geometry('triangles'),
  cabin: geometry('triangles', [0, 1]),
  scan: geometry('points'),
  wires: geometry('lines'),
};
const store = { get: (mesh: string) => KNOWN[mesh] } as unknown as GeometryStore;

let next = 0;
const part = (mesh: string, materials: string[], x = 0, more: Partial<SceneNode> = {}): SceneNode => ({
  ...{ id: next, key: `/${next}`, parent: null, name: `Part ${next++}`, kind: 'part', source: 's', layer: null },
  transform: translation([x, 0, 0]),
  ...{ mesh, materials, ...more },
});
const sceneOf = (nodes: SceneNode[]): Scene => ({ ...EMPTY_SCENE, nodes: nodeTable(nodes) });

const materials = new Map<string, MeshBasicMaterial>();
const materialFor = (id: string) => {
  if (!materials.has(id)) materials.set(id, new MeshBasicMaterial({ name: id }));
  return materials.get(id)!;
};
const placesOf = (scene: Scene) => ({ scene, worlds: factsOf(scene).worlds });
const input = (nodes: SceneNode[], more: Partial<Parameters<typeof makeBatches>[0]> = {}) => ({
  ...placesOf(sceneOf(nodes)),
  rows: new Set(nodes.keys()),
  geometry: store,
  materialFor,
  points: () => new PointsMaterial(),
  edges: undefined,
  ...more,
});
const draw = (...given: Parameters<typeof input>) => makeBatches(input(...given));
const placeOf = (mesh: InstancedMesh, i: number) => {
  const matrix = new Matrix4();
  mesh.getMatrixAt(i, matrix);
  return new Vector3().setFromMatrixPosition(matrix).toArray();
};

describe('batches', () => {
  it('draw all placements of one mesh in the same materials at once', () => {
    const nodes = [part('bolt', ['steel'], 1), part('bolt', ['steel'], 2), part('bolt', ['brass'], 3), part('cabin', ['red', 'glass'])];
    const meshes = draw(nodes).children as InstancedMesh[];
    expect(meshes.map(({ count }) => count).sort()).toEqual([1, 1, 2]);
    const steel = meshes.find(({ count }) => count === 2)!;
    expect([placeOf(steel, 0), placeOf(steel, 1)]).toEqual([[1, 0, 0], [2, 0, 0]]);
    const names = (mesh: InstancedMesh) => [mesh.material].flat().map(({ name }) => name);
    expect(meshes.map(names)).toContainEqual(['red', 'glass']);
  }); // prettier-ignore

  it('give each part its colour where the look has one, whatever its materials', () => {
    const nodes = [part('bolt', ['steel']), part('bolt', ['brass'])];
    const tints = [new Color(1, 0, 0), new Color(0, 0, 1)];
    const [mesh, ...others] = draw(nodes, { tint: (row) => tints[row] }).children as InstancedMesh[];
    expect(others).toEqual([]);
    const colour = new Color();
    mesh.getColorAt(1, colour);
    expect(colour.toArray()).toEqual([0, 0, 1]);
  });

  it('add edges where they are asked for, and draw clouds and wires as what they are', () => {
    const nodes = [part('bolt', ['steel']), part('scan', []), part('wires', [])];
    const edges = new LineBasicMaterial();
    const kinds = (objects: object[]) => objects.map(({ constructor }) => constructor);
    expect(kinds(draw(nodes, { edges }).children)).toEqual([InstancedMesh, LineSegments, Points, LineSegments]);
    expect(kinds(draw(nodes).children)).toEqual([InstancedMesh, Points]);
  });

  it('leave out what has not arrived', () => {
    expect(draw([part('not there yet', ['steel'])]).children).toEqual([]);
  });

  it('put the geometry where the pivot is not', () => {
    const nodes = [part('bolt', ['steel'], 5, { offset: translation([0, -2, 0]) })];
    expect(placeOf(draw(nodes).children[0] as InstancedMesh, 0)).toEqual([5, -2, 0]);
  });

  it('can be moved without being made anew', () => {
    const nodes = [part('bolt', ['steel'], 1), part('bolt', ['steel'], 2)];
    const edges = new LineBasicMaterial();
    const group = draw(nodes, { edges });
    const before = [...group.children];
    const moved = [IDENTITY, translation([0, 9, 0])].map((transform, i) => ({ ...nodes[i], transform }));
    placeBatches(group, placesOf(sceneOf(moved)));
    expect(group.children).toEqual(before);
    const [mesh, lines] = group.children as InstancedMesh[];
    expect(placeOf(mesh, 1)).toEqual([0, 9, 0]);
    // Edges follow what they are the edges of.
    expect(lines.instanceMatrix).toBe(mesh.instanceMatrix);
    expect(mesh.instanceMatrix.version).toBeGreaterThan(0);
  }); // prettier-ignore

  it('free what they own, and nothing else', () => {
    const group = draw([part('bolt', ['steel'])]);
    let freed = 0;
    (KNOWN.bolt.surface as BufferGeometry).addEventListener('dispose', () => freed++);
    disposeBatches(group);
    expect(group.children).toEqual([]);
    expect(freed).toBe(0);
  });

  it('made anew in the same group keep their objects and buffers, and send only places that changed', () => {
    const nodes = [part('bolt', ['steel'], 1), part('bolt', ['steel'], 2), part('cabin', ['red', 'glass'])];
    const group = draw(nodes);
    const before = [...group.children] as InstancedMesh[];
    const versions = before.map((mesh) => mesh.instanceMatrix.version);
    makeBatches({ ...input(nodes) }, group);
    expect(group.children).toEqual(before);
    expect(before.map((mesh) => mesh.instanceMatrix.version)).toEqual(versions);
    const moved = [nodes[0], { ...nodes[1], transform: translation([9, 0, 0]) }, nodes[2]];
    makeBatches(input(moved), group);
    expect(group.children).toEqual(before);
    expect(placeOf(before[0], 1)).toEqual([9, 0, 0]);
    expect(before.map((mesh, i) => mesh.instanceMatrix.version > versions[i])).toEqual([true, false]);
  });

  it('made anew without most of their rows draw the others only, and free what is gone', () => {
    const nodes = [1, 2, 3].map((x) => part('bolt', ['steel'], x)).concat(part('cabin', ['red', 'glass']));
    const group = draw(nodes);
    const gone: unknown[] = [];
    for (const child of group.children as InstancedMesh[])
      child.addEventListener('dispose', ({ target }) => gone.push(target));
    const [bolts, cabin] = [...group.children];
    makeBatches(input(nodes.slice(0, 1)), group);
    expect((group.children as InstancedMesh[]).map(({ count }) => count)).toEqual([1]);
    expect(gone).toEqual([bolts, cabin]);
  });

  it('keep their buffers where a few parts leave and come back, and send no more than those', () => {
    const random = randomNumbers(6);
    const nodes = Array.from({ length: 5000 }, (_, i) => part('bolt', ['steel'], i));
    const group = draw(nodes, { edges: new LineBasicMaterial() });
    const [mesh, lines] = group.children as InstancedMesh[];
    for (let round = 0; round < 12; round++) {
      mesh.instanceMatrix.clearUpdateRanges();
      const out = new Set(Array.from({ length: round % 3 === 2 ? 0 : 9 }, () => Math.floor(random() * 5000)));
      const rows = new Set([...nodes.keys()].filter((row) => !out.has(row)));
      makeBatches(input(nodes, { edges: lines.material as LineBasicMaterial, rows }), group);
      expect(group.children).toEqual([mesh, lines]);
      expect([mesh.count, lines.count]).toEqual([rows.size, rows.size]);
      const drawn = Array.from({ length: mesh.count }, (_, i) => placeOf(mesh, i)[0]);
      expect(drawn.sort((a, b) => a - b)).toEqual([...rows]);
      const sent = mesh.instanceMatrix.updateRanges.reduce((sum, { count }) => sum + count / 16, 0);
      expect(sent).toBeLessThan(2 * 9 * 64);
    }
  });

  it('stay where they are for rows that are gone while places change', () => {
    const nodes = [part('bolt', ['steel'], 1), part('bolt', ['steel'], 2)];
    const group = draw(nodes);
    const [mesh] = group.children as InstancedMesh[];
    const edit = new SceneEditor(sceneOf([nodes[0], { ...nodes[1], transform: translation([5, 0, 0]) }]));
    edit.remove(0);
    placeBatches(group, placesOf(edit.finish().scene));
    expect([placeOf(mesh, 0), placeOf(mesh, 1)]).toEqual([
      [1, 0, 0],
      [5, 0, 0],
    ]);
  });

  it('take in what arrives, and leave the others as they are', () => {
    const nodes = [part('bolt', ['steel'], 1), part('late', ['steel'], 2)];
    const group = draw(nodes);
    const [bolts] = group.children;
    KNOWN.late = geometry('triangles');
    makeBatches(input(nodes, { only: new Set(['late']) }), group);
    expect(group.children).toHaveLength(2);
    expect(group.children[0]).toBe(bolts);
    expect(placeOf(group.children[1] as InstancedMesh, 0)).toEqual([2, 0, 0]);
    delete KNOWN.late;
  });

  it('send no more than the stretch that has changed', () => {
    const nodes = Array.from({ length: 100 }, (_, i) => part('bolt', ['steel'], i));
    const group = draw(nodes);
    const [mesh] = group.children as InstancedMesh[];
    mesh.instanceMatrix.clearUpdateRanges();
    const moved = nodes.map((node, i) =>
      i === 40 || i === 42 ? { ...node, transform: translation([0, 7, 0]) } : node,
    );
    makeBatches(input(moved), group);
    expect(mesh.instanceMatrix.updateRanges).toEqual([{ start: 40 * 16, count: 3 * 16 }]);
  });
});

describe('crowds', () => {
  /** Boxes of one shape each, some sheared and mirrored, each placed once. */
  const PARTS = 900;
  const single = new Map<string, ViewGeometry>();
  for (let i = 0; i < PARTS; i++) {
    const surface = new BoxGeometry(0.1 + i / 1000, 0.2, 0.3);
    const lines = new BufferGeometry().setAttribute('position', surface.getAttribute('position').clone());
    single.set(`shape ${i}`, {
      ...{ shape: 'triangles', slots: [0], coloured: false, surface, edges: lines },
      positions: surface.getAttribute('position').array as Float32Array,
    });
  }
  const singles = { get: (mesh: string) => single.get(mesh), arrivals: PARTS } as unknown as GeometryStore;
  const place = (i: number): SceneNode['transform'] =>
    i % 3 === 0 ? [-1, 0, 0, 0, 0, 1, 0, 0, 0.5, 0, 1, 0, 5000 + i, 2, i % 7, 1] : translation([5000 + i, i % 5, 0]);
  const nodes = () =>
    Array.from({ length: PARTS }, (_, i) =>
      part(`shape ${i}`, [i % 2 ? 'steel' : 'glass'], 0, { transform: place(i) }),
    );
  const edges = new LineBasicMaterial();
  const given = (more: Partial<Parameters<typeof makeBatches>[0]> = {}) => {
    next = 0;
    return input(nodes(), { geometry: singles, edges, crowds: true, ...more });
  };

  it('are a few objects for many parts, with every corner where the part has it', () => {
    const { scene, worlds } = given();
    const group = makeBatches({ ...given(), scene, worlds });
    expect(group.children.length).toBeLessThanOrEqual(8);
    const found = new Map<string, Vector3>();
    const key = ({ x, y, z }: Vector3) => [x, y, z].map((value) => value.toFixed(3)).join();
    let triangles = 0;
    for (const mesh of group.children) {
      if (!(mesh instanceof InstancedMesh)) continue;
      const { position, normal } = mesh.geometry.attributes;
      triangles += (mesh.geometry.index?.count ?? 0) / 3;
      const matrix = new Matrix4();
      mesh.getMatrixAt(0, matrix);
      for (let i = 0; i < position.count; i++) {
        const at = new Vector3().fromBufferAttribute(position, i).applyMatrix4(matrix);
        found.set(key(at), new Vector3().fromBufferAttribute(normal, i));
      }
      // The winding agrees with the normals, mirrored parts too.
      const index = mesh.geometry.index!;
      for (let i = 0; i < index.count; i += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => new Vector3().fromBufferAttribute(position, index.getX(i + k)));
        const face = b.clone().sub(a).cross(c.clone().sub(a));
        expect(face.dot(new Vector3().fromBufferAttribute(normal, index.getX(i)))).toBeGreaterThan(0);
      }
    }
    expect(triangles).toBe(12 * PARTS);
    // Three.js's own arithmetic says where each corner is.
    for (let i = 0; i < PARTS; i += 50) {
      const { position } = single.get(`shape ${i}`)!.surface.attributes;
      const matrix = new Matrix4().fromArray(place(i));
      for (let k = 0; k < position.count; k++)
        expect(found.has(key(new Vector3().fromBufferAttribute(position, k).applyMatrix4(matrix)))).toBe(true);
    }
  });

  it('stay as they are where nothing moved, and only those are made anew in which something did', () => {
    const first = given();
    const group = makeBatches(first);
    const before = [...group.children];
    makeBatches(first, group);
    expect(group.children).toEqual(before);
    const edit = new SceneEditor(first.scene);
    edit.setTransform(3, translation([0, 0, 0]));
    const { scene } = edit.finish();
    makeBatches({ ...first, ...placesOf(scene) }, group);
    const fresh = group.children.filter((child) => !before.includes(child));
    // The surface and the edges of one crowd.
    expect(fresh).toHaveLength(2);
    expect(group.children).toHaveLength(before.length);
  });

  it('are none where they are not wished for', () => {
    const { children } = makeBatches(given({ crowds: false }));
    expect(children.filter((child) => child instanceof InstancedMesh)).toHaveLength(PARTS);
  });

  it('take what arrives together as it comes, until all is gathered', () => {
    const all = given();
    const some = { get: (mesh: string) => (Number(mesh.slice(6)) < 600 ? single.get(mesh) : undefined), arrivals: 600 };
    const group = makeBatches({ ...all, geometry: some as unknown as GeometryStore });
    expect(lateCrowdsIn(group)).toBe(0);
    const late = Array.from({ length: 300 }, (_, i) => `shape ${600 + i}`);
    makeBatches({ ...all, only: new Set(late) }, group);
    // One for each material.
    expect(lateCrowdsIn(group)).toBe(2);
    makeBatches(all, group);
    expect(lateCrowdsIn(group)).toBe(0);
    expect(group.children.length).toBeLessThanOrEqual(8);
  });
});
