/** One row of the tree as it is looked at, and what it holds. */
import type { Matrix, Vector } from './matrix.ts';

/** Of the content of a blob. */
export type Hash = string;

/** An axis-aligned box, metres. */
export interface Box {
  min: Vector;
  max: Vector;
}

export type NodeKind = 'assembly' | 'part' | 'camera' | 'light';

/** One row of the tree, as it is looked at: an assembly or a part in one place. It is kept in columns: see `nodes.ts`. */
export interface SceneNode {
  /** Number of its row: unique in the scene, and the same in all scenes of the same sources. */
  id: number;
  /** Path of the names in the source, with an ordinal among equals: survives renaming and new revisions. */
  key: string;
  parent: number | null;
  name: string;
  /** Its name in the source, where a step has given it another one. */
  received?: string;
  kind: NodeKind;
  /** Id of the source that it came from. */
  source: string;
  /** Place in the parent, metres, doubles. */
  transform: Matrix;
  /** Where the geometry sits from the node's own origin (its pivot), and how it is turned against it; metres. */
  offset?: Matrix;
  /** The exact shape that the part was made from. */
  solid?: Hash;
  /** The triangles; absent until tessellated. */
  mesh?: Hash;
  /** Material id per slot of the geometry. */
  materials: string[];
  /** Materials per slot in another variant of its source, by name of the variant. */
  variants?: Record<string, string[]>;
  layer: string | null;
  /** Name of this occurrence where the source gives one of its own. */
  occurrence?: string;
  /** Class in a building model, e.g. `IfcWall`. */
  class?: string;
  /** Properties as received, `set.name` to value: searchable, never interpreted. */
  properties?: Record<string, string>;
  camera?: CameraInfo;
  light?: LightInfo;
  /** What moves it; its transform is its place at rest. */
  motion?: Motion;
  /** Where the source defines it, e.g. `#1204`. */
  entity?: string;
  /** Lines that repeat a solid of the same product: left out unless they are asked for. */
  spare?: true;
  /** Why there is no geometry, or less than the source has. */
  problem?: string;
}

/** How a node moves: place(t) = before · track(t) · after. */
export interface Motion {
  /** Number of its track by id of the animation. */
  tracks: Record<string, number>;
  /** Place in the source: what no track moves stays so. */
  rest: Matrix;
  /** How much its lengths have grown since it was read; 1 where absent. */
  growth?: number;
  before?: Matrix;
  after?: Matrix;
}

/** A camera looks along -z of its node. Angles in radians, lengths in metres; `aspect` is width to height, where it is said. */
export type CameraInfo =
  | { type: 'perspective'; fov: number; near: number; far?: number; aspect?: number }
  | { type: 'orthographic'; height: number; near: number; far: number; aspect?: number };

/** A light shines along -z of its node. Colour linear; intensity in the unit that the source uses. */
export interface LightInfo {
  type: 'directional' | 'point' | 'spot' | 'ambient';
  color: [number, number, number];
  intensity: number;
  /** Half angles of the cone, radians. */
  inner?: number;
  outer?: number;
}
