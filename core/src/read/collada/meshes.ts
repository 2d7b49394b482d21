/** Meshes of COLLADA: primitives whose tuples of numbers mean values of several sources. */
import type { SceneBuilder } from '../builder.ts';
import { meshOfCorners } from '../corners.ts';
import type { CornerRun } from '../corners.ts';
import { triangulate } from '../../mesh/polygons.ts';
import { child, childrenNamed, decimalsOf } from '../xml.ts';
import type { XmlElement } from '../xml.ts';

/** Finds what a reference of the document means. */
export type Refer = (url: string | undefined) => XmlElement | undefined;

interface Source {
  values: number[];
  stride: number;
}

/** An input of a primitive: where its values are, and which number of the tuple means them. */
interface Input {
  semantic: string;
  offset: number;
  set: number;
  source: Source;
}

export interface PlacedGeometry {
  id: number;
  /** Symbols of the materials, per slot. */
  symbols: string[];
}

export class ColladaMeshes {
  readonly #sources = new Map<XmlElement, Source>();
  /** Faces that name values that are not there. */
  skipped = 0;

  constructor(
    readonly refer: Refer,
    readonly builder: SceneBuilder,
  ) {}

  /** Enters a mesh; undefined where it has neither faces nor lines. */
  enter(mesh: XmlElement): PlacedGeometry | undefined {
    const symbols: string[] = [];
    const positions: number[] = [];
    const normals: number[] = [];
    const colours: number[] = [];
    const uvs: number[][] = [];
    const bases = new Map<Source, number>();
    const baseOf = (source: Source, list: number[], size: number) => {
      let base = bases.get(source);
      if (base === undefined) {
        base = list.length / size;
        for (let i = 0; i + source.stride <= source.values.length; i += source.stride)
          for (let k = 0; k < size; k++) list.push(source.values[i + k] ?? (size === 4 ? 1 : 0));
        bases.set(source, base);
      }
      return base;
    };
    const runs: CornerRun[] = [];
    const lines: number[] = [];
    let allNormals = true;
    for (const primitive of childrenNamed(
      mesh,
      'triangles',
      'polylist',
      'polygons',
      'tristrips',
      'trifans',
      'lines',
      'linestrips',
    )) {
      const inputs = this.#inputs(primitive);
      const position = inputs.find(({ semantic }) => semantic === 'POSITION');
      if (!position) continue;
      const width = 1 + inputs.reduce((most, { offset }) => Math.max(most, offset), 0);
      const base = baseOf(position.source, positions, 3);
      const count = Math.floor(position.source.values.length / position.source.stride);
      const at = (tuple: number[], i: number) => tuple[i * width + position.offset];
      if (primitive.name === 'lines' || primitive.name === 'linestrips') {
        for (const p of childrenNamed(primitive, 'p')) {
          const tuple = decimalsOf(p.text);
          const points = tuple.length / width;
          for (let i = 0; i + 1 < points; i += primitive.name === 'lines' ? 2 : 1)
            for (const k of [i, i + 1])
              lines.push(...[0, 1, 2].map((axis) => positions[(base + at(tuple, k)) * 3 + axis] ?? 0));
        }
        continue;
      }
      const normal = inputs.find(({ semantic }) => semantic === 'NORMAL');
      const colour = inputs.find(({ semantic }) => semantic === 'COLOR');
      const texcoords = inputs.filter(({ semantic }) => semantic === 'TEXCOORD').sort((a, b) => a.set - b.set);
      if (!normal) allNormals = false;
      const symbol = primitive.attributes.material ?? '';
      let slot = symbols.indexOf(symbol);
      if (slot < 0) slot = symbols.push(symbol) - 1;
      const run = {
        slot,
        position: [] as number[],
        normal: [] as number[],
        colour: [] as number[],
        uvs: texcoords.map(() => [] as number[]),
      };
      const normalBase = normal ? baseOf(normal.source, normals, 3) : 0;
      const colourBase = colour ? baseOf(colour.source, colours, 4) : 0;
      const uvBases = texcoords.map(({ source }, set) => baseOf(source, (uvs[set] ??= []), 2));
      const corner = (tuple: number[], i: number) => {
        run.position.push(base + at(tuple, i));
        if (normal) run.normal.push(normalBase + tuple[i * width + normal.offset]);
        run.colour.push(colour ? colourBase + tuple[i * width + colour.offset] : -1);
        texcoords.forEach(({ offset }, set) => run.uvs[set].push(uvBases[set] + tuple[i * width + offset]));
      };
      const face = (tuple: number[], corners: number[]) => {
        if (corners.some((i) => !(at(tuple, i) >= 0 && at(tuple, i) < count))) this.skipped++;
        else for (const i of corners) corner(tuple, i);
      };
      const polygon = (tuple: number[], first: number, size: number) => {
        const pointOf = (i: number) => {
          const v = (base + at(tuple, first + i)) * 3;
          return [positions[v], positions[v + 1], positions[v + 2]] as const;
        };
        if (size < 3) this.skipped++;
        else
          for (let i = 0, list = triangulate(pointOf, size); i < list.length; i += 3)
            face(tuple, [first + list[i], first + list[i + 1], first + list[i + 2]]);
      };
      const pieces = [
        ...childrenNamed(primitive, 'p'),
        ...childrenNamed(primitive, 'ph').flatMap((ph) => childrenNamed(ph, 'p')),
      ];
      if (childrenNamed(primitive, 'ph').length > 0)
        this.builder.notRead.add('Holes in polygons: the polygons are filled.');
      for (const p of pieces) {
        const tuple = decimalsOf(p.text);
        const corners = Math.floor(tuple.length / width);
        if (primitive.name === 'triangles') for (let i = 0; i + 2 < corners; i += 3) face(tuple, [i, i + 1, i + 2]);
        else if (primitive.name === 'tristrips')
          for (let i = 0; i + 2 < corners; i++) face(tuple, i % 2 ? [i + 1, i, i + 2] : [i, i + 1, i + 2]);
        else if (primitive.name === 'trifans') for (let i = 1; i + 1 < corners; i++) face(tuple, [0, i, i + 1]);
        else if (primitive.name === 'polygons') polygon(tuple, 0, corners);
        else {
          let first = 0;
          for (const size of decimalsOf(child(primitive, 'vcount')?.text)) {
            if (!(size >= 0) || first + size > corners) {
              this.skipped++;
              break;
            }
            polygon(tuple, first, size);
            first += size;
          }
        }
      }
      runs.push(run);
    }
    if (runs.length === 0 && lines.length === 0) return undefined;
    const made = meshOfCorners(
      {
        positions,
        ...(allNormals && normals.length ? { normals } : {}),
        // The origin of the picture is lower left here, upper left in the scene.
        ...(uvs.length ? { uvs: uvs.map((list) => list.map((value, i) => (i % 2 ? 1 - value : value))) } : {}),
        ...(colours.length ? { colours } : {}),
      },
      runs,
    );
    const id = this.builder.mesh({ ...made, ...(lines.length ? { lines: Float64Array.from(lines) } : {}) });
    return { id, symbols };
  }

  #inputs(primitive: XmlElement): Input[] {
    const out: Input[] = [];
    for (const { attributes } of childrenNamed(primitive, 'input')) {
      const offset = Number(attributes.offset ?? 0);
      const set = Number(attributes.set ?? 0);
      if (!(offset >= 0 && offset < 64)) continue;
      const target = this.refer(attributes.source);
      if (!target) continue;
      if (attributes.semantic === 'VERTEX') {
        for (const inner of childrenNamed(target, 'input')) {
          const source = this.#source(this.refer(inner.attributes.source));
          if (source)
            out.push({ semantic: inner.attributes.semantic, offset, set: Number(inner.attributes.set ?? 0), source });
        }
      } else {
        const source = this.#source(target);
        if (source) out.push({ semantic: attributes.semantic, offset, set, source });
      }
    }
    return out;
  }

  #source(element: XmlElement | undefined): Source | undefined {
    if (!element) return undefined;
    let source = this.#sources.get(element);
    if (!source) {
      const values = decimalsOf(child(element, 'float_array')?.text);
      const stride = Number(child(element, 'technique_common', 'accessor')?.attributes.stride ?? 1);
      source = { values, stride: stride > 0 && Number.isInteger(stride) ? stride : 1 };
      this.#sources.set(element, source);
    }
    return source;
  }
}
