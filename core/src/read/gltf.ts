/** Reader of glTF 2.0 (ISO/IEC 12113), text with its files or binary, with the extensions in use. */
import type {
  Accessor,
  Document,
  ExtensibleProperty,
  JSONDocument,
  Material as GltfMaterial,
  Node,
  Primitive,
  TextureInfo,
  Texture as GltfTexture,
} from '@gltf-transform/core';
import type {
  InstancedMesh,
  Light,
  PBRSpecularGlossiness,
  EmissiveStrength,
  Transform,
} from '@gltf-transform/extensions';
import { PrismError } from '../errors.ts';
import { metalRough } from '../finish/specularGloss.ts';
import type { MeshGroup } from '../mesh/mesh.ts';
import type { BareMesh } from '../mesh/normals.ts';
import type { CameraInfo, Material, SceneNode, TextureSlot, TextureUse } from '../scene/types.ts';
import { SceneBuilder } from './builder.ts';
import { lastOf } from './paths.ts';
import { composed } from '../scene/matrix.ts';
import type { Reader, Reading, SourceFile } from './reader.ts';
import { asUtf8, headOf } from './scanner.ts';
import { mimeOf, pictureSize, referredTexture } from './textures.ts';

export const gltfReader: Reader = {
  format: 'glTF',
  endings: ['gltf', 'glb'],
  recognises: ({ bytes }) => isBinary(bytes) || /^\s*\{[\s\S]*"(asset|scenes|accessors)"\s*:/.test(headOf(bytes, 4000)),
  read: (file, sourceId) => readGltf(file, sourceId),
};

/** Most numbers in all accessors together: a file that states more is not sound. */
const MAX_NUMBERS = 1_500_000_000;
const COMPONENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };

function isBinary(bytes: Uint8Array): boolean {
  return bytes[0] === 0x67 && bytes[1] === 0x6c && bytes[2] === 0x54 && bytes[3] === 0x46;
}

async function readGltf(file: SourceFile, sourceId: string): Promise<Reading> {
  const { WebIO } = await import('@gltf-transform/core');
  const { ALL_EXTENSIONS } = await import('@gltf-transform/extensions');
  const { MeshoptDecoder } = await import('meshoptimizer');
  const io = new WebIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
  const bad = (why: string) => new PrismError('not-readable', `${file.name}: ${why}`, { file: file.name });
  if (isBinary(file.bytes) && new DataView(file.bytes.buffer, file.bytes.byteOffset).getUint32(4, true) !== 2)
    throw bad('it is not glTF 2.0. Ask for version 2.0.');
  let json: JSONDocument;
  try {
    json = isBinary(file.bytes)
      ? await io.binaryToJSON(file.bytes)
      : { json: JSON.parse(new TextDecoder().decode(asUtf8(file.bytes))) as JSONDocument['json'], resources: {} };
  } catch (error) {
    throw bad(`it is damaged or cut off (${(error as Error).message}). Ask for it again.`);
  }
  check(json, bad);
  const used = json.json.extensionsUsed ?? [];
  if (used.includes('KHR_draco_mesh_compression')) {
    const { default: draco } = await import('draco3dgltf');
    io.registerDependencies({ 'draco3d.decoder': await draco.createDecoderModule() });
  }
  const known = new Set<string>(ALL_EXTENSIONS.map((extension) => extension.EXTENSION_NAME));
  const lacking = (json.json.extensionsRequired ?? []).find((name) => !known.has(name));
  if (lacking) throw bad(`it needs the extension ${lacking}, which is not read. Ask for it without.`);
  resolve(json, file, bad);
  await MeshoptDecoder.ready;
  let document: Document;
  try {
    document = await io.readJSON(json);
  } catch (error) {
    throw bad(`it is damaged (${(error as Error).message}). Ask for it again.`);
  }
  return new GltfScene(document, json, file, sourceId, known).reading();
}

/** Refuses what would make the library run for ever or take all memory, before it sees the file. */
function check({ json, resources }: JSONDocument, bad: (why: string) => PrismError): void {
  if (!/^2\./.test(String(json.asset?.version ?? '2.0')))
    throw bad(`it is glTF ${json.asset.version}. Ask for version 2.0.`);
  const buffers = Object.values(resources).reduce((sum, bytes) => sum + bytes.length, 0);
  let numbers = 0;
  for (const [i, accessor] of (json.accessors ?? []).entries()) {
    const size = (COMPONENTS[accessor.type] ?? 1) * accessor.count;
    if (!Number.isSafeInteger(accessor.count) || accessor.count < 0) throw bad(`accessor ${i} has no sound count.`);
    numbers += size;
    const view = accessor.bufferView === undefined ? undefined : json.bufferViews?.[accessor.bufferView];
    const bytes = size * (BYTES[accessor.componentType] ?? 1);
    const isPacked = view?.extensions?.EXT_meshopt_compression !== undefined;
    if (view && !isPacked && bytes > view.byteLength + 4 && !view.byteStride)
      throw bad(`accessor ${i} states ${accessor.count} values and its buffer is shorter.`);
  }
  if (numbers > MAX_NUMBERS || (buffers > 0 && numbers > 1e7 && numbers > buffers * 400))
    throw bad(`it states ${numbers} numbers: more than can be taken.`);
  const nodes = json.nodes ?? [];
  const parents = new Int32Array(nodes.length).fill(-1);
  for (const [i, node] of nodes.entries()) {
    for (const child of node.children ?? []) {
      if (!(child in nodes)) throw bad(`node ${i} has a child ${child} that is not there.`);
      if (parents[child] >= 0) throw bad(`node ${child} hangs under two others.`);
      parents[child] = i;
    }
  }
  for (let i = 0; i < nodes.length; i++) {
    let steps = 0;
    for (let up = i; up >= 0; up = parents[up])
      if (++steps > 5000) throw bad(`node ${i} contains itself, or nests deeper than 5000.`);
  }
}

/** Finds the files that the text refers to among those that came with it. */
function resolve({ json, resources }: JSONDocument, file: SourceFile, bad: (why: string) => PrismError): void {
  const { beside } = file;
  for (const buffer of json.buffers ?? []) {
    if (!buffer.uri || buffer.uri in resources) continue;
    if (buffer.uri.startsWith('data:')) {
      resources[buffer.uri] = fromDataUri(buffer.uri);
      continue;
    }
    const path = beside?.find(buffer.uri, file.name);
    if (!beside || path === undefined)
      throw bad(
        `its geometry is in ${lastOf(buffer.uri)}, which did not come with it. Drop both together, or as a zip.`,
      );
    resources[buffer.uri] = beside.bytes(path) as Uint8Array<ArrayBuffer>;
  }
  for (const image of json.images ?? []) {
    if (!image.uri || image.uri in resources) continue;
    if (image.uri.startsWith('data:')) resources[image.uri] = fromDataUri(image.uri);
    else {
      const path = beside?.find(image.uri, file.name);
      if (path !== undefined && beside) resources[image.uri] = beside.bytes(path) as Uint8Array<ArrayBuffer>;
    }
  }
}

function fromDataUri(uri: string): Uint8Array<ArrayBuffer> {
  const comma = uri.indexOf(',');
  const body = uri.slice(comma + 1);
  if (!/;base64$/.test(uri.slice(0, comma))) return new TextEncoder().encode(decodeURIComponent(body));
  return Uint8Array.from(atob(body), (c) => c.charCodeAt(0));
}

const EXTENSIONS_THAT_CARRY = new Set([
  'KHR_draco_mesh_compression', 'EXT_meshopt_compression', 'KHR_mesh_quantization', 'KHR_texture_transform', 'KHR_texture_basisu',
  'KHR_materials_pbrSpecularGlossiness', 'KHR_materials_unlit', 'KHR_materials_emissive_strength', 'KHR_lights_punctual',
  'EXT_mesh_gpu_instancing', 'EXT_texture_webp', 'EXT_texture_avif',
]); // prettier-ignore

class GltfScene {
  readonly #builder: SceneBuilder;
  readonly #materials = new Map<GltfMaterial, string>();
  readonly #textures = new Map<GltfTexture, string>();
  readonly #geometries = new Map<object, { geometry?: number; cloud?: number; materials: string[] }>();

  constructor(
    readonly document: Document,
    json: JSONDocument,
    file: SourceFile,
    sourceId: string,
    known: Set<string>,
  ) {
    const asset = json.json.asset as { generator?: string; version: string; copyright?: string } | undefined;
    const used = json.json.extensionsUsed ?? [];
    this.#builder = new SceneBuilder(file, sourceId, {
      format: 'glTF',
      schema: `${asset?.version ?? '2.0'}${isBinary(file.bytes) ? ' binary' : ''}${used.length ? `, ${used.join(', ')}` : ''}`,
      producer: [asset?.generator, asset?.copyright].filter(Boolean).join(', '),
    });
    const builder = this.#builder;
    for (const name of used)
      if (!EXTENSIONS_THAT_CARRY.has(name))
        builder.notRead.add(
          known.has(name)
            ? `What ${name} adds to it is not carried further.`
            : `The extension ${name} is not known and left out.`,
        );
    const root = document.getRoot();
    builder.counts.animations = root.listAnimations().length;
    if (builder.counts.animations > 0) builder.notRead.add('Animations are counted and not carried further.');
    if (root.listSkins().length > 0)
      builder.notRead.add('Skins: the geometry is shown as it stands before it is bent.');
    const scenes = root.listScenes();
    if (scenes.length > 1)
      builder.notRead.add(`${scenes.length - 1} more scenes: the one that the file opens with is read.`);
  }

  reading(): Reading {
    const root = this.document.getRoot();
    const scene = root.getDefaultScene() ?? root.listScenes()[0];
    const children = scene?.listChildren() ?? root.listNodes().filter((node) => !node.getParentNode());
    for (const node of children) this.#node(node, undefined);
    return this.#builder.reading();
  }

  #node(node: Node, parent: number | undefined): void {
    const builder = this.#builder;
    const mesh = node.getMesh();
    const camera = node.getCamera();
    const light = node.getExtension<Light>('KHR_lights_punctual');
    const placed = mesh ? this.#mesh(mesh) : undefined;
    const instancing = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
    const more: Partial<SceneNode> = {};
    if (camera) {
      more.camera = cameraOf(camera);
      builder.counts.cameras++;
    }
    if (light) {
      const type = light.getType() as 'directional' | 'point' | 'spot';
      more.light = { type, color: light.getColor() as [number, number, number], intensity: light.getIntensity() };
      if (type === 'spot')
        Object.assign(more.light, { inner: light.getInnerConeAngle(), outer: light.getOuterConeAngle() });
      builder.counts.lights++;
    }
    const extras = node.getExtras() as { layer?: unknown };
    const own = instancing || placed?.geometry === undefined ? undefined : placed.geometry;
    const id = builder.node({
      ...(parent === undefined ? {} : { parent }),
      name: node.getName() || mesh?.getName() || camera?.getName() || light?.getName() || (mesh ? 'Part' : 'Group'),
      kind: own !== undefined ? 'part' : camera ? 'camera' : light ? 'light' : 'assembly',
      transform: [...node.getMatrix()],
      layer: typeof extras.layer === 'string' ? extras.layer : null,
      more,
      ...(own === undefined ? {} : { geometry: own, materials: placed?.materials ?? [] }),
    });
    if (placed?.geometry !== undefined && instancing) {
      for (const [i, transform] of instancesOf(instancing).entries())
        builder.node({
          parent: id,
          name: `${node.getName() || mesh?.getName() || 'Part'} ${i + 1}`,
          transform,
          geometry: placed.geometry,
          materials: placed.materials,
        });
    }
    if (placed?.cloud !== undefined)
      builder.node({ parent: id, name: `${mesh?.getName() || 'Part'} points`, geometry: placed.cloud });
    for (const child of node.listChildren()) this.#node(child, id);
  }

  #mesh(mesh: NonNullable<ReturnType<Node['getMesh']>>) {
    let known = this.#geometries.get(mesh);
    if (known) return known;
    const primitives = mesh.listPrimitives().filter((primitive) => primitive.getAttribute('POSITION'));
    const faces = primitives.filter((primitive) => primitive.getMode() >= 4);
    const lines = primitives.filter((primitive) => [1, 2, 3].includes(primitive.getMode()));
    const points = primitives.filter((primitive) => primitive.getMode() === 0);
    if (primitives.some((primitive) => primitive.listTargets().length > 0))
      this.#builder.notRead.add('Morph targets are left out.');
    known = { materials: faces.map((primitive) => this.#material(primitive.getMaterial())) };
    if (faces.length + lines.length > 0) known.geometry = this.#builder.mesh(meshOf(faces, lines));
    if (points.length > 0) known.cloud = this.#builder.mesh(cloudOf(points));
    this.#geometries.set(mesh, known);
    return known;
  }

  #material(material: GltfMaterial | null): string {
    if (!material) return 'none';
    const known = this.#materials.get(material);
    if (known) return known;
    const [r, g, b, a] = material.getBaseColorFactor();
    const gloss = material.getExtension<PBRSpecularGlossiness>('KHR_materials_pbrSpecularGlossiness');
    const textures: Material['textures'] = {};
    const bind = (slot: TextureSlot, texture: GltfTexture | null, info: TextureInfo | null, strength?: number) => {
      if (texture && info) textures[slot] = this.#use(texture, info, strength);
    };
    if (gloss) {
      bind('baseColor', gloss.getDiffuseTexture(), gloss.getDiffuseTextureInfo());
      const shine = gloss.getSpecularGlossinessTexture();
      bind('roughness', shine, gloss.getSpecularGlossinessTextureInfo());
      if (textures.roughness) {
        Object.assign(textures.roughness, { channel: 'a', inverted: true });
        this.#builder.notRead.add(
          'Pictures of specular colour and gloss: the gloss becomes roughness, the specular colour is that of its factor.',
        );
      }
    } else {
      bind('baseColor', material.getBaseColorTexture(), material.getBaseColorTextureInfo());
      bind('metallicRoughness', material.getMetallicRoughnessTexture(), material.getMetallicRoughnessTextureInfo());
    }
    bind('normal', material.getNormalTexture(), material.getNormalTextureInfo(), material.getNormalScale());
    bind(
      'occlusion',
      material.getOcclusionTexture(),
      material.getOcclusionTextureInfo(),
      material.getOcclusionStrength(),
    );
    bind('emissive', material.getEmissiveTexture(), material.getEmissiveTextureInfo());
    const strength =
      material.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1;
    const emissive = material.getEmissiveFactor().map((value) => value * strength) as [number, number, number];
    const alpha = material.getAlphaMode();
    const converted =
      gloss &&
      metalRough({
        diffuse: gloss.getDiffuseFactor(),
        specular: gloss.getSpecularFactor(),
        glossiness: gloss.getGlossinessFactor(),
      });
    const opacity = gloss ? gloss.getDiffuseFactor()[3] : a;
    const made = this.#builder.material({
      name: material.getName() || `Material ${this.#materials.size + 1}`,
      baseColor: [r, g, b],
      opacity: alpha === 'OPAQUE' ? 1 : opacity,
      metallic: material.getMetallicFactor(),
      roughness: material.getRoughnessFactor(),
      ...converted,
      ...(textures.roughness ? { roughness: 1 } : {}),
      ...(emissive.some((value) => value > 0) ? { emissive } : {}),
      ...(material.getDoubleSided() ? { doubleSided: true } : {}),
      ...(alpha === 'BLEND' && opacity === 1 ? { blended: true } : {}),
      ...(alpha === 'MASK' ? { cutoff: material.getAlphaCutoff() } : {}),
      ...(material.getExtension('KHR_materials_unlit') ? { unlit: true } : {}),
      ...(Object.keys(textures).length > 0 ? { textures } : {}),
    });
    this.#materials.set(material, made);
    return made;
  }

  #use(texture: GltfTexture, info: TextureInfo, strength?: number): TextureUse {
    const transform = (info as ExtensibleProperty).getExtension<Transform>('KHR_texture_transform');
    const wrap = info.getWrapS();
    return {
      texture: this.#texture(texture),
      uv: transform?.getTexCoord() ?? info.getTexCoord(),
      ...(transform
        ? {
            offset: [...transform.getOffset()] as [number, number],
            scale: [...transform.getScale()] as [number, number],
            rotation: transform.getRotation(),
          }
        : {}),
      ...(strength === undefined || strength === 1 ? {} : { strength }),
      ...(wrap === 33071 ? { wrap: 'clamp' as const } : wrap === 33648 ? { wrap: 'mirror' as const } : {}),
    };
  }

  #texture(texture: GltfTexture): string {
    let id = this.#textures.get(texture);
    if (id) return id;
    const bytes = texture.getImage();
    const uri = texture.getURI();
    const isInside = !uri || uri.startsWith('data:');
    if (!isInside) id = referredTexture(this.#builder, uri);
    else {
      const mime = texture.getMimeType() || mimeOf(texture.getName());
      const name = texture.getName() || `picture ${this.#textures.size + 1}`;
      id = this.#builder.texture(name, mime, bytes ?? undefined, bytes ? pictureSize(bytes) : undefined);
    }
    this.#textures.set(texture, id);
    return id;
  }
}

function cameraOf(camera: NonNullable<ReturnType<Node['getCamera']>>): CameraInfo {
  const [near, far] = [camera.getZNear(), camera.getZFar()];
  return camera.getType() === 'perspective'
    ? { type: 'perspective', fov: camera.getYFov(), near, ...(Number.isFinite(far) ? { far } : {}) }
    : { type: 'orthographic', height: camera.getYMag() * 2, near, far };
}

/** Matrices of the instances, column-major. */
function instancesOf(instancing: InstancedMesh): number[][] {
  const [moves, turns, scales] = ['TRANSLATION', 'ROTATION', 'SCALE'].map((name) => instancing.getAttribute(name));
  const count = (moves ?? turns ?? scales)?.getCount() ?? 0;
  return Array.from({ length: count }, (_, i) =>
    composed(
      moves?.getElement(i, []) ?? [0, 0, 0],
      turns?.getElement(i, []) ?? [0, 0, 0, 1],
      scales?.getElement(i, []) ?? [1, 1, 1],
    ),
  );
}

/** All primitives of triangles as one mesh, a slot each; primitives that share their vertices go on sharing them. */
function meshOf(faces: Primitive[], lines: Primitive[]): BareMesh {
  const bases = new Map<string, { base: number; primitive: Primitive; count: number }>();
  const ids = new Map<Accessor, number>();
  const idOf = (accessor: Accessor | null) =>
    accessor ? (ids.get(accessor) ?? (ids.set(accessor, ids.size), ids.size - 1)) : -1;
  let vertices = 0;
  const baseOf = faces.map((primitive) => {
    const key = primitive
      .listSemantics()
      .map((semantic) => `${semantic}${idOf(primitive.getAttribute(semantic))}`)
      .join();
    let entry = bases.get(key);
    if (!entry) {
      const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
      entry = { base: vertices, primitive, count };
      bases.set(key, entry);
      vertices += count;
    }
    return entry;
  });
  const has = (semantic: string) => faces.some((primitive) => primitive.getAttribute(semantic));
  const all = (semantic: string) => faces.length > 0 && faces.every((primitive) => primitive.getAttribute(semantic));
  const fill = (semantic: string, size: number, empty: number) => {
    // Nearly all meshes have one primitive: its numbers are taken as they are.
    const only = bases.size === 1 ? faces[0].getAttribute(semantic)?.getArray() : undefined;
    if (only instanceof Float32Array && only.length === vertices * size) return only;
    const out = new Float32Array(vertices * size).fill(empty);
    for (const { base, primitive, count } of bases.values()) {
      const accessor = primitive.getAttribute(semantic);
      if (accessor) copy(accessor, out, base * size, Math.min(count, accessor.getCount()), size);
    }
    return out;
  };
  const groups: MeshGroup[] = [];
  const lists = faces.map((primitive, slot) => {
    const list = trianglesOf(primitive, baseOf[slot].base);
    groups.push({ slot, start: groups.reduce((sum, group) => sum + group.count, 0), count: list.length });
    return list;
  });
  const indices = lists.length === 1 ? lists[0] : new Uint32Array(lists.reduce((sum, list) => sum + list.length, 0));
  if (lists.length !== 1) lists.forEach((list, i) => indices.set(list, groups[i].start));
  const sets = [0, 1, 2, 3].filter((set) => has(`TEXCOORD_${set}`)).length;
  return {
    positions: fill('POSITION', 3, 0),
    indices,
    groups,
    ...(all('NORMAL') ? { normals: fill('NORMAL', 3, 0) } : {}),
    ...(sets > 0 ? { uvs: Array.from({ length: sets }, (_, set) => fill(`TEXCOORD_${set}`, 2, 0)) } : {}),
    ...(has('COLOR_0') ? { colours: fill('COLOR_0', 4, 1) } : {}),
    ...(lines.length > 0 ? { lines: linesOf(lines) } : {}),
  };
}

function copy(accessor: Accessor, out: Float32Array, at: number, count: number, size: number): void {
  const array = accessor.getArray();
  const own = accessor.getElementSize();
  if (array instanceof Float32Array && own === size) {
    out.set(array.subarray(0, count * size), at);
    return;
  }
  const element: number[] = [];
  for (let i = 0; i < count; i++) {
    accessor.getElement(i, element);
    for (let k = 0; k < Math.min(own, size); k++) out[at + i * size + k] = element[k];
  }
}

/** Corners three by three, whatever the primitive hangs them together as. */
function trianglesOf(primitive: Primitive, base: number): Uint32Array {
  const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
  const array = primitive.getIndices()?.getArray();
  const at = array ? (i: number) => array[i] : (i: number) => i;
  const length = array ? array.length : count;
  const mode = primitive.getMode();
  if (mode === 4) {
    if (array instanceof Uint32Array && base === 0 && length % 3 === 0) return array;
    const out = new Uint32Array(Math.floor(length / 3) * 3);
    if (array) out.set(array.length === out.length ? array : array.subarray(0, out.length));
    else for (let i = 0; i < out.length; i++) out[i] = i;
    if (base > 0) for (let i = 0; i < out.length; i++) out[i] += base;
    return out;
  }
  const out = new Uint32Array(Math.max(0, length - 2) * 3);
  for (let i = 0; i + 2 < length; i++) {
    const corners =
      mode === 6
        ? [at(0), at(i + 1), at(i + 2)]
        : i % 2
          ? [at(i + 1), at(i), at(i + 2)]
          : [at(i), at(i + 1), at(i + 2)];
    out.set(
      corners.map((corner) => base + corner),
      i * 3,
    );
  }
  return out;
}

function linesOf(primitives: Primitive[]): Float32Array {
  const out: number[] = [];
  for (const primitive of primitives) {
    const accessor = primitive.getAttribute('POSITION');
    const array = primitive.getIndices()?.getArray();
    const length = array?.length ?? accessor?.getCount() ?? 0;
    const at = (i: number) => accessor?.getElement(array ? array[i % length] : i % length, []) ?? [];
    const mode = primitive.getMode();
    const step = mode === 1 ? 2 : 1;
    for (let i = 0; i < (mode === 2 ? length : length - 1); i += step)
      out.push(...at(i).slice(0, 3), ...at(i + 1).slice(0, 3));
  }
  return Float32Array.from(out);
}

function cloudOf(primitives: Primitive[]): BareMesh {
  const count = primitives.reduce((sum, primitive) => sum + (primitive.getAttribute('POSITION')?.getCount() ?? 0), 0);
  const positions = new Float32Array(count * 3);
  const colours = primitives.some((primitive) => primitive.getAttribute('COLOR_0'))
    ? new Float32Array(count * 4).fill(1)
    : undefined;
  let at = 0;
  for (const primitive of primitives) {
    const position = primitive.getAttribute('POSITION');
    if (!position) continue;
    copy(position, positions, at * 3, position.getCount(), 3);
    const colour = primitive.getAttribute('COLOR_0');
    if (colour && colours) copy(colour, colours, at * 4, Math.min(colour.getCount(), position.getCount()), 4);
    at += position.getCount();
  }
  return { positions, indices: new Uint32Array(), groups: [], ...(colours ? { colours } : {}) };
}
