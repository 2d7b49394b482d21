/** Compares what stands in files with what is to stand there, row by row; what the format has no place for is passed over. */
import { transformPoint } from '../scene/matrix.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import { formatLength } from '../units.ts';
import type { Aspect, Carries } from '../write/aspects.ts';
import { IN_COORDINATES, isPlacing, placedUvs } from '../write/placedUvs.ts';
import type { Tolerance, Writer } from '../write/writer.ts';
import { compareGeometry, cornersApart } from './compareGeometry.ts';
import type { GeometryDifference } from './compareGeometry.ts';
import { compareMaterial, comparePicture, pictureAspect } from './compareMaterials.ts';
import type { ExactBody } from './exact.ts';
import type { ExpectedMaterial, ExpectedPicture, ExpectedRow } from './expected.ts';
import type { FoundGeometry, FoundMaterial, FoundPicture, FoundRow, PictureSlot } from './found.ts';
import { sameMovements } from './movements.ts';
import type { ReadBack, ReadBackCheck } from './result.ts';
import { boxOf, distinct, largestOf, opticsOf, pathsOf, reachOf, sizeOf, triangles } from './rowMeasures.ts';

/** Places may differ by this share of their distance from the origin and of their size: float32 has 24 bits. */
const FLOAT_SHARE = 1e-6;
/** Normals, texture coordinates and colours are stored in single precision. */
const VALUE = 2e-6;
/** A step of a colour at its brightest, in linear light: sRGB is 2.4 times as steep there. */
const COLOUR_STEP = 1.3;
/** Differences that are named one by one. */
const NAMED = 20;

/** How many rows or parts a comparison concerns, and for how many it holds. */
interface Tally {
  of: number;
  holds: number;
}

/** What of a writer a read-back has to know. */
export type ReadBackWay = Pick<
  Writer,
  | 'carries'
  | 'structure'
  | 'places'
  | 'precision'
  | 'levels'
  | 'paintsPoints'
  | 'weldsPoints'
  | 'leastArea'
  | 'joinsSlots'
> & {
  /** Of numbers that were packed. */
  tolerance?: Tolerance;
};

/** Readers keep what lies no farther from the origin than so many times its size in single precision, where it stands. */
const NEAR = 100;

export class Comparison {
  readonly #differences: string[] = [];
  readonly #tallies = new Map<string, Tally>();
  /** Results by geometry that was sent and geometry that was found: instances are compared once. */
  readonly #geometries = new Map<FoundGeometry, Map<FoundGeometry | undefined, GeometryDifference>>();
  /** The same of materials, of faces and of what is thin. */
  readonly #materials = {
    solid: new Map<unknown, Map<unknown, string[]>>(),
    thin: new Map<unknown, Map<unknown, string[]>>(),
  };
  readonly #pictures = new Map<ExpectedPicture, Set<Uint8Array | string>>();
  readonly #bare = new Map<ExpectedMaterial, ExpectedMaterial>();
  #farthest = 0;
  #placed: ReadonlySet<unknown> | undefined;

  constructor(
    readonly sent: ExpectedRow[],
    readonly found: FoundRow[],
    readonly blobs: BlobStore,
    readonly codec: PictureCodec | undefined,
    readonly way: ReadBackWay,
  ) {}

  /** Points of geometry whose coordinates have in the file how a picture lies on them: as coordinates alone they are others. */
  get #placedOn(): ReadonlySet<unknown> {
    return (this.#placed ??= new Set(
      this.way.carries.picturePlaces === IN_COORDINATES
        ? this.sent.flatMap(({ bodies }) => bodies.flatMap(({ geometry, material }) => (Object.values(material?.pictures ?? {}).some(({ use }) => isPlacing(use)) ? [geometry.points] : [])))
        : [],
    )); // prettier-ignore
  }

  /** True where it is there as it is; what is there in another way is passed over. */
  #has(aspect: Aspect): boolean {
    return this.way.carries[aspect] === true;
  }

  async run(): Promise<ReadBack> {
    const { sent, found } = this;
    const [sentPaths, foundPaths] = [pathsOf(sent), pathsOf(found)];
    const byPath = new Map(found.map((row, i) => [foundPaths[i], row]));
    for (const [i, row] of sent.entries()) {
      const path = sentPaths[i];
      const other = byPath.get(path);
      this.#tally('Names in the same place', other !== undefined, `${path} is missing in the file`);
      if (other) await this.#row(path, row, other);
      else if (row.bodies.length > 0) this.#tally('Sizes and places', false);
    }
    const parts = (rows: readonly (ExpectedRow | FoundRow)[]) =>
      rows.filter(({ bodies, exact }) => bodies.length > 0 || exact).length;
    const checks = [
      count('Parts with geometry', parts(sent), parts(found)),
      count('Rows of the tree', sent.length, found.length),
      this.#check('Names in the same place'),
      ...(this.#has('instances') ? [atMost('Distinct geometry', distinct(sent), distinct(found))] : []),
      ...(sent.some(({ exact }) => exact) ? [] : [count('Triangles drawn', triangles(sent), triangles(found))]),
      ...[...this.#tallies.keys()]
        .filter((what) => what !== 'Names in the same place')
        .map((what) => this.#check(what)),
    ];
    return { holds: checks.every((check) => check.holds), checks, differences: this.#differences };
  }

  async #row(path: string, sent: ExpectedRow, found: FoundRow): Promise<void> {
    const [before, after] = [opticsOf(sent), opticsOf(found)];
    if ((before || after) && (before.startsWith('camera') ? this.#has('cameras') : this.#has('lights')))
      this.#tally(
        'Cameras and lights',
        before === after,
        `${path}: ${before || 'nothing'} became ${after || 'nothing'}`,
      );
    if (sent.movements.length + found.movements.length > 0 && this.#has('movements'))
      this.#tally(
        'Movements, node by node',
        sameMovements(sent.movements, found.movements),
        `${path}: it moves in another way`,
      );
    if (sent.exact ?? found.exact) this.#exact(path, sent.exact, found.exact);
    if (sent.bodies.length + found.bodies.length === 0) return;
    this.#place(path, sent, found);
    const differences = sent.bodies.map(({ geometry }, i) => this.#geometry(geometry, found.bodies[i]?.geometry));
    const shape = differences.find((difference) => difference.shape)?.shape;
    const more =
      found.bodies.length > sent.bodies.length ? `${found.bodies.length - sent.bodies.length} bodies too many` : '';
    this.#tally('Triangles, part by part', !shape && !more, `${path}: ${shape ?? more}`);
    const reach = this.#reachOf(sent);
    const { tolerance } = this.way;
    const most = (key: 'positions' | 'normals' | 'uvs' | 'colours') => Math.max(...differences.map((d) => d[key]));
    this.#farthest = Math.max(this.#farthest, most('positions'));
    this.#tally(
      'Positions, corner by corner',
      !shape && most('positions') <= reach * Math.max(FLOAT_SHARE, tolerance?.positions ?? 0),
      shape ? undefined : `${path}: corners lie up to ${formatLength(most('positions'), 'mm')} elsewhere`,
    );
    const missing = differences.flatMap((difference) => difference.missing);
    const lost = (what: string) => missing.find((text) => text.includes(what));
    if (this.#has('normals') && sent.bodies.some(({ geometry }) => geometry.normals))
      this.#tally(
        'Normals, corner by corner',
        most('normals') <= Math.max(VALUE, tolerance?.normals ?? 0) && !lost('normals'),
        `${path}: ${lost('normals') ?? 'normals differ'}`,
      );
    const hasMore =
      missing.length > 0 || sent.bodies.some(({ geometry: { uvs, colours } }) => uvs.length > 0 || colours);
    if (hasMore && (this.#has('uvs') || this.#has('colours'))) {
      const largest = Math.max(1, ...sent.bodies.flatMap(({ geometry }) => geometry.uvs.map(largestOf)));
      const lostMore = missing.find((text) => !text.includes('normals'));
      const step = this.way.levels === undefined ? VALUE : COLOUR_STEP / this.way.levels;
      const holds =
        most('uvs') <= Math.max(largest * VALUE, tolerance?.uvs ?? 0) &&
        most('colours') <= Math.max(step, tolerance?.colours ?? 0) &&
        lostMore === undefined;
      this.#tally('UVs and colours', holds, `${path}: ${lostMore ?? 'texture coordinates or colours differ'}`);
    }
    if (!this.way.carries.materials || this.way.structure === 'body') return;
    const words: string[] = [];
    const shown = sent.bodies.map((body) => this.#shown(body));
    for (const [i, { geometry, material }] of shown.entries())
      if (geometry.mode === 'triangles' || this.#has('lines'))
        words.push(...this.#material(material, found.bodies[i]?.material, geometry.mode !== 'triangles'));
    if (this.#has('variants') && sent.bodies.some(({ variants }) => variants))
      for (const [i, { variants = {} }] of sent.bodies.entries()) {
        const other = found.bodies[i]?.variants ?? {};
        const names = [...new Set([...Object.keys(variants), ...Object.keys(other)])];
        const wrong = names.find((name) => variants[name] !== other[name]);
        this.#tally('Variants, part by part', wrong === undefined, `${path}: in the variant ${wrong} ${variants[wrong ?? ''] ?? 'nothing'} became ${other[wrong ?? ''] ?? 'nothing'}`); // prettier-ignore
      }
    this.#tally('Materials, part by part', words.length === 0, `${path}: ${words[0]}`);
    for (const [i, body] of sent.bodies.entries()) this.#lies(path, body, found.bodies[i]);
    for (const [i, { material }] of shown.entries())
      for (const [slot, picture] of Object.entries(material?.pictures ?? {}) as [PictureSlot, ExpectedPicture][]) {
        const isShown = (slot === 'baseColor' || !material?.unlit) && this.#has(pictureAspect(slot));
        if (isShown) await this.#picture(path, picture, found.bodies[i]?.material?.pictures[slot]);
      }
  }

  /** The text of a solid is cut out of the file again: it is the same to the byte, or it is another solid. */
  #exact(path: string, sent: ExactBody | undefined, found: ExactBody | undefined): void {
    this.#tally(
      'Exact solids, by their text',
      sent !== undefined && sent.text === found?.text,
      `${path}: ${found ? 'another solid' : 'the solid'} is ${found ? 'there' : 'missing'}`,
    );
    if (!sent || !found) return;
    const reach = Math.max(1, ...sent.world.map(Math.abs));
    const stands = sent.world.every((value, i) => Math.abs(value - found.world[i]) <= reach * FLOAT_SHARE);
    this.#tally('Sizes and places', stands, `${path}: it stands elsewhere`);
    this.#tally('Colours of faces', sent.colours === found.colours, `${path}: ${sent.colours} became ${found.colours}`);
    this.#tally('Layers', sent.layer === found.layer, `${path}: layer ${sent.layer || 'none'} became ${found.layer || 'none'}`); // prettier-ignore
  }

  /** Corners of the box of the part, seen from both places. */
  #place(path: string, sent: ExpectedRow, found: FoundRow): void {
    // To the digit, as nearly all are.
    if (sent.world.every((value, i) => value === found.world[i])) return this.#tally('Sizes and places', true);
    const box = boxOf(sent);
    const tolerance = this.#reachOf(sent) * Math.max(FLOAT_SHARE, this.way.tolerance?.positions ?? 0);
    let holds = true;
    for (let corner = 0; corner < 8 && holds; corner++) {
      const point = [0, 1, 2].map((axis) => box[corner & (1 << axis) ? 'max' : 'min'][axis]) as [
        number,
        number,
        number,
      ];
      const [a, b] = [transformPoint(sent.world, point), transformPoint(found.world, point)];
      holds = a.every((value, axis) => Math.abs(value - b[axis]) <= tolerance + Math.abs(value) * FLOAT_SHARE);
    }
    this.#tally('Sizes and places', holds, `${path}: size or place differs`);
  }

  /** What differences are measured by: how far from the origin it lies in single precision, otherwise how large it is. */
  #reachOf(row: ExpectedRow): number {
    return this.way.precision === 'single' ? reachOf(row) : Math.max(0.001, Math.min(reachOf(row), sizeOf(row) * NEAR));
  }

  #geometry(sent: FoundGeometry, found: FoundGeometry | undefined): GeometryDifference {
    let known = this.#geometries.get(sent);
    if (!known) this.#geometries.set(sent, (known = new Map()));
    let difference = known.get(found);
    if (!difference)
      known.set(found, (difference = compareGeometry(sent, found, this.#carriesOf(sent), this.way.tolerance !== undefined))); // prettier-ignore
    return difference;
  }

  #carriesOf({ points }: FoundGeometry): Carries {
    const { carries } = this.way;
    return this.#placedOn.has(points) ? { ...carries, uvs: false } : carries;
  }

  /** A body with the pictures that can lie on it, where the format has coordinates for what has a picture alone. */
  #shown(body: ExpectedRow['bodies'][number]): ExpectedRow['bodies'][number] {
    const { geometry, material } = body;
    if (!material || typeof this.way.carries.uvs !== 'string') return body;
    const all = Object.entries(material.pictures);
    const lying = all.filter(([, { use }]) => geometry.uvs[use.uv] !== undefined);
    if (lying.length === all.length) return body;
    let bare = this.#bare.get(material);
    if (!bare) this.#bare.set(material, (bare = { ...material, pictures: Object.fromEntries(lying) }));
    return { ...body, material: bare };
  }

  /** Where a picture lies, corner by corner, whichever way the coordinates and the use of it say so. */
  #lies(path: string, sent: ExpectedRow['bodies'][number], found: FoundRow['bodies'][number] | undefined): void {
    if (this.way.carries.picturePlaces !== IN_COORDINATES) return;
    for (const [slot, { use, name }] of Object.entries(sent.material?.pictures ?? {})) {
      const there = found?.material?.pictures[slot as PictureSlot];
      const [before, after] = [sent.geometry.uvs[use.uv], there && found.geometry.uvs[there.uv]];
      if (!there || !before) continue;
      const placed = placedUvs(before, use);
      const off = after ? cornersApart(sent.geometry, found.geometry, placed, placedUvs(after, there), 2) : Infinity;
      this.#tally('Pictures where they lie', off <= Math.max(1, largestOf(placed)) * VALUE, `${path}: the picture ${name} lies elsewhere`); // prettier-ignore
    }
  }

  #material(sent: ExpectedMaterial | undefined, found: FoundMaterial | undefined, thin: boolean): readonly string[] {
    const known = this.#materials[thin ? 'thin' : 'solid'];
    let of = known.get(sent);
    if (!of) known.set(sent, (of = new Map<FoundMaterial | undefined, string[]>()));
    let words = of.get(found);
    if (!words) of.set(found, (words = compareMaterial(sent, found, this.way, thin)));
    return words;
  }

  async #picture(path: string, sent: ExpectedPicture, found: FoundPicture | undefined): Promise<void> {
    let known = this.#pictures.get(sent);
    if (!known) this.#pictures.set(sent, (known = new Set()));
    // Each use of a picture is compared once, however many parts show it.
    const key = found?.bytes ?? 'none';
    if (known.has(key)) return;
    const difference = found
      ? await comparePicture(sent, found, this.blobs, this.codec)
      : `the picture ${sent.name} is not in the file`;
    known.add(key);
    this.#tally('Pictures', difference === undefined, `${path}: ${difference}`);
  }

  #tally(what: string, holds: boolean, difference?: string): void {
    const tally = this.#tallies.get(what) ?? { of: 0, holds: 0 };
    this.#tallies.set(what, tally);
    tally.of++;
    if (holds) tally.holds++;
    else if (difference && this.#differences.length < NAMED) this.#differences.push(difference);
  }

  #check(what: string): ReadBackCheck {
    const { of, holds } = this.#tallies.get(what) ?? { of: 0, holds: 0 };
    const check = count(what, of, holds);
    if (what === 'Names in the same place') check.holds &&= this.sent.length === this.found.length;
    if (what.startsWith('Positions') && this.#farthest > 0 && check.holds)
      check.note = `largest difference ${formatLength(this.#farthest, 'mm')}`;
    return check;
  }
}

/** Fewer are no loss: what is alike in everything that the format carries is one there. */
function atMost(what: string, a: number, b: number): ReadBackCheck {
  return { ...count(what, a, b), holds: b <= a };
}

function count(what: string, a: number, b: number): ReadBackCheck {
  return { what, sent: String(a), found: String(b), holds: a === b };
}
