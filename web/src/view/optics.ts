/** Cameras and lights of the scene as line drawings: what they see, or where they shine. */
import {
  BufferGeometry,
  Float32BufferAttribute,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Vector3,
} from 'three';
import type { Color } from 'three';
import { IDENTITY } from '@noble-prism/core/scene/matrix';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import type { Box, CameraInfo, LightInfo, SceneNode } from '@noble-prism/core/scene/types';

type Point = readonly [number, number, number];
/** Ends of lines, two by two; a length of one is the size that they are drawn in. */
type Lines = Point[];

/** How large they are drawn, as a share of the whole. */
const SHARE = 0.035;

/** True for what is drawn here. Light that comes from everywhere stands nowhere. */
export function hasOptics({ camera, light }: SceneNode): boolean {
  return camera !== undefined || (light !== undefined && light.type !== 'ambient');
}

export class OpticsLayer {
  readonly group = new Group();
  readonly #line = new LineBasicMaterial({ toneMapped: false });
  #shown: { node: SceneNode; place: Vector3 }[] = [];

  /** @param selected material of those that are selected */
  constructor(readonly selected: LineBasicMaterial) {}

  setColour(colour: Color): void {
    this.#line.color = colour;
  }

  /** @param boxOf what tells how large the whole is; asked for only where something is drawn */
  draw(
    nodes: readonly SceneNode[],
    worlds: { get(row: number): Matrix | undefined },
    selected: Pick<ReadonlySet<number>, 'has'>,
    boxOf: () => Box | undefined,
  ): void {
    for (const child of this.group.children) if (child instanceof LineSegments) child.geometry.dispose();
    this.group.clear();
    const list = nodes.filter(hasOptics);
    const box = list.length > 0 ? boxOf() : undefined;
    const size = (box ? Math.hypot(...box.max.map((high, axis) => high - box.min[axis])) : 1) * SHARE;
    this.#shown = list.map((node) => {
      const world = worlds.get(node.id) ?? IDENTITY;
      const lines = node.camera ? ofCamera(node.camera) : node.light ? ofLight(node.light) : [];
      const geometry = new BufferGeometry();
      geometry.setAttribute('position', new Float32BufferAttribute(lines.flat(), 3));
      const drawn = new LineSegments(geometry, selected.has(node.id) ? this.selected : this.#line);
      drawn.matrixAutoUpdate = false;
      drawn.matrix.copy(unscaled(world, size));
      drawn.frustumCulled = false;
      this.group.add(drawn);
      return { node, place: new Vector3().setFromMatrixPosition(drawn.matrix) };
    });
  }

  /** The nearest that is no farther than some pixels. @param away pixels from the pointer to a point of the world */
  pick(away: (point: Vector3) => number, most: number): SceneNode | undefined {
    const near = this.#shown.map(({ node, place }) => ({ node, pixels: away(place) }));
    return near.filter(({ pixels }) => pixels <= most).sort((a, b) => a.pixels - b.pixels)[0]?.node;
  }
}

/** Where it stands and looks; a camera in a scaled group is drawn no larger than others. */
function unscaled(world: Matrix, size: number): Matrix4 {
  const matrix = new Matrix4().fromArray(world);
  const [x, y, z] = [new Vector3(), new Vector3(), new Vector3()];
  matrix.extractBasis(x, y, z);
  for (const axis of [x, y, z]) axis.normalize().multiplyScalar(size);
  return new Matrix4().makeBasis(x, y, z).setPosition(new Vector3().setFromMatrixPosition(matrix));
}

/** A pyramid as wide as the lens, three by two, with a mark at what is up; without perspective a box. */
function ofCamera(camera: CameraInfo): Lines {
  const tall = camera.type === 'perspective' ? Math.min(1.5, Math.tan(camera.fov / 2)) : 0.4;
  const wide = tall * 1.5;
  const corners: Point[] = [
    [-wide, -tall, -1],
    [wide, -tall, -1],
    [wide, tall, -1],
    [-wide, tall, -1],
  ];
  const from = (corner: Point): Point => (camera.type === 'perspective' ? [0, 0, 0] : [corner[0], corner[1], 0]);
  const mark: Lines = [
    [-wide / 2, tall * 1.15, -1],
    [0, tall * 1.7, -1],
    [0, tall * 1.7, -1],
    [wide / 2, tall * 1.15, -1],
  ];
  return [...corners.flatMap((corner, i): Lines => [from(corner), corner, corner, corners[(i + 1) % 4]]), ...mark];
}

function ofLight({ type, outer = Math.PI / 4 }: LightInfo): Lines {
  if (type === 'directional') {
    // Rays side by side.
    return [-0.4, 0, 0.4].flatMap((x): Lines => [
      [x, 0, 0],
      [x, 0, -1],
      [x, 0, -1],
      [x - 0.1, 0, -0.8],
      [x, 0, -1],
      [x + 0.1, 0, -0.8],
    ]);
  }
  if (type === 'point') {
    const rays: Point[] = [
      [1, 0, 0], [0, 1, 0], [0, 0, 1], [-1, 0, 0], [0, -1, 0], [0, 0, -1],
      ...[1, -1].flatMap((x) => [1, -1].flatMap((y) => [1, -1].map((z): Point => [x / 1.73, y / 1.73, z / 1.73]))),
    ]; // prettier-ignore
    return rays.flatMap(([x, y, z]): Lines => [
      [x * 0.2, y * 0.2, z * 0.2],
      [x * 0.5, y * 0.5, z * 0.5],
    ]);
  }
  const radius = Math.min(1.5, Math.tan(Math.min(outer, 1.3)));
  const around = Array.from({ length: 16 }, (_, i): Point => {
    const angle = (i / 16) * 2 * Math.PI;
    return [Math.cos(angle) * radius, Math.sin(angle) * radius, -1];
  });
  return around.flatMap((point, i): Lines => [
    point,
    around[(i + 1) % 16],
    ...(i % 4 === 0 ? ([[0, 0, 0], point] satisfies Lines) : []),
  ]);
}
