/** Step: tessellate solids within a chord deviation and an angle. */
import { number, object, string } from 'yup';
import { hashData } from '../scene/hash.ts';
import type { Hash, MeshFigures, Scene, SolidInfo } from '../scene/types.ts';
import { formatAngle, formatLength, formatNumber } from '../units.ts';
import type { TessellationLimits } from '../solid/tessellate.ts';
import { GONE } from '../scene/nodes.ts';
import { eachRow, isFailed, namesBy, wordsOf } from './kind.ts';
import type { StepKind, Work } from './kind.ts';

export interface TessellateParameters {
  /** Chord deviation, metres; used where `share` is absent. */
  chord: number;
  /** Largest angle between neighbouring triangles, radians. */
  angle: number;
  /** Purpose that the limits were taken from; `own` for own values. */
  preset: string;
  /** Chord deviation as a share of the largest side of each part, 0 to 1. */
  share?: number;
  /** With a share: never finer than this, metres, so that a tiny part does not get a million triangles. */
  least?: number;
  /** With a share: never coarser than this, metres, so that a huge part does not look like a polygon. */
  most?: number;
  /** Longer edges are divided, metres. */
  longest?: number;
  /** Shorter edges are joined where the shape allows it, even beyond the chord deviation, metres. */
  shortest?: number;
}

/** What a share is kept within where nothing else is said, metres. */
export const SHARE_LIMITS = { share: 0.0005, least: 0.00002, most: 0.002 } as const;

/** Chord deviation for one solid, metres. */
export function chordFor(
  { chord, share, least = SHARE_LIMITS.least, most = SHARE_LIMITS.most }: TessellateParameters,
  { extent }: SolidInfo,
): number {
  if (share === undefined) return chord;
  return Math.max(least, Math.min(most, share * extent));
}

export interface TessellationPreset extends TessellateParameters {
  title: string;
  /** Where the limits suit, in a few words. */
  purpose: string;
}

const degrees = (value: number) => (value * Math.PI) / 180;

/** Presets named after the purpose. The figures are common practice for parts of some metres. */
export const TESSELLATION_PRESETS: readonly TessellationPreset[] = [
  {
    preset: 'picture',
    title: 'Close-up picture',
    purpose: 'printed large, seen near',
    chord: 0.00005,
    angle: degrees(8),
  },
  { preset: 'near', title: 'Real time, near', purpose: 'within arm’s reach', chord: 0.0002, angle: degrees(16) },
  { preset: 'far', title: 'Real time, far', purpose: 'across a hall', chord: 0.001, angle: degrees(30) },
  {
    preset: 'fit',
    title: 'Fit check',
    purpose: 'clearances and contacts',
    chord: 0.00002,
    angle: degrees(20),
  },
];

/** What is remembered of a tessellated solid. */
export interface TessellatedSolid {
  mesh: Hash;
  figures: MeshFigures;
  warning?: string;
}

export const tessellateStep: StepKind<TessellateParameters> = {
  kind: 'tessellate',
  title: 'Tessellate',
  version: 3,
  needs: 'solids',
  replaces: true,
  schema: object({
    chord: number()
      .required()
      .min(1e-6, 'The chord deviation must be at least 0.001 mm.')
      .max(1, 'The chord deviation must be at most 1 m.'),
    angle: number()
      .required()
      .min(degrees(0.99), 'The angle must be at least 1°.')
      .max(degrees(90.01), 'The angle must be at most 90°.'),
    preset: string().required().max(40),
    share: number().min(1e-6, 'The share must be at least 0.0001 %.').max(0.1, 'The share must be at most 10 %.'),
    least: number().min(1e-6, 'The floor must be at least 0.001 mm.').max(1, 'The floor must be at most 1 m.'),
    most: number()
      .min(1e-6, 'The ceiling must be at least 0.001 mm.')
      .max(1, 'The ceiling must be at most 1 m.')
      .test('order', 'The ceiling must not be below the floor.', function (most) {
        const { least } = this.parent as { least?: number };
        return most === undefined || least === undefined || most >= least;
      }),
    longest: number()
      .min(1e-5, 'The largest edge must be at least 0.01 mm.')
      .max(1000, 'The largest edge must be at most 1000 m.')
      .test('order', 'The largest edge must be at least twice the smallest.', function (longest) {
        const { shortest } = this.parent as { shortest?: number };
        return longest === undefined || shortest === undefined || longest >= 2 * shortest;
      }),
    shortest: number()
      .min(1e-6, 'The smallest edge must be at least 0.001 mm.')
      .max(10, 'The smallest edge must be at most 10 m.'),
  }) as StepKind<TessellateParameters>['schema'],
  defaults: { chord: TESSELLATION_PRESETS[1].chord, angle: TESSELLATION_PRESETS[1].angle, preset: 'near' },

  summary: ({ chord, angle, share, longest, shortest }) =>
    [
      share === undefined ? formatLength(chord, 'mm') : `${formatNumber(share * 100)}\u00a0% of size`,
      formatAngle(angle),
      ...(shortest === undefined ? [] : [`edges from ${formatLength(shortest, 'mm')}`]),
      ...(longest === undefined ? [] : [`edges up to ${formatLength(longest, 'mm')}`]),
    ].join(', '),

  work(scene, rows, parameters) {
    const names = namesBy(scene, 'solid');
    // Large before small: they show most, and the last ones to finish are then the short ones.
    return wordsOf(scene.nodes, 'solid', rows)
      .map((id) => ({ id, info: scene.solids[id] }))
      .filter(({ info }) => info?.text)
      .sort((a, b) => b.info.bytes - a.info.bytes || (a.id < b.id ? -1 : 1))
      .map(({ id, info }) => workFor(id, info, names.get(id) ?? info.entity, parameters));
  },

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const { nodes } = scene;
    const { solid } = nodes.columns;
    const meshes: Record<Hash, MeshFigures> = {};
    const problems = new Set<string>();
    let pending = 0;
    /** By the number of the solid. */
    const results = new Map<number, unknown>();
    eachRow(scene, rows, (row) => {
      if (solid[row] === 0) return;
      let result = results.get(solid[row]);
      if (!results.has(solid[row])) {
        const id = nodes.word('solid', row);
        result = lookup(keyOf(id, scene.solids[id], parameters));
        results.set(solid[row], result);
      }
      if (result === undefined) {
        pending++;
        return;
      }
      const called = () => `${nodes.text('name', row)} (${scene.solids[nodes.word('solid', row)].entity})`;
      if (isFailed(result)) {
        problems.add(`${called()}: ${result.failed}`);
        edit.setProblem(row, result.failed);
        return;
      }
      const made = result as TessellatedSolid;
      meshes[made.mesh] = made.figures;
      const over = overLimit(made.figures);
      if (over) problems.add(`${called()}: ${over}`);
      if (made.warning) {
        problems.add(`${called()}: ${made.warning}`);
        edit.setProblem(row, made.warning);
      }
      edit.setMesh(row, made.mesh);
    });
    edit.setMeshes(meshes);
    return { pending, problems: [...problems] };
  },
};

/** A measured deviation that exceeds what was allowed by more than this share is said; measuring itself is a sample. */
const EXCEEDED = 1.05;

/** That a mesh lies farther from its exact surfaces than was allowed, in words. */
function overLimit({ exact }: MeshFigures): string | undefined {
  if (!exact || exact.max <= exact.chord * EXCEEDED) return undefined;
  return `its triangles lie up to ${formatLength(exact.max, 'mm')} from the exact surfaces, where ${formatLength(exact.chord, 'mm')} are allowed.`;
}

/** The limits for one solid, as the task takes them. */
function limitsFor(parameters: TessellateParameters, info: SolidInfo): TessellationLimits {
  const { angle, longest, shortest } = parameters;
  return {
    chord: chordFor(parameters, info),
    angle,
    ...(longest === undefined ? {} : { longest }),
    ...(shortest === undefined ? {} : { shortest }),
  };
}

/** Keys are asked for again with each result that arrives: by the limits, and the solid. */
const keys = new WeakMap<TessellateParameters, Map<Hash, string>>();

function keyOf(solid: Hash, info: SolidInfo, parameters: TessellateParameters): string {
  let known = keys.get(parameters);
  if (!known) keys.set(parameters, (known = new Map()));
  let key = known.get(solid);
  if (!key) {
    key = hashData(['tessellate', tessellateStep.version, solid, limitsFor(parameters, info)]);
    known.set(solid, key);
  }
  return key;
}

function workFor(id: Hash, info: SolidInfo, label: string, parameters: TessellateParameters): Work<'tessellate'> {
  return {
    key: keyOf(id, info, parameters),
    task: 'tessellate',
    label,
    input: async (blobs) => ({
      text: await blobs.get(info.text),
      faces: info.faces,
      limits: limitsFor(parameters, info),
      ...(info.faceSlots ? { faceSlots: info.faceSlots } : {}),
      ...(info.scale ? { scale: info.scale } : {}),
    }),
    keep: async ({ blob, figures, warning }, blobs): Promise<TessellatedSolid> => ({
      mesh: await blobs.put(blob),
      figures,
      ...(warning ? { warning } : {}),
    }),
  };
}

/** Solids of a scene that still have no triangles and no known problem. */
export function untessellated({ nodes }: Scene): number {
  const { kind, solid, mesh, problem } = nodes.columns;
  let count = 0;
  for (let row = 0; row < nodes.rows; row++)
    if (kind[row] !== GONE && solid[row] > 0 && mesh[row] === 0 && problem[row] === 0) count++;
  return count;
}
