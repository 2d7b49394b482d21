/**
 * Step: say in which unit a source really is: another one than it declares, or whatever makes a measured distance as long as it is
 * known to be. Everything of the source grows by one factor: places, meshes, solids before they are tessellated.
 */
import type { SceneEditor } from '../scene/editor.ts';
import { hashData } from '../scene/hash.ts';
import { grown, grownMotion } from '../scene/motion.ts';
import type { RowSet } from '../scene/rowSet.ts';
import type { CameraInfo, Hash, MeshFigures, SolidInfo } from '../scene/types.ts';
import { formatNumber } from '../units.ts';
import { Heavy } from './heavy.ts';
import { defineStep, eachRow } from './kind.ts';

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

const VERSION = 1;

const scaling = new Heavy<UnitParameters, 'scale', ScaledMesh>({
  kind: 'unit',
  version: VERSION,
  task: 'scale',
  of: 'mesh',
  concerns: (_scene, _mesh, { factor }) => factor !== 1,
  limits: ({ factor }) => factor,
  weight: (scene, mesh) => scene.meshes[mesh].triangles,
  input: async (_scene, mesh, { factor }, blobs) => ({ mesh: await blobs.get(mesh), factor }),
  keep: async ({ blob, figures }, blobs) => ({ mesh: await blobs.put(blob), figures }),
});

export const unitStep = defineStep<UnitParameters>({
  kind: 'unit',
  title: 'Unit',
  purpose: 'Says in which unit a source really is: everything of it grows by one factor.',
  also: ['scale', 'size', 'calibrate', 'wrong size', 'inch', 'millimetre'],
  station: 'receive',
  begunThere: true,
  place: 30,
  version: VERSION,
  needs: 'geometry',
  fields: {
    factor: {
      type: 'quantity',
      of: 'factor',
      unit: '',
      label: 'Factor',
      min: 1e-9,
      max: 1e9,
      help: 'New size of what was one long.',
    },
    reason: { type: 'text', label: 'Why', most: 200, empty: true, help: 'For people: `read in inch`.' },
  },
  defaults: { factor: 1, reason: '' },

  counts: () => 'sources',
  summary: ({ factor, reason }) => reason || `× ${formatNumber(factor, 6)}`,

  work: (scene, rows, parameters) => scaling.work(scene, rows, parameters),

  apply(edit, rows, parameters, lookup) {
    const { factor } = parameters;
    if (factor === 1) return { pending: 0, problems: [] };
    placesGrown(edit, rows, factor);
    solidsGrown(edit, rows, factor);
    const meshes: Record<Hash, MeshFigures> = {};
    const { pending, problems, worked } = scaling.each(edit, rows, parameters, lookup, {
      made(row, made) {
        meshes[made.mesh] = made.figures;
        edit.setMesh(row, made.mesh);
      },
      // In its old size it would be wrong: nothing is shown of it until it is there.
      waiting: (row) => edit.setMesh(row, undefined),
      failed(row, why) {
        edit.setProblem(row, why);
        edit.setMesh(row, undefined);
      },
    });
    edit.setMeshes(meshes);
    return { pending, problems: [...problems], worked };
  },
});

/** Places, movements and cameras. */
function placesGrown(edit: SceneEditor, rows: RowSet, factor: number): void {
  const { nodes } = edit.scene;
  eachRow(edit.scene, rows, (row) => {
    const { transform, offset, motion } = edit.placed(row);
    edit.setTransform(row, grown(transform, factor));
    if (offset) edit.setOffset(row, grown(offset, factor));
    const { camera } = nodes.tables.extras[nodes.columns.extras[row]];
    if (motion) edit.setExtras(row, { motion: grownMotion(motion, factor) });
    if (camera) edit.setExtras(row, { camera: scaledCamera(camera, factor) });
  });
}

/** Solids are not touched before they are tessellated: larger ones are others, which say by how much. */
function solidsGrown(edit: SceneEditor, rows: RowSet, factor: number): void {
  const { scene } = edit;
  const { nodes } = scene;
  const solids: Record<Hash, SolidInfo> = {};
  /** By the number of the solid. */
  const grown = new Map<number, string>();
  eachRow(scene, rows, (row) => {
    const number = nodes.columns.solid[row];
    if (number === 0) return;
    let id = grown.get(number);
    if (id === undefined) {
      const solid = nodes.word('solid', row);
      const info = scene.solids[solid];
      grown.set(number, (id = hashData([solid, factor])));
      solids[id] = { ...info, extent: info.extent * factor, scale: (info.scale ?? 1) * factor };
    }
    edit.setSolid(row, id);
  });
  edit.setSolids(solids);
}

function scaledCamera(camera: CameraInfo, factor: number): CameraInfo {
  if (camera.type === 'orthographic')
    return { ...camera, height: camera.height * factor, near: camera.near * factor, far: camera.far * factor };
  return { ...camera, near: camera.near * factor, ...(camera.far === undefined ? {} : { far: camera.far * factor }) };
}
