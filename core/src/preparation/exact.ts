/** Reads what is exact in some solids of a scene, for those who point at them. */
import { Rows } from '../scene/rowSet.ts';
import { GONE } from '../scene/nodes.ts';
import type { Hash, Scene } from '../scene/types.ts';
import { NO_LIMITS, readingExact } from '../steps/exact.ts';
import type { ReadSolid } from '../steps/exact.ts';
import type { Failed } from '../steps/kind.ts';
import type { Surroundings } from '../surroundings.ts';
import { runWork } from './evaluate.ts';

/** By solid: where its shape is kept, or why there is none. Solids that the scene does not have are left out. */
export async function readShapes(
  scene: Scene,
  solids: readonly Hash[],
  around: Surroundings,
): Promise<Record<Hash, ReadSolid | Failed>> {
  const { kind, solid } = scene.nodes.columns;
  const wanted = new Set(solids.map((one) => scene.nodes.tables.words.find(one)));
  const mask = Uint8Array.from(solid, (word, row) => (word > 0 && kind[row] !== GONE && wanted.has(word) ? 1 : 0));
  const results = new Map<string, unknown>();
  await runWork(readingExact.work(scene, new Rows(mask), NO_LIMITS), 'Read', results, around);
  return Object.fromEntries(
    solids.flatMap((one) => {
      const found = results.get(readingExact.key(scene, one, NO_LIMITS)) as ReadSolid | Failed | undefined;
      return found ? [[one, found]] : [];
    }),
  );
}
