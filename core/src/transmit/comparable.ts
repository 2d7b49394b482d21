/** Rows as a format can hold them: where points stand in the world, and as one body where there is one. Both sides are brought to it. */
import { putNormals, putPoints } from '../mesh/placed.ts';
import { triangleArea } from '../mesh/area.ts';
import { IDENTITY, isIdentity } from '../scene/matrix.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Writer } from '../write/writer.ts';
import type { ExpectedRow } from './expected.ts';
import type { FoundBody, FoundGeometry, FoundRow } from './found.ts';

type Way = Pick<Writer, 'places' | 'structure' | 'paintsPoints' | 'weldsPoints' | 'leastArea' | 'joinsSlots'>;

/** @param isSent they are what was sent: what the writer does to the geometry is done to them */
export function comparable<R extends FoundRow | ExpectedRow>(rows: R[], way: Way, { isSent = false } = {}): R[] {
  let out = way.places === 'baked' ? rows.map(atOrigin) : rows;
  if (way.weldsPoints && isSent) out = eachBodies(out, withoutSlivers);
  const { leastArea } = way;
  if (leastArea !== undefined && isSent)
    out = eachBodies(out, (bodies) => bodies.map((body) => withoutSmall(body, leastArea)).filter(hasAny));
  if (way.joinsSlots) out = eachBodies(out, joinedSlots);
  return way.structure === 'body' ? oneBody(out, isSent && way.paintsPoints === true) : out;
}

/** The bodies of rows changed; what several rows show is changed once. */
function eachBodies<R extends FoundRow | ExpectedRow>(rows: readonly R[], change: (bodies: FoundBody[]) => FoundBody[]): R[] {
  const known = new Map<string, FoundBody[]>();
  const numbers = new Map<unknown, number>();
  const numberOf = (thing: unknown) => {
    let number = numbers.get(thing);
    if (number === undefined) numbers.set(thing, (number = numbers.size));
    return number;
  };
  return rows.map((row) => {
    const bodies = row.bodies as FoundBody[];
    if (bodies.length === 0) return row;
    const key = bodies.map(({ geometry, material }) => `${numberOf(geometry)} ${numberOf(material)}`).join();
    let made = known.get(key);
    if (!made) known.set(key, (made = change(bodies)));
    return { ...row, bodies: made };
  });
} // prettier-ignore

/** Without triangles of which two corners are at the same place. */
function withoutSlivers(bodies: FoundBody[]): FoundBody[] {
  return bodies.map((body) => {
    const { geometry } = body;
    const { corners, positions: p } = geometry;
    if (!corners) return body;
    const same = (a: number, b: number) => [0, 1, 2].every((k) => p[a * 3 + k] === p[b * 3 + k]);
    const kept: number[] = [];
    for (let i = 0; i < corners.length; i += 3) {
      const [a, b, c] = [corners[i], corners[i + 1], corners[i + 2]];
      if (!same(a, b) && !same(b, c) && !same(a, c)) kept.push(a, b, c);
    }
    return kept.length === corners.length ? body : { ...body, geometry: { ...geometry, corners: kept } };
  });
}

const hasAny = ({ geometry: { corners } }: FoundBody) => corners === undefined || corners.length > 0;

function withoutSmall(body: FoundBody, leastArea: number): FoundBody {
  const { geometry } = body;
  const { corners, positions } = geometry;
  if (!corners || geometry.mode !== 'triangles') return body;
  const kept: number[] = [];
  for (let i = 0; i < corners.length; i += 3) {
    const [a, b, c] = [corners[i], corners[i + 1], corners[i + 2]];
    if (triangleArea(positions, a, b, c) >= leastArea) kept.push(a, b, c);
  }
  return kept.length === corners.length ? body : { ...body, geometry: { ...geometry, corners: kept } };
}

/** Bodies of triangles that show the same material as one. */
function joinedSlots(bodies: FoundBody[]): FoundBody[] {
  const byMaterial = new Map<unknown, FoundBody[]>();
  for (const body of bodies) {
    const key = body.geometry.mode === 'triangles' ? (body.material?.name ?? '') : body;
    byMaterial.set(key, [...(byMaterial.get(key) ?? []), body]);
  }
  return [...byMaterial.values()].map((group) => {
    if (group.length === 1) return group[0];
    const corners = group.flatMap(({ geometry }) => [...Array.from(geometry.corners ?? [])]);
    return { ...group[0], geometry: { ...group[0].geometry, corners } };
  });
}

function atOrigin<R extends FoundRow | ExpectedRow>(row: R): R {
  if (isIdentity(row.world, 0) || row.bodies.length === 0) return row;
  // Bodies of one row share their points.
  const known = new Map<ArrayLike<number>, FoundGeometry>();
  const bodies = row.bodies.map((body) => {
    const { geometry } = body as FoundBody;
    let made = known.get(geometry.positions);
    if (!made) {
      const positions = new Float64Array(geometry.positions.length);
      putPoints(geometry.positions, row.world, positions, 0);
      const normals = geometry.normals && new Float32Array(geometry.normals.length);
      if (geometry.normals && normals) putNormals(geometry.normals, row.world, normals, 0);
      made = { ...geometry, positions, ...(normals ? { normals } : {}) };
      known.set(geometry.positions, made);
    }
    const { positions, normals } = made;
    return { ...body, geometry: { ...geometry, positions, ...(normals ? { normals } : {}) } };
  });
  return { ...row, world: IDENTITY, bodies };
}

/** Name of the one row of formats that have one body: theirs is not compared. */
const BODY = 'Body';

/** All triangles of all rows in turn, as one body of corners, and all points as another. */
function oneBody<R extends FoundRow | ExpectedRow>(rows: readonly R[], painted: boolean): R[] {
  const bodies = (['triangles', 'points'] as const).flatMap((mode) => {
    const of = rows.flatMap((row) => (row.bodies as FoundBody[]).filter(({ geometry }) => geometry.mode === mode));
    return of.length > 0 ? [{ geometry: together(of, mode, painted) }] : [];
  });
  const row: FoundRow = { parent: null, name: BODY, world: IDENTITY, bodies, movements: [] };
  return [row as R];
}

function together(bodies: readonly FoundBody[], mode: 'triangles' | 'points', painted: boolean): FoundGeometry {
  const counts = bodies.map(({ geometry }) => geometry.corners?.length ?? geometry.positions.length / 3);
  const total = counts.reduce((sum, count) => sum + count, 0);
  const gathered = (size: number, of: (geometry: FoundGeometry) => ArrayLike<number> | undefined, rest: number) => {
    const out = new Float64Array(total * size).fill(rest);
    let at = 0;
    for (const [i, { geometry }] of bodies.entries()) {
      const values = of(geometry);
      for (let corner = 0; values && corner < counts[i]; corner++) {
        const from = (geometry.corners ? geometry.corners[corner] : corner) * size;
        for (let k = 0; k < size; k++) out[(at + corner) * size + k] = values[from + k];
      }
      at += counts[i];
    }
    return out;
  };
  const has = (of: (geometry: FoundGeometry) => unknown) => bodies.some(({ geometry }) => of(geometry) !== undefined);
  const geometry: FoundGeometry = {
    mode,
    points: bodies,
    positions: gathered(3, ({ positions }) => positions, 0),
    uvs: has(({ uvs }) => uvs[0]) ? [gathered(2, ({ uvs }) => uvs[0], 0)] : [],
    ...(has(({ normals }) => normals) ? { normals: gathered(3, ({ normals }) => normals, 0) } : {}),
    ...(painted || has(({ colours }) => colours) ? { colours: gathered(4, ({ colours }) => colours, 1) } : {}),
  };
  if (painted && geometry.colours) paint(geometry.colours as Float64Array, bodies, counts);
  return geometry;
} // prettier-ignore

function paint(colours: Float64Array, bodies: readonly FoundBody[], counts: readonly number[]): void {
  let at = 0;
  for (const [i, { material, geometry }] of bodies.entries())
    for (let corner = 0; corner < counts[i]; corner++, at += 4) {
      // What has colours and no material shows its colours as they are.
      const isBare = geometry.colours !== undefined && material?.name === NO_MATERIAL.name;
      const { baseColor = [1, 1, 1], opacity = 1 } = (!isBare && material) || {};
      for (let k = 0; k < 4; k++) colours[at + k] *= k < 3 ? baseColor[k] : opacity;
    }
}
