/** Geometry of X3D: bodies, faces in all their sets, lines, points. */
import { BoxGeometry, ConeGeometry, CylinderGeometry, SphereGeometry } from 'three';
import { linearFromSrgb } from '../../finish/colour.ts';
import type { BareMesh } from '../../mesh/normals.ts';
import { triangulate } from '../../mesh/polygons.ts';
import { bodyOf } from '../bodies.ts';
import type { SceneBuilder } from '../builder.ts';
import { meshOfCorners } from '../corners.ts';
import { numbersOf } from '../xml.ts';
import type { XmlElement } from '../xml.ts';
import type { Definitions } from './definitions.ts';
import { elevationGrid, extrusion } from './shapes.ts';
import { triple } from './values.ts';

/** Sides of a round body; the standard leaves the number to whoever draws it. */
const ROUND = 32;

export class X3dMeshes {
  /** Faces that name values that are not there. */
  skipped = 0;
  readonly #geometries = new Map<XmlElement, number | undefined>();

  constructor(
    readonly definitions: Definitions,
    readonly builder: SceneBuilder,
  ) {}

  /** Number of the geometry of a shape; undefined where it has none that is read. */
  of(shape: XmlElement): number | undefined {
    for (const written of shape.children) {
      const element = this.definitions.used(written);
      if (this.#geometries.has(element)) return this.#geometries.get(element);
      const mesh = this.#mesh(element);
      if (!mesh) continue;
      const id = this.builder.mesh(mesh);
      this.#geometries.set(element, id);
      return id;
    }
    return undefined;
  }

  #mesh(element: XmlElement): BareMesh | undefined {
    const { attributes: a } = element;
    const size = (text: string | undefined, standard: number) => {
      const value = Number(text ?? standard);
      return value > 0 && Number.isFinite(value) ? value : standard;
    };
    switch (element.name) {
      case 'Box':
        return bodyOf(new BoxGeometry(...triple(a.size, [2, 2, 2])));
      case 'Sphere':
        return bodyOf(new SphereGeometry(size(a.radius, 1), ROUND, ROUND / 2));
      case 'Cylinder':
        return bodyOf(new CylinderGeometry(size(a.radius, 1), size(a.radius, 1), size(a.height, 2), ROUND));
      case 'Cone':
        return bodyOf(new ConeGeometry(size(a.bottomRadius, 1), size(a.height, 2), ROUND));
      case 'IndexedFaceSet':
      case 'IndexedTriangleSet':
      case 'IndexedTriangleStripSet':
      case 'IndexedTriangleFanSet':
      case 'TriangleSet':
      case 'TriangleStripSet':
      case 'TriangleFanSet':
      case 'QuadSet':
      case 'IndexedQuadSet':
        return this.#faces(element);
      case 'Extrusion':
        return extrusion(a);
      case 'ElevationGrid':
        return elevationGrid(a);
      case 'PointSet':
        return this.#points(element);
      case 'IndexedLineSet':
      case 'LineSet':
        return this.#lines(element);
      default:
        return undefined;
    }
  }

  #points(element: XmlElement): BareMesh {
    const positions = Float64Array.from(this.#coordinates(element));
    const colours = this.#colours(element);
    const isWhole = colours.length * 3 === positions.length * 4 && colours.length > 0;
    return {
      positions,
      indices: new Uint32Array(),
      groups: [],
      ...(isWhole ? { colours: Float32Array.from(colours) } : {}),
    };
  }

  /** Red, green, blue, opacity, linear. */
  #colours(element: XmlElement): number[] {
    const colours = this.definitions.part(element, 'Color', 'ColorRGBA');
    const width = colours?.name === 'ColorRGBA' ? 4 : 3;
    const raw = numbersOf(colours?.attributes.color);
    return Array.from({ length: Math.floor(raw.length / width) * 4 }, (_, i) =>
      i % 4 === 3 ? (width === 4 ? raw[(i >> 2) * 4 + 3] : 1) : linearFromSrgb(raw[(i >> 2) * width + (i % 4)]),
    );
  }

  #coordinates(element: XmlElement): number[] {
    return numbersOf(this.definitions.part(element, 'Coordinate', 'CoordinateDouble')?.attributes.point);
  }

  #lines(element: XmlElement): BareMesh {
    const points = this.#coordinates(element);
    const runs =
      element.name === 'LineSet'
        ? runsOf(numbersOf(element.attributes.vertexCount))
        : split(numbersOf(element.attributes.coordIndex));
    const lines = runs.flatMap((run) =>
      run.slice(1).flatMap((to, i) => [run[i], to].flatMap((v) => points.slice(v * 3, v * 3 + 3))),
    );
    return { positions: new Float64Array(), indices: new Uint32Array(), groups: [], lines: Float64Array.from(lines) };
  }

  #faces(element: XmlElement): BareMesh {
    const { attributes: a, name } = element;
    const positions = this.#coordinates(element);
    const count = positions.length / 3;
    const isFaceSet = name === 'IndexedFaceSet';
    // (1) Faces as lists of places in the list of corners; -1 parts them where the corners are given by number.
    const listed = numbersOf(isFaceSet ? a.coordIndex : a.index);
    const all = listed.length > 0 ? listed : Array.from({ length: count }, (_, i) => i);
    const faces = facesOf(name, a, all);
    const normals = numbersOf(this.definitions.part(element, 'Normal')?.attributes.vector);
    const uvs = numbersOf(this.definitions.part(element, 'TextureCoordinate')?.attributes.point);
    const colours = this.#colours(element);
    const perVertex = (attribute: string | undefined) => attribute !== 'false';
    const numberOf = (list: number[], indices: number[], byVertex: boolean, face: number, place: number) =>
      list.length === 0 ? -1 : byVertex ? (indices[place] ?? all[place]) : (indices[face] ?? face);
    const normalIndex = numbersOf(a.normalIndex);
    const uvIndex = numbersOf(a.texCoordIndex);
    const colourIndex = numbersOf(a.colorIndex);
    const run = {
      slot: 0,
      position: [] as number[],
      normal: [] as number[],
      colour: [] as number[],
      uvs: [[] as number[]],
    };
    const isTurned = a.ccw === 'false';
    faces.forEach((places, face) => {
      if (places.length < 3 || !places.every((place) => all[place] >= 0 && all[place] < count)) {
        this.skipped++;
        return;
      }
      const at = (i: number) =>
        [positions[all[places[i]] * 3], positions[all[places[i]] * 3 + 1], positions[all[places[i]] * 3 + 2]] as const;
      const corners = triangulate(at, places.length);
      if (isTurned) corners.reverse();
      for (const i of corners) {
        const place = places[i];
        run.position.push(all[place]);
        run.normal.push(numberOf(normals, normalIndex, perVertex(a.normalPerVertex), face, place));
        run.colour.push(numberOf(colours, colourIndex, perVertex(a.colorPerVertex), face, place));
        run.uvs[0].push(numberOf(uvs, uvIndex, true, face, place));
      }
    });
    const mesh = meshOfCorners(
      {
        positions,
        ...(normals.length ? { normals } : {}),
        // The origin of the picture is lower left here, upper left in the scene.
        ...(uvs.length ? { uvs: [uvs.map((value, i) => (i % 2 ? 1 - value : value))] } : {}),
        ...(colours.length ? { colours } : {}),
      },
      [run],
    );
    return mesh;
  }
}

function facesOf(name: string, attributes: Record<string, string>, all: number[]): number[][] {
  const places = all.map((_, i) => i);
  if (name === 'IndexedFaceSet') return split(all).length ? splitPlaces(all) : [];
  if (name.endsWith('StripSet') || name.endsWith('FanSet')) {
    const counts = numbersOf(attributes.stripCount ?? attributes.fanCount);
    const runs = name.startsWith('Indexed') ? splitPlaces(all) : runsOf(counts);
    return runs.flatMap((run) =>
      run
        .slice(2)
        .map((place, i) =>
          name.endsWith('FanSet')
            ? [run[0], run[i + 1], place]
            : i % 2
              ? [run[i + 1], run[i], place]
              : [run[i], run[i + 1], place],
        ),
    );
  }
  const size = name.includes('Quad') ? 4 : 3;
  return Array.from({ length: Math.floor(places.length / size) }, (_, i) => places.slice(i * size, i * size + size));
}

/** Lists parted by -1, as values. */
function split(values: number[]): number[][] {
  return splitPlaces(values).map((run) => run.map((place) => values[place]));
}

/** Lists parted by -1, as places in the whole. */
function splitPlaces(values: number[]): number[][] {
  const out: number[][] = [[]];
  values.forEach((value, place) => {
    if (value < 0) out.push([]);
    else out[out.length - 1].push(place);
  });
  return out.filter((run) => run.length > 0);
}

function runsOf(counts: number[]): number[][] {
  let from = 0;
  return counts.map((count) => {
    const safe = count >= 0 && count < 1e7 ? count : 0;
    from += safe;
    return Array.from({ length: safe }, (_, i) => from - safe + i);
  });
}
