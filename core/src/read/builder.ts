/**
 * Builds the scene of a format that carries meshes: readers say which nodes, geometries, materials and textures there are, in the
 * unit of the file, and get a reading in two strokes out of it.
 */
import { hashData } from '../scene/hash.ts';
import { completeMesh } from '../mesh/complete.ts';
import { NumberList } from '../mesh/numberList.ts';
import { impossibleSize } from '../scene/plausible.ts';
import { boundsOf, figuresOf, packMesh } from '../mesh/mesh.ts';
import type { BareMesh } from '../mesh/normals.ts';
import { PrismError } from '../errors.ts';
import type { WarningCode } from '../errors.ts';
import { IDENTITY, multiply, translation } from '../scene/matrix.ts';
import { grownTrack, keyTimes, PATHS, shifted, SIZES } from '../scene/motion.ts';
import type { AnimationKeys, Channel, Path, Track } from '../scene/motion.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { factsOf } from '../scene/facts.ts';
import type { NodeTable } from '../scene/nodes.ts';
import { NodeWriter } from '../scene/nodeWriter.ts';
import { STRIDE } from '../scene/places.ts';
import { Bounds } from '../scene/tree.ts';
import { EMPTY_SCENE, NO_MATERIAL } from '../scene/types.ts';
import type {
  AnimationInfo,
  Box,
  Holdings,
  Layer,
  Material,
  MeshFigures,
  Motion,
  Scene,
  SceneNode,
  SolidInfo,
  SourceInfo,
  Texture,
} from '../scene/types.ts';
import type { Reading, SourceFile } from './reader.ts';
import { storePicture } from './textures.ts';
import type { PictureUse } from './textures.ts';

/**
 * A geometry farther from its origin than this many times its own size would shake in single precision: it gets an origin of its
 * own, and its nodes the difference in doubles.
 */
const FAR = 200;

/** Most nodes of one file. */
const MAX_NODES = 2_000_000;
/** Most keys of all movements of one file together. */
const MAX_KEYS = 5_000_000;

export type SourceFacts = Partial<Omit<SourceInfo, 'id' | 'name' | 'bytes' | 'holds' | 'warnings'>> &
  Pick<SourceInfo, 'format'>;

/** A geometry of the file, made when it is built; lengths in the unit of the file. */
export interface Geometry {
  triangles: number;
  points?: number;
  /** Box of the positions, unit of the file. */
  bounds?: Box;
  /** Slots that it has, as many as a node has materials. */
  slots: number;
  make(): BareMesh | Promise<BareMesh>;
}

export interface NewNode {
  parent?: number | undefined;
  name: string;
  kind?: SceneNode['kind'];
  /** Column-major, translation in the unit of the file. */
  transform?: Matrix;
  /** Number that {@link SceneBuilder.geometry} gave. */
  geometry?: number | undefined;
  /** Ids that {@link SceneBuilder.material} gave, per slot. */
  materials?: string[] | undefined;
  layer?: string | null;
  more?: Partial<SceneNode> | undefined;
}

export class SceneBuilder {
  readonly warnings: SourceInfo['warnings'] = [];
  readonly notRead = new Set<string>();
  /** Names of rows that skins or morphs bend. */
  readonly bent = new Set<string>();
  readonly counts = { cameras: 0, lights: 0, animations: 0 };
  readonly #rows: NodeWriter;
  /** Geometry of each row; -1 where it has none. */
  readonly #geometryOf = new NumberList(Int32Array);
  readonly #motions = new Map<number, Motion>();
  /** How far the origin of a node was moved to where its geometry is, unit of the file; few are. */
  readonly #shifts = new Map<number, Vector>();
  /** Places as given, unit of the file, of nodes that stand elsewhere for such a move. */
  readonly #rests = new Map<number, Matrix>();
  #keys = 0;
  readonly #animations: { info: AnimationInfo; tracks: Track[] }[] = [];
  readonly #geometries: (Geometry & { origin: Vector })[] = [];
  readonly #materials: Record<string, Material> = { none: NO_MATERIAL };
  readonly #textures = new Map<string, { texture: Texture; bytes?: Uint8Array }>();
  readonly #solids: Record<string, SolidInfo> = {};
  readonly #layers = new Map<string, Layer>();

  /** What readers ask of the file; its bytes are let go, so that they need not stay in memory until everything is built. */
  readonly file: Pick<SourceFile, 'name' | 'beside'>;
  readonly #bytes: number;

  constructor(
    { name, bytes, beside }: SourceFile,
    readonly source: string,
    readonly facts: SourceFacts,
    /** Metres per unit of what is given to the builder: the unit of the file, but where a library has converted it already. */
    readonly metres = facts.unit?.metres ?? 1,
  ) {
    this.file = { name, ...(beside ? { beside } : {}) };
    this.#bytes = bytes.length;
    this.#rows = new NodeWriter(source);
  }

  warn(code: WarningCode, message: string, where?: string): void {
    if (this.warnings.length < 1000) this.warnings.push({ code, message, ...(where ? { where } : {}) });
  }

  geometry(geometry: Geometry): number {
    return this.#geometries.push({ ...geometry, origin: originFor(geometry.bounds) }) - 1;
  }

  /** A geometry that is there already. */
  mesh(mesh: BareMesh): number {
    const triangles = mesh.indices.length / 3;
    return this.geometry({
      triangles,
      ...(triangles === 0 ? { points: mesh.positions.length / 3 } : {}),
      bounds: boundsOf(mesh.positions),
      slots: mesh.groups.reduce((most, group) => Math.max(most, group.slot + 1), 1),
      make: () => mesh,
    });
  }

  /** Enters a material; equal ones of one name become one. Returns its id. */
  material(material: Omit<Material, 'id' | 'origin'>): string {
    const id = `m:${hashData(material).slice(0, 12)}`;
    this.#materials[id] ??= { ...material, id, origin: 'source' };
    return id;
  }

  /** Enters a texture with its bytes, or as missing where there are none. Returns its id. */
  texture(name: string, mime: string, bytes?: Uint8Array, size?: { width: number; height: number }): string {
    const id = `t:${hashData([this.source, name]).slice(0, 12)}`;
    if (!this.#textures.has(id)) {
      if (!bytes)
        this.warn('missing-texture', `The picture ${name} is not there. Send it along, or bind another one.`, name);
      const state = bytes ? 'found' : 'missing';
      this.#textures.set(id, {
        texture: { id, name, source: this.source, state, mime, bytes: bytes?.length ?? 0, ...size },
        ...(bytes ? { bytes } : {}),
      });
    }
    return id;
  }

  /** Enters an exact shape under its id, for nodes that name it. */
  solid(id: string, info: SolidInfo): void {
    this.#solids[id] ??= info;
  }

  layer(name: string, description?: string): string {
    if (!this.#layers.has(name))
      this.#layers.set(name, { name, source: this.source, ...(description ? { description } : {}) });
    return name;
  }

  /** @throws PrismError `too-large` */
  node({ parent, name, kind, transform = IDENTITY, geometry, materials, layer = null, more }: NewNode): number {
    if (this.#rows.rows >= MAX_NODES)
      throw new PrismError('too-large', `${this.file.name} has more than ${MAX_NODES} nodes. Ask for a part of it.`);
    const clean = cleanName(name) || (kind === 'assembly' ? 'Group' : 'Part');
    const origin = geometry === undefined ? ZERO : this.#geometries[geometry].origin;
    // What hangs under a node whose origin was moved stays where it is.
    const above = parent === undefined ? ZERO : this.#shiftOf(parent);
    const inParent = above === ZERO ? transform : multiply(translation([-above[0], -above[1], -above[2]]), transform);
    const moved = origin === ZERO ? inParent : multiply(inParent, translation(origin));
    const scaled = this.#inMetres(moved);
    if (moved !== transform) this.#rests.set(this.#rows.rows, transform);
    if (origin !== ZERO) this.#shifts.set(this.#rows.rows, origin);
    if (layer) this.layer(layer);
    const slots = geometry === undefined ? 0 : this.#geometries[geometry].slots;
    this.#geometryOf.push(geometry ?? -1);
    const row = this.#rows.add({
      parent: parent ?? null,
      name: clean,
      kind: kind ?? (geometry === undefined ? 'assembly' : 'part'),
      transform: scaled.every(Number.isFinite) ? scaled : IDENTITY,
      materials: slotsFilled(slots, materials),
      layer,
    });
    if (more) this.#rows.change(row, more);
    return row;
  }

  /** Enters a movement; times in seconds. Returns its number. */
  animation(name: string): number {
    const id = `a:${hashData([this.source, this.file.name, this.#animations.length]).slice(0, 12)}`;
    const shown = cleanName(name) || `Animation ${this.#animations.length + 1}`;
    this.#animations.push({ info: { id, name: shown, source: this.source, duration: 0, nodes: 0 }, tracks: [] });
    this.counts.animations++;
    return this.#animations.length - 1;
  }

  /**
   * Enters how a node moves in an animation, unit of the file, in place of the transform that it was entered with. Keys that cannot
   * be followed (times that fall, values that are no numbers) are left out with a warning.
   */
  moves(node: number, animation: number, track: Track): void {
    const { info, tracks } = this.#animations[animation];
    const name = this.#rows.nameOf(node);
    const sound: Track = {};
    for (const path of PATHS) {
      const channel = track[path];
      if (channel && isSound(channel, path)) sound[path] = channel;
      else if (channel) this.warn('bad-keys', `${info.name}: the keys of ${name} cannot be followed.`, name);
    }
    const times = keyTimes(sound);
    this.#keys += times.length;
    if (times.length === 0) return;
    if (this.#keys > MAX_KEYS)
      throw new PrismError('too-large', `${this.file.name} has more than ${MAX_KEYS} keys of movement.`);
    let motion = this.#motions.get(node);
    if (!motion) {
      const parent = this.#rows.parentOf(node);
      const rest = this.#rests.get(node);
      motion = {
        tracks: {},
        rest: rest ? this.#inMetres(rest) : this.#rows.placeOf(node),
        ...shifted(this.#scaled(parent === null ? ZERO : this.#shiftOf(parent)), this.#scaled(this.#shiftOf(node))),
      };
      this.#motions.set(node, motion);
      this.#rows.change(node, { motion });
    }
    if (motion.tracks[info.id] !== undefined) return;
    motion.tracks[info.id] = tracks.push(grownTrack(sound, this.metres)) - 1;
    info.duration = Math.max(info.duration, times[times.length - 1]);
    info.nodes++;
  }

  #shiftOf(node: number): Vector {
    return this.#shifts.get(node) ?? ZERO;
  }

  #scaled([x, y, z]: Vector): Vector {
    return [x * this.metres, y * this.metres, z * this.metres];
  }

  #inMetres(matrix: Matrix): Matrix {
    if (this.metres === 1) return matrix;
    return matrix.map((value, i) => (i >= 12 && i < 15 ? value * this.metres : value));
  }

  get size(): number {
    return this.#rows.rows;
  }

  /** The reading: structure at once, meshes when they are built. @throws PrismError `no-geometry` */
  reading(): Reading {
    if (this.#rows.rows === 0)
      throw new PrismError('no-geometry', `${this.file.name} holds no part that can be read.`, {
        file: this.file.name,
      });
    const still = this.#animations.filter(({ info }) => info.nodes === 0).length;
    if (still > 0) this.notRead.add(`Animations that move no node are not carried: ${still}.`);
    const sceneWith = (hashes?: (string | undefined)[], meshes: Record<string, MeshFigures> = {}): Scene => ({
      sources: [this.#info()],
      nodes: this.#table(hashes),
      meshes,
      solids: this.#solids,
      materials: this.#materials,
      textures: Object.fromEntries([...this.#textures].map(([id, { texture }]) => [id, texture])),
      layers: [...this.#layers.values()],
      animations: Object.fromEntries(
        this.#animations.flatMap(({ info }) => (info.nodes > 0 ? [[info.id, { ...info }]] : [])),
      ),
    });
    return {
      survey: sceneWith(),
      build: async (blobs, options = {}) => {
        const { progress, signal } = options;
        const meshes: Record<string, MeshFigures> = {};
        const hashes: (string | undefined)[] = [];
        for (const [i, geometry] of this.#geometries.entries()) {
          signal?.throwIfAborted();
          const mesh = completeMesh(await geometry.make(), this.metres, geometry.origin);
          const lost = mesh ? geometry.triangles - mesh.indices.length / 3 : 0;
          if (lost > 0)
            this.warn('bad-indices', `${lost} triangles refer to vertices that are not there; they are left out.`);
          if (mesh) {
            const blob = packMesh(mesh);
            const hash = await blobs.put(blob);
            meshes[hash] = figuresOf(mesh, blob.length);
            hashes.push(hash);
          } else hashes.push(undefined);
          progress?.(i + 1, this.#geometries.length);
        }
        for (const { texture, bytes } of this.#textures.values())
          if (bytes) await storePicture(texture, bytes, blobs, this.warnings, options, this.#useOf(texture));
        for (const { info, tracks } of this.#animations)
          if (info.nodes > 0) info.keys = await blobs.put(asJson({ tracks } satisfies AnimationKeys));
        return sceneWith(hashes, meshes);
      },
    };
  }

  /** What a picture is for. By glTF 2.0 profiles that are embedded say nothing. */
  #useOf({ id }: Texture): PictureUse {
    if (this.facts.format.startsWith('glTF')) return 'values';
    const isColour = Object.values(this.#materials).some(
      ({ textures }) => textures?.baseColor?.texture === id || textures?.emissive?.texture === id,
    );
    return isColour ? 'colour' : 'values';
  }

  /** The rows, with their meshes where these are made. */
  #table(hashes?: (string | undefined)[]): NodeTable {
    if (hashes)
      for (let row = 0; row < this.#rows.rows; row++) {
        const geometry = this.#geometryOf.at(row);
        if (geometry < 0) continue;
        const mesh = hashes[geometry];
        this.#rows.change(row, mesh ? { mesh } : { problem: 'Nothing of this part can be drawn.' });
      }
    return this.#rows.table();
  }

  #info(): SourceInfo {
    const { format, schema = '', producer = '', upAxis = { axis: 'y', by: 'file' } } = this.facts;
    const unit = this.facts.unit ?? { name: 'm', metres: 1, declared: true };
    const holds = this.#holdings();
    const impossible = holds.bounds && impossibleSize(holds.bounds);
    return {
      id: this.source,
      name: this.file.name,
      format,
      schema,
      producer,
      unit,
      units: this.facts.units ?? [unit.name],
      upAxis,
      up: upAxis.axis,
      ...(this.facts.variants ? { variants: this.facts.variants } : {}),
      bytes: this.#bytes,
      holds,
      ...(this.notRead.size > 0 ? { notRead: [...this.notRead] } : {}),
      ...(this.bent.size > 0 ? { bent: [...this.bent] } : {}),
      // First of all: nothing else matters before this.
      warnings: impossible ? [{ code: 'impossible-size', message: impossible }, ...this.warnings] : this.warnings,
    };
  }

  #holdings(): Holdings {
    let triangles = 0;
    let points = 0;
    const box = new Bounds();
    const { worlds } = factsOf({ ...EMPTY_SCENE, nodes: this.#rows.table() });
    // Six numbers for each geometry, metres, from where its own origin is.
    const bounds = this.#geometries.flatMap(
      ({ bounds, origin }) =>
      bounds ? [bounds.min, bounds.max].flatMap((end) => end.map((value, i) => (value - origin[i]) * this.metres)) : new Array<number>(6).fill(0), // prettier-ignore
    );
    for (let row = 0; row < this.#rows.rows; row++) {
      const number = this.#geometryOf.at(row);
      if (number < 0) continue;
      const geometry = this.#geometries[number];
      triangles += geometry.triangles;
      points += geometry.points ?? 0;
      if (geometry.bounds) box.addBox(worlds, row * STRIDE, bounds, number * 6);
    }
    return {
      ...(this.#geometries.length ? { geometries: this.#geometries.length, triangles } : {}),
      ...(points ? { points } : {}),
      ...this.counts,
      ...(box.box ? { bounds: box.box } : {}),
    };
  }
}

const ZERO: Vector = [0, 0, 0];
const NONE: string[] = [];

/** A material for each slot. */
function slotsFilled(slots: number, materials: readonly string[] = NONE): string[] {
  if (slots === 0) return NONE;
  if (materials.length === slots) return materials as string[];
  return Array.from({ length: slots }, (_, slot) => materials[slot] ?? NO_MATERIAL.id);
}

const asJson = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));

function isSound({ times, values, interpolation }: Channel, path: Path): boolean {
  const perKey = SIZES[path] * (interpolation === 'cubic' ? 3 : 1);
  return (
    times.length > 0 &&
    values.length === times.length * perKey &&
    times.every((time, i) => Number.isFinite(time) && (i === 0 || time > times[i - 1])) &&
    values.every(Number.isFinite)
  );
}

function originFor(bounds: Box | undefined): Vector {
  if (!bounds) return ZERO;
  const size = Math.hypot(...bounds.max.map((high, axis) => high - bounds.min[axis]));
  const middle = bounds.max.map((high, axis) => (high + bounds.min[axis]) / 2) as unknown as Vector;
  if (!(size > 0) || !(Math.hypot(...middle) > FAR * size)) return ZERO;
  return middle.map(Math.round) as unknown as Vector;
}

/** Control characters would break tables and file names further on; the longest names are cut. */
function cleanName(name: string): string {
  const clean = name.replace(/[\u0000-\u001f\u007f]/g, ' ').trim();
  return clean.length > 1000 ? `${clean.slice(0, 1000)}…` : clean;
}
