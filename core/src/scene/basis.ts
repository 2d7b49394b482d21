/**
 * The same scene in other numbers: in another unit, with another axis up, or with every point written out where it stands. What is seen
 * is the same; places, offsets of geometry and movements say it in the new terms, and no row is left with a turn that only makes up for it.
 */
import { SceneEditor } from './editor.ts';
import { factsOf } from './facts.ts';
import { cross, dot, IDENTITY, invert, isSingular, multiply, normalize } from './matrix.ts';
import type { Matrix } from './matrix.ts';
import { grown, grownMotion, putElsewhere } from './motion.ts';
import { GONE } from './nodes.ts';
import type { CameraInfo, Scene } from './types.ts';

/** From y up to z up: x stays, y becomes z. */
const Y_TO_Z: Matrix = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1];

/** A scene that is y up, with another axis up. */
export function turnedUp(scene: Scene, up: 'y' | 'z'): Scene {
  if (up === 'y') return scene;
  // Cameras and lights look along -z of their rows whatever points up: they keep their own axes.
  return inFrames(scene, Y_TO_Z, (row) => (isOptic(scene, row) ? IDENTITY : Y_TO_Z));
}

/** Every point where it stands in the world, and all places at the origin; what moves keeps its place, and so does what is below it. */
export function baked(scene: Scene): Scene {
  const facts = factsOf(scene);
  const { nodes } = scene;
  const { extras, parent } = nodes.columns;
  const moving = new Uint8Array(nodes.rows);
  for (const row of facts.order)
    if (nodes.tables.extras[extras[row]].motion || (parent[row] >= 0 && moving[parent[row]] === 1)) moving[row] = 1;
  return inFrames(scene, IDENTITY, (row) => {
    const world = facts.world(row);
    return moving[row] === 1 || isOptic(scene, row) || isSingular(world) ? IDENTITY : world;
  });
}

/** All places only turn and move: what they scale, skew or mirror is said of the geometry instead. */
export function rigid(scene: Scene): Scene {
  const facts = factsOf(scene);
  return inFrames(scene, IDENTITY, (row) => {
    const world = facts.world(row);
    const turned = rigidPart(world);
    return isOptic(scene, row) || turned.every((value, i) => Math.abs(value - world[i]) <= TURN_ERROR)
      ? IDENTITY
      : multiply(invert(turned), world);
  });
}

/** All places move, turn and scale: what they skew is said of the geometry instead, where nothing moves. */
export function unskewed(scene: Scene): Scene {
  const { nodes } = scene;
  const { parent, place, extras } = nodes.columns;
  const frames = new Map<number, Matrix>();
  return inFrames(scene, IDENTITY, (row) => {
    const above = frames.get(parent[row]);
    if ((!above && place[row] === 0) || nodes.tables.extras[extras[row]].motion) return IDENTITY;
    const { transform } = nodes.row(row);
    const placed = above ? multiply(above, transform) : transform;
    if (!isSkewed(placed) || isOptic(scene, row)) return IDENTITY;
    const frame = multiply(invert(rigidPart(placed)), placed);
    frames.set(row, frame);
    return frame;
  });
}

/** Its axes do not stand upright on each other. */
function isSkewed(m: Matrix): boolean {
  const [x, y, z] = [0, 4, 8].map((at) => [m[at], m[at + 1], m[at + 2]] as const);
  return ([[x, y], [y, z], [z, x]] as const).some(([a, b]) => Math.abs(dot(a, b)) > SKEW * Math.hypot(...a) * Math.hypot(...b)); // prettier-ignore
}

/** The cosine that single precision makes of a right angle, and a little more. */
const SKEW = 1e-6;

/** What a turn may be off by through many levels. */
const TURN_ERROR = 1e-9;

/** The turn and move of a matrix: its x axis, what is left of its y, and what stands upright on both (Gram-Schmidt). */
function rigidPart(m: Matrix): Matrix {
  const at = [...m.slice(12, 15), 1];
  if (isSingular(m)) return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, ...at];
  const x = normalize([m[0], m[1], m[2]]);
  const z = normalize(cross(x, [m[4], m[5], m[6]]));
  return [...x, 0, ...cross(z, x), 0, ...z, 0, ...at];
}

/**
 * Gives every row another frame: a point p of it becomes frame · p.
 * @param around what is done to the world
 */
function inFrames(scene: Scene, around: Matrix, frameOf: (row: number) => Matrix): Scene {
  const edit = new SceneEditor(scene);
  const { nodes } = scene;
  const { parent, mesh, solid } = nodes.columns;
  const frames: Matrix[] = [];
  for (const row of factsOf(scene).order) {
    const frame = frameOf(row);
    frames[row] = frame;
    const before = parent[row] < 0 ? around : frames[parent[row]];
    if (before === IDENTITY && frame === IDENTITY) continue;
    putElsewhere(edit, row, { before, after: invert(frame) });
    if (mesh[row] > 0 || solid[row] > 0) edit.setOffset(row, multiply(frame, nodes.row(row).offset ?? IDENTITY));
  }
  const { scene: made } = edit.finish();
  if (made !== scene) factsOf(made).inherit(factsOf(scene));
  return made;
}

function isOptic({ nodes }: Scene, row: number): boolean {
  const { camera, light } = nodes.tables.extras[nodes.columns.extras[row]];
  return camera !== undefined || light !== undefined;
}

/** The scene with its lengths in a unit. @param metres of the unit */
export function inUnit(scene: Scene, metres: number): Scene {
  if (metres === 1) return scene;
  const factor = 1 / metres;
  const edit = new SceneEditor(scene);
  const { nodes } = scene;
  const { kind, mesh, solid, place, extras } = nodes.columns;
  const scaled: Matrix = [factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, factor, 0, 0, 0, 0, 1];
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE) continue;
    const node = nodes.row(row);
    if (place[row] > 0) edit.setTransform(row, grown(node.transform, factor));
    if (mesh[row] > 0 || solid[row] > 0) edit.setOffset(row, multiply(scaled, node.offset ?? IDENTITY));
    if (extras[row] === 0) continue;
    const { motion, camera } = node;
    if (motion) edit.setExtras(row, { motion: grownMotion(motion, factor) });
    if (camera) edit.setExtras(row, { camera: grownCamera(camera, factor) });
  }
  return edit.finish().scene;
}

function grownCamera(camera: CameraInfo, factor: number): CameraInfo {
  const near = camera.near * factor;
  if (camera.type === 'orthographic') return { ...camera, height: camera.height * factor, near, far: camera.far * factor }; // prettier-ignore
  return { ...camera, near, ...(camera.far === undefined ? {} : { far: camera.far * factor }) };
}
