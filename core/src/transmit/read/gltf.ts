/**
 * What stands in a binary glTF file, by the loader of three.js: a reader that shares nothing with our writer. Pictures are not opened;
 * their bytes are what is compared.
 */
import { ClampToEdgeWrapping, DoubleSide, Matrix4, MirroredRepeatWrapping, Object3D, RepeatWrapping, Texture } from 'three'; // prettier-ignore
import type {
  AnimationClip,
  BufferAttribute,
  BufferGeometry,
  InstancedMesh,
  Interpolant,
  KeyframeTrack,
  Light,
  Material,
  Mesh,
  MeshBasicMaterial,
  MeshPhysicalMaterial,
  MeshStandardMaterial,
  OrthographicCamera,
  PerspectiveCamera,
  Wrapping,
} from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { GLTF, GLTFParser } from 'three/addons/loaders/GLTFLoader.js';
import { composed, multiply, IDENTITY } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { STANDARD_IOR } from '../../scene/types.ts';
import { WrittenFile } from '../../write/writer.ts';
import { dracoLoader } from './draco.ts';
import type { FoundBody, FoundGeometry, FoundMaterial, FoundPicture, FoundRow, PictureSlot } from '../found.ts';
import type { Movement } from '../movements.ts';

/** @throws Error where the file cannot be read */
export async function openGlb(bytes: Uint8Array): Promise<FoundRow[]> {
  const loader = new GLTFLoader();
  loader.register((parser) => sharing(parser) as never);
  for (const name of OPENED)
    loader.register((parser) => ({ name, loadTexture: (index: number) => unopened(parser, index, name) }) as never);
  const { MeshoptDecoder } = await import('meshoptimizer');
  loader.setMeshoptDecoder(MeshoptDecoder as never);
  loader.setDRACOLoader((await dracoLoader()) as never);
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
  const gltf = await loader.parseAsync(buffer, '');
  const { rows } = new GlbRows(gltf);
  const { extensionsUsed = [] } = gltf.parser.json as { extensionsUsed?: string[] };
  return extensionsUsed.includes('KHR_draco_mesh_compression') ? rows.map(asOneGeometry) : rows;
}

/** Under these names they stand in for what would open pictures, which takes a browser. */
const OPENED = ['EXT_texture_webp', 'KHR_texture_basisu', 'EXT_texture_avif', 'pictures'];

/** What nodes show, where it is not a part of the node. */
const shownBy = new WeakMap<Object3D, Object3D>();

/**
 * Of a mesh that many nodes show the loader makes a copy for each, and asks each of its two dozen extensions at every node: at a hundred
 * thousand of them that takes longer than all else. Here nodes refer to the one mesh, and only extensions that the file has are asked.
 */
function sharing(parser: GLTFParser) {
  const name = 'sharing';
  return {
    name,
    beforeRoot() {
      const { plugins, json } = parser as unknown as {
        plugins: Record<string, unknown>;
        json: { extensionsUsed?: string[] };
      };
      const asked = new Set([name, ...OPENED, ...(json.extensionsUsed ?? [])]);
      for (const other of Object.keys(plugins)) if (!asked.has(other)) delete plugins[other];
      return null;
    },
    createNodeMesh(index: number): Promise<Object3D> | null {
      const { nodes } = parser.json as { nodes: { mesh?: number }[] };
      const { mesh } = nodes[index];
      if (mesh === undefined) return null;
      return (parser.getDependency('mesh', mesh) as Promise<Object3D>).then((shown) => {
        const node = new Object3D();
        shownBy.set(node, shown);
        return node;
      });
    },
  };
}

/** Draco packs what each material of a mesh shows by itself: together they are the one geometry that they were. */
function asOneGeometry(row: FoundRow): FoundRow {
  const points = row.bodies[0]?.geometry.points;
  return { ...row, bodies: row.bodies.map((body) => ({ ...body, geometry: { ...body.geometry, points } })) };
}

/** A binary file whose pictures lie beside it: its text and its numbers, as if they were apart. */
export async function openGlbBeside([file, ...beside]: readonly WrittenFile[]): Promise<FoundRow[]> {
  const { bytes } = file;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const head = view.getUint32(12, true);
  const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + head))) as GltfText;
  if (json.buffers?.[0]) json.buffers[0].uri = OWN_PART;
  const own = new WrittenFile(OWN_PART, file.mime, bytes.subarray(28 + head));
  return openGltf([
    new WrittenFile(file.name, file.mime, new TextEncoder().encode(JSON.stringify(json))),
    own,
    ...beside,
  ]);
}

/** Stands for the numbers of a binary file; no file can be called so. */
const OWN_PART = '/';

/**
 * A text with its files beside it.
 * @throws Error where it cannot be read, or where a file that it names is not there
 */
export async function openGltf([text, ...beside]: readonly WrittenFile[]): Promise<FoundRow[]> {
  const json = JSON.parse(new TextDecoder().decode(text.bytes)) as GltfText;
  const files = new Map(beside.map((file) => [file.name, file]));
  const fileOf = (uri: string) => {
    const file = files.get(decodeURIComponent(uri));
    if (!file) throw new Error(`${uri} is named in it and not there`);
    return file;
  };
  // The loader fetches what is named; what lies beside is handed to it as one binary file: one buffer behind the other, then pictures.
  const buffers = json.buffers ?? [];
  const views = (json.bufferViews ??= []);
  const chunks: Uint8Array[] = [];
  const begins = new Map<number, number>();
  let length = 0;
  for (const [i, { uri, byteLength }] of buffers.entries()) {
    if (uri === undefined) continue;
    const { bytes } = fileOf(uri);
    if (bytes.length < byteLength) throw new Error(`${uri} is shorter than it is said to be`);
    begins.set(i, length);
    chunks.push(bytes);
    length += padded(bytes.length);
  }
  // Of packed numbers there is a second buffer, which is only how long they are when they are unpacked: it has no file.
  const without = buffers.filter(({ uri }) => uri === undefined);
  const move = (view: { buffer: number; byteOffset?: number }) => {
    const begin = begins.get(view.buffer);
    if (begin === undefined) view.buffer = 1 + without.indexOf(buffers[view.buffer]);
    else Object.assign(view, { buffer: 0, byteOffset: (view.byteOffset ?? 0) + begin });
  };
  for (const view of views) {
    move(view);
    if (view.extensions?.EXT_meshopt_compression) move(view.extensions.EXT_meshopt_compression);
  }
  for (const image of json.images ?? []) {
    if (image.uri === undefined) continue;
    const { bytes, mime } = fileOf(image.uri);
    delete image.uri;
    Object.assign(image, { mimeType: mime, bufferView: views.length });
    views.push({ buffer: 0, byteOffset: length, byteLength: bytes.length });
    chunks.push(bytes);
    length += padded(bytes.length);
  }
  json.buffers = [{ byteLength: length }, ...without];
  return openGlb(binaryOf(json, chunks, length));
}

interface GltfText {
  buffers?: { uri?: string; byteLength: number }[];
  bufferViews?: {
    buffer: number;
    byteOffset: number;
    byteLength: number;
    extensions?: { EXT_meshopt_compression?: { buffer: number; byteOffset?: number } };
  }[];
  images?: { uri?: string }[];
}

const padded = (length: number) => Math.ceil(length / 4) * 4;

/** A binary file of a text and its chunks (glTF 2.0, 4.4). */
function binaryOf(json: GltfText, chunks: readonly Uint8Array[], length: number): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(json));
  const head = padded(text.length);
  const out = new Uint8Array(28 + head + length).fill(32, 20, 20 + head);
  const view = new DataView(out.buffer);
  for (const [at, value] of [GLTF, 2, out.length, head, JSON_CHUNK].entries()) view.setUint32(at * 4, value, true);
  out.set(text, 20);
  view.setUint32(20 + head, length, true);
  view.setUint32(24 + head, BIN_CHUNK, true);
  let at = 28 + head;
  for (const chunk of chunks) {
    out.set(chunk, at);
    at += padded(chunk.length);
  }
  return out;
}

const [GLTF, JSON_CHUNK, BIN_CHUNK] = [0x46546c67, 0x4e4f534a, 0x004e4942];

interface PictureDefinition {
  mimeType?: string;
  bufferView?: number;
}

interface TextureDefinition {
  source?: number;
  sampler?: number;
  extensions?: Record<string, { source: number }>;
}

const WRAPPINGS: Record<number, Wrapping> = { 33071: ClampToEdgeWrapping, 33648: MirroredRepeatWrapping };

/** A texture whose picture stays a file; null where another of the stand-ins is meant, which the loader must hear at once. */
function unopened(parser: GLTFParser, index: number, extension: string): Promise<Texture> | null {
  const json = parser.json as {
    textures: TextureDefinition[];
    images: PictureDefinition[];
    samplers?: { wrapS?: number }[];
  };
  const { source, sampler, extensions = {} } = json.textures[index];
  const others = Object.keys(extensions);
  if (extension === 'pictures' ? others.length > 0 : !others.includes(extension)) return null;
  const picture = json.images[extensions[extension]?.source ?? source ?? -1];
  const wrap = WRAPPINGS[json.samplers?.[sampler ?? -1]?.wrapS ?? 0] ?? RepeatWrapping;
  return textureOf(parser, picture, wrap);
}

async function textureOf(
  parser: GLTFParser,
  { mimeType = '', bufferView = -1 }: PictureDefinition,
  wrap: Wrapping,
): Promise<Texture> {
  const texture = new Texture();
  texture.wrapS = texture.wrapT = wrap;
  const bytes = new Uint8Array((await parser.getDependency('bufferView', bufferView)) as ArrayBuffer);
  pictureFiles.set(texture.source, { bytes, mime: mimeType });
  return texture;
}

/** Files of pictures by the source that all uses of a texture share. */
const pictureFiles = new WeakMap<object, { bytes: Uint8Array; mime: string }>();

/** A node, or one of the parts that its list of places stands for. */
type RowItem = { object: Object3D } | Listed;

interface Listed {
  object: Object3D;
  instance: number;
  name: string;
  at: number;
}

const isListed = (item: RowItem): item is Listed => 'instance' in item;

const NONE: Movement[] = [];

class GlbRows {
  readonly rows: FoundRow[] = [];
  readonly #geometries = new Map<BufferGeometry, FoundGeometry>();
  readonly #materials = new Map<Material, FoundMaterial>();
  readonly #bodies = new Map<Object3D, FoundBody[]>();
  readonly #movements: Map<string, NamedMovement[]>;

  constructor(readonly gltf: GLTF) {
    this.#movements = movementsByName(gltf);
    this.#visitAll(gltf.scene.children, null, IDENTITY);
  }

  /** What lists of places hold, in the order that they say it had among the rows beside them. */
  #visitAll(objects: readonly Object3D[], parent: number | null, above: Matrix): void {
    const items = objects.flatMap((object): RowItem[] => {
      const list = object.userData.instances as Pick<Listed, 'name' | 'at'>[] | undefined;
      return list ? list.map(({ name, at }, instance) => ({ object, instance, name, at })) : [{ object }];
    });
    const ordered: (Listed | undefined)[] = [];
    for (const item of items) if (isListed(item)) ordered[item.at] = item;
    const others = items.flatMap((item) => (isListed(item) ? [] : item.object))[Symbol.iterator]();
    for (let i = 0; i < items.length; i++) {
      const listed = ordered[i];
      if (listed) this.#instance(listed, parent, above);
      else this.#visit(others.next().value as Object3D, parent, above);
    }
  }

  #instance({ object, instance, name }: Listed, parent: number | null, above: Matrix): void {
    const bodies = [object, ...object.children].filter((thing) => 'isInstancedMesh' in thing);
    const place = new Matrix4();
    (bodies[0] as InstancedMesh).getMatrixAt(instance, place);
    const world = multiply(multiply(above, object.matrix.elements), place.elements);
    this.rows.push({ parent, name, world, bodies: bodies.flatMap((body) => this.#bodyOf(body)), movements: [] });
  }

  #isNode(object: Object3D): boolean {
    return this.gltf.parser.associations.get(object)?.nodes !== undefined;
  }

  #visit(object: Object3D, parent: number | null, above: Matrix): void {
    // What was given as a matrix still is one here; places given as move, turn and scale are put together.
    const place = isUntouched(object.matrix)
      ? composed(object.position.toArray(), object.quaternion.toArray() as number[], object.scale.toArray())
      : object.matrix.elements;
    const world = above === IDENTITY ? [...place] : multiply(above, place);
    const id = this.rows.length;
    const shown = shownBy.get(object);
    const below = object.children.filter((child) => this.#isNode(child));
    const row: FoundRow = {
      parent,
      name: (object.userData.name as string | undefined) ?? object.name,
      world,
      bodies: shown ? this.#bodiesOf(shown) : [],
      movements: this.#movementsOf(object),
    };
    this.rows.push(row);
    // What is not a node of the file hangs on the node that it is a part of; the node may itself be what it shows.
    if (!shown || below.length < object.children.length) this.#addThings(row, object, new Set(below));
    if (below.length > 0) this.#visitAll(below, id, world);
  }

  #addThings(row: FoundRow, object: Object3D, below: ReadonlySet<Object3D>): void {
    const own = object.children.filter((child) => !below.has(child));
    for (const thing of [object, ...own.flatMap((child) => [child, ...child.children])]) {
      // Beside a light or a camera, what the node shows hangs on it too.
      const shown = thing === object ? undefined : shownBy.get(thing);
      row.bodies = [...row.bodies, ...(shown ? this.#bodiesOf(shown) : this.#bodyOf(thing))];
      const { isCamera } = thing as PerspectiveCamera;
      if (isCamera) row.camera = cameraOf(thing as PerspectiveCamera);
      if ((thing as Light).isLight) row.light = lightOf(thing as Light);
    }
  }

  /** Of a mesh that many nodes show: one list for all of them. */
  #bodiesOf(shown: Object3D): FoundBody[] {
    let bodies = this.#bodies.get(shown);
    if (!bodies) this.#bodies.set(shown, (bodies = [shown, ...shown.children].flatMap((thing) => this.#bodyOf(thing))));
    return bodies;
  }

  #movementsOf(object: Object3D): Movement[] {
    const found = this.#movements.get(object.name);
    return found ? found.map((movement) => ({ ...movement, at: (time) => movement.at(time, object) })) : NONE;
  }

  #bodyOf(object: Object3D): FoundBody[] {
    const { geometry, material } = object as Mesh;
    if (!geometry) return [];
    const found = this.#geometryOf(geometry, object);
    // A body without a material of its own is given one by the loader; what lines and points are given takes over the name.
    const isKnown = this.gltf.parser.associations.get(material as Material)?.materials !== undefined;
    const isNamed = found.mode !== 'triangles' && (material as Material).name !== '';
    return [
      {
        geometry: found,
        ...(isKnown || isNamed ? { material: this.#materialOf(material as MeshStandardMaterial) } : {}),
        ...this.#variantsOf(object),
      },
    ];
  }

  /** The loader hands on what it does not know itself. */
  #variantsOf({ userData }: Object3D): Pick<FoundBody, 'variants'> {
    const said = (userData.gltfExtensions as VariantsExtension | undefined)?.KHR_materials_variants?.mappings;
    if (!said) return {};
    const { extensions, materials = [] } = this.gltf.parser.json as VariantsText;
    const names = extensions?.KHR_materials_variants?.variants ?? [];
    const entries = said.flatMap(({ variants, material }) => variants.map((i) => [names[i]?.name ?? '', materials[material]?.name ?? ''])); // prettier-ignore
    return { variants: Object.fromEntries(entries) as Record<string, string> };
  }

  #geometryOf(geometry: BufferGeometry, object: Object3D): FoundGeometry {
    let found = this.#geometries.get(geometry);
    if (found) return found;
    const { position, normal, color, ...others } = geometry.attributes as Record<string, BufferAttribute>;
    const { isPoints, isLine } = object as Object3D & { isPoints?: boolean; isLine?: boolean };
    const uvs = ['uv', 'uv1', 'uv2', 'uv3'].flatMap((name) => (others[name] ? [valuesOf(others[name])] : []));
    found = {
      mode: isPoints ? 'points' : isLine ? 'lines' : 'triangles',
      points: position,
      positions: valuesOf(position),
      uvs,
      ...(geometry.index ? { corners: geometry.index.array } : {}),
      ...(normal ? { normals: valuesOf(normal) } : {}),
      ...(color ? { colours: valuesOf(color, 4) } : {}),
    };
    this.#geometries.set(geometry, found);
    return found;
  }

  #materialOf(material: MeshStandardMaterial): FoundMaterial {
    let found = this.#materials.get(material);
    if (found) return found;
    const { isMeshBasicMaterial: unlit = false } = material as unknown as MeshBasicMaterial;
    const pictures: FoundMaterial['pictures'] = {};
    const bind = (slot: PictureSlot, texture: Texture | null | undefined, strength = 1) => {
      const picture = texture && pictureOf(texture, strength);
      if (picture) pictures[slot] = picture;
    };
    bind('baseColor', material.map);
    bind('metallicRoughness', material.roughnessMap);
    bind('normal', material.normalMap, material.normalScale?.x);
    bind('occlusion', material.aoMap, material.aoMapIntensity);
    bind('emissive', material.emissiveMap);
    found = {
      name: material.name,
      baseColor: material.color.toArray(),
      opacity: material.opacity,
      metallic: material.metalness ?? 0,
      roughness: material.roughness ?? 1,
      emissive: material.emissive?.toArray().map((value) => value * material.emissiveIntensity) ?? [0, 0, 0],
      blended: material.transparent,
      ...(material.alphaTest > 0 ? { cutoff: material.alphaTest } : {}),
      doubleSided: material.side === DoubleSide,
      unlit,
      ...(unlit ? {} : coatOf(material as MeshPhysicalMaterial)),
      pictures,
    };
    this.#materials.set(material, found);
    return found;
  }
}

interface VariantsExtension {
  KHR_materials_variants?: { mappings: { variants: number[]; material: number }[] };
}

interface VariantsText {
  extensions?: { KHR_materials_variants?: { variants: { name: string }[] } };
  materials?: { name?: string }[];
}

/** Extensions make a material of another class; without them it is as glTF has it without. */
function coatOf({ transmission = 0, ior = STANDARD_IOR, clearcoat = 0, clearcoatRoughness = 0 }: MeshPhysicalMaterial) {
  return { transmission, ior, clearcoat, clearcoatRoughness: clearcoat > 0 ? clearcoatRoughness : 0 };
}

const untouched = new Matrix4();
const isUntouched = (matrix: Matrix4) => matrix.equals(untouched);

/** All values as numbers, whatever they are stored as. */
function valuesOf(attribute: BufferAttribute, width = attribute.itemSize): ArrayLike<number> {
  const { itemSize, count, normalized } = attribute;
  const isPlain = !normalized && itemSize === width && !('data' in attribute);
  if (isPlain) return attribute.array;
  const out = new Float64Array(count * width).fill(1);
  for (let i = 0; i < count; i++)
    for (let k = 0; k < Math.min(width, itemSize); k++) out[i * width + k] = attribute.getComponent(i, k);
  return out;
}

function cameraOf(camera: PerspectiveCamera | OrthographicCamera): FoundRow['camera'] {
  return 'fov' in camera ? { angle: (camera.fov * Math.PI) / 180 } : { height: camera.top - camera.bottom };
}

const LIGHTS: Record<string, string> = { DirectionalLight: 'directional', PointLight: 'point', SpotLight: 'spot' };

function lightOf({ type, intensity, color }: Light): FoundRow['light'] {
  return { type: LIGHTS[type] ?? type, intensity, color: color.toArray() };
}

function pictureOf(texture: Texture, strength: number): FoundPicture | undefined {
  const file = pictureFiles.get(texture.source);
  if (!file) return undefined;
  const wraps = new Map<number, FoundPicture['wrap']>([
    [ClampToEdgeWrapping, 'clamp'],
    [MirroredRepeatWrapping, 'mirror'],
  ]);
  return {
    ...file,
    uv: texture.channel,
    offset: texture.offset.toArray(),
    scale: texture.repeat.toArray(),
    rotation: texture.rotation,
    wrap: wraps.get(texture.wrapS) ?? 'repeat',
    strength,
  };
}

interface NamedMovement extends Omit<Movement, 'at'> {
  at(time: number, object: Object3D): Matrix;
}

/** What moves each node, by the name that the loader gave it, which is unique. */
function movementsByName({ animations }: GLTF): Map<string, NamedMovement[]> {
  const out = new Map<string, NamedMovement[]>();
  for (const clip of animations)
    for (const [name, tracks] of tracksByName(clip)) {
      const curves: Record<string, Interpolant> = {};
      const times = new Set<number>();
      for (const [path, track] of tracks) {
        curves[path] = curveOf(track);
        for (const time of track.times) times.add(time);
      }
      const at = (time: number, { position, quaternion, scale }: Object3D) =>
        composed(
          [...(curves.position?.evaluate(time) ?? position.toArray())],
          [...(curves.quaternion?.evaluate(time) ?? quaternion.toArray())],
          [...(curves.scale?.evaluate(time) ?? scale.toArray())],
        );
      const movement = { animation: clip.name, times: [...times].sort((a, b) => a - b), at };
      out.set(
        name,
        [...(out.get(name) ?? []), movement].sort((a, b) => (a.animation < b.animation ? -1 : 1)),
      );
    }
  return out;
}

function curveOf(track: KeyframeTrack): Interpolant {
  return (track as unknown as { createInterpolant(): Interpolant }).createInterpolant();
}

function tracksByName({ tracks }: AnimationClip): Map<string, [path: string, KeyframeTrack][]> {
  const out = new Map<string, [string, KeyframeTrack][]>();
  for (const track of tracks) {
    const point = track.name.lastIndexOf('.');
    const name = track.name.slice(0, point);
    out.set(name, [...(out.get(name) ?? []), [track.name.slice(point + 1), track]]);
  }
  return out;
}
