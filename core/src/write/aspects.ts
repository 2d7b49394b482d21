/** What a scene may have that a format has a place for, or not: the lines of the carry-over sheet, and what a read-back looks for. */
import { factsOf } from '../scene/facts.ts';
import { movingAnimations } from '../scene/motion.ts';
import { ASSEMBLY, GONE } from '../scene/nodes.ts';
import { isBlended, NO_MATERIAL, STANDARD_IOR } from '../scene/types.ts';
import type { Material, MeshFigures, Scene, SceneNode, TextureSlot, TextureUse } from '../scene/types.ts';

export const ASPECTS = [
  'tree', 'names', 'instances', 'layers', 'pivots', 'empties', 'solids', 'meshes', 'lines', 'points', 'normals', 'uvs', 'moreUvs', 'colours', 'materials', 'baseColor',
  'opacity', 'metalRough', 'emission', 'glass', 'coat', 'unlit', 'cutoff', 'sides', 'colourPictures', 'surfacePictures', 'picturePlaces',
  'variants', 'cameras', 'lights', 'movements', 'metadata',
] as const; // prettier-ignore
export type Aspect = (typeof ASPECTS)[number];

/** Carried as it is, not at all, or in another way, which is said. */
export type Carriage = true | false | string;

/** What a format does with each aspect; what is not named is lost. */
export type Carries = Readonly<Partial<Record<Aspect, Carriage>>>;

interface AspectWords {
  title: string;
  /** What is counted, one and many. */
  one: string;
  many: string;
}

export const ASPECT_WORDS: Readonly<Record<Aspect, AspectWords>> = {
  tree: { title: 'Hierarchy', one: 'assembly', many: 'assemblies' },
  names: { title: 'Names', one: 'name', many: 'names' },
  instances: { title: 'Shared geometry', one: 'part that shows the shape of another', many: 'parts that show the shape of others' },
  layers: { title: 'Layers', one: 'layer', many: 'layers' },
  pivots: { title: 'Pivots and places', one: 'row with a place of its own', many: 'rows with a place of their own' },
  empties: { title: 'Named points and empty rows', one: 'row', many: 'rows' },
  solids: { title: 'Exact solids', one: 'solid', many: 'solids' },
  meshes: { title: 'What came as meshes', one: 'part', many: 'parts' },
  lines: { title: 'Lines', one: 'part', many: 'parts' },
  points: { title: 'Clouds of points', one: 'part', many: 'parts' },
  normals: { title: 'Normals', one: 'part', many: 'parts' },
  uvs: { title: 'Texture coordinates', one: 'part', many: 'parts' },
  moreUvs: { title: 'Second set of texture coordinates', one: 'part', many: 'parts' },
  colours: { title: 'Colours of points', one: 'part', many: 'parts' },
  materials: { title: 'Materials', one: 'material', many: 'materials' },
  baseColor: { title: 'Colour', one: 'material', many: 'materials' },
  opacity: { title: 'Opacity', one: 'material', many: 'materials' },
  metalRough: { title: 'Metalness and roughness', one: 'material', many: 'materials' },
  emission: { title: 'Emission', one: 'material', many: 'materials' },
  glass: { title: 'Transmission and refraction', one: 'material', many: 'materials' },
  coat: { title: 'Clear coat', one: 'material', many: 'materials' },
  unlit: { title: 'Shown without light', one: 'material', many: 'materials' },
  cutoff: { title: 'Cut out by opacity', one: 'material', many: 'materials' },
  sides: { title: 'Seen from both sides', one: 'material', many: 'materials' },
  colourPictures: { title: 'Pictures of colour', one: 'picture', many: 'pictures' },
  surfacePictures: { title: 'Pictures of normals, roughness, occlusion, emission', one: 'picture', many: 'pictures' },
  picturePlaces: { title: 'Scale, turn and edge of pictures', one: 'use of a picture', many: 'uses of pictures' },
  variants: { title: 'Variants of materials', one: 'variant', many: 'variants' },
  cameras: { title: 'Cameras', one: 'camera', many: 'cameras' },
  lights: { title: 'Lights', one: 'light', many: 'lights' },
  movements: { title: 'Movements', one: 'movement', many: 'movements' },
  metadata: { title: 'Classes and properties', one: 'row', many: 'rows' },
}; // prettier-ignore

const counted = new WeakMap<Scene, Record<Aspect, number>>();

/** How much there is of each in a scene. */
export function countAspects(scene: Scene): Record<Aspect, number> {
  const known = counted.get(scene);
  if (known) return known;
  const out = Object.fromEntries(ASPECTS.map((aspect) => [aspect, 0])) as Record<Aspect, number>;
  const { nodes } = scene;
  const { kind, mesh, solid, layer, place, offset, class: classes, properties, materials, extras } = nodes.columns;
  const { start } = factsOf(scene).children;
  const meshes = new Set<number>();
  const lists = new Set<number>();
  const variants = new Set<string>();
  const [layers, solids] = [new Set<number>(), new Set<number>()];
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE) continue;
    out.names++;
    if (kind[row] === ASSEMBLY) out.tree++;
    if (layer[row] > 0) layers.add(layer[row]);
    if (solid[row] > 0) solids.add(solid[row]);
    if (place[row] > 0 || offset[row] > 0) out.pivots++;
    if (classes[row] > 0 || properties[row] > 0) out.metadata++;
    const { camera, light, variants: others = {} } = nodes.tables.extras[extras[row]];
    if (camera) out.cameras++;
    if (light && light.type !== 'ambient') out.lights++;
    const hasChildren = start[row + 2] > start[row + 1];
    if (mesh[row] === 0 && !camera && !light && !hasChildren) out.empties++;
    if (mesh[row] === 0) continue;
    if (solid[row] === 0 && scene.meshes[nodes.word('mesh', row)].triangles > 0) out.meshes++;
    if (meshes.has(mesh[row])) out.instances++;
    meshes.add(mesh[row]);
    lists.add(materials[row]);
    for (const name of Object.keys(others)) variants.add(name);
    countMesh(scene.meshes[nodes.word('mesh', row)], out);
  }
  out.layers = layers.size;
  out.solids = solids.size;
  out.variants = variants.size;
  out.movements = movingAnimations(scene).length;
  const used = new Set([...lists].flatMap((list) => nodes.tables.lists.get(list).map((word) => nodes.tables.words.get(word)))); // prettier-ignore
  used.delete(NO_MATERIAL.id);
  countMaterials(scene, used, out);
  counted.set(scene, out);
  return out;
}

function countMesh({ triangles, vertices, uvs = 0, colours }: MeshFigures, out: Record<Aspect, number>): void {
  if (triangles === 0) out[vertices > 0 ? 'points' : 'lines']++;
  else out.normals++;
  if (uvs > 0) out.uvs++;
  if (uvs > 1) out.moreUvs++;
  if (colours) out.colours++;
}

const COLOUR_SLOTS = new Set<TextureSlot>(['baseColor', 'opacity']);

function countMaterials(scene: Scene, used: ReadonlySet<string>, out: Record<Aspect, number>): void {
  const pictures = { colourPictures: new Set<string>(), surfacePictures: new Set<string>() };
  for (const id of used) {
    const material = scene.materials[id];
    if (!material) continue;
    out.materials++;
    out.baseColor++;
    if (!material.unlit) out.metalRough++;
    for (const aspect of Object.keys(HAS) as (keyof typeof HAS)[]) if (HAS[aspect](material)) out[aspect]++;
    for (const [slot, use] of Object.entries(material.textures ?? {}) as [TextureSlot, TextureUse][]) {
      if (!scene.textures[use.texture]?.blob) continue;
      pictures[COLOUR_SLOTS.has(slot) ? 'colourPictures' : 'surfacePictures'].add(use.texture);
      if (isPlaced(use)) out.picturePlaces++;
    }
  }
  out.colourPictures = pictures.colourPictures.size;
  out.surfacePictures = pictures.surfacePictures.size;
}

const HAS = {
  opacity: isBlended,
  emission: ({ emissive }: Material) => emissive?.some((value) => value > 0) ?? false,
  glass: ({ transmission = 0, ior = STANDARD_IOR }: Material) => transmission > 0 || ior !== STANDARD_IOR,
  coat: ({ clearcoat = 0 }: Material) => clearcoat > 0,
  unlit: ({ unlit = false }: Material) => unlit,
  cutoff: ({ cutoff }: Material) => cutoff !== undefined,
  sides: ({ doubleSided = false }: Material) => doubleSided,
};

/** Shows nothing by itself. */
export const isEmpty = ({ mesh, solid, camera, light }: SceneNode) => !mesh && !solid && !camera && !light;

export function isPlaced({ offset, scale, rotation, wrap }: TextureUse): boolean {
  return offset !== undefined || scale !== undefined || rotation !== undefined || wrap !== undefined;
}
