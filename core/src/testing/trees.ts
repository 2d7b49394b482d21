/** Random trees of placed rows, beside the same tree of three.js, whose places are the measure. */
import { Matrix4, Object3D, Quaternion, Vector3 } from 'three';
import { boxMesh } from './meshes.ts';
import { randomNumbers } from './random.ts';
import { sceneWith } from './scenes.ts';
import { factsOf } from '../scene/facts.ts';
import type { Matrix } from '../scene/matrix.ts';
import { NodeWriter } from '../scene/nodeWriter.ts';
import type { Scene } from '../scene/types.ts';

export interface RandomTree {
  scene: Scene;
  /** By row. */
  objects: Object3D[];
  root: Object3D;
}

const LAYERS = ['DRIVE', 'FASTENERS', 'GUARDS', ''];
const CLASSES = ['IfcColumn', 'IfcBeam', ''];

/** @param even the same scale in all directions, so that three.js can take every place apart */
export async function randomTree(seed: number, rows = 120, even = true): Promise<RandomTree> {
  const random = randomNumbers(seed);
  const { scene } = await sceneWith([{ name: 'Cube', mesh: boxMesh(1, 2, 3), materials: ['#112233'] }]);
  const [mesh] = Object.keys(scene.meshes);
  const writer = new NodeWriter('s');
  const root = new Object3D();
  const objects: Object3D[] = [];
  const assemblies = [-1];
  for (let row = 0; row < rows; row++) {
    const parent = assemblies[Math.floor(random() * assemblies.length)];
    const isPart = random() < 0.6;
    const object = new Object3D();
    object.position.set(random() * 20 - 10, random() * 20 - 10, random() * 20 - 10);
    object.quaternion.setFromAxisAngle(new Vector3(random() - 0.5, random() - 0.5, random() + 0.1).normalize(), random() * 6); // prettier-ignore
    const size = 0.5 + random();
    object.scale.set(size, even ? size : 0.5 + random(), size);
    object.updateMatrix();
    (parent < 0 ? root : objects[parent]).add(object);
    objects.push(object);
    const layer = LAYERS[Math.floor(random() * LAYERS.length)];
    const kind = CLASSES[Math.floor(random() * CLASSES.length)];
    writer.add({
      parent: parent < 0 ? null : parent,
      name: `${isPart ? 'Part' : 'Group'} ${row}`,
      kind: isPart ? 'part' : 'assembly',
      transform: object.matrix.toArray(),
      ...(layer ? { layer } : {}),
      ...(kind ? { class: kind } : {}),
      ...(isPart ? { mesh, materials: ['#112233'] } : {}),
    });
    if (!isPart) assemblies.push(row);
  }
  root.updateMatrixWorld();
  return { scene: { ...scene, nodes: writer.table() }, objects, root };
}

/** Largest difference between the places of a row here and of its object there. */
export function farthestOff(scene: Scene, row: number, object: Object3D): number {
  object.updateWorldMatrix(true, false);
  return farthestBetween(factsOf(scene).world(row), object.matrixWorld.toArray());
}

export function farthestBetween(a: Matrix, b: Matrix): number {
  return Math.max(...a.map((value, i) => Math.abs(value - b[i])));
}

/** A rotation and a move, as three.js has them. */
export function placeOf(axis: readonly number[], angle: number, move: readonly number[]): Matrix4 {
  const turn = new Quaternion().setFromAxisAngle(new Vector3(...axis).normalize(), angle);
  return new Matrix4().compose(new Vector3(...move), turn, new Vector3(1, 1, 1));
}
