/**
 * The read-back: opens the file that was written, from its bytes alone, and compares it with the prepared scene: parts,
 * names, hierarchy, instances, triangles, sizes, materials.
 */
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import type { Light } from '@gltf-transform/extensions';
import type { Material as GltfMaterial, Node } from '@gltf-transform/core';
import { hexFromLinear } from '../finish/colour.ts';
import { isJoined, joinedName, joinedTextures } from '../finish/joined.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import type { Matrix } from '../scene/matrix.ts';
import { multiply, IDENTITY } from '../scene/matrix.ts';
import { emptyBox, include, worldBox, worldTransforms } from '../scene/tree.ts';
import { materialOfSlot, takeOff } from '../scene/takeoff.ts';
import { transformPoint } from '../scene/matrix.ts';
import { isBlended, NO_MATERIAL } from '../scene/types.ts';
import type { Box, Material, Scene, SceneNode, TextureUse } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import { keysOf } from '../write/gltfAnimations.ts';
import { movementsIn, movementsOf, sameMovements } from './movements.ts';
import type { Movement } from './movements.ts';

/** One comparison, written for people. */
export interface ReadBackCheck {
  what: string;
  sent: string;
  found: string;
  holds: boolean;
}

export interface ReadBack {
  holds: boolean;
  checks: ReadBackCheck[];
  /** The first differences by name, where there are any. */
  differences: string[];
}

/** Sizes may differ by this share of the part's distance from the origin and its size: float32 has 24 bits. */
const FLOAT_SHARE = 1e-6;

/** One part as seen in either: where in the tree, how many triangles, which box, which materials. */
interface Row {
  path: string;
  triangles: number;
  materials: string;
  /** Sets of texture coordinates, and colours of vertices. */
  attributes: string;
  /** Kind of camera or light, with its figures. */
  optics: string;
  box: Box | undefined;
  movements: Movement[];
}

export async function readBackGlb(bytes: Uint8Array, scene: Scene, blobs: BlobStore): Promise<ReadBack> {
  const found = await rowsOfGlb(bytes);
  const sent = await rowsOfScene(scene, blobs);
  const differences: string[] = [];
  const note = (text: string) => {
    if (differences.length < 20) differences.push(text);
  };
  const foundByPath = new Map(found.rows.map((row) => [row.path, row]));
  let names = 0;
  let sizes = 0;
  let materials = 0;
  let triangles = 0;
  let attributes = 0;
  let optics = 0;
  let moving = 0;
  for (const row of sent.rows) {
    const other = foundByPath.get(row.path);
    if (!other) {
      note(`${row.path} is missing in the file`);
      continue;
    }
    names++;
    if (row.optics && row.optics === other.optics) optics++;
    else if (row.optics !== other.optics)
      note(`${row.path}: ${row.optics || 'nothing'} became ${other.optics || 'nothing'}`);
    if (row.movements.length + other.movements.length > 0) {
      if (sameMovements(row.movements, other.movements)) moving++;
      else note(`${row.path}: it moves in another way`);
    }
    if (!row.box && !other.box) continue;
    if (sameBox(row.box, other.box)) sizes++;
    else note(`${row.path}: size or place differs`);
    if (row.materials === other.materials) materials++;
    else note(`${row.path}: material ${row.materials || 'none'} became ${other.materials || 'none'}`);
    if (row.triangles === other.triangles) triangles++;
    else note(`${row.path}: ${row.triangles} triangles became ${other.triangles}`);
    if (row.attributes === other.attributes) attributes++;
    else
      note(
        `${row.path}: ${row.attributes || 'no texture coordinates or colours'} became ${other.attributes || 'nothing'}`,
      );
  }
  const off = takeOff(scene);
  const foundTriangles = found.rows.reduce((sum, row) => sum + row.triangles, 0);
  const count = (what: string, a: number, b: number): ReadBackCheck => ({
    what,
    sent: String(a),
    found: String(b),
    holds: a === b,
  });
  const total = sent.rows.length;
  const withMovement = sent.rows.filter((row) => row.movements.length > 0).length;
  const withOptics = sent.rows.filter((row) => row.optics).length;
  const checks = [
    count('Parts with geometry', sent.parts, found.parts),
    count('Rows of the tree', total, found.rows.length),
    { ...count('Names in the same place', total, names), holds: names === total && found.rows.length === total },
    count('Distinct geometry', sent.geometries, found.geometries),
    count('Triangles drawn', off.triangles, foundTriangles),
    count('Triangles, part by part', sent.parts, triangles),
    count('Sizes and places', sent.parts, sizes),
    count('Materials, part by part', sent.parts, materials),
    ...(sent.textures.size > 0 ? [count('Pictures', sent.textures.size, found.textures.size)] : []),
    ...(withOptics > 0 ? [count('Cameras and lights', withOptics, optics)] : []),
    ...(withMovement > 0 ? [count('Movements, node by node', withMovement, moving)] : []),
    ...(sent.rows.some((row) => row.attributes) ? [count('UVs and colours', sent.parts, attributes)] : []),
  ];
  for (const texture of sent.textures)
    if (!found.textures.has(texture)) note(`the picture ${texture} is not in the file`);
  return { holds: checks.every((check) => check.holds), checks, differences };
}

/** Names from the root down, told apart by an ordinal among equal siblings. */
function pathIn(parentPath: string, name: string, seen: Map<string, number>): string {
  const path = `${parentPath} › ${name}`;
  const count = (seen.get(path) ?? 0) + 1;
  seen.set(path, count);
  return count > 1 ? `${path} (${count})` : path;
}

async function rowsOfScene(
  scene: Scene,
  blobs: BlobStore,
): Promise<{ rows: Row[]; parts: number; geometries: number; textures: Set<string> }> {
  const worlds = worldTransforms(scene);
  const keys = await keysOf(scene, blobs);
  const positions = new Map<string, Float32Array>();
  for (const node of scene.nodes) {
    if (!node.mesh || positions.has(node.mesh)) continue;
    const mesh = unpackMesh(await blobs.get(node.mesh));
    positions.set(node.mesh, mesh.positions.length > 0 ? mesh.positions : mesh.edges);
  }
  const textures = new Set<string>();
  const paths = new Map<number, string>();
  const seen = new Map<string, number>();
  const geometries = new Set<string>();
  let parts = 0;
  const rows = scene.nodes.map((node): Row => {
    const path = pathIn(node.parent === null ? '' : (paths.get(node.parent) ?? ''), node.name, seen);
    paths.set(node.id, path);
    const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
    const optics = opticsOf(node);
    const movements = movementsOf(node, scene, keys);
    if (!figures) return { path, triangles: 0, materials: '', attributes: '', optics, movements, box: undefined };
    parts++;
    geometries.add(`${node.mesh} ${node.offset?.join(' ') ?? ''}`);
    // Points and lines have one material, where the source gives one.
    const slots =
      figures.triangles > 0
        ? figures.slots.flatMap((count, slot) => (count > 0 ? [slot] : []))
        : node.materials.length > 0
          ? [0]
          : [];
    const list = slots.map((slot) => {
      const material = scene.materials[materialOfSlot(node, slot)] ?? NO_MATERIAL;
      const pictures = picturesOf(material, scene);
      for (const picture of pictures) textures.add(picture);
      return describe({ ...material, blended: isBlended(material), pictures });
    });
    return {
      path,
      triangles: figures.triangles,
      materials: list.join(', '),
      attributes: describeAttributes(figures.uvs ?? 0, figures.colours ?? false),
      optics,
      movements,
      box: worldBox(scene, [node], worlds, (mesh) => positions.get(mesh)),
    };
  });
  return { rows, parts, geometries: geometries.size, textures };
}

/** A camera or light as it is sent; light that comes from everywhere has no place in the format. */
function opticsOf({ camera, light }: SceneNode): string {
  if (camera?.type === 'perspective') return `camera ${camera.fov.toFixed(4)} rad`;
  if (camera) return `camera ${camera.height.toFixed(4)} m high`;
  if (!light || light.type === 'ambient') return '';
  return `${light.type} light ${light.intensity.toFixed(3)} ${hexFromLinear(light.color)}`;
}

function opticsOfGltf(node: Node): string {
  const camera = node.getCamera();
  if (camera)
    return camera.getType() === 'orthographic'
      ? `camera ${(camera.getYMag() * 2).toFixed(4)} m high`
      : `camera ${camera.getYFov().toFixed(4)} rad`;
  const light = node.getExtension<Light>('KHR_lights_punctual');
  return light ? `${light.getType()} light ${light.getIntensity().toFixed(3)} ${hexFromLinear(light.getColor())}` : '';
}

function describeAttributes(uvs: number, colours: boolean): string {
  return [uvs > 0 ? `${uvs} UV` : '', colours ? 'colours' : ''].filter(Boolean).join(', ');
}

function describe(material: {
  name: string;
  baseColor: readonly number[];
  opacity: number;
  metallic: number;
  roughness: number;
  blended?: boolean | undefined;
  pictures: string[];
}): string {
  const { name, baseColor, opacity, metallic, roughness, blended, pictures } = material;
  const through = blended ? ' blended' : '';
  return `${name} ${hexFromLinear(baseColor)} ${opacity} ${metallic} ${roughness}${through}${pictures.length ? ` ${pictures.sort().join(' ')}` : ''}`;
}

/** Names of the pictures as they are to stand in the file: joined where the format has one for several. */
function picturesOf(material: Material, scene: Scene): string[] {
  const there = ({ texture }: TextureUse) => scene.textures[texture]?.blob !== undefined;
  const { textures, lost } = joinedTextures(material);
  return [...Object.values(textures), ...lost].flatMap((texture) => {
    if (!isJoined(texture)) return there(texture) ? [scene.textures[texture.texture].name] : [];
    return texture.from.some(({ use }) => there(use)) ? [joinedName(texture, scene)] : [];
  });
}

function picturesOfGltf(material: GltfMaterial): string[] {
  const list = [
    material.getBaseColorTexture(),
    material.getMetallicRoughnessTexture(),
    material.getNormalTexture(),
    material.getOcclusionTexture(),
    material.getEmissiveTexture(),
  ];
  return list.flatMap((texture) => (texture?.getImage() ? [texture.getName()] : []));
}

async function rowsOfGlb(
  bytes: Uint8Array,
): Promise<{ rows: Row[]; parts: number; geometries: number; textures: Set<string> }> {
  const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes);
  const movements = movementsIn(document);
  const textures = new Set<string>();
  const rows: Row[] = [];
  const seen = new Map<string, number>();
  const geometries = new Set<unknown>();
  let parts = 0;
  const visit = (node: Node, parentPath: string, parentWorld: Matrix) => {
    const path = pathIn(parentPath, node.getName(), seen);
    const world = multiply(parentWorld, node.getMatrix());
    const primitives = node.getMesh()?.listPrimitives() ?? [];
    const box = emptyBox();
    let triangles = 0;
    let attributes = '';
    const materials: string[] = [];
    const measured = new Set<unknown>();
    if (primitives.length > 0) parts++;
    for (const primitive of primitives) {
      const position = primitive.getAttribute('POSITION');
      const indices = primitive.getIndices();
      if (primitive.getMode() === 4) triangles += (indices ?? position)!.getCount() / 3;
      const sets = primitive.listSemantics().filter((semantic) => semantic.startsWith('TEXCOORD_')).length;
      attributes = describeAttributes(sets, primitive.getAttribute('COLOR_0') !== null);
      geometries.add(position);
      const material = primitive.getMaterial();
      if (material) {
        const [r, g, b] = material.getBaseColorFactor();
        const pictures = picturesOfGltf(material);
        for (const picture of pictures) textures.add(picture);
        materials.push(
          describe({
            name: material.getName(),
            baseColor: [r, g, b],
            opacity: material.getAlpha(),
            metallic: material.getMetallicFactor(),
            roughness: material.getRoughnessFactor(),
            blended: material.getAlphaMode() === 'BLEND',
            pictures,
          }),
        );
      }
      if (!position || measured.has(position)) continue;
      measured.add(position);
      const array = position.getArray() ?? [];
      for (let i = 0; i < array.length; i += 3)
        include(box, transformPoint(world, [array[i], array[i + 1], array[i + 2]]));
    }
    rows.push({
      path,
      triangles,
      attributes,
      optics: opticsOfGltf(node),
      movements: movements.get(node) ?? [],
      materials: materials.join(', '),
      box: Number.isFinite(box.min[0]) ? box : undefined,
    });
    for (const child of node.listChildren()) visit(child, path, world);
  };
  for (const root of document.getRoot().listScenes()[0]?.listChildren() ?? []) visit(root, '', IDENTITY);
  return { rows, parts, geometries: geometries.size, textures };
}

function sameBox(a: Box | undefined, b: Box | undefined): boolean {
  if (!a || !b) return a === b;
  const reach = Math.max(...[...a.min, ...a.max].map(Math.abs), 0.001);
  const tolerance = reach * FLOAT_SHARE;
  return (
    a.min.every((value, i) => Math.abs(value - b.min[i]) <= tolerance) &&
    a.max.every((value, i) => Math.abs(value - b.max[i]) <= tolerance)
  );
}
