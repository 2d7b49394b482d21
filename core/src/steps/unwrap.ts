/** Step: texture coordinates by unwrapping into a sheet, as the first set, or as a second one for baked light. */
import type { Sheet } from '../mesh/unwrap.ts';
import type { Hash, MeshFigures } from '../scene/types.ts';
import { counted, formatNumber } from '../units.ts';
import { Heavy } from './heavy.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { AFTER_COORDINATES, partedShapes } from './coordinates.ts';

export interface UnwrapParameters {
  set: 'first' | 'second';
  /** Pixels across the sheet, as text: it is a choice. */
  pixels: string;
  /** Pixels; a number of them. */
  padding: number;
}

interface UnwrappedMesh {
  mesh: Hash;
  figures: MeshFigures;
  sheet: Sheet;
}

const VERSION = 1;
const SIZES = ['256', '512', '1024', '2048', '4096'];

const optionsOf = ({ set, pixels, padding }: UnwrapParameters) => ({
  set: set === 'first' ? (0 as const) : (1 as const),
  pixels: Number(pixels),
  padding,
});

const unwrapping = new Heavy<UnwrapParameters, 'unwrap', UnwrappedMesh>({
  kind: 'unwrap',
  version: VERSION,
  task: 'unwrap',
  of: 'mesh',
  // Points and lines have no surface.
  concerns: ({ meshes }, mesh) => meshes[mesh].triangles > 0,
  limits: optionsOf,
  weight: ({ meshes }, mesh) => meshes[mesh].triangles,
  input: async (_scene, mesh, parameters, blobs) => ({ mesh: await blobs.get(mesh), ...optionsOf(parameters) }),
  keep: async ({ blob, figures, sheet }, blobs) => ({ mesh: await blobs.put(blob), figures, sheet }),
});

export const unwrapStep = defineStep<UnwrapParameters>({
  kind: 'unwrap',
  title: 'Unwrap',
  purpose:
    'Lays each shape flat in a sheet of its own, nothing over anything else: for pictures that are painted, or light that is baked.',
  also: ['uv', 'atlas', 'lightmap', 'bake', 'second set', 'charts', 'islands', 'texture coordinates'],
  act: 'Unwrap',
  station: 'finishes',
  place: WHEREVER,
  before: AFTER_COORDINATES,
  version: VERSION,
  needs: 'geometry',
  fields: {
    set: {
      type: 'choice',
      label: 'As the',
      called: 'set',
      choices: [
        { value: 'first', label: 'first set, pictures' },
        { value: 'second', label: 'second set, baked light' },
      ],
      help: 'With a second set the first one stays as it is.',
    },
    pixels: {
      type: 'choice',
      label: 'Sheet',
      called: 'size of the sheet',
      choices: SIZES.map((value) => ({ value, label: `${value} px` })),
      help: 'Size that the gap is meant for; the coordinates are the same for every size.',
    },
    padding: {
      type: 'quantity',
      of: 'factor',
      unit: 'px',
      label: 'Gap',
      called: 'gap between charts',
      min: 0,
      max: 64,
      offers: [2, 4, 8],
      help: 'Least distance between charts, pixels of the sheet: so that no colour bleeds from one into another.',
    },
  },
  check: ({ pixels, padding }) =>
    padding > Number(pixels) / 16 ? `A gap of ${padding} px is too wide for a sheet of ${pixels} px.` : undefined,
  defaults: { set: 'second', pixels: '1024', padding: 4 },

  summary: ({ set, pixels, padding }) => `${set} set, ${pixels}\u00a0px, gap ${formatNumber(padding)}\u00a0px`,

  beforehand: (scene, rows) => partedShapes(scene, rows, (mesh) => (scene.meshes[mesh]?.triangles ?? 0) > 0),

  work: (scene, rows, parameters) => unwrapping.work(scene, rows, parameters),

  apply(edit, rows, parameters, lookup) {
    const meshes: Record<Hash, MeshFigures> = {};
    const seen = new Map<Hash, Sheet>();
    const { pending, problems, worked } = unwrapping.each(edit, rows, parameters, lookup, {
      made(row, made) {
        meshes[made.mesh] = made.figures;
        seen.set(made.mesh, made.sheet);
        edit.setMesh(row, made.mesh);
      },
      without: (row) => edit.scene.nodes.columns.solid[row] > 0 && edit.scene.nodes.columns.problem[row] === 0,
    });
    edit.setMeshes(meshes);
    const sheets = [...seen.values()];
    const both = sheets.filter((sheet) => sheet.both).length;
    return {
      pending,
      problems: [...problems],
      worked,
      notes: [
        ...(sheets.length > 0 ? [`${counted(sheets.length, 'sheet')} with ${counted(sheets.reduce((sum, { charts }) => sum + charts, 0), 'chart')}.`] : []), // prettier-ignore
        ...(both > 0
          ? [`${counted(both, 'shape')} had no texture coordinates: the sheet is their first set too.`]
          : []),
      ],
    };
  },
});
