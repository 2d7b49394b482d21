/** Changes of scenes, tried on random trees and random edits: what one way makes, the other takes back, to the hash. */
import { Matrix4, Object3D, Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { randomNumbers } from '../testing/random.ts';
import { applyChange, changeBetween, changedRows, inverse, isNoChange } from './change.ts';
import { SceneEditor } from './editor.ts';
import { factsOf, movedBetween, SceneFacts } from './facts.ts';
import { NodeWriter } from './nodeWriter.ts';
import { hashScene, plainScene } from './plain.ts';
import { packScene, unpackScene } from './sceneFile.ts';
import { EMPTY_SCENE, NO_MATERIAL } from './types.ts';
import type { Scene } from './types.ts';
import { updateBetween, updated } from './wire.ts';

const ROWS = 60;

/** A tree whose places turn, scale unevenly (so that below them there is shear) and mirror. */
function randomScene(random: () => number): Scene {
  const rows = new NodeWriter('s');
  for (let row = 0; row < ROWS; row++) {
    const turn = new Quaternion(random() - 0.5, random() - 0.5, random() - 0.5, random() - 0.5).normalize();
    const size = () => (0.5 + random()) * (random() < 0.2 ? -1 : 1);
    const move = new Vector3(random() * 10, random() * 10, random() * 1e5);
    const matrix = new Matrix4().compose(move, turn, new Vector3(size(), size(), size()));
    rows.add({
      parent: row === 0 || random() < 0.1 ? null : Math.floor(random() * row),
      name: `Row ${Math.floor(random() * 20)}`,
      kind: random() < 0.3 ? 'assembly' : 'part',
      transform: random() < 0.2 ? new Matrix4().elements : matrix.elements,
      layer: random() < 0.5 ? null : `Layer ${Math.floor(random() * 3)}`,
      materials: [`m${Math.floor(random() * 4)}`],
      mesh: `mesh ${Math.floor(random() * 5)}`,
    });
  }
  return { ...EMPTY_SCENE, materials: { none: NO_MATERIAL }, nodes: rows.table() };
}

/** Some edits of every sort. */
function randomEdit(scene: Scene, random: () => number): Scene {
  const edit = new SceneEditor(scene);
  for (let i = 0; i < 12; i++) {
    const row = Math.floor(random() * ROWS);
    const what = Math.floor(random() * 9);
    if (what === 0) edit.rename(row, `New ${Math.floor(random() * 5)}`);
    else if (what === 1) edit.setMesh(row, random() < 0.3 ? undefined : `other ${Math.floor(random() * 3)}`);
    else if (what === 2) edit.setMaterials(row, ['lib:glass', 'm1'].slice(0, 1 + Math.floor(random() * 2)));
    else if (what === 3) edit.setTransform(row, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, random(), random(), 1, 1]);
    else if (what === 4) edit.setLayer(row, random() < 0.5 ? null : 'Layer new');
    else if (what === 5) edit.setProblem(row, 'It is broken.');
    else if (what === 6) edit.setExtras(row, { motion: { tracks: { a: i }, rest: [] } });
    else if (what === 7) edit.add({ parent: row, key: `added ${i}`, name: 'Added', kind: 'assembly' });
    else if (factsOf(scene).childrenOf(row).length === 0) edit.remove(row);
  }
  return edit.finish().scene;
}

const seeds = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12];

describe('a change', () => {
  it.each(seeds)('applied gives the later scene, and turned round the earlier one (seed %i)', (seed) => {
    const random = randomNumbers(seed);
    const a = randomScene(random);
    const b = randomEdit(a, random);
    const change = changeBetween(a, b);
    expect(hashScene(applyChange(a, change))).toBe(hashScene(b));
    expect(hashScene(applyChange(b, inverse(change)))).toBe(hashScene(a));
    expect(changedRows(change).size).toBe(changedRows(inverse(change)).size);
  });

  it('is none where what is written is there already: the very same scene', () => {
    const scene = randomScene(randomNumbers(1));
    const edit = new SceneEditor(scene);
    for (const { id, name, materials, layer, mesh, transform } of scene.nodes) {
      edit.rename(id, name);
      edit.setMaterials(id, materials);
      edit.setLayer(id, layer);
      edit.setMesh(id, mesh);
      if (scene.nodes.columns.place[id] === 0) edit.setTransform(id, transform);
    }
    const made = edit.finish();
    expect(made.scene).toBe(scene);
    expect(isNoChange(made.change)).toBe(true);
  });

  it('counts each row once, however much of it is different', () => {
    const edit = new SceneEditor(randomScene(randomNumbers(2)));
    edit.rename(3, 'Other');
    edit.setMesh(3, 'other');
    edit.setProblem(5, 'broken');
    expect(edit.finish().changed).toBe(2);
  });
});

describe('an update', () => {
  it.each(seeds)('carries a scene from thread to thread, step by step (seed %i)', (seed) => {
    const random = randomNumbers(seed);
    const base = randomScene(random);
    let there: Scene = structuredClonable(EMPTY_SCENE);
    let sent: Scene = EMPTY_SCENE;
    const steps = [base];
    for (let i = 0; i < 4; i++) steps.push(randomEdit(steps[Math.floor(random() * steps.length)], random));
    // Forwards, back, and across branches: as steps are switched on and off.
    for (const next of [0, 1, 4, 0, 3, 2, 4, 1].map((i) => steps[i])) {
      const update = structuredClone(updateBetween(sent, next));
      const before = there;
      there = updated(there, update);
      sent = next;
      expect(plainScene(there).nodes).toEqual(plainScene(next).nodes);
      // Places in the world are entered where they are others, in the facts that the receiver has.
      const moved = movedBetween(factsOf(before).worlds, factsOf(next).worlds);
      factsOf(there).succeed(factsOf(before), structuredClone(moved));
      expect(factsOf(there).worlds).toEqual(new SceneFacts(next, next.nodes).worlds);
    }
  });
});

it('an update is seen where the numbers are the same and what they point to is not', () => {
  const base = randomScene(randomNumbers(9));
  const showing = (mesh: string) => {
    const edit = new SceneEditor(base);
    for (const { id } of base.nodes) edit.setMesh(id, mesh);
    return edit.finish().scene;
  };
  const [near, far] = [showing('near'), showing('far')];
  expect(near.nodes.columns.mesh).toEqual(far.nodes.columns.mesh);
  const there = updated(
    updated(structuredClonable(EMPTY_SCENE), updateBetween(EMPTY_SCENE, base)),
    updateBetween(base, near),
  );
  const after = updated(there, structuredClone(updateBetween(near, far)));
  expect(after.nodes.at(0)?.mesh).toBe('far');
  expect(after.nodes.columns.mesh).not.toBe(there.nodes.columns.mesh);
  expect(after.nodes.columns.name).toBe(there.nodes.columns.name);
});

describe('facts', () => {
  it.each(seeds)('places in the world are those of three.js, to 1e-12 of their size (seed %i)', (seed) => {
    const scene = randomScene(randomNumbers(seed));
    const objects = scene.nodes.map(({ transform }) => {
      const object = new Object3D();
      object.matrixAutoUpdate = false;
      object.matrix.fromArray(transform);
      return object;
    });
    for (const { id, parent } of scene.nodes) if (parent !== null) objects[parent].add(objects[id]);
    for (const { id, parent } of scene.nodes) if (parent === null) objects[id].updateMatrixWorld(true);
    for (const { id } of scene.nodes) {
      const expected = objects[id].matrixWorld.elements;
      const scale = Math.max(...expected.map(Math.abs));
      factsOf(scene)
        .world(id)
        .forEach((value, i) => expect(Math.abs(value - expected[i])).toBeLessThan(1e-12 * scale));
    }
  });

  it('hold for parents that stand behind their children', () => {
    const scene = randomScene(randomNumbers(3));
    const edit = new SceneEditor(scene);
    const group = edit.add({ key: 'group', name: 'Group', kind: 'assembly', transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 5, 0, 0, 1] }); // prettier-ignore
    edit.setParent(0, group);
    const after = edit.finish().scene;
    expect(factsOf(after).world(0)[12]).toBeCloseTo(factsOf(scene).world(0)[12] + 5, 9);
    expect(factsOf(after).order.indexOf(group)).toBeLessThan(factsOf(after).order.indexOf(0));
    expect(factsOf(after).order.length).toBe(ROWS + 1);
  });

  it('find every row by its key, and none that is gone', () => {
    const scene = randomScene(randomNumbers(4));
    const facts = factsOf(scene);
    for (const { id, key } of scene.nodes) expect(facts.rowOf(key)).toBe(id);
    expect(new Set(scene.nodes.map(({ key }) => key)).size).toBe(ROWS);
    const leaf = scene.nodes.find(({ id }) => facts.childrenOf(id).length === 0)!;
    const edit = new SceneEditor(scene);
    edit.remove(leaf.id);
    expect(factsOf(edit.finish().scene).rowOf(leaf.key)).toBeUndefined();
    expect(facts.rowOf('/nowhere')).toBeUndefined();
  });

  it('taken over from the scene before are those that would be made anew', () => {
    const random = randomNumbers(5);
    const a = randomScene(random);
    void [factsOf(a).worlds, factsOf(a).drawnTriangles];
    for (let i = 0; i < 6; i++) {
      const b = randomEdit(a, random);
      const taken = factsOf(b);
      taken.inherit(factsOf(a));
      const fresh = new SceneFacts(b, b.nodes);
      expect(taken.worlds).toEqual(fresh.worlds);
      expect(taken.children).toEqual(fresh.children);
      expect(taken.drawnTriangles).toBe(fresh.drawnTriangles);
    }
  });
});

it('a random scene is stored and read the same', async () => {
  const scene = structuredClonable(randomScene(randomNumbers(6)));
  for (const { mesh } of scene.nodes) scene.meshes[mesh!] ??= {} as never;
  expect(hashScene(await unpackScene(await packScene(scene)))).toBe(hashScene(scene));
});

/** The empty scene with records of its own. */
function structuredClonable(scene: Scene): Scene {
  return { ...scene, meshes: {} };
}
