/**
 * The scene: plain, immutable, serializable data. Metres, right-handed; geometry lives in blobs under the hash of its
 * content and is only referred to.
 */
import type { Warning } from '../errors.ts';
import type { PictureSigns } from '../finish/sets/signs.ts';
import type { Link } from '../linkage/links.ts';
import type { Vector } from './matrix.ts';
import type { Box, Hash } from './node.ts';
import { NodeTable } from './nodes.ts';
import type { SceneOrigin } from './origin.ts';

export type { Box, CameraInfo, Hash, LightInfo, Motion, NodeKind, SceneNode } from './node.ts';

/** A movement of some nodes, as a source names it. */
export interface AnimationInfo {
  id: string;
  name: string;
  source: string;
  /** Time of the last key, seconds. */
  duration: number;
  /** Nodes that it moves. */
  nodes: number;
  /** Blob with its keys; absent until the source is built. */
  keys?: Hash;
}

/** Figures of a mesh blob. Lengths in metres, area in square metres, volume in cubic metres. */
export interface MeshFigures {
  triangles: number;
  vertices: number;
  bounds: Box;
  area: number;
  volume: number;
  /** Centre of the volume; absent where there is none. */
  centroid?: Vector;
  /** Triangles per slot. */
  slots: number[];
  /** Line segments of the feature edges. */
  edges: number;
  bytes: number;
  /** True where it is no closed body, so that the back of its faces can be seen; see `massProperties`. */
  open?: boolean;
  /** Sets of texture coordinates. */
  uvs?: number;
  /** True where texture coordinates are lengths in metres. */
  trueSize?: boolean;
  /** True where vertices have colours of their own. */
  colours?: boolean;
  /** Points of a cloud, which has no triangles. */
  points?: number;
  /** Of a tessellated solid: how far its triangles lie from the exact surfaces. */
  exact?: ExactDeviation;
  /** Of a reduced mesh: two-sided distance to the mesh as tessellated, measured, metres. */
  deviation?: Deviation;
}

/** Largest distance of a tessellated solid from its exact surfaces that was found, and the one that was allowed; metres. */
export interface ExactDeviation {
  max: number;
  chord: number;
}

/** Distance between two surfaces, metres: the largest found and the mean over the area. */
export interface Deviation {
  max: number;
  mean: number;
  /** The mesh that it was measured against. */
  from: Hash;
}

/** An exact solid: a text of its own in the blob store and the slots of its faces. */
export interface SolidInfo {
  /** Blob with the self-contained text of the solid. */
  text: Hash;
  bytes: number;
  faces: number;
  /** Slot per face in the order of the text; absent where all faces are slot 0. */
  faceSlots?: number[];
  entity: string;
  name: string;
  /** Largest extent of its points, metres: a rough size before it is tessellated. */
  extent: number;
  /** How much larger it is to be than its text says; 1 where absent. */
  scale?: number;
  /** What the file itself states of it, before any scale. */
  stated?: StatedFigures;
}

/** Figures that came with a solid; metres, square metres, cubic metres. */
export interface StatedFigures {
  volume?: number;
  area?: number;
  centroid?: Vector;
}

/** A physically based material. Colours are linear, factors 0 to 1, as in glTF 2.0. */
export interface Material {
  id: string;
  name: string;
  baseColor: [number, number, number];
  opacity: number;
  metallic: number;
  roughness: number;
  /** Where it came from: read from a source, or assigned from the library. */
  origin: 'source' | 'library';
  emissive?: [number, number, number];
  /** Seen from behind too; absent means not stated. */
  doubleSided?: boolean;
  /** Cut out where the opacity falls below this, instead of blended. */
  cutoff?: number;
  /** Seen through where a picture says so, though the factor is 1. */
  blended?: boolean;
  unlit?: boolean;
  /** Share of the light that goes through instead of being scattered: glass, water. What is behind is seen through it. */
  transmission?: number;
  /** Index of refraction; 1.5 where absent. */
  ior?: number;
  /** A clear layer over the surface, 0 to 1, and how rough it is (0 where absent). */
  clearcoat?: number;
  clearcoatRoughness?: number;
  textures?: Partial<Record<TextureSlot, TextureUse>>;
}

/**
 * What a picture is for. `metallicRoughness` holds roughness in green and metalness in blue, as in glTF; `roughness`, `metallic` and
 * `opacity` hold one value each, and stand instead of it or beside the base colour.
 */
export type TextureSlot =
  | 'baseColor'
  | 'normal'
  | 'metallicRoughness'
  | 'occlusion'
  | 'emissive'
  | 'roughness'
  | 'metallic'
  | 'opacity';

/** How a material uses a texture. */
export interface TextureUse {
  /** Id of the texture. */
  texture: string;
  /** Set of texture coordinates. */
  uv: number;
  offset?: [number, number];
  scale?: [number, number];
  /** Radians, counter-clockwise. */
  rotation?: number;
  /** Strength of a normal map or of an occlusion map. */
  strength?: number;
  /** Outside 0 to 1: repeated where absent. */
  wrap?: 'clamp' | 'mirror';
  /** Channel that holds the value, of pictures that hold one; green where absent, which a grey picture has too. */
  channel?: 'r' | 'g' | 'b' | 'a';
  /** White means 0: gloss instead of roughness. */
  inverted?: boolean;
}

/** A picture that came with a source. */
export interface Texture {
  id: string;
  /** Name of its file, as the source refers to it. */
  name: string;
  source: string;
  /** Found, referred to but missing, or there and referred to by nothing. */
  state: 'found' | 'missing' | 'unbound';
  mime: string;
  /** Blob of the picture file as received. */
  blob?: Hash;
  /** Blob of the same as PNG, which is used instead where the file itself would not be seen as it is meant. */
  png?: Hash;
  bytes: number;
  /** Pixels. */
  width?: number;
  height?: number;
  /** Bits of a channel, where they are not 8. */
  bits?: number;
  /** Name of the colour profile that is embedded, where it is not that of sRGB. */
  profile?: string;
  /** Why it cannot be opened, where that is so. */
  problem?: string;
  /** What it looks like; of pictures that nothing refers to. */
  signs?: PictureSigns;
}

/** What a source holds, counted before anything is computed. */
export interface Holdings {
  /** Distinct geometries, and triangles as placed, where the file has triangles. */
  geometries?: number;
  triangles?: number;
  points?: number;
  cameras: number;
  lights: number;
  animations: number;
  /** Box of everything as placed, metres, where it is known without tessellating. */
  bounds?: Box;
}

export interface Layer {
  name: string;
  source: string;
  description?: string;
}

/** What a file says of itself. */
export interface SourceInfo {
  id: string;
  name: string;
  format: string;
  schema: string;
  /** Program and date as written in the file. */
  producer: string;
  /** Length unit as declared: name and metres per unit; several where the file mixes them. */
  unit: { name: string; metres: number; declared: boolean };
  units: string[];
  /** `z` or `y`; `by` tells whether the file declares it or the trade assumes it. */
  upAxis: { axis: 'y' | 'z'; by: 'file' | 'convention' };
  /** The axis of the scene that points up for this source, after the steps so far. */
  up: 'y' | 'z';
  /** Names of the sets of materials that it can be shown in, and the one that it is shown in, if it is not its own. */
  variants?: string[];
  variant?: string;
  bytes: number;
  holds?: Holdings;
  /** What the format cannot hold, or what is in the file and not read: said before it is missed. */
  notRead?: string[];
  /** Names of rows that skins or morphs bend in the file: they stand still here. */
  bent?: string[];
  warnings: Warning[];
}

export interface Scene {
  sources: SourceInfo[];
  nodes: NodeTable;
  meshes: Record<Hash, MeshFigures>;
  solids: Record<Hash, SolidInfo>;
  materials: Record<string, Material>;
  textures: Record<string, Texture>;
  layers: Layer[];
  animations: Record<string, AnimationInfo>;
  /** Where the origin lies, once a step said so. */
  origin?: SceneOrigin;
  /** Hinges and slides that steps named. */
  links?: readonly Link[];
}

/** Shared by all who begin with nothing, so that nobody may write into it. */
export const EMPTY_SCENE: Scene = Object.freeze({
  sources: [],
  nodes: NodeTable.EMPTY,
  meshes: Object.freeze({}),
  solids: Object.freeze({}),
  materials: Object.freeze({}),
  textures: Object.freeze({}),
  layers: [],
  animations: Object.freeze({}),
});

/** Material of everything that has none. */
export const NO_MATERIAL: Material = {
  id: 'none',
  name: 'No material',
  baseColor: [0.42, 0.42, 0.42],
  opacity: 1,
  metallic: 0,
  roughness: 0.7,
  origin: 'source',
};

/** Index of refraction of what says none (glTF 2.0, KHR_materials_ior). */
export const STANDARD_IOR = 1.5;

/** True where what is behind shows through; what is cut out is not blended. */
export function isBlended({ opacity, blended, cutoff }: Material): boolean {
  return (opacity < 1 || blended === true) && cutoff === undefined;
}
