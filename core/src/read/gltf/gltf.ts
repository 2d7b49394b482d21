/** Reader of glTF 2.0 (ISO/IEC 12113), text with its files or binary, with the extensions in use. */
import type { Document, JSONDocument, Node } from '@gltf-transform/core';
import type { InstancedMesh, Light } from '@gltf-transform/extensions';
import { PrismError } from '../../errors.ts';
import { composed } from '../../scene/matrix.ts';
import type { SceneNode } from '../../scene/types.ts';
import { SceneBuilder } from '../builder.ts';
import { said } from '../library.ts';
import { lastOf } from '../paths.ts';
import type { Reader, Reading, SourceFile } from '../reader.ts';
import { asUtf8, headOf } from '../scanner.ts';
import { enterAnimations } from './animations.ts';
import { check } from './check.ts';
import { GltfMaterials } from './materials.ts';
import { cloudOf, meshOf } from './meshes.ts';
import { cameraOf, lightOf } from './optics.ts';
import { materialsByVariant, variantsOf } from './variants.ts';

export const gltfReader: Reader = {
  format: 'glTF',
  endings: ['gltf', 'glb'],
  recognises: ({ bytes }) => isBinary(bytes) || /^\s*\{[\s\S]*"(asset|scenes|accessors)"\s*:/.test(headOf(bytes, 4000)),
  read: (file, sourceId) => readGltf(file, sourceId),
};

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
  let document: Document;
  try {
    document = await io.readJSON(json);
  } catch (error) {
    throw bad(`it is damaged (${said(error)}). Ask for it again.`);
  }
  return new GltfScene(document, json, file, sourceId, known).reading();
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
  readonly #ids = new Map<Node, number>();
  readonly #geometries = new Map<object, PlacedMesh>();

  constructor(
    readonly document: Document,
    json: JSONDocument,
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
    enterAnimations(root.listAnimations(), this.#ids, this.#builder);
    return this.#builder.reading();
  }

  #node(node: Node, parent: number | undefined): void {
    const builder = this.#builder;
    const mesh = node.getMesh();
    const camera = node.getCamera();
    const light = node.getExtension<Light>('KHR_lights_punctual');
    const placed = mesh ? this.#mesh(mesh) : undefined;
    const instancing = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
    const more: Partial<SceneNode> = placed?.variants ? { variants: placed.variants } : {};
    if (camera) {
      more.camera = cameraOf(camera);
      builder.counts.cameras++;
    }
    if (light) {
      more.light = lightOf(light);
      builder.counts.lights++;
    }
    const extras = node.getExtras() as { layer?: unknown; instances?: unknown };
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
    this.#ids.set(node, id);
    if (placed?.geometry !== undefined && instancing) {
      // Each may be called by what the list says of it.
      const said = Array.isArray(extras.instances) ? (extras.instances as unknown[]) : [];
      for (const [i, transform] of instancesOf(instancing).entries())
        builder.node({
          parent: id,
          name: nameIn(said[i]) ?? `${node.getName() || mesh?.getName() || 'Part'} ${i + 1}`,
          transform,
          geometry: placed.geometry,
          materials: placed.materials,
          ...(placed.variants ? { more: { variants: placed.variants } } : {}),
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
