/** Step: reduce triangles to a share, or within an allowed deviation; the deviation is measured part by part. */
import type { ReduceTarget } from '../mesh/reduce.ts';
import type { Hash, MeshFigures, Scene } from '../scene/types.ts';
import { formatLength, formatNumber } from '../units.ts';
import { Heavy } from './heavy.ts';
import { defineStep, WHEREVER } from './kind.ts';

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

const VERSION = 3;

/** What a mesh is measured against: reduced twice, it is still the tessellation, not the first reduction. */
const measuredFrom = ({ meshes }: Scene, mesh: Hash): Hash => meshes[mesh].deviation?.from ?? mesh;

/** @param stretch how much larger the mesh stands in the job than it is: by as much it has to be nearer */
function targetOf({ until, share, deviation }: ReduceParameters, stretch: number): ReduceTarget {
  return until === 'share' ? { until, share } : { until, deviation: deviation / stretch };
}

const reducing = new Heavy<ReduceParameters, 'reduce', ReducedMesh>({
  kind: 'reduce',
  version: VERSION,
  task: 'reduce',
  of: 'mesh',
  // Points and lines have nothing to reduce.
  concerns: ({ meshes }, mesh) => meshes[mesh].triangles > 0,
  against: measuredFrom,
  stretched: true,
  limits: (parameters, _scene, _mesh, stretch) => targetOf(parameters, stretch),
  weight: ({ meshes }, mesh) => meshes[mesh].triangles,
  async input(scene, mesh, parameters, blobs, stretch) {
    const from = measuredFrom(scene, mesh);
    return {
      blob: await blobs.get(mesh),
      target: targetOf(parameters, stretch),
      ...(from === mesh ? {} : { reference: await blobs.get(from) }),
    };
  },
  keep: async ({ blob, figures, deviation, short }, blobs, scene, mesh) => ({
    mesh: await blobs.put(blob),
    figures: { ...figures, deviation: { ...deviation, from: measuredFrom(scene, mesh) } },
    ...(short ? { short } : {}),
  }),
});

export const reduceStep = defineStep<ReduceParameters>({
  kind: 'reduce',
  title: 'Reduce',
  purpose: 'Takes triangles away, to a share of them or within an allowed deviation, which is measured part by part.',
  also: [
    'decimate',
    'simplify',
    'polygons',
    'lighter',
    'optimise',
    'triangles',
    'lod',
    'level of detail',
    'retopology',
  ],
  station: 'lighten',
  place: WHEREVER,
  version: VERSION,
  needs: 'geometry',
  fields: {
    until: {
      type: 'choice',
      label: 'Until',
      called: 'target',
      choices: [
        { value: 'share', label: 'a share is left' },
        { value: 'deviation', label: 'deviation reaches' },
      ],
    },
    share: {
      type: 'quantity',
      of: 'share',
      unit: '%',
      label: 'Keep',
      called: 'share',
      min: 1e-5,
      max: 1,
      help: 'Share of the triangles; used until a share is left.',
      when: ({ until }) => until === 'share',
    },
    deviation: {
      type: 'quantity',
      of: 'length',
      unit: 'mm',
      label: 'At most',
      called: 'deviation',
      min: 1e-7,
      max: 10,
      help: 'Largest deviation from the tessellation; used until the deviation reaches it.',
      when: ({ until }) => until === 'deviation',
    },
  },
  defaults: { until: 'share', share: 0.5, deviation: 0.0005 },

  summary: ({ until, share, deviation }) =>
    until === 'share' ? `to ${formatNumber(share * 100)}\u00a0%` : `≤ ${formatLength(deviation, 'mm')}`,

  work: (scene, rows, parameters) => reducing.work(scene, rows, parameters),

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const { nodes } = scene;
    const { mesh: meshOf, solid, problem } = nodes.columns;
    const meshes: Record<Hash, MeshFigures> = {};
    /** By the number of the mesh. */
    const short = new Map<number, Short>();
    const { pending, problems, worked } = reducing.each(edit, rows, parameters, lookup, {
      made(row, made) {
        meshes[made.mesh] = made.figures;
        if (made.short)
          short.set(meshOf[row], {
            name: nodes.text('name', row),
            why: made.short,
            kept: made.figures.triangles / scene.meshes[nodes.word('mesh', row)].triangles,
          });
        edit.setMesh(row, made.mesh);
      },
      without: (row) => solid[row] > 0 && problem[row] === 0,
    });
    edit.setMeshes(meshes);
    return { pending, problems: [...problems, ...notReached([...short.values()], parameters.share)], worked };
  },
});

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
