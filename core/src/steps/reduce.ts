/** Step: reduce triangles to a share, or within an allowed deviation; the deviation is measured part by part. */
import { number, object, string } from 'yup';
import type { ReduceTarget } from '../mesh/reduce.ts';
import { hashData } from '../scene/hash.ts';
import type { Hash, MeshFigures, Scene, SceneNode } from '../scene/types.ts';
import { formatLength, formatNumber } from '../units.ts';
import { isFailed, namesBy } from './kind.ts';
import type { StepKind, Work } from './kind.ts';

export interface ReduceParameters {
  until: 'share' | 'deviation';
  /** Share of triangles to keep, 0 to 1; used where `until` is `share`. */
  share: number;
  /** Largest deviation allowed, metres; used where `until` is `deviation`. */
  deviation: number;
}

/** What is remembered of a reduced mesh. */
export interface ReducedMesh {
  mesh: Hash;
  figures: MeshFigures;
  /** Why more than the share is left, where it is. */
  short?: string;
}

export const reduceStep: StepKind<ReduceParameters> = {
  kind: 'reduce',
  title: 'Reduce',
  version: 3,
  needs: 'geometry',
  schema: object({
    until: string()
      .oneOf(['share', 'deviation'] as const)
      .required(),
    share: number().required().moreThan(0, 'Keep more than 0 % of the triangles.').max(1, 'Keep at most 100 %.'),
    deviation: number().required().min(1e-7, 'Allow at least 0.0001 mm.').max(10, 'Allow at most 10 m.'),
  }),
  defaults: { until: 'share', share: 0.5, deviation: 0.0005 },

  summary: ({ until, share, deviation }) =>
    until === 'share' ? `to ${formatNumber(share * 100)}\u00a0%` : `≤ ${formatLength(deviation, 'mm')}`,

  work(scene, nodes, parameters) {
    const meshes = new Set<Hash>();
    for (const node of scene.nodes) if (nodes.has(node.id) && hasTriangles(scene, node)) meshes.add(node.mesh);
    const names = namesBy(scene, 'mesh');
    return [...meshes]
      .sort((a, b) => scene.meshes[b].triangles - scene.meshes[a].triangles || (a < b ? -1 : 1))
      .map((mesh) => workFor(scene, mesh, names.get(mesh) ?? 'mesh', parameters));
  },

  apply(scene, nodes, parameters, lookup) {
    const meshes: Record<Hash, MeshFigures> = { ...scene.meshes };
    const problems = new Set<string>();
    const keys = new Map<Hash, string>();
    const short = new Map<Hash, Short>();
    let changed = 0;
    let pending = 0;
    const next = scene.nodes.map((node) => {
      if (!nodes.has(node.id)) return node;
      if (!node.mesh) {
        if (node.solid && !node.problem) pending++;
        return node;
      }
      if (!hasTriangles(scene, node)) return node;
      let key = keys.get(node.mesh);
      if (!key) keys.set(node.mesh, (key = keyOf(scene, node.mesh, parameters)));
      const result = lookup(key);
      if (result === undefined) {
        pending++;
        return node;
      }
      if (isFailed(result)) {
        problems.add(`${node.name}: ${result.failed}`);
        return node;
      }
      const made = result as ReducedMesh;
      meshes[made.mesh] = made.figures;
      if (made.short)
        short.set(node.mesh, {
          name: node.name,
          why: made.short,
          kept: made.figures.triangles / scene.meshes[node.mesh].triangles,
        });
      changed++;
      return { ...node, mesh: made.mesh };
    });
    return {
      scene: changed ? { ...scene, nodes: next, meshes } : scene,
      changed,
      pending,
      problems: [...problems, ...notReached([...short.values()], parameters.share)],
    };
  },
};

/** A part of which more than the share is left. */
interface Short {
  name: string;
  kept: number;
  why: string;
}

/** How far those parts got that did not reach the share, worst first. */
function notReached(short: Short[], share: number): string[] {
  const percent = (value: number) => `${formatNumber(value * 100)}\u00a0%`;
  const worst = [...short].sort((a, b) => b.kept - a.kept);
  const lines = worst
    .slice(0, NAMED)
    .map(({ name, kept, why }) => `${name}: ${percent(kept)} left instead of ${percent(share)}, since ${why}.`);
  return worst.length > NAMED
    ? [...lines, `${worst.length - NAMED} more parts did not reach ${percent(share)}.`]
    : lines;
}

/** Parts that are named one by one. */
const NAMED = 12;

function targetOf({ until, share, deviation }: ReduceParameters): ReduceTarget {
  return until === 'share' ? { until, share } : { until, deviation };
}

function keyOf(scene: Scene, mesh: Hash, parameters: ReduceParameters): string {
  return hashData([
    'reduce',
    reduceStep.version,
    mesh,
    scene.meshes[mesh].deviation?.from ?? mesh,
    targetOf(parameters),
  ]);
}

function workFor(scene: Scene, mesh: Hash, label: string, parameters: ReduceParameters): Work<'reduce'> {
  // Reduced twice, a mesh is still measured against the tessellation, not against the first reduction.
  const from = scene.meshes[mesh].deviation?.from ?? mesh;
  return {
    key: keyOf(scene, mesh, parameters),
    task: 'reduce',
    label,
    input: async (blobs) => ({
      blob: await blobs.get(mesh),
      target: targetOf(parameters),
      ...(from === mesh ? {} : { reference: await blobs.get(from) }),
    }),
    keep: async ({ blob, figures, deviation, short }, blobs): Promise<ReducedMesh> => ({
      mesh: await blobs.put(blob),
      figures: { ...figures, deviation: { ...deviation, from } },
      ...(short ? { short } : {}),
    }),
  };
}

/** Points and lines have nothing to reduce. */
function hasTriangles(scene: Scene, node: SceneNode): node is SceneNode & { mesh: Hash } {
  return node.mesh !== undefined && scene.meshes[node.mesh].triangles > 0;
}
