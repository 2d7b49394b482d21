/** The rows of a glTF file as the loader of three.js has them. */
import { DoubleSide, Matrix4 } from 'three';
import type {
  BufferAttribute,
  BufferGeometry,
  InstancedMesh,
  Light,
  Material,
  Mesh,
  MeshBasicMaterial,
  MeshPhysicalMaterial,
  MeshStandardMaterial,
  Object3D,
  OrthographicCamera,
  PerspectiveCamera,
  Texture,
} from 'three';
import type { GLTF } from 'three/addons/loaders/GLTFLoader.js';
import { composed, multiply, IDENTITY } from '../../../scene/matrix.ts';
import type { Matrix } from '../../../scene/matrix.ts';
import { STANDARD_IOR } from '../../../scene/types.ts';
import type { FoundBody, FoundGeometry, FoundMaterial, FoundRow, PictureSlot } from '../../found.ts';
import type { Movement } from '../../movements.ts';
import { movementsByName } from './movements.ts';
import type { NamedMovement } from './movements.ts';
import { pictureOf } from './pictures.ts';
import { shownBy } from './sharing.ts';

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

export class GlbRows {
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
