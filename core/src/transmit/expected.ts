/** What is to stand in a file, from the scene and its blobs alone: nothing here asks a writer. */
import { joinedTextures } from '../finish/joined.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { factsOf } from '../scene/facts.ts';
import { keysOf } from '../scene/motion.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import { worldTransforms } from '../scene/tree.ts';
import { isBlended, NO_MATERIAL, STANDARD_IOR } from '../scene/types.ts';
import { placedMesh } from '../mesh/placed.ts';
import { IDENTITY } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import type { Material, Scene, SceneNode, Texture, TextureUse } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import type { FoundGeometry, FoundMaterial, FoundRow, PictureSlot } from './found.ts';
import { exactOf } from './exact.ts';
import { movementsOf } from './movements.ts';

/** A picture that is to be there: one of some files as they are, or a new one made of channels of others. */
export interface ExpectedPicture {
  use: TextureUse;
  name: string;
  /** Hashes of files that it may be, as received or as PNG; none where it is a new one. */
  files: string[];
  channels: { texture: Texture; use: TextureUse; to: readonly number[] }[];
}

export interface ExpectedMaterial extends Omit<FoundMaterial, 'pictures'> {
  pictures: Partial<Record<PictureSlot, ExpectedPicture>>;
  /** Names of pictures that the format has no place for. */
  lost: string[];
}

export interface ExpectedRow extends Omit<FoundRow, 'bodies'> {
  bodies: { geometry: FoundGeometry; material?: ExpectedMaterial; variants?: Record<string, string> }[];
}

/** @param exact with the exact solids of the rows */
export async function expectedRows(scene: Scene, blobs: BlobStore, exact = false): Promise<ExpectedRow[]> {
  const worlds = worldTransforms(scene);
  const keys = await keysOf(scene, blobs);
  const geometries = new Map<string, { slot: number; geometry: FoundGeometry }[]>();
  const materials = new Map<string, ExpectedMaterial>();
  const materialFor = (id: string) => {
    let made = materials.get(id);
    if (!made) materials.set(id, (made = materialOf(scene.materials[id] ?? NO_MATERIAL, scene)));
    return made;
  };
  const rows = new Map<number, number>();
  const out: ExpectedRow[] = [];
  // Parents first, though steps add rows above others later.
  for (const row of factsOf(scene).order) {
    const node = scene.nodes.row(row);
    rows.set(node.id, out.length);
    let bodies: { slot: number; geometry: FoundGeometry }[] = [];
    if (node.mesh) {
      // Equal geometry with the same pivot is one.
      const key = `${node.mesh} ${node.offset?.join(' ') ?? ''}`;
      bodies = geometries.get(key) ?? geometriesOf(unpackMesh(await blobs.get(node.mesh)), node.offset);
      geometries.set(key, bodies);
    }
    const { camera, light } = opticsOf(node);
    const solid = exact ? exactOf(scene, node, node.offset ?? IDENTITY) : undefined;
    out.push({
      parent: node.parent === null ? null : (rows.get(node.parent) ?? null),
      name: node.name,
      world: worlds.get(node.id)!,
      bodies: bodies.map(({ slot, geometry }) => ({
        geometry,
        // Points and lines have a material where the source gives one.
        ...(geometry.mode === 'triangles' || node.materials.length > 0
          ? { material: materialFor(materialOfSlot(node, slot)) }
          : {}),
        ...(node.variants ? { variants: variantsOf(scene, node.variants, slot) } : {}),
      })),
      ...(camera ? { camera } : {}),
      ...(light ? { light } : {}),
      movements: movementsOf(node, scene, keys),
      ...(solid ? { exact: solid } : {}),
    });
  }
  return out;
}

function variantsOf({ materials }: Scene, variants: Record<string, string[]>, slot: number): Record<string, string> {
  const said = Object.entries(variants).filter(([, ids]) => ids[slot] !== undefined);
  return Object.fromEntries(said.map(([name, ids]) => [name, (materials[ids[slot]] ?? NO_MATERIAL).name]));
}

/** Triangles slot by slot; lines or points of what has nothing else. */
function geometriesOf(packed: Mesh, offset: Matrix = IDENTITY): { slot: number; geometry: FoundGeometry }[] {
  const points = {};
  const mesh = placedMesh(packed, offset);
  if (mesh.positions.length === 0)
    return [{ slot: 0, geometry: { mode: 'lines', points, positions: mesh.edges, uvs: [] } }];
  const values = {
    points,
    positions: mesh.positions,
    uvs: mesh.uvs ?? [],
    ...(mesh.colours ? { colours: mesh.colours } : {}),
  };
  if (mesh.indices.length === 0) return [{ slot: 0, geometry: { mode: 'points', ...values } }];
  return mesh.groups
    .filter(({ count }) => count > 0)
    .map(({ slot, start, count }) => ({
      slot,
      geometry: {
        mode: 'triangles',
        ...values,
        normals: mesh.normals,
        corners: mesh.indices.subarray(start, start + count),
      },
    }));
}

/** Light that comes from everywhere has no place in the formats. */
function opticsOf({ camera, light }: SceneNode): Pick<FoundRow, 'camera' | 'light'> {
  return {
    ...(camera ? { camera: camera.type === 'perspective' ? { angle: camera.fov } : { height: camera.height } } : {}),
    ...(light && light.type !== 'ambient'
      ? { light: { type: light.type, intensity: light.intensity, color: light.color } }
      : {}),
  };
}

function materialOf(material: Material, scene: Scene): ExpectedMaterial {
  const { textures, lost } = joinedTextures(material);
  const pictures: ExpectedMaterial['pictures'] = {};
  for (const [slot, texture] of Object.entries(textures)) {
    const from = 'from' in texture ? texture.from : [{ use: texture, to: [] }];
    const there = from.flatMap(({ use, to }) => {
      const found = scene.textures[use.texture];
      return found?.blob ? [{ texture: found, use, to }] : [];
    });
    if (there.length === 0) continue;
    const isNew = 'from' in texture;
    pictures[slot as PictureSlot] = {
      use: isNew ? texture.use : texture,
      name: [...new Set(there.map((part) => part.texture.name))].join(' + '),
      files: isNew
        ? []
        : there.flatMap(({ texture: { blob, png } }) => [blob, png].filter((hash) => hash !== undefined)),
      channels: isNew ? there : [],
    };
  }
  return {
    name: material.name,
    baseColor: material.baseColor,
    opacity: material.opacity,
    metallic: material.metallic,
    roughness: material.roughness,
    emissive: material.emissive ?? [0, 0, 0],
    blended: isBlended(material),
    ...(material.cutoff === undefined ? {} : { cutoff: material.cutoff }),
    doubleSided: material.doubleSided ?? false,
    unlit: material.unlit ?? false,
    transmission: material.transmission ?? 0,
    ior: material.ior ?? STANDARD_IOR,
    clearcoat: material.clearcoat ?? 0,
    clearcoatRoughness: material.clearcoat ? (material.clearcoatRoughness ?? 0) : 0,
    pictures,
    lost: lost.flatMap(({ texture }) => (scene.textures[texture]?.blob ? [scene.textures[texture].name] : [])),
  };
}
