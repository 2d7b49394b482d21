/** What stands in a file of X3D, by the reader with which sources are received. Shapes, viewpoints and lights are their transform's own. */
import type { WrittenFile } from '../../write/writer.ts';
import type { FoundRow } from '../found.ts';
import { folded, readRows } from './source.ts';

/** @throws Error where the files cannot be read */
export async function openX3d(files: readonly WrittenFile[]): Promise<FoundRow[]> {
  const { scene, rows } = await readRows(files);
  /** Slots of a shape are shapes of their own in the file, that share their points. */
  const meshes: string[] = [];
  const out = folded(scene, rows, ({ kind, mesh }, parent) => {
    if (mesh) meshes[parent] = `${meshes[parent] ?? ''} ${mesh}`;
    return kind !== 'assembly';
  });
  const points = new Map<string, object>();
  for (const [row, key] of Object.entries(meshes)) {
    const shared = points.get(key) ?? {};
    points.set(key, shared);
    const found = out[Number(row)];
    found.bodies = found.bodies.map((body) => ({ ...body, geometry: { ...body.geometry, points: shared } }));
  }
  return out;
}
