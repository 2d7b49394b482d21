/** Random trees of which rows move in every way that keys can say: straight, in jumps, along curves; turned, moved, stretched. */
import { boxMesh } from './meshes.ts';
import { randomNumbers } from './random.ts';
import { sceneWith } from './scenes.ts';
import type { MemoryBlobs } from '../memoryStores.ts';
import { composed } from '../scene/matrix.ts';
import { PATHS, SIZES, unit } from '../scene/motion.ts';
import type { AnimationKeys, Channel, Path, Track } from '../scene/motion.ts';
import { NodeWriter } from '../scene/nodeWriter.ts';
import type { Scene } from '../scene/types.ts';

const KINDS = ['linear', 'step', 'cubic'] as const;

/** @param rows each hangs below the one before, or beside it */
export async function movingTree(seed: number, rows = 5): Promise<{ scene: Scene; blobs: MemoryBlobs }> {
  const random = randomNumbers(seed);
  const around = (middle: number, by: number) => middle + (random() - 0.5) * 2 * by;
  const turn = () => unit([around(0, 1), around(0, 1), around(0, 1), around(0, 1)]);
  const { scene, blobs } = await sceneWith([{ name: 'Cube', mesh: boxMesh(1, 2, 3), materials: ['#112233'] }]);
  const [mesh] = Object.keys(scene.meshes);
  const writer = new NodeWriter('s');
  const tracks: Track[] = [];
  const channel = (path: Path, rest: number[]): Channel => {
    const interpolation = KINDS[Math.floor(random() * KINDS.length)];
    const keys = 2 + Math.floor(random() * 4);
    const moments = Array.from({ length: keys }, (_, i) => (i + (i > 0 ? random() * 0.5 : 0)) * 0.6);
    const even = around(1, 0.4);
    const value = () => (path === 'rotation' ? turn() : path === 'scale' ? [even, even, even].map((v) => v * around(1, 0.2)) : rest.map((v) => around(v, 3))); // prettier-ignore
    const tangent = () => Array.from({ length: SIZES[path] }, () => around(0, path === 'translation' ? 2 : 0.3));
    const values = moments.flatMap(() =>
      interpolation === 'cubic' ? [...tangent(), ...value(), ...tangent()] : value(),
    );
    return { times: moments, values, interpolation };
  };
  let parent: number | null = null;
  for (let row = 0; row < rows; row++) {
    const size = around(1, 0.3);
    const parts = {
      translation: [around(0, 4), around(0, 4), around(0, 4)],
      rotation: turn(),
      scale: [size, size, size],
    };
    const rest = composed(parts.translation, parts.rotation, parts.scale);
    const track: Track = {};
    // Uneven scales of what others hang below would skew them.
    for (const path of PATHS) if (random() < 0.6 && (path !== 'scale' || row === rows - 1)) track[path] = channel(path, parts[path]); // prettier-ignore
    const isMoving = Object.keys(track).length > 0;
    const isPart = row === rows - 1 || random() < 0.6;
    const id = writer.add({
      parent,
      name: `Row ${row}`,
      kind: isPart ? 'part' : 'assembly',
      transform: rest,
      ...(isPart ? { mesh, materials: ['#112233'] } : { materials: [] }),
      ...(isMoving ? { motion: { tracks: { a: tracks.push(track) - 1 }, rest } } : {}),
    } as never);
    if (random() < 0.7) parent = id;
  }
  if (tracks.length === 0) return movingTree(seed + 1000, rows);
  const keys = await blobs.put(new TextEncoder().encode(JSON.stringify({ tracks } satisfies AnimationKeys)));
  const duration = Math.max(...tracks.flatMap((track) => Object.values(track).flatMap(({ times }) => times)));
  const animations = { a: { id: 'a', name: 'All of it', source: 's', duration, nodes: tracks.length, keys } };
  return { scene: { ...scene, animations, nodes: writer.table() }, blobs };
}
