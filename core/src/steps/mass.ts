/** Volumes, areas and their centres, for kinds of step that place by them: exact where there is a solid, of the mesh where there is none. */

import type { MassOutput } from '../mesh/mass.ts';
import type { Vector } from '../scene/matrix.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { Rows } from '../scene/rowSet.ts';
import type { Scene } from '../scene/types.ts';
import { NO_LIMITS, readingExact } from './exact.ts';
import type { ReadSolid } from './exact.ts';
import { Heavy } from './heavy.ts';
import { isFailed } from './kind.ts';
import type { Lookup, Work } from './kind.ts';

const weighing = new Heavy<object, 'mass', MassOutput>({
  kind: 'mass',
  version: 1,
  task: 'mass',
  of: 'mesh',
  concerns: ({ meshes }, mesh) => meshes[mesh].triangles > 0,
  limits: () => 0,
  weight: ({ meshes }, mesh) => meshes[mesh].triangles,
  input: async (_scene, mesh, _, blobs) => ({ mesh: await blobs.get(mesh) }),
  keep: async (found) => found,
});

/** What the geometry of a row measures in its own frame: square and cubic metres, and the centres of both; a volume only where it is closed. */
export type Body = Pick<ReadSolid, 'area' | 'areaCentre' | 'volume' | 'centroid'> & {
  /** Of the solid, not of a mesh. */
  isExact: boolean;
};

/** Volume or area of the geometry of a row, and its centre in the frame of the geometry, metres. */
export interface Mass {
  of: 'volume' | 'area';
  size: number;
  centre: Vector;
  isExact: boolean;
}

/** The work that has to be done for some rows: solids, and meshes that are of none. */
export function massWork(scene: Scene, rows: RowSet): Work[] {
  const { solid } = scene.nodes.columns;
  const meshOnly = Uint8Array.from(solid, (word, row) => (word === 0 && rows.has(row) ? 1 : 0));
  return [
    ...readingExact.work(scene, rows, NO_LIMITS),
    ...weighing.work(scene, new Rows(meshOnly), NO_LIMITS),
  ] as Work[];
}

/** Of one row; `waits` while it is not known, nothing where the row has no geometry. */
export function bodyOf(scene: Scene, row: number, lookup: Lookup): Body | 'waits' | undefined {
  const { nodes } = scene;
  const { solid, mesh, problem } = nodes.columns;
  if (solid[row] > 0) {
    const found = lookup(readingExact.key(scene, nodes.word('solid', row), NO_LIMITS));
    if (found === undefined) return problem[row] > 0 ? undefined : 'waits';
    return isFailed(found) ? undefined : { ...(found as ReadSolid), isExact: true };
  }
  if (mesh[row] === 0) return undefined;
  const found = lookup(weighing.key(scene, nodes.word('mesh', row), NO_LIMITS));
  if (found === undefined) return scene.meshes[nodes.word('mesh', row)].triangles > 0 ? 'waits' : undefined;
  return isFailed(found) ? undefined : { ...(found as MassOutput), isExact: false };
}

/** Volume where there is one, area where there is none. */
export function massOf(scene: Scene, row: number, lookup: Lookup): Mass | 'waits' | undefined {
  const body = bodyOf(scene, row, lookup);
  if (body === undefined || body === 'waits') return body;
  const { volume, centroid, area, areaCentre, isExact } = body;
  return volume !== undefined && centroid
    ? { of: 'volume', size: volume, centre: centroid, isExact }
    : { of: 'area', size: area, centre: areaCentre, isExact };
}
