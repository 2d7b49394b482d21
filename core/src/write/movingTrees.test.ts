// Movements by relation: random hierarchies that move in every way, with steps around them, are where three.js finds them in the file that
// was written, at a thousand moments; and hold in every format that carries movements. Steps that change nothing of where things are
// change nothing of how they move.
import { AnimationMixer, LoopOnce, Vector3 } from 'three';
import type { BufferAttribute, Mesh, Object3D } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { GLTF } from 'three/addons/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { multiply, transformPoint } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { keysOf, placesAt } from '../scene/motion.ts';
import { geometryTransform } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { checkSteps } from '../steps/kinds.ts';
import { atLength } from '../testing/atLength.ts';
import { glbBytes } from '../testing/glbBytes.ts';
import { boxMesh } from '../testing/meshes.ts';
import { movingTree } from '../testing/movingTrees.ts';
import { randomNumbers } from '../testing/random.ts';
import { sentTo } from '../testing/sent.ts';
import { flattened } from '../transmit/targets/flattened.ts';

/** Steps that put something around a movement. */
const STEPS: readonly { kind: string; parameters: object }[] = [
  { kind: 'pivot', parameters: { place: 'base-centre', of: 'parts' } },
  { kind: 'pivot', parameters: { place: 'box-centre', of: 'picked' } },
  { kind: 'turn', parameters: { direction: 'z-to-y' } },
  { kind: 'move', parameters: { x: 3, y: -1, z: 0.5 } },
  { kind: 'scale', parameters: { x: 2.5, y: 2.5, z: 2.5, about: 'origin' } },
];

async function prepared(seed: number) {
  const random = randomNumbers(seed * 7 + 1);
  const { scene, blobs } = await movingTree(seed);
  const chosen = STEPS.filter(() => random() < 0.5);
  const steps = chosen.map(({ kind, parameters }, i) => ({ id: `${i}`, kind, on: true, selector: { by: 'all' }, parameters })); // prettier-ignore
  const { scene: after } = await evaluate(scene, 'k', checkSteps(steps), memorySurroundings({ blobs }));
  return { before: scene, scene: after, blobs, steps: chosen.map(({ kind }) => kind) };
}

/** Corners of a shape, which tell how it lies. */
const CORNERS = [0, 9, 18];
type Points = number[][];

/** Corners of the shapes of rows in the world at a moment, by name. */
function here(scene: Scene, keys: Awaited<ReturnType<typeof keysOf>>, time: number): Map<string, Points> {
  const moved = placesAt(scene, 'a', keys.get('a') ?? { tracks: [] }, time);
  const worlds = new Map<number, Matrix>();
  const out = new Map<string, Points>();
  const { positions } = boxMesh(1, 2, 3);
  for (const node of scene.nodes) {
    const own = moved.get(node.id) ?? node.transform;
    const above = node.parent === null ? undefined : worlds.get(node.parent);
    const world = above ? multiply(above, own) : own;
    worlds.set(node.id, world);
    const place = geometryTransform(node, world);
    out.set(
      node.name,
      CORNERS.map((i) => transformPoint(place, [positions[i * 3], positions[i * 3 + 1], positions[i * 3 + 2]])),
    );
  }
  return out;
}

/** The same, as three.js plays the file. */
async function there(scene: Scene, blobs: Awaited<ReturnType<typeof prepared>>['blobs']) {
  const bytes = await glbBytes(scene, blobs, 'x');
  const gltf = await new Promise<GLTF>((done, fail) => new GLTFLoader().parse(bytes.buffer, '', done, fail));
  const mixer = new AnimationMixer(gltf.scene);
  const [clip] = gltf.animations;
  const action = clip && mixer.clipAction(clip);
  action?.setLoop(LoopOnce, 1).play();
  if (action) action.clampWhenFinished = true;
  return (time: number): Map<string, Points> => {
    if (action) action.reset().play();
    mixer.setTime(time);
    gltf.scene.updateMatrixWorld(true);
    const out = new Map<string, Points>();
    // A mesh beside its pivot is a node of its own, below that of the row.
    gltf.scene.traverse((object: Object3D) => {
      const row = (object as { isMesh?: boolean }).isMesh ? nameAbove(object) : undefined;
      if (!row) return;
      const { position } = (object as Mesh).geometry.attributes;
      out.set(
        row,
        CORNERS.map((i) =>
          new Vector3()
            .fromBufferAttribute(position as BufferAttribute, i)
            .applyMatrix4(object.matrixWorld)
            .toArray(),
        ),
      );
    });
    return out;
  };
}
function nameAbove(object: Object3D | null): string | undefined {
  for (let at = object; at; at = at.parent) {
    const name = (at.userData as { name?: string }).name ?? at.name;
    if (/^Row.\d/.test(name)) return name.replace('_', ' ').slice(0, 5);
  }
  return undefined;
}

/** Largest distance of a corner here and there, as a share of the size of all. */
function off(a: Map<string, Points>, b: Map<string, Points>, size: number): number {
  let most = 0;
  for (const [name, points] of b)
    points.forEach((p, i) => {
      const q = a.get(name)?.[i] ?? [];
      most = Math.max(most, Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) / size);
    });
  return most;
}

/** @param moments at which they are compared */
async function compare(seed: number, moments: number, flat = false): Promise<{ off: number; steps: string[] }> {
  const { scene, blobs, steps } = await prepared(seed);
  const keys = await keysOf(scene, blobs);
  const { duration } = scene.animations.a;
  const jumps = new Set((keys.get('a')?.tracks ?? []).flatMap((track) => Object.values(track).flatMap(({ times, interpolation }) => (interpolation === 'step' ? times : [])))); // prettier-ignore
  const sent = flat ? await flattened(scene, blobs) : scene;
  const play = await there(sent, blobs);
  if (flat) expect(sent.nodes.every(({ parent, kind }) => parent === null && kind === 'part')).toBe(true);
  const size = Math.max(...[...here(scene, keys, 0).values()].flat(2).map(Math.abs));
  let most = 0;
  for (let i = 0; i < moments; i++) {
    const time = (duration * i) / (moments - 1);
    // In the moment of a jump nobody can say on which side it is.
    if ([...jumps].some((jump) => Math.abs(jump - time) < 1e-3)) continue;
    most = Math.max(most, off(here(scene, keys, time), play(time), size));
  }
  return { off: most, steps };
}

describe('what moves is where three.js finds it', () => {
  it('within 0.01 % of the size, at 60 moments of each of 25 trees', async () => {
    for (let seed = 1; seed <= 25; seed++) {
      const { off: most, steps } = await compare(seed, 60);
      expect(most, `seed ${seed}, ${steps.join(', ')}`).toBeLessThan(1e-4);
    }
  });

  it('also without the assemblies that moved it, of six trees', async () => {
    for (let seed = 1; seed <= 6; seed++) {
      const { off: most, steps } = await compare(seed, 40, true);
      expect(most, `seed ${seed}, ${steps.join(', ')}`).toBeLessThan(1e-4);
    }
  });

  atLength('also without the assemblies that moved it, of sixty trees', async () => {
    for (let seed = 1; seed <= 60; seed++) {
      const { off: most, steps } = await compare(seed, 200, true);
      expect(most, `seed ${seed}, ${steps.join(', ')}`).toBeLessThan(1e-4);
    }
  });

  atLength('within 0.01 % of the size, at a thousand moments of each of 150 trees', async () => {
    for (let seed = 1; seed <= 150; seed++) {
      const { off: most, steps } = await compare(seed, 1000);
      expect(most, `seed ${seed}, ${steps.join(', ')}`).toBeLessThan(1e-4);
    }
  }, 600_000); // prettier-ignore
});

describe('what moves holds', () => {
  const holds = async (seed: number) => {
    const { scene, blobs, steps } = await prepared(seed);
    for (const format of ['glb', 'usda', 'dae', 'x3d']) {
      const { readBack } = await sentTo(scene, blobs, { format });
      expect(readBack.differences, `seed ${seed}, ${format}, ${steps.join(', ')}`).toEqual([]);
    }
  };
  it('in every format, of three trees', async () => {
    for (let seed = 1; seed <= 3; seed++) await holds(seed);
  });
  atLength('in every format, of a hundred trees', async () => {
    for (let seed = 1; seed <= 100; seed++) await holds(seed);
  }, 600_000); // prettier-ignore
});
