/** Geometry of parts as X3D has it: sets of triangles, lines and points, each written once and used again; slots share their points. */
import { srgbFromLinear } from '../../finish/colour.ts';
import type { PlacedMesh } from '../../mesh/placed.ts';
import { decimalsFor } from '../pieces.ts';
import { escaped } from '../xml.ts';
import type { XmlIds, XmlText } from '../xml.ts';

const [NORMAL, UV, COLOUR] = [6, 7, 7];

type Element = 'PointSet' | 'IndexedLineSet' | 'IndexedTriangleSet';

interface Geometry {
  name: string;
  element: Element;
  slots: number[];
  written: Set<string>;
  hasPoints: boolean;
}

export class X3dGeometries {
  readonly #known = new Map<string, Geometry>();

  constructor(
    readonly xml: XmlText,
    readonly ids: XmlIds,
  ) {}

  /** Slots of a geometry that was entered. */
  known(key: string): number[] | undefined {
    return this.#known.get(key)?.slots;
  }

  /** @returns slots that show something */
  enter(key: string, mesh: PlacedMesh, name: string): number[] {
    const { groups, indices } = mesh;
    const slots = indices.length === 0 ? [0] : groups.filter(({ count }) => count > 0).map(({ slot }) => slot);
    this.#known.set(key, {
      name: this.ids.next(`${name}_shape`),
      element: elementOf(mesh),
      slots,
      written: new Set(),
      hasPoints: false,
    });
    return slots;
  }

  /** Whether a slot of a geometry is written, as it is seen from these sides. */
  isWritten(key: string, slot: number, isDoubleSided: boolean): boolean {
    const geometry = this.#known.get(key);
    return geometry?.written.has(nameOf(geometry, slot, isDoubleSided)) ?? false;
  }

  /** Writes a slot of a geometry, or names it where it was written before. @param mesh what has to be written */
  write(key: string, slot: number, mesh: PlacedMesh | undefined, isDoubleSided: boolean): void {
    const geometry = this.#known.get(key);
    if (!geometry) return;
    const { element, written } = geometry;
    const own = nameOf(geometry, slot, isDoubleSided);
    if (written.has(own) || !mesh) return void this.xml.leaf(element, { USE: own });
    written.add(own);
    if (element === 'PointSet') return void this.#points(own, mesh);
    if (element === 'IndexedLineSet') return void this.#lines(own, mesh);
    const { xml } = this;
    const { pieces } = xml;
    const group = mesh.groups.find((one) => one.slot === slot);
    if (!group) return;
    pieces.text(`<IndexedTriangleSet DEF="${escaped(own)}" solid="${!isDoubleSided}" index="`);
    pieces.numbers(mesh.indices, group.start, group.count, 0).text('">\n');
    const shared = (name: string, what: string, attribute: string, values: ArrayLike<number>, decimals: number) => {
      if (geometry.hasPoints) return xml.leaf(name, { USE: `${geometry.name}-${what}` });
      pieces.text(`<${name} DEF="${escaped(`${geometry.name}-${what}`)}" ${attribute}="`);
      return pieces.numbers(values, 0, values.length, decimals).text('"/>\n');
    };
    if (mesh.colours) shared('ColorRGBA', 'colours', 'color', mesh.colours.map((value, i) => (i % 4 < 3 ? srgbFromLinear(value) : value)), COLOUR); // prettier-ignore
    // The origin of pictures is lower left there.
    const [uvs] = mesh.uvs ?? [];
    if (uvs) shared('TextureCoordinate', 'uvs', 'point', uvs.map((value, i) => (i % 2 ? 1 - value : value)), UV); // prettier-ignore
    shared('Normal', 'normals', 'vector', mesh.normals, NORMAL);
    shared('Coordinate', 'points', 'point', mesh.positions, decimalsOf(mesh.positions));
    geometry.hasPoints = true;
    pieces.text('</IndexedTriangleSet>\n');
  }

  #points(own: string, { positions, colours }: PlacedMesh): void {
    const { pieces } = this.xml;
    pieces.text(`<PointSet DEF="${escaped(own)}">\n<Coordinate point="`);
    pieces.numbers(positions, 0, positions.length, decimalsOf(positions)).text('"/>\n');
    if (colours) {
      const encoded = colours.map((value, i) => (i % 4 < 3 ? srgbFromLinear(value) : value));
      pieces.text('<ColorRGBA color="').numbers(encoded, 0, encoded.length, COLOUR).text('"/>\n');
    }
    pieces.text('</PointSet>\n');
  }

  #lines(own: string, { edges }: PlacedMesh): void {
    const { pieces } = this.xml;
    pieces.text(`<IndexedLineSet DEF="${escaped(own)}" coordIndex="`);
    for (let i = 0; i < edges.length / 3; i += 2) pieces.whole(i).text(' ').whole(i + 1).text(' -1 '); // prettier-ignore
    pieces.text('">\n<Coordinate point="').numbers(edges, 0, edges.length, decimalsOf(edges));
    pieces.text('"/>\n</IndexedLineSet>\n');
  }
}

/** Lines and points have no sides. */
const nameOf = ({ name, element }: Geometry, slot: number, isDoubleSided: boolean) =>
  `${name}-${slot}${isDoubleSided && element === 'IndexedTriangleSet' ? 'd' : ''}`;

function elementOf({ positions, indices }: PlacedMesh): Element {
  if (positions.length === 0) return 'IndexedLineSet';
  return indices.length === 0 ? 'PointSet' : 'IndexedTriangleSet';
}

function decimalsOf(points: ArrayLike<number>): number {
  let reach = 0;
  for (let i = 0; i < points.length; i++) reach = Math.max(reach, Math.abs(points[i]));
  return decimalsFor(reach);
}
