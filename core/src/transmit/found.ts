/** What stands in a file, or is to stand in it: the terms in which the read-back compares. Lengths in metres, angles in radians. */
import type { Matrix } from '../scene/matrix.ts';
import type { ExactBody } from './exact.ts';
import type { Movement } from './movements.ts';

/** One row of the tree. */
export interface FoundRow {
  parent: number | null;
  name: string;
  /** Place in the world. */
  world: Matrix;
  /** Bodies of triangles, lines or points, in their order; empty where the row shows nothing. */
  bodies: FoundBody[];
  camera?: { angle: number } | { height: number };
  light?: { type: string; intensity: number; color: readonly number[] };
  movements: Movement[];
  /** The exact solid of the row, in formats that hold such. */
  exact?: ExactBody;
}

export interface FoundBody {
  /** The same for all bodies that are stored once. */
  geometry: FoundGeometry;
  material?: FoundMaterial;
  /** Names of the materials that it shows in the variants of its source, by theirs. */
  variants?: Record<string, string>;
}

export interface FoundGeometry {
  mode: 'triangles' | 'lines' | 'points';
  /** Numbers that are the same for geometries that share their points in the file. */
  points: unknown;
  /** Numbers of the corners, into the values below; every value in turn where absent. */
  corners?: ArrayLike<number>;
  positions: ArrayLike<number>;
  normals?: ArrayLike<number>;
  uvs: ArrayLike<number>[];
  /** Red, green, blue, opacity. */
  colours?: ArrayLike<number>;
}

export const PICTURE_SLOTS = ['baseColor', 'metallicRoughness', 'normal', 'occlusion', 'emissive'] as const;
export type PictureSlot = (typeof PICTURE_SLOTS)[number];

export interface FoundMaterial {
  name: string;
  /** Linear, 0 to 1. */
  baseColor: readonly number[];
  opacity: number;
  metallic: number;
  roughness: number;
  emissive: readonly number[];
  blended: boolean;
  cutoff?: number;
  doubleSided: boolean;
  unlit: boolean;
  /** Absent where the format has no such thing: what goes through is then in the opacity. */
  transmission?: number;
  /** Absent where the format has no such thing. */
  ior?: number;
  clearcoat?: number;
  clearcoatRoughness?: number;
  pictures: Partial<Record<PictureSlot, FoundPicture>>;
}

export interface FoundPicture {
  /** The picture's file. */
  bytes: Uint8Array;
  mime: string;
  uv: number;
  offset: readonly number[];
  scale: readonly number[];
  rotation: number;
  wrap: 'repeat' | 'clamp' | 'mirror';
  strength: number;
}
