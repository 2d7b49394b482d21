/** The section box: only what is inside is drawn. Its six faces have handles that are dragged along their axis. */
import { BufferGeometry, Group, LineBasicMaterial, LineSegments, Plane, Points, PointsMaterial, Vector3 } from 'three';
import type { Color } from 'three';
import type { Vector } from '@noble-prism/core/scene/matrix';
import type { Box } from '@noble-prism/core/scene/types';

/** One face of the box: an axis, and whether it is the upper end of it. */
export interface Face {
  axis: 0 | 1 | 2;
  end: 'min' | 'max';
}

const FACES: readonly Face[] = ([0, 1, 2] as const).flatMap((axis) => [
  { axis, end: 'min' as const },
  { axis, end: 'max' as const },
]);
/** Share of its size by which the box is cut wider, so that what ends at it is there. */
const WIDER = 1e-4;
/** Least thickness, as a share of the largest side. */
const THINNEST = 1e-4;

export class SectionBox {
  readonly group = new Group();
  /** What is drawn is on the positive side of each; none where there is no section. */
  planes: Plane[] = [];
  #box: Box | undefined;
  readonly #frame = new LineSegments(new BufferGeometry(), new LineBasicMaterial({ transparent: true, opacity: 0.55 }));
  readonly #handles = new Points(
    new BufferGeometry(),
    new PointsMaterial({ size: 9, sizeAttenuation: false, depthTest: false, transparent: true }),
  );

  constructor() {
    this.#handles.renderOrder = 4;
    this.#handles.frustumCulled = this.#frame.frustumCulled = false;
    this.group.add(this.#frame, this.#handles);
    this.set(undefined);
  }

  get box(): Box | undefined {
    return this.#box;
  }

  setColour(colour: Color): void {
    this.#frame.material.color = this.#handles.material.color = colour;
  }

  set(box: Box | undefined): void {
    this.#box = box;
    this.group.visible = box !== undefined;
    this.planes = [];
    if (!box) return;
    const wider = WIDER * Math.max(...box.max.map((high, axis) => high - box.min[axis]), 1e-6);
    for (const { axis, end } of FACES) {
      const normal = new Vector3().setComponent(axis, end === 'min' ? 1 : -1);
      this.planes.push(new Plane(normal, (end === 'min' ? -box.min[axis] : box.max[axis]) + wider));
    }
    this.#frame.geometry.dispose();
    this.#frame.geometry = new BufferGeometry().setFromPoints(frameOf(box));
    this.#handles.geometry.dispose();
    this.#handles.geometry = new BufferGeometry().setFromPoints(
      FACES.map((face) => new Vector3(...middleOf(box, face))),
    );
  }

  /** True where a point of the world is drawn. */
  holds(point: { x: number; y: number; z: number }): boolean {
    return this.planes.every(
      ({ normal, constant }) => normal.dot(new Vector3(point.x, point.y, point.z)) + constant >= 0,
    );
  }

  /** The face whose handle lies near the pointer. @param pixels distance of a point of the world from it */
  faceAt(pixels: (point: Vector) => number, reach: number): Face | undefined {
    const box = this.#box;
    if (!box) return undefined;
    const [nearest] = FACES.map((face) => ({ face, away: pixels(middleOf(box, face)) })).sort(
      (a, b) => a.away - b.away,
    );
    return nearest.away <= reach ? nearest.face : undefined;
  }
}

/** Middle of a face, metres. */
export function middleOf({ min, max }: Box, { axis, end }: Face): Vector {
  const middle = min.map((low, i) => (low + max[i]) / 2) as [number, number, number];
  middle[axis] = (end === 'min' ? min : max)[axis];
  return middle;
}

/** The box with one face elsewhere, as far as the opposite one lets it. */
export function withFace({ min, max }: Box, { axis, end }: Face, at: number): Box {
  const thinnest = THINNEST * Math.max(...max.map((high, i) => high - min[i]), 1e-6);
  const [low, high] = [[...min], [...max]] as [number[], number[]];
  if (end === 'min') low[axis] = Math.min(at, max[axis] - thinnest);
  else high[axis] = Math.max(at, min[axis] + thinnest);
  return { min: low as [number, number, number], max: high as [number, number, number] };
}

/** The twelve edges of a box, two points each. */
function frameOf({ min, max }: Box): Vector3[] {
  const corner = (i: number) => new Vector3(i & 1 ? max[0] : min[0], i & 2 ? max[1] : min[1], i & 4 ? max[2] : min[2]);
  const out: Vector3[] = [];
  for (let i = 0; i < 8; i++) for (const bit of [1, 2, 4]) if (!(i & bit)) out.push(corner(i), corner(i | bit));
  return out;
}
