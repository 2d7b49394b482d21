/** Step: texture coordinates by projection, in metres. Parts of one shape keep sharing it, unless the projection goes on from part to part. */
import { factsOf } from '../scene/facts.ts';
import { hashData } from '../scene/hash.ts';
import type { Matrix } from '../scene/matrix.ts';
import { PART } from '../scene/nodes.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { geometryPlace } from '../scene/spot.ts';
import type { Hash, MeshFigures, Scene } from '../scene/types.ts';
import type { ProjectOptions, Projection } from '../mesh/project.ts';
import { counted, formatAngle, formatNumber } from '../units.ts';
import { defineStep, eachRow, isFailed, WHEREVER } from './kind.ts';
import { AFTER_COORDINATES, partedShapes } from './coordinates.ts';
import type { Lookup, Work } from './kind.ts';

export interface UvParameters {
  projection: Projection;
  /** In the frame of each part, or of the world, so that a pattern goes on from one part to the next. */
  frame: 'part' | 'world';
  from: 'x' | 'y' | 'z';
  turn: number;
  offsetU: number;
  offsetV: number;
  scale: number;
}

interface Made {
  mesh: Hash;
  figures: MeshFigures;
}

const VERSION = 1;

/** A shape and the frame in which it is projected: parts that have both in common share what is made. */
interface Piece {
  mesh: Hash;
  frame: readonly number[];
  /** How much larger the mesh stands, where coordinates are lengths: they are those of the mesh. */
  larger: number;
  rows: number[];
}

/** Rounded to a micrometre and as much of a turn: places that two engines compute differently in the last bit are one. */
const round = (value: number) => Math.round(value * 1e6) / 1e6 + 0;

/** Coordinates that are there already lie in no frame. */
const AS_IT_LIES = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

function piecesOf(scene: Scene, rows: RowSet, { frame, projection }: UvParameters): Map<string, Piece> {
  const { nodes } = scene;
  const out = new Map<string, Piece>();
  const { enlargements } = factsOf(scene);
  const up = new Map<string, readonly number[]>();
  eachRow(scene, rows, (row) => {
    if (nodes.columns.kind[row] !== PART || nodes.columns.mesh[row] === 0) return;
    const mesh = nodes.word('mesh', row);
    if (!mesh || scene.meshes[mesh].triangles === 0) return;
    let twelve: readonly number[];
    if (projection === 'given') {
      if (!scene.meshes[mesh].uvs) return;
      twelve = AS_IT_LIES;
    } else if (frame === 'world') twelve = [...twelveOf(geometryPlace(scene, row))].map(round);
    else {
      // The first placement says which way is up, for all of the shape that stand as large.
      const place = geometryPlace(scene, row);
      const size = `${mesh} ${lengthsOf(place).map(round).join()}`;
      const known = up.get(size);
      twelve = known ?? upright(place);
      if (!known) up.set(size, twelve);
    }
    const isLength = projection !== 'given' || scene.meshes[mesh].trueSize;
    const larger = isLength ? enlargements[row] : 1;
    const key = `${mesh} ${twelve.join()} ${larger}`;
    const piece = out.get(key);
    if (piece) piece.rows.push(row);
    else out.set(key, { mesh, frame: twelve, larger, rows: [row] });
  });
  return out;
}

const twelveOf = (m: Matrix) => [m[0], m[1], m[2], m[4], m[5], m[6], m[8], m[9], m[10], m[12], m[13], m[14]];

/** How long each axis of a place is. */
const lengthsOf = (place: Matrix) => [0, 4, 8].map((at) => Math.hypot(place[at], place[at + 1], place[at + 2]));

/** The frame of a part turned by quarters, so that what is up in the world is up in it, and as large as it stands. */
function upright(place: Matrix): readonly number[] {
  const axis = (k: number) => [place[k * 4], place[k * 4 + 1], place[k * 4 + 2]];
  const lengths = lengthsOf(place);
  const tall = [0, 1, 2].reduce((best, k) => (Math.abs(axis(k)[1] / lengths[k]) > Math.abs(axis(best)[1] / lengths[best]) ? k : best), 0); // prettier-ignore
  const sign = axis(tall)[1] < 0 ? -1 : 1;
  // Rows of the frame: right, up, towards; a turn and no mirror.
  const [right, towards] = [(tall + 2) % 3, (tall + 1) % 3];
  const columns = [0, 1, 2].map((k) => {
    const scale = round(lengths[k]);
    return [k === right ? scale * sign : 0, k === tall ? scale * sign : 0, k === towards ? scale : 0];
  });
  return [...columns.flat(), 0, 0, 0];
}

/** Parts without texture coordinates. */
function bareParts(scene: Scene, rows: RowSet): number {
  const { kind, mesh } = scene.nodes.columns;
  let bare = 0;
  eachRow(scene, rows, (row) => {
    if (kind[row] === PART && mesh[row] > 0 && !scene.meshes[scene.nodes.word('mesh', row)].uvs) bare++;
  });
  return bare;
}

function optionsOf(
  { projection, from, turn, offsetU, offsetV, scale }: UvParameters,
  { frame, larger }: Piece,
): ProjectOptions {
  // What is projected is so in metres of the job; what is given already is in those of the mesh.
  if (projection === 'given')
    return { projection, frame, from, turn, offset: [offsetU / larger, offsetV / larger], scale };
  return { projection, frame, from, turn, offset: [offsetU, offsetV], scale: scale * larger };
}
const keyOf = (piece: Piece, parameters: UvParameters) =>
  hashData(['uv', VERSION, piece.mesh, optionsOf(parameters, piece)]);

export const uvStep = defineStep<UvParameters>({
  kind: 'uv',
  title: 'Texture coordinates',
  purpose: 'Lays pictures on parts in their true size: as on a box, a plane, a cylinder or a ball, for each part or on from part to part.',
  also: ['uv', 'mapping', 'projection', 'box', 'unwrap', 'brick', 'real world scale'],
  act: 'Lay',
  station: 'finishes',
  place: WHEREVER,
  before: AFTER_COORDINATES,
  version: VERSION,
  needs: 'geometry',
  fields: {
    projection: {
      type: 'choice',
      label: 'As on a',
      called: 'projection',
      choices: [
        { value: 'box', label: 'box' },
        { value: 'plane', label: 'plane' },
        { value: 'cylinder', label: 'cylinder, upright' },
        { value: 'sphere', label: 'ball' },
        { value: 'given', label: 'as they are: solid or file' },
      ],
      help: 'As they are: solids have the parameters of their surfaces, in metres; others what their file brought. Only turned, moved and scaled.',
    },
    frame: {
      type: 'choice',
      label: 'For',
      called: 'frame',
      choices: [
        { value: 'part', label: 'each part by itself' },
        { value: 'world', label: 'all parts together' },
      ],
      when: ({ projection }: UvParameters) => projection !== 'given',
      help: 'Together, a pattern goes on from part to part; parts of one shape are then shapes of their own.',
    },
    from: {
      type: 'choice',
      label: 'Seen from',
      called: 'direction',
      choices: [
        { value: 'x', label: 'the right' },
        { value: 'y', label: 'above' },
        { value: 'z', label: 'the front' },
      ],
      when: ({ projection }: UvParameters) => projection === 'plane',
    },
    turn: { type: 'quantity', of: 'angle', unit: '°', label: 'Turned by', min: -Math.PI, max: Math.PI, offers: [0, Math.PI / 4, Math.PI / 2] },
    offsetU: { type: 'quantity', of: 'length', unit: 'm', label: 'Moved right', min: -1000, max: 1000 },
    offsetV: { type: 'quantity', of: 'length', unit: 'm', label: 'Moved down', min: -1000, max: 1000 },
    scale: { type: 'quantity', of: 'factor', unit: '', label: 'Size', min: 0.001, max: 1000, help: 'How much larger than they are pictures lie on it; 1 is their true size.' },
  },
  defaults: { projection: 'box', frame: 'part', from: 'z', turn: 0, offsetU: 0, offsetV: 0, scale: 1 },

  summary: ({ projection, frame, turn, scale }) =>
    [
      projection === 'given' ? 'as they are' : `${projection}, ${frame === 'part' ? 'each part' : 'together'}`,
      ...(turn === 0 ? [] : [formatAngle(turn)]),
      ...(scale === 1 ? [] : [`× ${formatNumber(scale)}`]),
    ].join(', '),

  beforehand(scene, rows, parameters) {
    const parted = partedShapes(scene, rows, (mesh) => (scene.meshes[mesh]?.triangles ?? 0) > 0);
    if (parameters.projection === 'given') {
      const bare = bareParts(scene, rows);
      const none = `${counted(bare, 'part has', 'parts have')} no texture coordinates yet, and none are laid on ${bare === 1 ? 'it' : 'them'}.`;
      return [...(bare > 0 ? [none] : []), ...parted];
    }
    const pieces = [...piecesOf(scene, rows, parameters).values()];
    const shapes = new Set(pieces.map(({ mesh }) => mesh)).size;
    if (pieces.length === shapes) return parted;
    const many = `${counted(shapes, 'shape becomes', 'shapes become')} ${formatNumber(pieces.length, 6)}: parts that shared one no longer do.`;
    return [many, ...parted];
  },

  work: (scene, rows, parameters) =>
    [...piecesOf(scene, rows, parameters).values()]
      .sort((a, b) => scene.meshes[b.mesh].triangles - scene.meshes[a.mesh].triangles || (a.mesh < b.mesh ? -1 : 1))
      .map((piece): Work<'project'> => ({
        key: keyOf(piece, parameters),
        task: 'project',
        label: scene.nodes.text('name', piece.rows[0]),
        input: async (blobs) => ({ mesh: await blobs.get(piece.mesh), ...optionsOf(parameters, piece) }),
        keep: async ({ blob, figures }, blobs): Promise<Made> => ({ mesh: await blobs.put(blob), figures }),
      })),

  apply(edit, rows, parameters, lookup: Lookup) {
    const meshes: Record<Hash, MeshFigures> = {};
    const problems: string[] = [];
    let [pending, worked] = [0, 0];
    for (const piece of piecesOf(edit.scene, rows, parameters).values()) {
      const found = lookup(keyOf(piece, parameters)) as (Made & { took?: number }) | undefined;
      if (found === undefined) pending += piece.rows.length;
      else if (isFailed(found)) problems.push(`${edit.scene.nodes.text('name', piece.rows[0])}: ${found.failed}`);
      else {
        worked += found.took ?? 0;
        meshes[found.mesh] = found.figures;
        for (const row of piece.rows) edit.setMesh(row, found.mesh);
      }
    }
    edit.setMeshes(meshes);
    return { pending, problems, worked };
  },
}); // prettier-ignore
