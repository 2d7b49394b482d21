/** Random scenes, the same for a seed: trees with equal names, uneven and mirrored places, shared and painted shapes, layers, pictures. */
import { pngOf } from '../finish/made/png.ts';
import { composed } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { unit } from '../scene/motion.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Scene } from '../scene/types.ts';
import type { MemoryBlobs } from '../memoryStores.ts';
import { ballMesh, boxMesh, squareMesh } from './meshes.ts';
import { randomNumbers } from './random.ts';
import { sceneWith } from './scenes.ts';
import type { PartSpec } from './scenes.ts';

export class Chance {
  readonly next: () => number;

  constructor(seed: number) {
    this.next = randomNumbers(seed * 2654435761);
    for (let i = 0; i < 4; i++) this.next();
  }

  between = (low: number, high: number): number => low + (high - low) * this.next();
  whole = (below: number): number => Math.floor(this.next() * below);
  of = <T>(list: readonly T[]): T => list[this.whole(list.length)];
  is = (share: number): boolean => this.next() < share;
  shuffled = <T>(list: readonly T[]): T[] => {
    const out = [...list];
    for (let i = out.length - 1; i > 0; i--) {
      const k = this.whole(i + 1);
      [out[i], out[k]] = [out[k], out[i]];
    }
    return out;
  };
}

const NAMES = ['Bolt', 'Bolt', 'Plate', 'Frame', 'Größe/3', 'Rail_2'];
const LAYERS = ['STEEL', 'GLASS', 'WALLS'];
const CLASSES = ['IfcWall', 'IfcBeam'];
const MATERIALS = ['white', 'steel', 'brick', 'none'];

/** Shapes that parts share: closed and open, of one slot and of two, with coordinates and without. */
function shapes() {
  const withUvs = (mesh: ReturnType<typeof boxMesh>) => ({ ...mesh, uvs: [Float32Array.from({ length: (mesh.positions.length / 3) * 2 }, (_, i) => ((i * 7) % 11) / 11)] }); // prettier-ignore
  return [boxMesh(1, 2, 0.5), withUvs(boxMesh(0.4, 0.4, 3, 2)), ballMesh(0.7, 8), squareMesh(2, 2), withUvs(ballMesh(0.2, 6))]; // prettier-ignore
}

function place(chance: Chance): Matrix {
  const size = chance.between(0.4, 2.5);
  const scale: [number, number, number] = chance.is(0.25) ? [size, size * chance.between(0.5, 2), size] : [size, size, size]; // prettier-ignore
  if (chance.is(0.2)) scale[0] = -scale[0];
  const turn = chance.is(0.5) ? [0, 0, 0, 1] : unit(Array.from({ length: 4 }, () => chance.between(-1, 1)));
  return composed([0, 1, 2].map(() => chance.between(-5, 5)) as never, turn as never, scale);
}

/** A tree of specifications, which can be built in another order or below something else. */
export function randomTree(chance: Chance, depth = 3): PartSpec[] {
  const list = shapes();
  const row = (level: number): PartSpec => {
    const isGroup = level > 0 && chance.is(0.45);
    const common = { name: chance.of(NAMES), transform: place(chance), ...(chance.is(0.5) ? { layer: chance.of(LAYERS) } : {}), ...(chance.is(0.3) ? { class: chance.of(CLASSES) } : {}) }; // prettier-ignore
    if (isGroup) return { ...common, children: Array.from({ length: 1 + chance.whole(3) }, () => row(level - 1)) };
    const mesh = chance.of(list);
    const slots = Math.max(...mesh.groups.map(({ slot }) => slot)) + 1;
    return { ...common, mesh, materials: Array.from({ length: slots }, () => chance.of(MATERIALS)) };
  };
  return Array.from({ length: 2 + chance.whole(3) }, () => row(depth));
}

/** Turned upright, with looks for its materials; one of them seen from both sides. */
export async function sceneOf(tree: PartSpec[], blobs?: MemoryBlobs): Promise<{ scene: Scene; blobs: MemoryBlobs }> {
  const made = await sceneWith(tree, blobs);
  const { scene } = made;
  scene.sources = scene.sources.map((source) => ({ ...source, up: 'y' as const }));
  MATERIALS.forEach((id, i) => {
    if (id !== 'none' && scene.materials[id])
      scene.materials[id] = { ...NO_MATERIAL, id, name: `Colour ${id}`, baseColor: [i * 0.3, 0.5, 1 - i * 0.2], ...(id === 'steel' ? { doubleSided: true, metallic: 1 } : {}) }; // prettier-ignore
  });
  if (scene.materials.brick) await pictured(scene, made.blobs);
  return made;
}

/** Its picture is half as wide as a step of the coordinates, and turned. */
async function pictured(scene: Scene, blobs: MemoryBlobs): Promise<void> {
  const png = pngOf({ width: 2, height: 2, data: Uint8Array.from({ length: 12 }, (_, i) => i * 20) });
  scene.textures.tile = { id: 'tile', name: 'tile.png', source: 's', state: 'found', mime: 'image/png', blob: await blobs.put(png), bytes: png.length, width: 2, height: 2 }; // prettier-ignore
  scene.materials.brick = { ...scene.materials.brick, textures: { baseColor: { texture: 'tile', uv: 0, scale: [2, 2], rotation: 0.3 } } }; // prettier-ignore
}
