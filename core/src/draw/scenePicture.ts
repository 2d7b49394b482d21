/** A picture of a whole scene, for a report where nobody looked at it: all parts in the colours of their materials, y up. */
import { unpackMesh } from '../mesh/mesh.ts';
import { factsOf } from '../scene/facts.ts';
import { multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import { corners, geometryTransform } from '../scene/tree.ts';
import { isBlended, NO_MATERIAL } from '../scene/types.ts';
import type { Scene, SceneNode } from '../scene/types.ts';
import type { BlobStore, Picture, PictureCodec } from '../surroundings.ts';
import { Canvas } from './canvas.ts';
import type { Colour } from './canvas.ts';
import { drawMesh, pointsOf } from './drawMesh.ts';
import { Frame, seen } from './eye.ts';
import { seenColour } from './seenColour.ts';

export interface ScenePictureOptions {
  /** Pixels. */
  width?: number;
  height?: number;
  /** Axis that points up in the scene. */
  up?: 'y' | 'z';
  /** Opens pictures of materials; without it these are in their own colour. */
  pictures?: PictureCodec;
  signal?: AbortSignal;
}

/** From z up to y up: z becomes y. */
const Z_TO_Y: Matrix = [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1];

/** Parts that are smaller in the picture, in its points, are one: thousands of bolts take no time then. */
const SMALL = 2;

/** @returns RGBA, see-through where there is nothing; undefined where the scene shows nothing */
export async function scenePicture(
  scene: Scene,
  blobs: BlobStore,
  { width = 720, height = 480, up = 'y', pictures, signal }: ScenePictureOptions = {},
): Promise<Picture | undefined> {
  const facts = factsOf(scene);
  const canvas = new Canvas(width, height);
  const frame = new Frame(canvas.width, canvas.height);
  const placeOf = (node: SceneNode) => {
    const place = geometryTransform(node, facts.world(node.id));
    return up === 'z' ? multiply(Z_TO_Y, place) : place;
  };
  const cornersOf = (node: SceneNode, place: Matrix) =>
    seen(corners(scene.meshes[node.mesh as string].bounds).flat(), place);
  // Rows by mesh, so that each is unpacked once; where they stand is worked out again when they are drawn, as there may be a million.
  const parts = new Map<string, number[]>();
  for (const row of facts.order) {
    const node = scene.nodes.row(row);
    if (!node.mesh) continue;
    const box = cornersOf(node, placeOf(node));
    if (!box.every(Number.isFinite)) continue;
    frame.include(box);
    const same = parts.get(node.mesh);
    if (same) same.push(row);
    else parts.set(node.mesh, [row]);
  }
  if (frame.isEmpty) return undefined;
  const colours = new Map<string, Colour>();
  const looks = async (node: SceneNode) => {
    const { slots } = scene.meshes[node.mesh as string];
    const ids = slots.map((_, slot) => materialOfSlot(node, slot));
    for (const id of ids) if (!colours.has(id)) colours.set(id, await seenColour(scene, id, blobs, pictures));
    return ids;
  };
  const isThin = (id: string) => {
    const material = scene.materials[id] ?? NO_MATERIAL;
    return isBlended(material) || (material.transmission ?? 0) > 0;
  };
  // What is seen through comes after all that may be behind it.
  for (const thin of [false, true])
    for (const [hash, rows] of parts) {
      signal?.throwIfAborted();
      const mesh = unpackMesh(await blobs.get(hash));
      for (const row of rows) {
        const node = scene.nodes.row(row);
        const ids = await looks(node);
        if (thin && !ids.some(isThin)) continue;
        const place = placeOf(node);
        const box = cornersOf(node, place);
        const colourOf = (slot: number) => (isThin(ids[slot]) === thin ? colours.get(ids[slot]) : undefined);
        const isSmall = reachOf(box) * frame.scale < SMALL;
        if (!isSmall) drawMesh(canvas, mesh, frame.fit(seen(pointsOf(mesh), place)), colourOf, thin);
        else if (!thin) {
          const [x, y, z] = frame.fit(box.slice(0, 3));
          canvas.dot(x, y, z, colours.get(ids[0]) ?? NO_MATERIAL.baseColor);
        }
      }
    }
  return { width, height, data: canvas.pixels() };
}

/** How far a box reaches in the picture. */
function reachOf(box: Float64Array): number {
  const side = (axis: number) => {
    const values = [0, 1, 2, 3, 4, 5, 6, 7].map((corner) => box[corner * 3 + axis]);
    return Math.max(...values) - Math.min(...values);
  };
  return Math.max(side(0), side(1));
}
