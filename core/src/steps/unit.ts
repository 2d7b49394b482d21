/**
 * Step: say in which unit a source really is: another one than it declares, or whatever makes a measured distance as long as it is
 * known to be. Everything of the source grows by one factor: places, meshes, solids before they are tessellated.
 */
import { number, object, string } from 'yup';
import { hashData } from '../scene/hash.ts';
import { grownMotion } from '../scene/motion.ts';
import type { Hash, MeshFigures, Scene, SceneNode, SolidInfo } from '../scene/types.ts';
import { formatNumber } from '../units.ts';
import { isFailed } from './kind.ts';
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

  work(scene, nodes, { factor }) {
    if (factor === 1) return [];
    return [...meshesOf(scene, nodes)].map((mesh) => workFor(scene, mesh, factor));
  },

  apply(scene, nodes, { factor }, lookup) {
    if (factor === 1) return { scene, changed: 0, pending: 0, problems: [] };
    const meshes: Record<Hash, MeshFigures> = { ...scene.meshes };
    const solids: Record<Hash, SolidInfo> = { ...scene.solids };
    const problems = new Set<string>();
    let changed = 0;
    let pending = 0;
    const next = scene.nodes.map((node): SceneNode => {
      if (!nodes.has(node.id)) return node;
      changed++;
      const out: SceneNode = {
        ...node,
        transform: node.transform.map((value, i) => (i > 11 && i < 15 ? value * factor : value)),
      };
      if (node.offset) out.offset = node.offset.map((value) => value * factor) as unknown as SceneNode['offset'];
      if (node.motion) out.motion = grownMotion(node.motion, factor);
      if (node.camera) out.camera = scaledCamera(node.camera, factor);
      if (node.solid) {
        const info = scene.solids[node.solid];
        out.solid = hashData([node.solid, factor]);
        solids[out.solid] ??= { ...info, extent: info.extent * factor, scale: (info.scale ?? 1) * factor };
      }
      if (!node.mesh) return out;
      const result = lookup(keyOf(node.mesh, factor));
      delete out.mesh;
      if (result === undefined) pending++;
      else if (isFailed(result)) {
        problems.add(`${node.name}: ${result.failed}`);
        out.problem = result.failed;
      } else {
        const made = result as ScaledMesh;
        meshes[made.mesh] = made.figures;
        out.mesh = made.mesh;
      }
      return out;
    });
    return { scene: { ...scene, nodes: next, meshes, solids }, changed, pending, problems: [...problems] };
  },
};

function scaledCamera(camera: NonNullable<SceneNode['camera']>, factor: number): SceneNode['camera'] {
  if (camera.type === 'orthographic')
    return { ...camera, height: camera.height * factor, near: camera.near * factor, far: camera.far * factor };
  return { ...camera, near: camera.near * factor, ...(camera.far === undefined ? {} : { far: camera.far * factor }) };
}

function meshesOf(scene: Scene, nodes: ReadonlySet<number>): Set<Hash> {
  return new Set(scene.nodes.flatMap((node) => (node.mesh && nodes.has(node.id) ? [node.mesh] : [])));
}

function keyOf(mesh: Hash, factor: number): string {
  return hashData(['unit', unitStep.version, mesh, factor]);
}

function workFor(scene: Scene, mesh: Hash, factor: number): Work<'scale'> {
  return {
    key: keyOf(mesh, factor),
    task: 'scale',
    label: scene.nodes.find((node) => node.mesh === mesh)?.name ?? 'mesh',
    input: async (blobs) => ({ mesh: await blobs.get(mesh), factor }),
    keep: async ({ blob, figures }, blobs): Promise<ScaledMesh> => ({ mesh: await blobs.put(blob), figures }),
  };
}
