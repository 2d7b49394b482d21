/**
 * Step: say in which unit a source really is: another one than it declares, or whatever makes a measured distance as long as it is
 * known to be. Everything of the source grows by one factor: places, meshes, solids before they are tessellated.
 */
import { number, object, string } from 'yup';
import { hashData } from '../scene/hash.ts';
import { grownMotion } from '../scene/motion.ts';
import type { CameraInfo, Hash, MeshFigures, SolidInfo } from '../scene/types.ts';
import { formatNumber } from '../units.ts';
import { eachRow, isFailed, namesBy, wordsOf } from './kind.ts';
import type { StepKind, Work } from './kind.ts';

export interface UnitParameters {
  /** New size of what was one long. */
  factor: number;
  /** Why, for people: `read as inch`, `2.1 m measured as 53.34 m`. */
  reason: string;
}

/** What is remembered of a scaled mesh. */
export interface ScaledMesh {
  mesh: Hash;
  figures: MeshFigures;
}

export const unitStep: StepKind<UnitParameters> = {
  kind: 'unit',
  title: 'Unit',
  version: 1,
  needs: 'geometry',
  schema: object({
    factor: number().required().min(1e-9, 'The factor is too small.').max(1e9, 'The factor is too large.'),
    reason: string().defined().max(200),
  }),
  defaults: { factor: 1, reason: '' },

  summary: ({ factor, reason }) => reason || `× ${formatNumber(factor, 6)}`,

  work(scene, rows, { factor }) {
    if (factor === 1) return [];
    const names = namesBy(scene, 'mesh');
    return wordsOf(scene.nodes, 'mesh', rows).map((mesh) => workFor(mesh, names.get(mesh) ?? 'mesh', factor));
  },

  apply(edit, rows, { factor }, lookup) {
    if (factor === 1) return { pending: 0, problems: [] };
    const { scene } = edit;
    const { nodes } = scene;
    const meshes: Record<Hash, MeshFigures> = {};
    const solids: Record<Hash, SolidInfo> = {};
    const problems = new Set<string>();
    /** By the numbers of solids and meshes. */
    const grown = new Map<number, string>();
    const results = new Map<number, unknown>();
    let pending = 0;
    eachRow(scene, rows, (row) => {
      const { transform, offset, motion } = edit.placed(row);
      edit.setTransform(
        row,
        transform.map((value, i) => (i > 11 && i < 15 ? value * factor : value)),
      );
      if (offset) edit.setOffset(row, [offset[0] * factor, offset[1] * factor, offset[2] * factor]);
      const { camera } = nodes.tables.extras[nodes.columns.extras[row]];
      if (motion) edit.setExtras(row, { motion: grownMotion(motion, factor) });
      if (camera) edit.setExtras(row, { camera: scaledCamera(camera, factor) });
      if (nodes.columns.solid[row] > 0) {
        const number = nodes.columns.solid[row];
        let id = grown.get(number);
        if (id === undefined) {
          const solid = nodes.word('solid', row);
          const info = scene.solids[solid];
          grown.set(number, (id = hashData([solid, factor])));
          solids[id] = { ...info, extent: info.extent * factor, scale: (info.scale ?? 1) * factor };
        }
        edit.setSolid(row, id);
      }
      const number = nodes.columns.mesh[row];
      if (number === 0) return;
      if (!results.has(number)) results.set(number, lookup(keyOf(nodes.word('mesh', row), factor)));
      const result = results.get(number);
      if (result === undefined) pending++;
      else if (isFailed(result)) {
        problems.add(`${nodes.text('name', row)}: ${result.failed}`);
        edit.setProblem(row, result.failed);
      }
      const made = result === undefined || isFailed(result) ? undefined : (result as ScaledMesh);
      if (made) meshes[made.mesh] = made.figures;
      edit.setMesh(row, made?.mesh);
    });
    edit.setSolids(solids);
    edit.setMeshes(meshes);
    return { pending, problems: [...problems] };
  },
};

function scaledCamera(camera: CameraInfo, factor: number): CameraInfo {
  if (camera.type === 'orthographic')
    return { ...camera, height: camera.height * factor, near: camera.near * factor, far: camera.far * factor };
  return { ...camera, near: camera.near * factor, ...(camera.far === undefined ? {} : { far: camera.far * factor }) };
}

function keyOf(mesh: Hash, factor: number): string {
  return hashData(['unit', unitStep.version, mesh, factor]);
}

function workFor(mesh: Hash, label: string, factor: number): Work<'scale'> {
  return {
    key: keyOf(mesh, factor),
    task: 'scale',
    label,
    input: async (blobs) => ({ mesh: await blobs.get(mesh), factor }),
    keep: async ({ blob, figures }, blobs): Promise<ScaledMesh> => ({ mesh: await blobs.put(blob), figures }),
  };
}
