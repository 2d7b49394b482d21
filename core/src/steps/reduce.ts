/** Step: reduce triangles to a share, or within an allowed deviation; the deviation is measured part by part. */
import { number, object, string } from 'yup';
import type { ReduceTarget } from '../mesh/reduce.ts';
import { hashData } from '../scene/hash.ts';
import type { Hash, MeshFigures, Scene } from '../scene/types.ts';
import { formatLength, formatNumber } from '../units.ts';
import { eachRow, isFailed, namesBy, wordsOf } from './kind.ts';
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

  work(scene, rows, parameters) {
    const names = namesBy(scene, 'mesh');
    return wordsOf(scene.nodes, 'mesh', rows)
      .filter((mesh) => hasTriangles(scene, mesh))
      .sort((a, b) => scene.meshes[b].triangles - scene.meshes[a].triangles || (a < b ? -1 : 1))
      .map((mesh) => workFor(scene, mesh, names.get(mesh) ?? 'mesh', parameters));
  },

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const { nodes } = scene;
    const { mesh: meshOf, solid, problem } = nodes.columns;
    const meshes: Record<Hash, MeshFigures> = {};
    const problems = new Set<string>();
    /** By the number of the mesh; nothing where it has no triangles. */
    const results = new Map<number, unknown>();
    const short = new Map<number, Short>();
    let pending = 0;
    eachRow(scene, rows, (row) => {
      const number = meshOf[row];
      if (number === 0) {
        if (solid[row] > 0 && problem[row] === 0) pending++;
        return;
      }
      const mesh = nodes.word('mesh', row);
      if (!hasTriangles(scene, mesh)) return;
      if (!results.has(number)) results.set(number, lookup(keyOf(scene, mesh, parameters)));
      const result = results.get(number);
      if (result === undefined) {
        pending++;
        return;
      }
      if (isFailed(result)) {
        problems.add(`${nodes.text('name', row)}: ${result.failed}`);
        return;
      }
      const made = result as ReducedMesh;
      meshes[made.mesh] = made.figures;
      if (made.short)
        short.set(number, {
          name: nodes.text('name', row),
          why: made.short,
          kept: made.figures.triangles / scene.meshes[mesh].triangles,
        });
      edit.setMesh(row, made.mesh);
    });
    edit.setMeshes(meshes);
    return { pending, problems: [...problems, ...notReached([...short.values()], parameters.share)] };
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

/** Keys are asked for again with each result that arrives: by what is wanted, the mesh, and what it is measured against. */
const keys = new WeakMap<ReduceParameters, Map<string, string>>();

function keyOf(scene: Scene, mesh: Hash, parameters: ReduceParameters): string {
  const from = scene.meshes[mesh].deviation?.from ?? mesh;
  let known = keys.get(parameters);
  if (!known) keys.set(parameters, (known = new Map()));
  const which = `${mesh} ${from}`;
  let key = known.get(which);
  if (!key) known.set(which, (key = hashData(['reduce', reduceStep.version, mesh, from, targetOf(parameters)])));
  return key;
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
function hasTriangles(scene: Scene, mesh: Hash): boolean {
  return scene.meshes[mesh].triangles > 0;
}
