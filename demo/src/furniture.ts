/**
 * Bench and lamp for the platform: meshes with a material file and pictures, as they come from a modeller. Drawn in centimetres, y up,
 * which the format cannot say. Invented.
 */
import { zipSync } from 'fflate';
import { pngOf } from '@noble-prism/core/finish/made/png';

/** The zip with everything in it; the same bytes each time. */
export function furniture(): Uint8Array {
  const encode = (text: string) => new TextEncoder().encode(text);
  const files = {
    'furniture/platform.obj': encode(obj()),
    'furniture/platform.mtl': encode(MTL),
    'furniture/pictures/larch.png': png(128, grain),
    'furniture/pictures/enamel.png': png(64, enamel),

    // These belong to a set, and no file says so: a step of the preparation does. Green of the normals is turned round, and gloss is
    // roughness turned round: as the pictures of many makers are.
    'furniture/pictures/larch_normal.png': png(128, grooved),
    'furniture/pictures/larch_gloss.png': png(128, worn),
  };
  return zipSync(files, { level: 9, mtime: new Date('2026-03-02T08:00:00') });
}

/** One finish in five copies, as a model has them that was put together out of several: nearly alike, each called something else. */
const IRONS = ['iron', 'iron.001', 'Iron_2', 'black iron', 'iron copy'];

const MTL = `# Materials of the platform furniture
newmtl larch
Kd 1 1 1
Ns 20
map_Kd pictures/larch.png
newmtl enamel
Kd 1 1 1
Pr 0.35
map_Kd pictures/enamel.png
${IRONS.map((name, i) => `newmtl ${name}\nKd 0.16 0.17 ${0.18 + i * 0.0005}\nPm 0.9\nPr 0.55`).join('\n')}
newmtl glow
Kd 1 0.93 0.78
Ke 1 0.86 0.55
`;

/** Size of a box and the middle of its base, centimetres. */
interface Block {
  size: [number, number, number];
  at: [number, number, number];
}

class ObjText {
  readonly #lines = ['# Platform furniture, Tarn Gondola lower station (invented)', 'mtllib platform.mtl'];
  #vertices = 0;

  object(name: string, material: string): void {
    this.#lines.push(`o ${name}`, `usemtl ${material}`);
  }

  /** A box with pictures laid at a metre to the tile. */
  box({ size: [x, y, z], at: [ax, ay, az] }: Block): void {
    const corner = (i: number): [number, number, number] => [
      ax + (i & 1 ? x : -x) / 2,
      ay + (i & 2 ? y : 0),
      az + (i & 4 ? z : -z) / 2,
    ];
    const faces: [number, number, number, number][] = [
      [0, 2, 3, 1],
      [4, 5, 7, 6],
      [0, 4, 6, 2],
      [1, 3, 7, 5],
      [2, 6, 7, 3],
      [0, 1, 5, 4],
    ];
    for (const face of faces) {
      const points = face.map(corner);
      const flat = [0, 1, 2].filter((axis) => points.some((point) => point[axis] !== points[0][axis]));
      for (const point of points) {
        this.#lines.push(
          `v ${point.map(short).join(' ')}`,
          `vt ${flat.map((axis) => short(point[axis] / 100)).join(' ')}`,
        );
      }
      this.#lines.push(`f ${[1, 2, 3, 4].map((i) => `${this.#vertices + i}/${this.#vertices + i}`).join(' ')}`);
      this.#vertices += 4;
    }
  }

  /** A turned body about the vertical: radius and height of each ring, centimetres. */
  turned(profile: [radius: number, height: number][], [ax, ay, az]: [number, number, number], sides = 24): void {
    const first = this.#vertices;
    for (const [ring, [radius, height]] of profile.entries()) {
      for (let i = 0; i <= sides; i++) {
        const angle = (2 * Math.PI * i) / sides;
        this.#lines.push(
          `v ${short(ax + radius * Math.cos(angle))} ${short(ay + height)} ${short(az - radius * Math.sin(angle))}`,
        );
        this.#lines.push(`vt ${short(i / sides)} ${short(ring / (profile.length - 1))}`);
      }
    }
    this.#lines.push('s 1');
    const vertex = (ring: number, i: number) => {
      const number = first + ring * (sides + 1) + i + 1;
      return `${number}/${number}`;
    };
    // Faces look outwards whichever way round the profile goes.
    const around = profile.reduce((sum, [r, h], i) => {
      const [nextR, nextH] = profile[(i + 1) % profile.length];
      return sum + r * nextH - nextR * h;
    }, 0);
    for (let ring = 0; ring + 1 < profile.length; ring++)
      for (let i = 0; i < sides; i++) {
        const face = [vertex(ring, i), vertex(ring, i + 1), vertex(ring + 1, i + 1), vertex(ring + 1, i)];
        this.#lines.push(`f ${(around < 0 ? face.reverse() : face).join(' ')}`);
      }
    this.#lines.push('s off');
    this.#vertices += profile.length * (sides + 1);
  }

  toString(): string {
    return `${this.#lines.join('\n')}\n`;
  }
}

const short = (value: number) => String(Number(value.toFixed(3)));

/** The platform is 4.2 m below the machine level. */
const PLATFORM = -420;

function obj(): string {
  const text = new ObjText();
  for (const [i, x] of [150, 420].entries()) {
    const z = -395;
    text.object(`Bench ${i + 1} slats`, 'larch');
    for (const d of [-18, -6, 6, 18]) text.box({ size: [180, 4, 10], at: [x, PLATFORM + 43, z + d] });
    for (const h of [58, 72]) text.box({ size: [180, 11, 3], at: [x, PLATFORM + h, z - 26] });
    text.object(`Bench ${i + 1} frame`, IRONS[i]);
    for (const d of [-70, 70]) {
      text.box({ size: [5, 43, 46], at: [x + d, PLATFORM, z] });
      text.box({ size: [5, 42, 4], at: [x + d, PLATFORM + 43, z - 23] });
    }
  }
  for (const [i, x] of [20, 285, 560].entries()) {
    const z = -405;
    text.object(`Lamp ${i + 1} post`, IRONS[2 + i]);
    text.turned(
      [
        [0, 0],
        [14, 0],
        [14, 4],
        [5, 12],
        [4, 220],
        [2.5, 260],
        [0, 260],
      ],
      [x, PLATFORM, z],
    );
    text.object(`Lamp ${i + 1} shade`, 'enamel');
    text.turned(
      [
        [3, 282],
        [8, 278],
        [26, 258],
        [27, 256],
        [25, 256],
        [7, 275],
        [3, 279],
      ],
      [x, PLATFORM, z],
    );
    text.object(`Lamp ${i + 1} bulb`, 'glow');
    text.turned(
      [
        [0, 252],
        [6, 256],
        [8, 262],
        [6, 268],
        [0, 271],
      ],
      [x, PLATFORM, z],
      16,
    );
  }
  return text.toString();
}

type Pixel = (x: number, y: number) => [number, number, number];

/** Rings of a board: waves along it, a seam between boards. */
function grain(x: number, y: number): [number, number, number] {
  const board = Math.floor(y / 32);
  const wave = Math.sin((y + 6 * Math.sin((x + board * 41) / 19)) * 0.9) + Math.sin(x / 37 + board) * 0.6;
  const seam = y % 32 === 0 ? 0.55 : 1;
  const light = (0.78 + 0.08 * wave) * seam;
  return [Math.round(205 * light), Math.round(158 * light), Math.round(104 * light)];
}

/** Boards that were sat on are smoother in the middle. */
function worn(_: number, y: number): [number, number, number] {
  const edge = Math.abs((y % 32) - 16) / 16;
  const value = Math.round(135 - 90 * edge);
  return [value, value, value];
}

/** Boards with round edges, and a cross groove, as normals whose green points down. */
function grooved(x: number, y: number): [number, number, number] {
  const slope = (at: number, pitch: number) => {
    const from = (at % pitch) - pitch / 2 + 0.5;
    return Math.abs(from) > pitch / 2 - 3 ? Math.sign(from) * 0.6 : 0;
  };
  const [dx, down] = [slope(x, 64), slope(y, 32)];
  const length = Math.hypot(dx, down, 1);
  return [dx, down, 1].map((value) => Math.round(127.5 + (127.5 * value) / length)) as [number, number, number];
}

/** Green outside, white inside of the shade. */
const enamel: Pixel = (_, y) => (y < 36 ? [236, 234, 224] : [34, 84, 66]);

/** A picture of so many pixels each way. */
function png(size: number, pixel: Pixel): Uint8Array {
  const data = new Uint8Array(size * size * 3);
  for (let y = 0; y < size; y++) for (let x = 0; x < size; x++) data.set(pixel(x, y), (y * size + x) * 3);
  return pngOf({ width: size, height: size, data });
}
