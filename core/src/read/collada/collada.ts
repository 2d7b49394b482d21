/** Reader of COLLADA 1.4 and 1.5 (ISO/PAS 17506): instances, several UV sets, unit, up axis, cameras, lights, materials with pictures. */
import { PrismError } from '../../errors.ts';
import type { SceneNode } from '../../scene/types.ts';
import { SceneBuilder } from '../builder.ts';
import { openPackage } from '../zip.ts';
import type { Reader, Reading, SourceFile } from '../reader.ts';
import { headOf } from '../scanner.ts';
import { child, childrenNamed, decimalOf, everything, hasDecimalCommas, parseXml } from '../xml.ts';
import type { XmlElement } from '../xml.ts';
import { enterAnimations } from './animations.ts';
import { ColladaMaterials } from './materials.ts';
import { ColladaMeshes } from './meshes.ts';
import type { PlacedGeometry } from './meshes.ts';
import { cameraOf, lightOf } from './optics.ts';
import { transformOf } from './placing.ts';

export const colladaReader: Reader = {
  format: 'COLLADA',
  endings: ['dae', 'zae'],
  recognises: ({ bytes }) => /<(\w+:)?COLLADA\b/.test(headOf(bytes, 2000)),
  read: async (file, sourceId) => readCollada(file, sourceId),
};

/** Deepest nesting of nodes, through instances of nodes. */
const MAX_DEPTH = 200;

function readCollada(received: SourceFile, sourceId: string): Reading {
  const file = unpacked(received);
  const { root, broken } = parseXml(file.bytes, file.name);
  if (root.name !== 'COLLADA')
    throw new PrismError('not-readable', `${file.name} is not COLLADA: it begins with <${root.name}>.`, {
      file: file.name,
    });
  const asset = child(root, 'asset');
  const unit = child(asset, 'unit');
  const metres = decimalOf(unit?.attributes.meter ?? '1');
  const up = child(asset, 'up_axis')?.text.trim() ?? 'Y_UP';
  const builder = new SceneBuilder({ ...received, ...(file.beside ? { beside: file.beside } : {}) }, sourceId, {
    format: 'COLLADA',
    schema: root.attributes.version ?? '',
    producer: [child(asset, 'contributor', 'authoring_tool')?.text.trim(), child(asset, 'created')?.text.trim()]
      .filter(Boolean)
      .join(', '),
    unit: {
      name: unit?.attributes.name ?? 'm',
      metres: metres > 0 && Number.isFinite(metres) ? metres : 1,
      declared: unit !== undefined,
    },
    upAxis: { axis: up === 'Z_UP' ? 'z' : 'y', by: child(asset, 'up_axis') ? 'file' : 'convention' },
  });
  if (hasCommas(root))
    builder.warn(
      'decimal-comma',
      'Its numbers have commas before the decimals, which the format does not know. They are read as decimals: check the size.',
    );
  if (up === 'X_UP') builder.warn('up-axis', 'The file has x up, which is read as y up: turn it in Arrange.');
  if (broken) builder.warn('truncated', `${file.name} is cut off or damaged; what stands before is kept.`, broken);
  new ColladaDocument(root, builder, file.name).place();
  return builder.reading();
}

/** Whether any list of numbers has commas before the decimals. */
function hasCommas(root: XmlElement): boolean {
  for (const { name, text } of everything(root)) if (name === 'float_array' && hasDecimalCommas(text)) return true;
  return false;
}

/** A .zae is a zip with the text and its pictures. */
function unpacked(file: SourceFile): SourceFile {
  const inner = openPackage(file);
  const path = inner && [...inner.files.keys()].find((name) => name.toLowerCase().endsWith('.dae'));
  return inner && path ? { name: path, bytes: inner.bytes(path), beside: inner } : file;
}

class ColladaDocument {
  readonly #byId = new Map<string, XmlElement>();
  /** Numbers of the builder by node; a node that is placed twice has two. */
  readonly #ids = new Map<XmlElement, number[]>();
  readonly #geometries = new Map<XmlElement, PlacedGeometry | undefined>();
  readonly #meshes: ColladaMeshes;
  readonly #materials: ColladaMaterials;

  constructor(
    readonly root: XmlElement,
    readonly builder: SceneBuilder,
    path: string,
  ) {
    const refer = (url: string | undefined) => this.#refer(url);
    this.#meshes = new ColladaMeshes(refer, builder);
    this.#materials = new ColladaMaterials(refer, builder, path);
    for (const element of everything(root)) if (element.attributes.id) this.#byId.set(element.attributes.id, element);
  }

  place(): void {
    const instance = child(this.root, 'scene', 'instance_visual_scene');
    const scene = this.#refer(instance?.attributes.url) ?? child(this.root, 'library_visual_scenes', 'visual_scene');
    for (const node of childrenNamed(scene, 'node')) this.#node(node, undefined, 0);
    if (this.builder.size === 0)
      for (const geometry of childrenNamed(child(this.root, 'library_geometries'), 'geometry'))
        this.#instance(geometry, undefined, undefined, geometry.attributes.name);
    enterAnimations(this.root, (url) => this.#refer(url), this.#ids, this.builder);
    if (this.#meshes.skipped > 0)
      this.builder.warn(
        'bad-indices',
        `${this.#meshes.skipped} faces name values that are not there; they are left out.`,
      );
  }

  #refer(url: string | undefined): XmlElement | undefined {
    return url === undefined ? undefined : this.#byId.get(url.replace(/^.*#/, ''));
  }

  #node(node: XmlElement, parent: number | undefined, depth: number): void {
    if (depth > MAX_DEPTH)
      return this.builder.warn(
        'cyclic',
        `Node ${node.attributes.id ?? ''} contains itself, or nests deeper than ${MAX_DEPTH}.`,
        `line ${node.line}`,
      );
    const geometries = childrenNamed(node, 'instance_geometry', 'instance_controller');
    const cameras = childrenNamed(node, 'instance_camera');
    const lights = childrenNamed(node, 'instance_light');
    const inner = childrenNamed(node, 'node');
    const references = childrenNamed(node, 'instance_node');
    const name = node.attributes.name || node.attributes.id || '';
    const more: Partial<SceneNode> = { entity: `line ${node.line}` };
    const camera = cameras[0] && cameraOf(this.#refer(cameras[0].attributes.url), this.builder.metres);
    const light = lights[0] && lightOf(this.#refer(lights[0].attributes.url));
    if (camera) {
      more.camera = camera;
      this.builder.counts.cameras++;
    }
    if (light) {
      more.light = light;
      this.builder.counts.lights++;
    }
    const transform = transformOf(node);
    const layer = node.attributes.layer?.split(/\s+/)[0] || null;
    const found = geometries.flatMap((instance) => this.#geometryOf(instance, name || 'Part') ?? []);
    const [only] = found;
    if (only && geometries.length === 1 && inner.length + references.length === 0) {
      const { geometry, bind } = only;
      const placed = this.#geometry(geometry);
      if (placed) {
        const id = this.builder.node({
          ...(parent === undefined ? {} : { parent }),
          name: name || geometry.attributes.name || geometry.attributes.id,
          transform,
          geometry: placed.id,
          materials: this.#bound(placed, bind),
          layer,
          more,
        });
        this.#enterId(node, id);
        return;
      }
    }
    const id = this.builder.node({
      ...(parent === undefined ? {} : { parent }),
      name,
      transform,
      kind: more.camera ? 'camera' : more.light ? 'light' : 'assembly',
      layer,
      more,
    });
    this.#enterId(node, id);
    for (const { geometry, bind } of found) this.#instance(geometry, id, bind, geometry.attributes.name);
    for (const one of inner) this.#node(one, id, depth + 1);
    for (const one of references) {
      const target = this.#refer(one.attributes.url);
      if (target) this.#node(target, id, depth + 1);
      else this.builder.warn('dangling', `${one.attributes.url} is placed and not in the file.`, `line ${one.line}`);
    }
  }

  #enterId(node: XmlElement, id: number): void {
    this.#ids.set(node, [...(this.#ids.get(node) ?? []), id]);
  }

  /** Through a controller to the geometry that it bends. */
  #geometryOf(
    instance: XmlElement,
    called: string,
  ): { geometry: XmlElement; bind: XmlElement | undefined } | undefined {
    let target = this.#refer(instance.attributes.url);
    for (let steps = 0; target?.name === 'controller' && steps < 10; steps++) {
      this.builder.notRead.add('Skins and morphs: the geometry is shown as it stands before it is bent.');
      this.builder.bent.add(called);
      target = this.#refer((child(target, 'skin') ?? child(target, 'morph'))?.attributes.source);
    }
    if (target?.name !== 'geometry') {
      this.builder.warn(
        'dangling',
        `${instance.attributes.url} is placed and not in the file.`,
        `line ${instance.line}`,
      );
      return undefined;
    }
    return { geometry: target, bind: child(instance, 'bind_material', 'technique_common') };
  }

  #instance(
    geometry: XmlElement,
    parent: number | undefined,
    bind: XmlElement | undefined,
    name: string | undefined,
  ): void {
    const placed = this.#geometry(geometry);
    if (!placed) return;
    this.builder.node({
      ...(parent === undefined ? {} : { parent }),
      name: name || geometry.attributes.id || 'Part',
      geometry: placed.id,
      materials: this.#bound(placed, bind),
    });
  }

  #bound({ symbols }: PlacedGeometry, bind: XmlElement | undefined): string[] {
    return symbols.map((symbol) => {
      const instance = childrenNamed(bind, 'instance_material').find(({ attributes }) => attributes.symbol === symbol);
      const target = this.#refer(instance?.attributes.target) ?? this.#byId.get(symbol);
      if (target?.name !== 'material') return 'none';
      const sets = new Map(
        childrenNamed(instance, 'bind_vertex_input').map(
          ({ attributes }) => [attributes.semantic, Number(attributes.input_set ?? 0)] as const,
        ),
      );
      return this.#materials.enter(target, sets);
    });
  }

  #geometry(element: XmlElement): PlacedGeometry | undefined {
    if (this.#geometries.has(element)) return this.#geometries.get(element);
    const mesh = child(element, 'mesh');
    if (!mesh && (child(element, 'convex_mesh') || child(element, 'spline') || child(element, 'brep')))
      this.builder.notRead.add('Splines, convex meshes and boundary representations are not read.');
    const made = mesh && this.#meshes.enter(mesh);
    this.#geometries.set(element, made);
    return made;
  }
}
