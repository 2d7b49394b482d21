/** Another structure for 100 000 and 1 000 000 parts: a group for each layer, flat, as received; beside three.js' own `attach` of each part. */
import { Object3D } from 'three';
import { MemoryBlobs } from '@noble-prism/core/memoryStores';
import { mergeSlots } from '@noble-prism/core/preparation/slots';
import { factsOf } from '@noble-prism/core/scene/facts';
import { PART } from '@noble-prism/core/scene/nodes';
import { SceneFacts } from '@noble-prism/core/scene/facts';
import type { Scene } from '@noble-prism/core/scene/types';
import { select } from '@noble-prism/core/select/select';
import { applyStep } from '@noble-prism/core/steps/kind';
import { stepKind } from '@noble-prism/core/steps/kinds';
import { plantOf } from './boxes.ts';
import { print, seconds } from './report.ts';

const regroup = (scene: Scene, by: string) =>
  applyStep(stepKind('regroup'), scene, select(scene, { by: 'all' }), { by });

/** The same tree as objects, each part hung under one of a few. */
function attachedByThree(scene: Scene): number {
  const { nodes } = scene;
  const objects: Object3D[] = [];
  const root = new Object3D();
  for (const row of factsOf(scene).order) {
    const object = (objects[row] = new Object3D());
    object.applyMatrix4({ elements: nodes.place(row) } as never);
    (nodes.columns.parent[row] < 0 ? root : objects[nodes.columns.parent[row]]).add(object);
  }
  root.updateMatrixWorld();
  const layers = new Map<number, Object3D>();
  const began = performance.now();
  for (const row of factsOf(scene).order) {
    if (nodes.columns.kind[row] !== PART) continue;
    const layer = nodes.columns.layer[row];
    let group = layers.get(layer);
    if (!group) {
      layers.set(layer, (group = new Object3D()));
      root.add(group);
    }
    group.attach(objects[row]);
  }
  return (performance.now() - began) / 1000;
}

for (const [parts, most] of [
  [100_000, 300],
  [1_000_000, 3000],
]) {
  const scene = mergeSlots([{ slot: 'plant', scene: await plantOf(parts, new MemoryBlobs()) }]);
  const meshes = scene.nodes.columns.mesh;
  const cold = () => {
    // What is known of the scene is asked for anew, as after any other step.
    const fresh = { ...scene };
    void new SceneFacts(fresh, fresh.nodes);
    const made = regroup(fresh, 'layer');
    // No part lost its mesh.
    if (made.scene.nodes.columns.mesh.some((mesh, row) => row < meshes.length && mesh !== meshes[row]))
      throw new Error('An instance was lost.');
    return made.scene;
  };
  const bare = parts <= 100_000 ? attachedByThree(scene) : undefined;
  cold();
  const whole = await seconds(3, cold);
  print({
    name: `Regrouped ${parts} parts by layer`,
    value: whole * 1000,
    unit: 'ms',
    aim: { most },
    ...(bare ? { note: `${(whole / bare).toFixed(2)} of three.js’ attach` } : {}),
  });
  const grouped = cold();
  print({ name: `Back as received at ${parts}`, value: (await seconds(2, () => regroup(grouped, 'received'))) * 1000, unit: 'ms' }); // prettier-ignore
  print({ name: `Flat at ${parts}`, value: (await seconds(2, () => regroup(scene, 'nothing'))) * 1000, unit: 'ms' }); // prettier-ignore
}
