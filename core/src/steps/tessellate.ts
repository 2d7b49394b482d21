/** Step: tessellate solids within a chord deviation and an angle. */
import type { Hash, MeshFigures, Scene, SolidInfo } from '../scene/types.ts';
import { formatAngle, formatLength, formatNumber } from '../units.ts';
import type { TessellationLimits } from '../solid/tessellate.ts';
import { GONE } from '../scene/nodes.ts';
import { factsOf } from '../scene/facts.ts';
import { Heavy } from './heavy.ts';
import { defineStep } from './kind.ts';

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

/** Chord deviation for one solid, metres of the job. @param stretch how much larger it stands in the job than it is */
export function chordFor(
  { chord, share, least = SHARE_LIMITS.least, most = SHARE_LIMITS.most }: TessellateParameters,
  { extent }: SolidInfo,
  stretch = 1,
): number {
  if (share === undefined) return chord;
  return Math.max(least, Math.min(most, share * extent * stretch));
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

/** The limits for one solid, as the task takes them: lengths of the mesh, not of the job. */
function limitsFor(parameters: TessellateParameters, info: SolidInfo, stretch: number): TessellationLimits {
  const { angle, longest, shortest } = parameters;
  return {
    chord: chordFor(parameters, info, stretch) / stretch,
    angle,
    ...(longest === undefined ? {} : { longest: longest / stretch }),
    ...(shortest === undefined ? {} : { shortest: shortest / stretch }),
  };
}

const VERSION = 3;

const tessellating = new Heavy<TessellateParameters, 'tessellate', TessellatedSolid>({
  kind: 'tessellate',
  version: VERSION,
  task: 'tessellate',
  of: 'solid',
  called: ({ nodes, solids }, row) => `${nodes.text('name', row)} (${solids[nodes.word('solid', row)].entity})`,
  // A survey knows of solids before they are stored.
  ready: ({ solids }, solid) => Boolean(solids[solid].text),
  stretched: true,
  limits: (parameters, { solids }, solid, stretch) => limitsFor(parameters, solids[solid], stretch),
  weight: ({ solids }, solid) => solids[solid].bytes,
  async input({ solids }, solid, parameters, blobs, stretch) {
    const { text, faces, faceSlots, scale } = solids[solid];
    return {
      text: await blobs.get(text),
      faces,
      limits: limitsFor(parameters, solids[solid], stretch),
      ...(faceSlots ? { faceSlots } : {}),
      ...(scale ? { scale } : {}),
    };
  },
  keep: async ({ blob, figures, warning }, blobs) => ({
    mesh: await blobs.put(blob),
    figures,
    ...(warning ? { warning } : {}),
  }),
});

const byShare = ({ share }: TessellateParameters) => share !== undefined;

export const tessellateStep = defineStep<TessellateParameters>({
  kind: 'tessellate',
  title: 'Tessellate',
  purpose: 'Turns solids into triangles, within a chord deviation and an angle; later rules prevail over earlier ones.',
  also: ['mesh', 'triangulate', 'polygons', 'resolution', 'solids'],
  station: 'receive',
  place: 100,
  version: VERSION,
  needs: 'solids',
  replaces: true,
  fields: {
    preset: {
      type: 'text',
      label: 'Purpose',
      most: 40,
      help: `Where the limits were taken from: ${TESSELLATION_PRESETS.map(({ preset }) => preset).join(', ')}, or own.`,
    },
    chord: {
      type: 'quantity',
      of: 'length',
      unit: 'mm',
      label: 'Chord dev.',
      called: 'chord deviation',
      min: 1e-6,
      max: 1,
      help: 'Largest distance between a triangle and the exact surface.',
      when: (parameters) => !byShare(parameters),
    },
    share: {
      type: 'quantity',
      of: 'share',
      unit: '%',
      label: 'Share',
      min: 1e-6,
      max: 0.1,
      optional: true,
      help: 'Chord deviation as a share of the largest side of each part, instead of one for all.',
      when: byShare,
    },
    least: {
      type: 'quantity',
      of: 'length',
      unit: 'mm',
      label: 'Not below',
      called: 'floor',
      min: 1e-6,
      max: 1,
      optional: { meaning: SHARE_LIMITS.least },
      help: 'With a share: never finer than this.',
      when: byShare,
    },
    most: {
      type: 'quantity',
      of: 'length',
      unit: 'mm',
      label: 'Not above',
      called: 'ceiling',
      min: 1e-6,
      max: 1,
      optional: { meaning: SHARE_LIMITS.most },
      help: 'With a share: never coarser than this.',
      when: byShare,
    },
    angle: {
      type: 'quantity',
      of: 'angle',
      unit: '°',
      label: 'Angle',
      min: degrees(1),
      max: degrees(90),
      help: 'Largest turn between neighbouring triangles.',
    },
    shortest: {
      type: 'quantity',
      of: 'length',
      unit: 'mm',
      label: 'Edges from',
      called: 'smallest edge',
      min: 1e-6,
      max: 10,
      optional: true,
      help: 'Shorter edges are joined where the shape allows it, even beyond the chord deviation.',
    },
    longest: {
      type: 'quantity',
      of: 'length',
      unit: 'mm',
      label: 'Edges up to',
      called: 'largest edge',
      min: 1e-5,
      max: 1000,
      optional: true,
      help: 'Longer edges are divided.',
    },
  },
  check({ least, most, shortest, longest }) {
    if (least !== undefined && most !== undefined && most < least) return 'The ceiling must not be below the floor.';
    if (shortest !== undefined && longest !== undefined && longest < 2 * shortest)
      return 'The largest edge must be at least twice the smallest.';
    return undefined;
  },
  defaults: { chord: TESSELLATION_PRESETS[1].chord, angle: TESSELLATION_PRESETS[1].angle, preset: 'near' },

  summary: ({ chord, angle, share, longest, shortest }) =>
    [
      share === undefined ? formatLength(chord, 'mm') : `${formatNumber(share * 100)}\u00a0% of size`,
      formatAngle(angle),
      ...(shortest === undefined ? [] : [`edges from ${formatLength(shortest, 'mm')}`]),
      ...(longest === undefined ? [] : [`edges up to ${formatLength(longest, 'mm')}`]),
    ].join(', '),

  work: (scene, rows, parameters) => tessellating.work(scene, rows, parameters),

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const meshes: Record<Hash, MeshFigures> = {};
    const problems: string[] = [];
    const { stretches } = factsOf(scene);
    const said = (row: number, what: string) => problems.push(`${tessellating.called(scene, row)}: ${what}`);
    const found = tessellating.each(edit, rows, parameters, lookup, {
      made(row, { mesh, figures, warning }) {
        meshes[mesh] = figures;
        const over = overLimit(figures, stretches[row]);
        if (over) said(row, over);
        if (warning) {
          said(row, warning);
          edit.setProblem(row, warning);
        }
        edit.setMesh(row, mesh);
      },
      failed: (row, why) => edit.setProblem(row, why),
    });
    edit.setMeshes(meshes);
    const { pending, worked } = found;
    return { pending, problems: [...new Set([...found.problems, ...problems])], worked };
  },
});

/** A measured deviation that exceeds what was allowed by more than this share is said; measuring itself is a sample. */
const EXCEEDED = 1.05;

/** That a mesh lies farther from its exact surfaces than was allowed, in words, as it stands in the job. */
function overLimit({ exact }: MeshFigures, stretch: number): string | undefined {
  if (!exact || exact.max <= exact.chord * EXCEEDED) return undefined;
  return `its triangles lie up to ${formatLength(exact.max * stretch, 'mm')} from the exact surfaces, where ${formatLength(exact.chord * stretch, 'mm')} are allowed.`;
}

/** Solids of a scene that still have no triangles and no known problem. */
export function untessellated({ nodes }: Scene): number {
  const { kind, solid, mesh, problem } = nodes.columns;
  let count = 0;
  for (let row = 0; row < nodes.rows; row++)
    if (kind[row] !== GONE && solid[row] > 0 && mesh[row] === 0 && problem[row] === 0) count++;
  return count;
}
