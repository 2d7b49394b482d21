/** A layer of USD as text: rows as prims, equal geometry as instances of prototypes, materials, movements on the timeline. */
import type { Content, Spool } from '../../content.ts';
import { unpackMesh } from '../../mesh/mesh.ts';
import type { Mesh } from '../../mesh/mesh.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY } from '../../scene/matrix.ts';
import { keysOf } from '../../scene/motion.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { LENGTH_UNITS } from '../../units.ts';
import { PictureFiles } from '../pictureFiles.ts';
import { walkRows } from '../walk.ts';
import { WrittenFile } from '../writer.ts';
import type { FileWay, WriteOptions } from '../writer.ts';
import { bindingOf, BINDS, bodyType, GEOMETRY, subsetName, writeBelow, writeBody } from './geometry.ts';
import type { GeometryLook } from './geometry.ts';
import { picturesOf, writeMaterial } from './materials.ts';
import { clipsOf, CODES, writePlace } from './movements.ts';
import type { Clip } from './movements.ts';
import { LIGHT_TYPES, writeCamera, writeLight } from './optics.ts';
import { double, PrimNames, quoted, UsdText } from './text.ts';

/** Where prototypes stand; what is there is not shown by itself. */
const PROTOTYPES = '/Prototypes';
const MATERIALS = 'Materials';

/**
 * What of a scene a layer holds: all of it; all of it with its geometry and materials in the files of assets; or one asset, whose first
 * prim shows its one part and holds its materials.
 */
export type Held = 'all' | { assets: (node: SceneNode) => string } | 'asset';

/** @returns the layer, then the pictures that it refers to */
export async function writeUsd(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, pictures, unit = 'm', up = 'y', spool }: WriteOptions = {},
  held: Held = 'all',
): Promise<WrittenFile[]> {
  const files = new PictureFiles(scene, blobs, { codec: pictures });
  const layer = new UsdLayer(scene, blobs, title, files, { unit, up }, held, spool);
  return [new WrittenFile(`${name}.usda`, USDA_TYPE, await layer.write()), ...files.files];
}

const USDA_TYPE = 'model/vnd.usda';

/** How the geometry of a part is there: in its own place, or as an instance. */
interface Shown {
  mesh: string;
  node: SceneNode;
  /** Rows that show this geometry, whatever their materials. */
  count: number;
  /** Some of them have a material for each slot. */
  hasSlots: boolean;
  /** Name of the prototype of the geometry, where there is one. */
  prototype?: string;
}

class UsdLayer {
  readonly #text: UsdText;
  /** Name of the prim above all rows; beside it stand the prototypes. */
  readonly #root: string;
  readonly #prototypes = new PrimNames();
  readonly #geometries = new Map<string, Shown>();
  /** Prototypes with materials of their own, by geometry and materials. */
  readonly #dressed = new Map<string, string>();
  readonly #toDress: { name: string; base: string; node: SceneNode }[] = [];
  /** Names of prims by material, once they are asked for. */
  readonly #materials = new Map<string, string>();
  readonly #materialNames = new PrimNames();

  constructor(
    readonly scene: Scene,
    readonly blobs: BlobStore,
    readonly title: string,
    readonly pictures: PictureFiles,
    readonly way: FileWay,
    readonly held: Held,
    spool?: Spool,
  ) {
    this.#text = new UsdText(spool);
    this.#root = new PrimNames([PROTOTYPES.slice(1)]).next(title);
  }

  async write(): Promise<Content> {
    const { scene } = this;
    const text = this.#text;
    const keys = await keysOf(scene, this.blobs);
    const clips = clipsOf(scene, keys);
    for (const row of factsOf(scene).order) this.#enter(scene.nodes.row(row));
    this.#writeHead(clips);
    if (this.held === 'asset') return this.#writeAsset(scene.nodes.row(factsOf(scene).order[0]));
    text.begin(`def Xform "${this.#root}"`, [
      'kind = "assembly"',
      ...(this.#root === this.title ? [] : [`displayName = ${quoted(this.title)}`]),
    ]);
    // Names that are taken at each level that is open.
    const names = [new PrimNames(RESERVED)];
    await walkRows(
      scene,
      async (node, isAbove) => {
        await this.#begin(node, names[names.length - 1].next(node.name), isAbove, clips, keys);
        names.push(new PrimNames(RESERVED));
      },
      () => {
        names.pop();
        text.end();
      },
    );
    await this.#writeMaterials();
    text.end();
    await this.#writePrototypes();
    return text.content();
  }

  /** The one part of an asset, in the prim that others refer to. */
  async #writeAsset(node: SceneNode): Promise<Content> {
    const text = this.#text;
    const { mesh, look } = await this.#bodyOf(node);
    text.begin(`def Xform "${this.#root}"`, [
      'kind = "component"',
      ...(this.#root === node.name ? [] : [`displayName = ${quoted(node.name)}`]),
      ...customData(node),
    ]);
    writeBelow(text, mesh, node.offset ?? IDENTITY, look);
    await this.#writeMaterials();
    text.end();
    return text.content();
  }

  #enter(node: SceneNode): void {
    if (!node.mesh || typeof this.held === 'object') return;
    const key = this.#keyOf(node);
    const shown = this.#geometries.get(key);
    const hasSlots = node.materials.length > 1;
    if (shown) Object.assign(shown, { count: shown.count + 1, hasSlots: shown.hasSlots || hasSlots });
    else this.#geometries.set(key, { mesh: node.mesh, node, count: 1, hasSlots });
    for (const id of materialsOf(node)) if (!this.#materials.has(id)) this.#materials.set(id, '');
  }

  /** Sides are the geometry's here, not the material's. */
  #isDoubleSided(node: SceneNode): boolean {
    return materialsOf(node).some((id) => this.scene.materials[id]?.doubleSided ?? false);
  }

  #keyOf(node: SceneNode): string {
    return `${node.mesh} ${this.#isDoubleSided(node)} ${node.offset?.join(' ') ?? ''}`;
  }

  #writeHead(clips: readonly Clip[]): void {
    const text = this.#text;
    const line = (words: string) => text.line(words);
    text.piece('#usda 1.0\n(\n');
    line('    customLayerData = {');
    line('        string creator = "Noble Prism"');
    if (clips.length > 0) {
      line(`        string[] clipNames = [${clips.map((clip) => quoted(clip.name)).join(', ')}]`);
      line(`        double[] clipStarts = [${clips.map((clip) => double(clip.start * CODES)).join(', ')}]`);
      line(`        double[] clipEnds = [${clips.map((clip) => double(clip.end * CODES)).join(', ')}]`);
    }
    line('    }');
    line(`    defaultPrim = "${this.#root}"`);
    line(`    metersPerUnit = ${LENGTH_UNITS[this.way.unit]}`);
    line(`    upAxis = "${this.way.up.toUpperCase()}"`);
    if (clips.length > 0) {
      line('    startTimeCode = 0');
      line(`    endTimeCode = ${double((clips.at(-1)?.end ?? 0) * CODES)}`);
      line(`    timeCodesPerSecond = ${CODES}`);
      line(`    framesPerSecond = ${CODES}`);
    }
    text.piece(')\n\n');
  } // prettier-ignore

  /** Opens the prim of a row and writes what is its own. */
  async #begin(node: SceneNode, name: string, isAbove: boolean, clips: readonly Clip[], keys: Awaited<ReturnType<typeof keysOf>>): Promise<void> {
    const text = this.#text;
    const { camera, light, mesh } = node;
    const lightType = light && light.type !== 'ambient' ? LIGHT_TYPES[light.type] : undefined;
    const optics = camera ? 'Camera' : lightType;
    const shown = mesh ? this.#geometries.get(this.#keyOf(node)) : undefined;
    const asset = mesh && typeof this.held === 'object' ? `@./${this.held.assets(node)}@` : undefined;
    const reference = asset ?? (shown && shown.count > 1 ? await this.#prototypeOf(node, shown) : undefined);
    // What is shown of a row that has others below it is a prim of its own: an instance has nothing below it but its prototype.
    const isOwn = !isAbove && !(optics && mesh);
    const body = shown && !reference ? await this.#bodyOf(node) : undefined;
    const type = isOwn ? (optics ?? (body ? bodyType(body.mesh) : 'Xform')) : 'Xform';
    text.begin(`def ${type} "${name}"`, [
      ...(isOwn && reference ? instanceOf(reference, !asset) : []),
      ...(isOwn && body && bindingOf(body.mesh, body.look) ? [BINDS] : []),
      ...(name === node.name ? [] : [`displayName = ${quoted(node.name)}`]),
      ...customData(node),
    ]);
    writePlace(text, node, clips, keys);
    const bind = () => (asset ? undefined : this.#bind(node));
    if (reference && isOwn) bind();
    else if (reference) text.block(`def Xform "${GEOMETRY}"`, instanceOf(reference, !asset), bind);
    if (body) (isOwn ? writeBody : writeBelow)(text, body.mesh, node.offset ?? IDENTITY, body.look);
    if (!optics) return;
    if (!isOwn) text.begin(`def ${optics} "${OPTICS}"`);
    if (camera) writeCamera(text, camera);
    else if (light) writeLight(text, light);
    if (!isOwn) text.end();
  } // prettier-ignore

  /** The material of all that a row shows; where its slots have several, those are bound in the geometry. */
  #bind(node: SceneNode): void {
    if (materialsOf(node).length === 1)
      this.#text.line(`rel material:binding = <${this.#materialPath(materialsOf(node)[0])}>`);
  }

  /** What a row shows that nothing else does. */
  async #bodyOf(node: SceneNode): Promise<{ mesh: Mesh; look: GeometryLook }> {
    const mesh = unpackMesh(await this.blobs.get(node.mesh!));
    const paths = slotsOf(node, mesh.groups).map((id) => this.#materialPath(id));
    const materials = materialsOf(node).length === 1 ? paths[0] : paths;
    return { mesh, look: { doubleSided: this.#isDoubleSided(node), materials } };
  }

  /** The prototype that a row shows; prototypes are written at the end. */
  async #prototypeOf(node: SceneNode, shown: Shown): Promise<string> {
    shown.prototype ??= this.#prototypes.next(shown.node.name);
    const ids = materialsOf(node);
    if (ids.length === 1) return `<${PROTOTYPES}/${shown.prototype}>`;
    const key = `${this.#keyOf(node)} ${ids.join(' ')}`;
    let dressed = this.#dressed.get(key);
    if (!dressed) {
      dressed = this.#prototypes.next(shown.prototype);
      this.#dressed.set(key, dressed);
      this.#toDress.push({ name: dressed, base: shown.prototype, node });
    }
    return `<${PROTOTYPES}/${dressed}>`;
  }

  #materialPath(id: string): string {
    let name = this.#materials.get(id);
    if (!name) {
      name = this.#materialNames.next((this.scene.materials[id] ?? NO_MATERIAL).name);
      this.#materials.set(id, name);
    }
    return `/${this.#root}/${MATERIALS}/${name}`;
  }

  async #writeMaterials(): Promise<void> {
    if (this.#materials.size === 0) return;
    const text = this.#text;
    text.begin(`def Scope "${MATERIALS}"`);
    for (const id of this.#materials.keys()) {
      const material = this.scene.materials[id] ?? NO_MATERIAL;
      const path = this.#materialPath(id);
      const pictures = await picturesOf(material, this.pictures);
      writeMaterial(text, material, path.split('/').at(-1)!, path, pictures);
    }
    text.end();
  }

  async #writePrototypes(): Promise<void> {
    const text = this.#text;
    const written = [...this.#geometries.values()].filter(({ prototype }) => prototype !== undefined);
    if (written.length === 0) return;
    text.begin(`class Scope "${PROTOTYPES.slice(1)}"`);
    for (const { mesh: hash, node, prototype, hasSlots } of written) {
      const mesh = unpackMesh(await this.blobs.get(hash));
      text.block(`def Xform "${prototype}"`, [], () =>
        writeBelow(text, mesh, node.offset ?? IDENTITY, {
          doubleSided: this.#isDoubleSided(node),
          ...(hasSlots ? { materials: 'elsewhere' } : {}),
        }),
      );
    }
    // A prototype sees only what is below it: materials of its slots are brought there.
    for (const { name, base, node } of this.#toDress) {
      const mesh = unpackMesh(await this.blobs.get(node.mesh!));
      const ids = slotsOf(node, mesh.groups);
      text.begin(`def Xform "${name}"`, [`prepend references = <${PROTOTYPES}/${base}>`]);
      text.begin(`def Scope "${MATERIALS}"`);
      for (const id of new Set(ids)) {
        const path = this.#materialPath(id);
        text.block(`def Material "${path.split('/').at(-1)}"`, [`prepend references = <${path}>`], () => {});
      }
      text.end();
      text.begin(`over "${GEOMETRY}"`);
      for (const { slot, count } of mesh.groups) {
        if (count === 0) continue;
        const own = this.#materialPath(ids[slot]).split('/').at(-1);
        text.block(`over "${subsetName(slot)}"`, [BINDS], () =>
          text.line(`rel material:binding = <${PROTOTYPES}/${name}/${MATERIALS}/${own}>`),
        );
      }
      text.end();
      text.end();
    }
    text.end();
  }
}

/** Name of the prim of a camera or a light, below that of a row that has others below it. */
const OPTICS = 'Optics';
/** Names below a row that are no rows. */
const RESERVED = [GEOMETRY, OPTICS, MATERIALS];

/** @param to a prim of this layer, or another layer. @param binds it is given a material here */
const instanceOf = (to: string, binds: boolean) => ['instanceable = true', `prepend references = ${to}`, ...(binds ? [BINDS] : [])]; // prettier-ignore

/** Distinct materials that a row's slots may show, in their order; one where all are the same. */
function materialsOf({ materials }: SceneNode): readonly string[] {
  return materials.length === 0 ? ['none'] : materials;
}

/** Material of each slot. */
function slotsOf(node: SceneNode, groups: readonly { slot: number }[]): string[] {
  const most = Math.max(0, ...groups.map(({ slot }) => slot));
  const ids = materialsOf(node);
  return Array.from({ length: most + 1 }, (_, slot) => ids[slot] ?? ids[0]);
}

function customData({ layer, class: type, key }: SceneNode): string[] {
  return [
    'customData = {',
    `    string key = ${quoted(key)}`,
    ...(layer === null ? [] : [`    string layer = ${quoted(layer)}`]),
    ...(type ? [`    string class = ${quoted(type)}`] : []),
    '}',
  ];
}
