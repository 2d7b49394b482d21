/**
 * Reader of USD in its three forms: text (usda), binary (usdc) and package (usdz). References, payloads, variants, classes and
 * sublayers are followed inside the package or the files that came along.
 */
import { aspectOf } from '../aspect.ts';
import { PrismError } from '../../errors.ts';
import { composed, IDENTITY, invert, isIdentity, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { CameraInfo, LightInfo, SceneNode } from '../../scene/types.ts';
import type { BareMesh } from '../../mesh/normals.ts';
import { SceneBuilder } from '../builder.ts';
import type { Companions } from '../companions.ts';
import { isZip, openPackage } from '../zip.ts';
import { said } from '../library.ts';
import { endingOf } from '../paths.ts';
import type { Reader, Reading, SourceFile } from '../reader.ts';
import { asUtf8, headOf } from '../scanner.ts';
import { numbersIn } from './layer.ts';
import type { Numbers } from './layer.ts';
import { spanOf, trackOf } from './animations.ts';
import { UsdMaterials } from './materials.ts';
import { bodyOf, curvesOf, meshOf, pointsOf, tokenOf, uvNamesOf, valueOf } from './shapes.ts';
import type { FaceSubset } from './shapes.ts';
import { Stage } from './stage.ts';
import type { ComposedPrim, LoadedLayer } from './stage.ts';
import { placeOf, unit } from './transforms.ts';
import { parseUsda } from './usda.ts';
import { CRATE_MAGIC, parseUsdc } from './usdc.ts';

const LAYER_ENDINGS = ['usd', 'usda', 'usdc'];

export const usdReader: Reader = {
  format: 'USD',
  endings: [...LAYER_ENDINGS, 'usdz'],
  recognises: ({ name, bytes }) => isLayer(bytes) || (isZip(bytes) && endingOf(name) === 'usdz'),
  read: async (file, sourceId) => readUsd(file, sourceId),
};

function isLayer(bytes: Uint8Array): boolean {
  return headOf(bytes, CRATE_MAGIC.length) === CRATE_MAGIC || /^\s*#usda\b/.test(headOf(bytes, 64));
}

/** Files that one scene may be put together from. */
const MAX_LAYERS = 2000;
/** Where a file says nothing: hundredths of a metre, y up (UsdGeom). */
const STANDARD = { metres: 0.01, up: 'Y' };
const UNITS: [number, string][] = [
  [1, 'm'],
  [0.01, 'cm'],
  [0.001, 'mm'],
  [0.0254, 'inch'],
  [0.3048, 'ft'],
];

function readUsd(file: SourceFile, sourceId: string): Reading {
  const packed = isZip(file.bytes) ? openPackage(file) : undefined;
  const first = packed ? firstLayer(packed) : file.name;
  if (first === undefined)
    throw new PrismError('not-readable', `${file.name} holds no layer of USD.`, { file: file.name });
  // In a package all names are those of the package; a layer by itself looks among the files that came with it.
  const beside = packed ?? file.beside;
  const inner: SourceFile = { ...file, ...(beside ? { beside } : {}) };
  const layers = new LayerLoader(inner);
  const bytes = packed ? packed.bytes(first) : file.bytes;
  packed?.use(first);
  const top = layers.parsed(first, bytes, packed ? `${first} in ${file.name}` : first);
  const { metresPerUnit, upAxis, creator, documentation } = top.layer;
  const metres = metresPerUnit && metresPerUnit > 0 && Number.isFinite(metresPerUnit) ? metresPerUnit : undefined;
  const up = (upAxis ?? STANDARD.up).toLowerCase() === 'z' ? 'z' : 'y';
  const builder = new SceneBuilder(inner, sourceId, {
    format: 'USD',
    schema: packed ? 'package' : isLayerText(bytes) ? 'text' : 'binary',
    producer: creator ?? documentation?.split('\n')[0] ?? '',
    unit: {
      name: nameOfUnit(metres ?? STANDARD.metres),
      metres: metres ?? STANDARD.metres,
      declared: metres !== undefined,
    },
    upAxis: { axis: up, by: upAxis ? 'file' : 'convention' },
  });
  for (const { message, where } of layers.broken)
    builder.warn('truncated', `${message}; what stands before is kept.`, where);
  const stage = new Stage(top, (name, from) => layers.find(name, from), {
    missing: (name, path) =>
      builder.warn('missing-file', `${name} is not there; ${path} is empty. Send it along.`, path),
    cyclic: (path) => builder.warn('cyclic', `${path} contains itself, or nests too deeply; it was cut there.`, path),
  });
  new UsdScene(stage, builder).place();
  for (const { message, where } of layers.failed) builder.warn('not-readable', message, where);
  return builder.reading();
}

const isLayerText = (bytes: Uint8Array) => headOf(bytes, CRATE_MAGIC.length) !== CRATE_MAGIC;

function nameOfUnit(metres: number): string {
  return UNITS.find(([size]) => Math.abs(size / metres - 1) < 1e-6)?.[1] ?? `${metres} m`;
}

/** The first layer of a package is the scene; pictures may stand before it in careless ones. */
function firstLayer({ files }: Companions): string | undefined {
  return [...files.keys()].find((path) => LAYER_ENDINGS.includes(endingOf(path)));
}

/** Parses layers once, whoever refers to them. */
class LayerLoader {
  readonly broken: { message: string; where: string }[] = [];
  readonly failed: { message: string; where: string }[] = [];
  readonly #loaded = new Map<string, LoadedLayer | undefined>();

  constructor(readonly file: SourceFile) {}

  /** @param said what people are told that the layer is */
  parsed(name: string, bytes: Uint8Array, said = name): LoadedLayer {
    const made: LoadedLayer = { file: name, layer: this.#parse(said, bytes), below: [] };
    this.#loaded.set(name, made);
    for (const lower of made.layer.subLayers) {
      const found = this.find(lower, made);
      if (found) made.below.push(found);
      else this.failed.push({ message: `The layer ${lower} is not there; what it adds is missing.`, where: lower });
    }
    return made;
  }

  #parse(name: string, bytes: Uint8Array) {
    if (!isLayerText(bytes)) return parseUsdc(bytes);
    const { layer, broken } = parseUsda(asUtf8(bytes), name);
    if (broken) this.broken.push({ message: `${name} is cut off or damaged: ${broken.message}`, where: broken.where });
    return layer;
  }

  find(reference: string, from: LoadedLayer): LoadedLayer | undefined {
    const { beside } = this.file;
    const path = beside?.find(reference, from.file);
    if (path === undefined || !beside || !LAYER_ENDINGS.includes(endingOf(path))) return undefined;
    beside.place(path);
    if (!this.#loaded.has(path)) {
      this.#loaded.set(path, undefined);
      if (this.#loaded.size > MAX_LAYERS) return undefined;
      try {
        this.parsed(path, beside.bytes(path));
      } catch (error) {
        this.failed.push({ message: `${path} cannot be read: ${said(error)}.`, where: path });
      }
    }
    return this.#loaded.get(path);
  }
}

class UsdScene {
  readonly #materials: UsdMaterials;
  /** Sets of texture coordinates that materials ask for by name, in the order of their numbers. */
  readonly #sets: string[] = [];
  readonly #geometries = new Map<unknown, Map<string, number>>();
  readonly #moving: { prim: ComposedPrim; node: number }[] = [];
  /** Properties that change over time and are not carried. */
  #changing = 0;
  #invisible = 0;
  #guides = 0;
  #skipped = 0;

  constructor(
    readonly stage: Stage,
    readonly builder: SceneBuilder,
  ) {
    this.#materials = new UsdMaterials(stage, builder, (name) => {
      const known = this.#sets.indexOf(name);
      return known >= 0 ? known : this.#sets.push(name) - 1;
    });
  }

  place(): void {
    this.#readBoundMaterials(this.stage.root);
    for (const prim of this.stage.root.children()) this.#prim(prim, undefined, IDENTITY, undefined);
    const { builder } = this;
    if (this.#invisible > 0) builder.notRead.add(`${this.#invisible} prims are marked as invisible and are left out.`);
    if (this.#guides > 0) builder.notRead.add(`${this.#guides} guides and proxies are left out.`);
    this.#enterMovements();
    if (this.#changing > 0)
      builder.notRead.add(
        `Values over time other than places are shown at their earliest: ${this.#changing} properties.`,
      );
    if (this.#skipped > 0)
      builder.warn('bad-indices', `${this.#skipped} faces name points that are not there; they are left out.`);
  }

  /** A stage has one time for all that moves in it, from its start or from the earliest of its values. */
  #enterMovements(): void {
    if (this.#moving.length === 0) return;
    const { startTimeCode, timeCodesPerSecond = 24 } = this.stage.top.layer;
    const start = Math.min(startTimeCode ?? Infinity, ...this.#moving.map(({ prim }) => spanOf(prim)?.[0] ?? Infinity));
    const clock = { start, perSecond: timeCodesPerSecond > 0 ? timeCodesPerSecond : 24 };
    const animation = this.builder.animation('');
    for (const { prim, node } of this.#moving) {
      const track = trackOf(prim, clock);
      if (track) this.builder.moves(node, animation, track);
    }
  }

  /** Which coordinates have which number follows from the materials: they are read before the meshes. */
  #readBoundMaterials(prim: ComposedPrim): void {
    if (prim.type === 'Material' && prim.path) this.#materials.at(prim.path);
    for (const child of prim.children()) this.#readBoundMaterials(child);
  }

  #prim(prim: ComposedPrim, parent: number | undefined, above: Matrix, bound: string | undefined): void {
    if (!prim.isDefined || prim.isClass || !prim.isActive) return;
    if (NOT_SHOWN.has(prim.type) || isLibrary(prim)) return;
    if (tokenOf(prim, 'visibility') === 'invisible') {
      this.#invisible++;
      return;
    }
    const purpose = tokenOf(prim, 'purpose');
    if (purpose === 'guide' || purpose === 'proxy') {
      this.#guides++;
      return;
    }
    for (const name of prim.properties())
      if (!name.startsWith('xformOp:') && (prim.property(name)?.samples ?? 0) > 1) this.#changing++;
    const { matrix, resets } = placeOf(prim);
    // A place that does not follow what is above it is put back by the inverse of all that.
    const transform = resets ? multiply(invert(above), matrix) : matrix;
    const world = resets ? matrix : multiply(above, matrix);
    const binding = bindingOf(prim) ?? bound;
    const more: Partial<SceneNode> = { entity: prim.path };
    const at = parent === undefined ? {} : { parent };
    const base = { ...at, name: prim.displayName ?? prim.name, transform, more };
    if (prim.type === 'PointInstancer') return this.#instancer(prim, base, world, binding);
    const camera = prim.type === 'Camera' ? cameraOf(prim, this.builder.metres) : undefined;
    const light = lightOf(prim);
    if (camera) this.builder.counts.cameras++;
    if (light) this.builder.counts.lights++;
    const body = prim.isInstance ? onlyBody(prim) : undefined;
    const shown = camera || light ? undefined : this.#geometry(body ?? prim, (body && bindingOf(body)) ?? binding);
    const children = body ? [] : prim.children().filter(({ type }) => type !== 'GeomSubset');
    const moving = (node: number) => {
      if (!resets && spanOf(prim)) this.#moving.push({ prim, node });
      return node;
    };
    if (camera) moving(this.builder.node({ ...base, kind: 'camera', more: { ...more, camera } }));
    else if (light) moving(this.builder.node({ ...base, kind: 'light', more: { ...more, light } }));
    else if (shown && children.length === 0) moving(this.builder.node({ ...base, ...shown }));
    else {
      const id = moving(this.builder.node({ ...base, kind: 'assembly' }));
      // A mesh that has children of its own is a part in a group of its name.
      if (shown) this.builder.node({ parent: id, name: base.name, ...shown, more });
      for (const child of children) this.#prim(child, id, world, binding);
    }
  }

  /** Geometry and materials of a prim that has some. */
  #geometry(prim: ComposedPrim, bound: string | undefined): { geometry: number; materials: string[] } | undefined {
    if (prim.type === 'Mesh') return this.#mesh(prim, bound);
    const made = this.#shared(prim, prim.origin('points') ?? prim, '', () => this.#simple(prim));
    return made === undefined ? undefined : { geometry: made, materials: [this.#material(prim, bound)] };
  }

  #simple(prim: ComposedPrim): BareMesh | undefined {
    if (prim.type === 'Points') return pointsOf(prim);
    if (prim.type !== 'BasisCurves' && prim.type !== 'NurbsCurves') {
      if (prim.type === 'NurbsPatch') this.builder.notRead.add('NURBS patches are not read; ask for them as meshes.');
      return bodyOf(prim);
    }
    const lines = curvesOf(prim);
    if (!lines) this.builder.notRead.add('Curves that are not straight from point to point are not read.');
    return lines;
  }

  #mesh(prim: ComposedPrim, bound: string | undefined): { geometry: number; materials: string[] } | undefined {
    const subsets: FaceSubset[] = [];
    const isDouble = numbersIn(prim.property('doubleSided')?.value)[0] === 1;
    const materials = [this.#material(prim, bound, isDouble)];
    for (const child of prim.children()) {
      const path = child.type === 'GeomSubset' ? bindingOf(child) : undefined;
      if (path === undefined) continue;
      subsets.push({ faces: valueOf(child, 'indices'), slot: materials.length });
      materials.push(this.#materials.at(path, isDouble));
    }
    const scheme = tokenOf(prim, 'subdivisionScheme');
    if (scheme && scheme !== 'none' && valueOf(prim, 'normals').length === 0)
      this.builder.notRead.add('Subdivision surfaces are shown by their cages, not subdivided.');
    const own = uvNamesOf(prim);
    // Sets that materials name keep their numbers; what only this mesh has follows.
    const names = [...this.#sets, ...own.filter((name) => !this.#sets.includes(name))];
    const used = own.length === 0 ? [] : names.slice(0, Math.max(...own.map((name) => names.indexOf(name))) + 1);
    const key = `${used.join()} ${subsets.map(({ faces, slot }) => `${slot}:${faces.length}:${faces[0]}`).join()}`;
    const geometry = this.#shared(prim, prim.origin('points'), key, () => {
      const { mesh, skipped } = meshOf(prim, subsets, used);
      this.#skipped += skipped;
      return mesh.indices.length > 0 ? mesh : undefined;
    });
    return geometry === undefined ? undefined : { geometry, materials };
  }

  /** One geometry for all prims that have their points from the same place. */
  #shared(prim: ComposedPrim, origin: unknown, key: string, make: () => BareMesh | undefined): number | undefined {
    const owner = origin ?? prim;
    let known = this.#geometries.get(owner);
    if (!known) this.#geometries.set(owner, (known = new Map()));
    let number = known.get(key);
    if (number === undefined) {
      const mesh = make();
      if (!mesh) return undefined;
      known.set(key, (number = this.builder.mesh(mesh)));
    }
    return number;
  }

  /** The material that is bound, or the colour that the prim is shown in. */
  #material(prim: ComposedPrim, bound: string | undefined, isDouble = false): string {
    if (bound !== undefined) return this.#materials.at(bound, isDouble);
    const property = prim.property('primvars:displayColor');
    const [r, g, b] = numbersIn(property?.value ?? property?.first);
    const isOne = property?.interpolation === undefined || property.interpolation === 'constant';
    if (!isOne || !Number.isFinite(r + g + b)) return 'none';
    const [opacity = 1] = valueOf(prim, 'primvars:displayOpacity');
    const hex = [r, g, b].map((value) => value.toFixed(3)).join(' ');
    return this.builder.material({
      name: `Colour ${hex}`,
      baseColor: [r, g, b],
      opacity: Math.min(1, Math.max(0, opacity)),
      metallic: 0,
      roughness: 0.6,
    });
  }

  #instancer(
    prim: ComposedPrim,
    base: Parameters<SceneBuilder['node']>[0],
    world: Matrix,
    bound: string | undefined,
  ): void {
    const id = this.builder.node({ ...base, kind: 'assembly' });
    const prototypes = (prim.property('prototypes')?.targets ?? []).map((path) => this.stage.at(path));
    const [which, places, turns, scales] = ['protoIndices', 'positions', 'orientations', 'scales'].map((name) =>
      valueOf(prim, name),
    );
    const hidden = new Set<number>(valueOf(prim, 'invisibleIds'));
    for (let i = 0; i < which.length && i * 3 + 2 < places.length; i++) {
      const prototype = prototypes[which[i]];
      if (!prototype || hidden.has(i)) continue;
      const q = [turns[i * 4 + 1] ?? 0, turns[i * 4 + 2] ?? 0, turns[i * 4 + 3] ?? 0, turns[i * 4] ?? 1];
      const transform = composed([places[i * 3], places[i * 3 + 1], places[i * 3 + 2]], unit(q), [
        scales[i * 3] ?? 1,
        scales[i * 3 + 1] ?? 1,
        scales[i * 3 + 2] ?? 1,
      ]);
      const instance = this.builder.node({
        parent: id,
        name: prototype.displayName ?? prototype.name,
        kind: 'assembly',
        transform,
        more: { entity: `${prim.path}[${i}]` },
      });
      this.#prim(prototype, instance, multiply(world, transform), bound);
    }
  }
}

/** Prims that describe and are not shown. */
const NOT_SHOWN = new Set([
  'Material',
  'Shader',
  'NodeGraph',
  'GeomSubset',
  'SkelAnimation',
  'Skeleton',
  'RenderSettings',
]);

const BODIES = new Set(['Mesh', 'Points', 'BasisCurves']);

/** The one body of an instance that shows nothing else, where it stands where the instance stands: both are one part. */
function onlyBody(prim: ComposedPrim): ComposedPrim | undefined {
  const children = prim.children().filter((child) => !isLibrary(child));
  const [body] = children;
  if (prim.type !== 'Xform' || children.length !== 1 || !BODIES.has(body.type) || !body.isActive) return undefined;
  if (body.children().some(({ type }) => type !== 'GeomSubset') || spanOf(body)) return undefined;
  const isPlain = isIdentity(placeOf(body).matrix, 0) && tokenOf(body, 'visibility') !== 'invisible';
  const purpose = tokenOf(body, 'purpose');
  return isPlain && purpose !== 'guide' && purpose !== 'proxy' ? body : undefined;
}

/** A place for materials shows nothing. */
function isLibrary(prim: ComposedPrim): boolean {
  if (prim.type !== 'Scope') return false;
  const children = prim.children();
  return children.length > 0 && children.every(({ type }) => NOT_SHOWN.has(type));
}

/** Path of the bound material: for all purposes, or for previews. */
function bindingOf(prim: ComposedPrim): string | undefined {
  for (const name of ['material:binding', 'material:binding:preview', 'material:binding:full']) {
    const [path] = prim.property(name)?.targets ?? [];
    if (path) return path;
  }
  return undefined;
}

/** Lengths of the lens are tenths of the unit of the scene (UsdGeomCamera). */
function cameraOf(prim: ComposedPrim, metres: number): CameraInfo {
  const number = (name: string, standard: number) => {
    const [value] = valueOf(prim, name);
    return value > 0 && Number.isFinite(value) ? value : standard;
  };
  const [nearest, farthest] = valueOf(prim, 'clippingRange');
  const near = Math.max(1e-4, (nearest > 0 ? nearest : 1) * metres);
  const far = farthest > 0 && Number.isFinite(farthest) ? farthest * metres : 1e6 * metres;
  const aperture = number('verticalAperture', 15.2908);
  const aspect = aspectOf(valueOf(prim, 'horizontalAperture')[0] / aperture);
  if (tokenOf(prim, 'projection') === 'orthographic')
    return { type: 'orthographic', height: (aperture / 10) * metres, near, far, ...aspect };
  return { type: 'perspective', fov: 2 * Math.atan(aperture / 2 / number('focalLength', 50)), near, far, ...aspect };
}

const LIGHTS: Record<string, LightInfo['type']> = {
  DistantLight: 'directional',
  SphereLight: 'point',
  DiskLight: 'spot',
  RectLight: 'spot',
  DomeLight: 'ambient',
  CylinderLight: 'point',
};

/** Half of the angle of a cone that a light is held in, radians; undefined where it shines to all sides. */
function coneOf(read: (name: string) => Numbers): { inner: number; outer: number } | undefined {
  const [angle = 180] = read('shaping:cone:angle');
  if (!(angle > 0 && angle < 90)) return undefined;
  const [softness = 0] = read('shaping:cone:softness');
  const outer = (angle * Math.PI) / 180;
  return { inner: outer * (1 - Math.min(1, Math.max(0, softness))), outer };
}

function lightOf(prim: ComposedPrim): LightInfo | undefined {
  const type = LIGHTS[prim.type];
  if (!type) return undefined;
  const read = (name: string) => {
    const values = valueOf(prim, `inputs:${name}`);
    return values.length > 0 ? values : valueOf(prim, name);
  };
  const [r = 1, g = 1, b = 1] = read('color');
  const [intensity = 1] = read('intensity');
  const [exposure = 0] = read('exposure');
  const cone = type === 'point' ? coneOf(read) : undefined;
  return {
    type: cone ? 'spot' : type,
    color: [r, g, b],
    intensity: intensity * 2 ** exposure,
    ...(cone ?? (type === 'spot' ? { inner: 0, outer: Math.PI / 2 } : {})),
  };
}
