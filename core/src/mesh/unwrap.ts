/**
 * Unwraps a mesh into one sheet: charts that lie flat with little stretch, packed side by side with a gap between them, by watlas (xatlas
 * in wasm). The time that its charts take grows much faster than their triangles, so a large mesh is cut into patches first, charts are
 * made of each, and all of them are packed together.
 */
import type { Atlas } from 'watlas';
import { PrismError } from '../errors.ts';
import type { MeshFigures } from '../scene/types.ts';
import { figuresOf, packMesh, unpackMesh } from './mesh.ts';
import type { Mesh } from './mesh.ts';
import { gather } from './normals.ts';
import { patchesOf } from './patches.ts';

export interface UnwrapOptions {
  /** Set of texture coordinates that is made: 0, or 1 for baked light. */
  set: 0 | 1;
  /** Pixels across the sheet, for which the gap is meant. */
  pixels: number;
  /** Least gap between charts, pixels. */
  padding: number;
}

export interface UnwrapInput extends UnwrapOptions {
  /** Packed mesh. */
  mesh: Uint8Array;
}

/** What came of it. */
export interface Sheet {
  charts: number;
  /** Gap between charts, pixels of the sheet; at least what was asked for. */
  gap: number;
  /** True where the mesh had no first set: it has the sheet there too. */
  both: boolean;
}

export interface UnwrapOutput {
  blob: Uint8Array;
  figures: MeshFigures;
  sheet: Sheet;
}

/** @param tell hears which share of the work is done. @throws PrismError `solid-failed` */
export async function unwrap({ mesh, ...options }: UnwrapInput, tell?: (share: number) => void): Promise<UnwrapOutput> {
  const { mesh: made, sheet } = await unwrapped(unpackMesh(mesh), options, tell);
  const blob = packMesh(made);
  return { blob, figures: figuresOf(made, blob.length), sheet };
}

/** Triangles up to which a mesh is charted as a whole: a second or so. */
const WHOLE = 3000;
/** Triangles of a patch of a larger one. Of 500 a flat patch takes a fourteenth of a second, a curved one half of that. */
const PATCH = 500;
/** Pixels across the sheet of one patch, by the root of its triangles: charts are rounded to whole pixels there. */
const FINE = 24;
/** Share of the work that making charts is; the rest is packing. */
const CHARTING = 0.75;
/** Vertices closer than this share of the extent are one: charts go on over them. */
const WELD = 1e-6;

let loaded: Promise<typeof import('watlas')> | undefined;
const load = () => (loaded ??= import('watlas').then(async (watlas) => (await watlas.Initialize(), watlas)));

/** A patch laid flat: where each of its new vertices lies, metres, and of which vertex of the mesh each is. */
interface Flat {
  uv: Float32Array;
  of: Uint32Array;
  indices: Uint32Array;
}

export async function unwrapped(mesh: Mesh, { set, pixels, padding }: UnwrapOptions, tell?: (share: number) => void): Promise<{ mesh: Mesh; sheet: Sheet }> {
  const watlas = await load();
  const make = () => new (watlas.Atlas as unknown as new () => Atlas)();
  const patches = patchesOf(mesh, mesh.indices.length / 3 <= WHOLE ? WHOLE : PATCH);
  const flats = patches.map((patch, i) => {
    tell?.((CHARTING * i) / patches.length);
    return flat(mesh, patch, make);
  });
  tell?.(CHARTING);
  const packed = pack(together(flats), pixels, padding, make);

  const { of, uv: sheet } = packed.flat;
  // Corners in the order of the mesh again.
  const indices = new Uint32Array(mesh.indices.length);
  let at = 0;
  for (const patch of patches)
    for (const triangle of patch)
      for (let c = 0; c < 3; c++) indices[triangle * 3 + c] = packed.flat.indices[at++];
  const before = mesh.uvs?.map((values) => gather(values, 2, of)) ?? [];
  const both = set === 1 && before.length === 0;
  const uvs = set === 0 ? [sheet, ...before.slice(1)] : [before[0] ?? sheet, sheet, ...before.slice(2)];
  const { trueSize, ...rest } = mesh;
  return {
    mesh: {
      ...rest,
      positions: gather(mesh.positions, 3, of),
      normals: gather(mesh.normals, 3, of),
      indices,
      uvs,
      // Of the first set: a sheet is no length.
      ...(trueSize && set === 1 ? { trueSize } : {}),
      ...(mesh.colours ? { colours: gather(mesh.colours, 4, of) } : {}),
    },
    sheet: { charts: packed.charts, gap: packed.gap, both },
  };
} // prettier-ignore

/** The charts of a patch. */
function flat({ positions, indices }: Mesh, patch: Uint32Array, make: () => Atlas): Flat {
  const number = new Map<number, number>();
  const corners = new Uint32Array(patch.length * 3);
  for (const [k, triangle] of patch.entries())
    for (let c = 0; c < 3; c++) {
      const vertex = indices[triangle * 3 + c];
      let own = number.get(vertex);
      if (own === undefined) number.set(vertex, (own = number.size));
      corners[k * 3 + c] = own;
    }
  const vertices = Uint32Array.from(number.keys());
  // About its own middle and of one size: single precision, and tolerances of its own, are for numbers near one.
  const { points, scale } = normalized(gather(positions, 3, vertices));
  const area = areaOf(points, corners);
  const atlas = make();
  try {
    atlas.addMesh({
      vertexPositionData: points,
      vertexCount: vertices.length,
      vertexPositionStride: 12,
      indexData: corners,
      indexCount: corners.length,
      epsilon: WELD,
    });
    atlas.computeCharts({ fixWinding: true });
    const texels = (FINE * Math.sqrt(patch.length)) / Math.sqrt(Math.max(area, 1e-12));
    atlas.packCharts({ texelsPerUnit: texels, padding: 0, rotateCharts: false });
    const made = read(atlas, corners);
    return (
      made && {
        uv: made.uv.map((value) => (value / texels) * scale),
        of: made.of.map((own) => vertices[own]),
        indices: made.indices,
      }
    );
  } catch (error) {
    if (error instanceof PrismError) throw error;
    throw new PrismError('solid-failed', `It cannot be unwrapped (${String((error as Error).message ?? error)}).`);
  } finally {
    atlas.delete();
  }
}

/**
 * All patches as one, each in a square of its own: equal ones have equal coordinates, and what has these is one chart. With an area of one:
 * tolerances of its own are for numbers near that.
 */
function together(flats: readonly Flat[]): Flat {
  const total = (of: (flat: Flat) => number) => flats.reduce((sum, flat) => sum + of(flat), 0);
  const uv = new Float32Array(total((one) => one.uv.length));
  const of = new Uint32Array(total((one) => one.of.length));
  const indices = new Uint32Array(total((one) => one.indices.length));
  let [vertices, corners] = [0, 0];
  const square = Math.max(...flats.map((one) => one.uv.reduce((most, value) => Math.max(most, value), 0))) * 1.25;
  const columns = Math.ceil(Math.sqrt(flats.length));
  for (const [n, one] of flats.entries()) {
    const at = [(n % columns) * square, Math.floor(n / columns) * square];
    uv.set(
      one.uv.map((value, k) => value + at[k % 2]),
      vertices * 2,
    );
    of.set(one.of, vertices);
    for (const [k, vertex] of one.indices.entries()) indices[corners + k] = vertices + vertex;
    vertices += one.of.length;
    corners += one.indices.length;
  }
  let area = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i] * 2, indices[i + 1] * 2, indices[i + 2] * 2];
    area += Math.abs((uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[c] - uv[a]) * (uv[b + 1] - uv[a + 1])) / 2;
  }
  const scale = area > 0 ? 1 / Math.sqrt(area) : 1;
  return { uv: uv.map((value) => value * scale), of, indices };
}

interface Packed {
  flat: Flat;
  charts: number;
  gap: number;
}

/** All charts in one sheet, which is 1 wide and high. Patches go in as one mesh: of two that are numbered alike, one would be taken for the other. */
function pack({ uv, of, indices }: Flat, pixels: number, padding: number, make: () => Atlas): Packed {
  // At half the size, which is a quarter of the work; how large the sheet becomes is only known when it is packed.
  const resolution = Math.max(256, pixels / 2);
  let gap = Math.max(padding > 0 ? 1 : 0, Math.ceil(padding * 0.9 * ((2 * resolution) / pixels)));
  for (let attempt = 0; ; attempt++) {
    const atlas = make();
    try {
      atlas.addUvMesh({
        vertexUvData: uv,
        vertexCount: of.length,
        vertexStride: 8,
        indexData: indices,
        indexCount: indices.length,
      });
      atlas.computeCharts({});
      // A chart that is turned by a quarter there is mirrored in truth.
      atlas.packCharts({ padding: gap, resolution, rotateCharts: false });
      const size = Math.max(atlas.width, atlas.height, 1);
      const wide = (gap * pixels) / size;
      if (wide < padding && attempt < TRIES) {
        gap = Math.max(gap + 1, Math.ceil((padding * size) / pixels));
        continue;
      }
      const made = read(atlas, indices);
      return {
        flat: {
          // Rows of a picture go down: nothing is mirrored as one looks at it.
          uv: made.uv.map((value, k) => (k % 2 === 0 ? value / size : 1 - value / size)),
          of: made.of.map((own) => of[own]),
          indices: made.indices,
        },
        charts: atlas.chartCount,
        gap: wide,
      };
    } finally {
      atlas.delete();
    }
  }
}

/** How often charts are packed again with a wider gap. */
const TRIES = 4;

/** What an atlas made of its mesh: pixels, and the vertex that each new one is of. @throws PrismError where corners are of other vertices than they were */
function read(atlas: Atlas, corners: Uint32Array): Flat {
  const mesh = atlas.getMesh(0);
  const indices = new Uint32Array(mesh.indexCount);
  mesh.getIndexArray(indices);
  const uv = new Float32Array(mesh.vertexCount * 2);
  const of = new Uint32Array(mesh.vertexCount);
  for (let i = 0; i < of.length; i++) {
    const vertex = mesh.getVertex(i);
    [uv[i * 2], uv[i * 2 + 1]] = vertex.uv;
    of[i] = vertex.xref;
  }
  if (indices.length !== corners.length || indices.some((vertex, k) => of[vertex] !== corners[k]))
    throw new PrismError('solid-failed', 'It cannot be unwrapped: its triangles did not come back as they were.');
  return { uv, of, indices };
}

function normalized(positions: Float32Array): { points: Float32Array; scale: number } {
  const [low, high] = [[Infinity, Infinity, Infinity], [-Infinity, -Infinity, -Infinity]]; // prettier-ignore
  for (let i = 0; i < positions.length; i++) {
    low[i % 3] = Math.min(low[i % 3], positions[i]);
    high[i % 3] = Math.max(high[i % 3], positions[i]);
  }
  const scale = Math.max(1e-9, ...high.map((value, k) => value - low[k]));
  const middle = high.map((value, k) => (value + low[k]) / 2);
  return { points: positions.map((value, i) => (value - middle[i % 3]) / scale), scale };
}

function areaOf(p: Float32Array, indices: Uint32Array): number {
  let area = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i] * 3, indices[i + 1] * 3, indices[i + 2] * 3];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    area += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
  }
  return area;
}
