/** Geometry of a part as COLLADA has it: lists of numbers, and triangles or lines that refer to them, a run for each slot. */
import type { PlacedMesh } from '../../mesh/placed.ts';
import { decimalsFor } from '../pieces.ts';
import type { XmlText } from '../xml.ts';

/** What a run of triangles calls its material until an instance says which it is. */
export const symbolOf = (slot: number) => `slot${slot}`;

/** Slots that show something. */
export const slotsOf = ({ groups }: PlacedMesh) => groups.filter(({ count }) => count > 0).map(({ slot }) => slot);

const [NORMAL, UV, COLOUR] = [6, 7, 7];

export function writeGeometry(xml: XmlText, mesh: PlacedMesh, id: string, name: string): void {
  xml.begin('geometry', { id, name }).begin('mesh');
  const isLines = mesh.positions.length === 0;
  const points = isLines ? mesh.edges : mesh.positions;
  const source = (what: string, values: ArrayLike<number>, parameters: string, decimals: number) => {
    const count = values.length / parameters.length;
    xml.begin('source', { id: `${id}-${what}` });
    xml.numbers('float_array', { id: `${id}-${what}-array`, count: values.length }, values, decimals);
    xml.begin('technique_common').begin('accessor', { source: `#${id}-${what}-array`, count, stride: parameters.length }); // prettier-ignore
    for (const parameter of parameters) xml.leaf('param', { name: parameter, type: 'float' });
    xml.end().end().end();
  };
  source('points', points, 'XYZ', decimalsFor(reachOf(points)));
  if (!isLines) source('normals', mesh.normals, 'XYZ', NORMAL);
  // The origin of pictures is lower left there.
  mesh.uvs?.forEach((set, i) => source(`uvs${i}`, set.map((value, k) => (k % 2 ? 1 - value : value)), 'ST', UV)); // prettier-ignore
  if (mesh.colours) source('colours', mesh.colours, 'RGBA', COLOUR);
  xml.within('vertices', { id: `${id}-vertices` }, () =>
    xml.leaf('input', { semantic: 'POSITION', source: `#${id}-points` }),
  );
  const input = (semantic: string, what: string, set?: number) =>
    xml.leaf('input', { semantic, source: `#${id}-${what}`, offset: 0, set });
  if (isLines) {
    xml.begin('lines', { count: points.length / 6 });
    input('VERTEX', 'vertices');
    xml.numbers('p', {}, Uint32Array.from({ length: points.length / 3 }, (_, i) => i), 0).end(); // prettier-ignore
  } else
    for (const { slot, start, count } of mesh.groups) {
      if (count === 0) continue;
      xml.begin('triangles', { count: count / 3, material: symbolOf(slot) });
      input('VERTEX', 'vertices');
      input('NORMAL', 'normals');
      mesh.uvs?.forEach((_, i) => input('TEXCOORD', `uvs${i}`, i));
      if (mesh.colours) input('COLOR', 'colours', 0);
      xml.numbers('p', {}, mesh.indices.subarray(start, start + count), 0).end();
    }
  xml.end().end();
}

/** How far the points reach from their origin. */
function reachOf(points: ArrayLike<number>): number {
  let reach = 0;
  for (let i = 0; i < points.length; i++) reach = Math.max(reach, Math.abs(points[i]));
  return reach;
}
