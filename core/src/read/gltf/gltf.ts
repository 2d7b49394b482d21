/** Reader of glTF 2.0 (ISO/IEC 12113), text with its files or binary, with the extensions in use. */
import type { Document, GLTF, JSONDocument, Mesh, Node } from '@gltf-transform/core';
import type { InstancedMesh } from '@gltf-transform/extensions';
import { PrismError } from '../../errors.ts';
import { composed } from '../../scene/matrix.ts';
import type { CameraInfo, LightInfo, SceneNode } from '../../scene/types.ts';
import { SceneBuilder } from '../builder.ts';
import { said } from '../library.ts';
import { lastOf } from '../paths.ts';
import type { Reader, Reading, SourceFile } from '../reader.ts';
import { RowProgress, ROWS_REPORTED } from '../rowProgress.ts';
import { asUtf8, headOf } from '../scanner.ts';
import { enterAnimations } from './animations.ts';
import { check } from './check.ts';
import { GltfMaterials } from './materials.ts';
import { cloudOf, meshOf } from './meshes.ts';
import { cameraOf, lightOf, lightsOf } from './optics.ts';
import { placeOf, takeTree } from './tree.ts';
import type { Tree } from './tree.ts';
import { materialsByVariant, variantsOf } from './variants.ts';

export const gltfReader: Reader = {
  format: 'glTF',
  endings: ['gltf', 'glb'],
  recognises: ({ bytes }) => isBinary(bytes) || /^\s*\{[\s\S]*"(asset|scenes|accessors)"\s*:/.test(headOf(bytes, 4000)),
  read: (file, sourceId) => readGltf(file, sourceId),
};

/** Share of the time in which the text has been parsed. */
const PARSED = 0.3;

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
    throw bad(`it is damaged or cut off (${said(error)}). Ask for it again.`);
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
  const tree = takeTree(json.json);
  const { length: total } = tree.nodes;
  const rows = new RowProgress(file.progress, { format: 'glTF', what: 'nodes' }, total, PARSED);
  if (total > ROWS_REPORTED) file.progress?.(PARSED, { format: 'glTF', what: 'nodes', count: 0, names: [] });
  let document: Document;
  try {
    document = await io.readJSON(json);
  } catch (error) {
    throw bad(`it is damaged (${said(error)}). Ask for it again.`);
  }
  return new GltfScene(document, json, tree, rows, file, sourceId, known).reading();
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
  'KHR_materials_transmission', 'KHR_materials_ior', 'KHR_materials_clearcoat',
  'EXT_mesh_gpu_instancing', 'EXT_texture_webp', 'EXT_texture_avif', 'KHR_materials_variants',
]); // prettier-ignore

interface PlacedMesh {
  geometry?: number;
  cloud?: number;
  materials: string[];
  variants?: Record<string, string[]>;
}

class GltfScene {
  readonly #builder: SceneBuilder;
  readonly #materials: GltfMaterials;
  readonly #meshes: readonly Mesh[];
  readonly #cameras: readonly GLTF.ICamera[];
  readonly #lights: ReturnType<typeof lightsOf>;
  /** Nodes of the library by their numbers in the file, and rows by those. */
  readonly #known: ReadonlyMap<number, Node>;
  readonly #rows = new Map<Node, number>();
  readonly #geometries = new Map<object, PlacedMesh>();

  constructor(
    readonly document: Document,
    json: JSONDocument,
    readonly tree: Tree,
    readonly rows: RowProgress,
    file: SourceFile,
    sourceId: string,
    known: Set<string>,
  ) {
    const asset = json.json.asset as { generator?: string; version: string; copyright?: string } | undefined;
    const used = json.json.extensionsUsed ?? [];
    const variants = variantsOf(json);
    this.#builder = new SceneBuilder(file, sourceId, {
      ...(variants.length > 0 ? { variants } : {}),
      format: 'glTF',
      schema: `${asset?.version ?? '2.0'}${isBinary(file.bytes) ? ' binary' : ''}${used.length ? `, ${used.join(', ')}` : ''}`,
      producer: [asset?.generator, asset?.copyright].filter(Boolean).join(', '),
    });
    const builder = this.#builder;
    this.#materials = new GltfMaterials(builder);
    for (const name of used)
      if (!EXTENSIONS_THAT_CARRY.has(name))
        builder.notRead.add(
          known.has(name)
            ? `What ${name} adds to it is not carried further.`
            : `The extension ${name} is not known and left out.`,
        );
    const root = document.getRoot();
    const nodes = root.listNodes();
    this.#known = new Map(tree.known.map((number, i) => [number, nodes[i]]));
    this.#meshes = root.listMeshes();
    this.#cameras = json.json.cameras ?? [];
    this.#lights = lightsOf(json.json);
    if (root.listSkins().length > 0)
      builder.notRead.add('Skins: the geometry is shown as it stands before it is bent.');
    if (tree.scenes > 1)
      builder.notRead.add(`${tree.scenes - 1} more scenes: the one that the file opens with is read.`);
  }

  reading(): Reading {
    for (const node of this.tree.roots) this.#node(node, undefined);
    enterAnimations(this.document.getRoot().listAnimations(), this.#rows, this.#builder);
    return this.#builder.reading();
  }

  #node(number: number, parent: number | undefined): void {
    const builder = this.#builder;
    const node = this.tree.nodes[number];
    const mesh = this.#referred(node.mesh, this.#meshes, 'mesh', number);
    const camera = this.#camera(node, number);
    const light = this.#light(node, number);
    const placed = mesh ? this.#mesh(mesh) : undefined;
    const known = this.#known.get(number);
    const instancing = known?.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
    const { layer, instances } = (node.extras ?? {}) as { layer?: unknown; instances?: unknown };
    const own = instancing ? undefined : placed?.geometry;
    const named = nameIn(node) ?? (mesh?.getName() || camera?.name || light?.name);
    const called = named || (mesh ? 'Part' : camera ? 'Camera' : light ? 'Light' : 'Group');
    if (node.skin !== undefined || (mesh && isMorphed(mesh))) builder.bent.add(called);
    const row = builder.node({
      parent,
      name: called,
      kind: own !== undefined ? 'part' : camera?.info ? 'camera' : light?.info ? 'light' : 'assembly',
      transform: placeOf(node),
      layer: typeof layer === 'string' ? layer : null,
      geometry: own,
      materials: own === undefined ? undefined : placed?.materials,
      more: placed?.variants || camera || light ? extrasOf(placed, camera?.info, light?.info) : undefined,
    });
    this.rows.row(named || '');
    if (known) this.#rows.set(known, row);
    if (placed?.geometry !== undefined && instancing) {
      // Each may be called by what the list says of it.
      const said = Array.isArray(instances) ? (instances as unknown[]) : [];
      for (const [i, transform] of instancesOf(instancing).entries())
        builder.node({
          parent: row,
          name: nameIn(said[i]) ?? `${nameIn(node) ?? (mesh?.getName() || 'Part')} ${i + 1}`,
          transform,
          geometry: placed.geometry,
          materials: placed.materials,
          ...(placed.variants ? { more: { variants: placed.variants } } : {}),
        });
    }
    if (placed?.cloud !== undefined)
      builder.node({ parent: row, name: `${mesh?.getName() || 'Part'} points`, geometry: placed.cloud });
    for (const child of node.children ?? []) this.#node(child, row);
  }

  /** What a node refers to by its number in a list of the file; where it is not there, the node is kept without. */
  #referred<T>(of: number | undefined, list: readonly T[], what: string, node: number): T | undefined {
    if (of === undefined) return undefined;
    const found = list[of] as T | undefined;
    if (!found) this.#builder.warn('dangling', `Node ${node} refers to a ${what} that is not in the file.`, `node ${node}`); // prettier-ignore
    return found;
  }

  #camera(node: GLTF.INode, number: number) {
    const camera = this.#referred(node.camera, this.#cameras, 'camera', number);
    const info = camera && cameraOf(camera);
    if (info) this.#builder.counts.cameras++;
    return camera && { name: nameIn(camera), info };
  }

  #light(node: GLTF.INode, number: number) {
    const { light: of } = (node.extensions?.KHR_lights_punctual ?? {}) as { light?: number };
    const light = this.#referred(of, this.#lights, 'light', number);
    const info = light && lightOf(light);
    if (info) this.#builder.counts.lights++;
    return light && { name: nameIn(light), info };
  }

  #mesh(mesh: Mesh): PlacedMesh {
    let known = this.#geometries.get(mesh);
    if (known) return known;
    const primitives = mesh.listPrimitives().filter((primitive) => primitive.getAttribute('POSITION'));
    const faces = primitives.filter((primitive) => primitive.getMode() >= 4);
    const lines = primitives.filter((primitive) => [1, 2, 3].includes(primitive.getMode()));
    const points = primitives.filter((primitive) => primitive.getMode() === 0);
    if (isMorphed(mesh)) this.#builder.notRead.add('Morph targets are left out.');
    const materials = faces.map((primitive) => this.#materials.enter(primitive.getMaterial()));
    known = { materials };
    const variants = materialsByVariant(faces, materials, (material) => this.#materials.enter(material));
    if (variants) known.variants = variants;
    if (faces.length + lines.length > 0) known.geometry = this.#builder.mesh(meshOf(faces, lines));
    if (points.length > 0) known.cloud = this.#builder.mesh(cloudOf(points));
    this.#geometries.set(mesh, known);
    return known;
  }
}

function nameIn(said: unknown): string | undefined {
  const { name } = (said ?? {}) as { name?: unknown };
  return typeof name === 'string' && name !== '' ? name : undefined;
}

/** What few nodes have. */
function extrasOf(placed: PlacedMesh | undefined, camera?: CameraInfo, light?: LightInfo): Partial<SceneNode> {
  return {
    ...(placed?.variants ? { variants: placed.variants } : {}),
    ...(camera ? { camera } : {}),
    ...(light ? { light } : {}),
  };
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

/** True where a mesh has shapes that it can be bent into. */
const isMorphed = (mesh: Mesh) => mesh.listPrimitives().some((primitive) => primitive.listTargets().length > 0);
