/**
 * How surfaces with pictures look, point by point: colour, height and roughness. Patterns have their sizes of the trade: bricks of 240 mm
 * by 71 mm with joints of a centimetre (octametric bond, DIN 4172), tiles of 150 mm, slabs of 400 mm; the rest is by eye.
 */
import { linearFromHex } from '../colour.ts';
import { bond, cell, clouds, noise, ramp, scattered } from './noise.ts';

/** What is at a point of a surface. */
export interface Texel {
  /** Linear red, green and blue. */
  colour: [number, number, number];
  /** Metres. */
  height: number;
  roughness: number;
}

/** Fills a texel. @param u and v in tiles. @param size length of the tile, metres */
export type Recipe = (u: number, v: number, out: Texel, size: number) => void;

type Rgb = readonly [number, number, number];
const rgb = (hex: string): Rgb => linearFromHex(hex);

function mix(out: Texel, a: Rgb, b: Rgb, t: number): void {
  for (let i = 0; i < 3; i++) out.colour[i] = a[i] + (b[i] - a[i]) * t;
}
function shade(out: Texel, factor: number): void {
  for (let i = 0; i < 3; i++) out.colour[i] = Math.min(1, out.colour[i] * factor);
}

/** Boards with grain along u. @param boards across a tile */
function wood(
  light: string,
  dark: string,
  { boards = 6, rings = 9, gap = 0.001, groove = 0, rough = 0.55 } = {},
): Recipe {
  const [a, b] = [rgb(light), rgb(dark)];
  return (u, v, out, size) => {
    const board = Math.floor(v * boards);
    const own = scattered(board, 5, 31);
    const across = v * boards - board;
    // Rings are cut at a slant: long bows along the board, another place of the trunk in each.
    const bend = clouds(u + own, v, 2, boards * 2, 3, 11 + board) * 1.6;
    const ring = 0.5 + 0.5 * Math.sin((across * rings * (0.6 + own * 0.8) + bend * 3 + own * 9) * 2);
    const fibre = noise(u, v, 24, 420, 5);
    const pore = noise(u, v, 60, 700, 9);
    mix(out, a, b, 0.14 + 0.5 * ring * ring + 0.2 * (fibre - 0.5) + (own - 0.5) * 0.3);
    const edge = (Math.min(across, 1 - across) / boards) * size;
    const open = gap > 0 ? 1 - ramp(gap * 0.4, gap * 1.6, edge) : 0;
    const grooves = groove > 0 ? (0.5 + 0.5 * Math.cos(across * Math.PI * 2 * 9)) * groove : 0;
    shade(out, 1 - 0.75 * open);
    out.height = -0.0016 * open - 0.00008 * ring - 0.00005 * ramp(0.75, 0.95, pore) - grooves;
    out.roughness = rough + 0.1 * (fibre - 0.5) + 0.12 * ring * 0.5 + 0.2 * open;
  };
}

function bricks(
  tones: readonly string[],
  joint: string,
  across: number,
  along: number,
  { offset = 0.5, width = 0.01, relief = 0.004, rough = 0.88, wear = 0.25 } = {},
): Recipe {
  const colours = tones.map(rgb);
  const mortar = rgb(joint);
  return (u, v, out, size) => {
    // Edges are not straight to the millimetre.
    const off = (clouds(u, v, 40, 40, 2, 3) - 0.5) * 0.0022;
    const { edge, id } = bond(u, v, across, along, offset, size);
    const inside = ramp(width / 2 - 0.0012, width / 2 + 0.0012, edge + off);
    const grain = clouds(u, v, 64, 64, 4, 8);
    const tone = id * (colours.length - 1);
    const [low, high] = [colours[Math.floor(tone)], colours[Math.min(colours.length - 1, Math.floor(tone) + 1)]];
    mix(out, low, high, tone - Math.floor(tone));
    shade(out, 1 + wear * (grain - 0.5) * 2);
    const sand = noise(u, v, 380, 380, 4);
    for (let i = 0; i < 3; i++)
      out.colour[i] = mortar[i] * (0.85 + 0.3 * sand) + (out.colour[i] - mortar[i] * (0.85 + 0.3 * sand)) * inside;
    out.height = inside * (relief + 0.0012 * (grain - 0.5) + (id - 0.5) * 0.0008) + (1 - inside) * 0.0006 * sand;
    out.roughness = Math.min(1, (rough + 0.1 * (grain - 0.5)) * inside + 0.96 * (1 - inside));
  };
}

function cast(light: string, dark: string, pores: number, rough = 0.88): Recipe {
  const [a, b] = [rgb(light), rgb(dark)];
  return (u, v, out) => {
    const stain = clouds(u, v, 3, 3, 5, 21);
    const sand = noise(u, v, 300, 300, 6);
    const hole = cell(u, v, 34, 34, 15);
    const pore = hole.id < pores ? 1 - ramp(0.06, 0.14 + hole.id * 0.2, hole.near) : 0;
    mix(out, a, b, 0.25 + 0.55 * ramp(0.3, 0.75, stain) + 0.12 * (sand - 0.5));
    shade(out, 1 - 0.5 * pore);
    out.height = -0.0025 * pore + 0.00012 * sand + 0.0006 * stain;
    out.roughness = Math.min(1, rough + 0.08 * (stain - 0.5) + 0.05 * pore);
  };
}

/** Grains of several colours, as polished stone has them. */
function grains(tones: readonly string[], across: number, rough: number, relief = 0): Recipe {
  const colours = tones.map(rgb);
  return (u, v, out) => {
    const { id, near, next } = cell(u, v, across, across, 4);
    const fine = noise(u, v, across * 7, across * 7, 12);
    const tone = colours[Math.min(colours.length - 1, Math.floor(id * colours.length))];
    mix(out, tone, tone, 0);
    shade(out, 0.86 + 0.28 * fine);
    out.height = relief * (ramp(0, 0.25, next - near) + 0.3 * fine);
    out.roughness = Math.min(1, rough + 0.12 * (fine - 0.5));
  };
}

/** Loose stones or lumps, each rounded and of its own tone. */
function lumps(tones: readonly string[], across: number, height: number, rough = 0.95): Recipe {
  const colours = tones.map(rgb);
  return (u, v, out) => {
    const bent = (clouds(u, v, across, across, 2, 3) - 0.5) * (0.7 / across);
    const { id, near, next } = cell(u + bent, v - bent, across, across, 9);
    const fine = clouds(u, v, across * 4, across * 4, 2, 5);
    const round = ramp(0, 0.42, next - near);
    const tone = id * (colours.length - 1);
    mix(out, colours[Math.floor(tone)], colours[Math.min(colours.length - 1, Math.floor(tone) + 1)], tone % 1);
    shade(out, (0.35 + 0.65 * round) * (0.8 + 0.4 * fine));
    out.height = height * (round * (0.5 + 0.5 * id) + 0.15 * fine);
    out.roughness = rough;
  };
}

function weave(light: string, dark: string, threads: number, height: number, fluff = 0.2): Recipe {
  const [a, b] = [rgb(light), rgb(dark)];
  return (u, v, out) => {
    const [x, y] = [u * threads, v * threads];
    const over = (Math.floor(x) + Math.floor(y)) % 2 === 0;
    const [s, t] = [x - Math.floor(x), y - Math.floor(y)];
    const bow = Math.sin(Math.PI * (over ? t : s)) * Math.sqrt(Math.sin(Math.PI * (over ? s : t)));
    const own = noise(u, v, over ? threads : 3, over ? 3 : threads, over ? 2 : 3);
    const fibre = noise(u, v, threads * 9, threads * 9, 7);
    mix(out, b, a, Math.min(1, Math.max(0, 0.25 + 0.6 * bow + 0.3 * (own - 0.5) + fluff * (fibre - 0.5))));
    out.height = height * (bow + fluff * fibre);
    out.roughness = 0.93 + 0.06 * fibre;
  };
}

function sheet(
  light: string,
  dark: string,
  paint: (u: number, v: number, size: number) => { tone: number; height: number; rough: number },
): Recipe {
  const [a, b] = [rgb(light), rgb(dark)];
  return (u, v, out, size) => {
    const { tone, height, rough } = paint(u, v, size);
    mix(out, a, b, Math.min(1, Math.max(0, tone)));
    out.height = height;
    out.roughness = Math.min(1, Math.max(0.02, rough));
  };
}

export const RECIPES = {
  brushed: sheet('#cbcac6', '#b4b3ae', (u, v) => {
    const line = 0.6 * noise(u, v, 6, 640, 2) + 0.4 * noise(u, v, 14, 900, 4);
    return { tone: line, height: 0.000012 * line, rough: 0.27 + 0.12 * line };
  }),
  spangle: sheet('#b9bdbe', '#989c9e', (u, v) => {
    const { id, near, next } = cell(u, v, 16, 16, 6);
    return { tone: id * 0.8 + 0.2 * clouds(u, v, 40, 40, 2, 3), height: 0.00002 * ramp(0, 0.1, next - near), rough: 0.38 + 0.18 * id };
  }),
  patina: sheet('#84b09a', '#4f6f5f', (u, v) => {
    const run = clouds(u, v, 10, 2, 5, 8);
    const spot = clouds(u, v, 24, 24, 3, 3);
    return { tone: 0.6 * run + 0.5 * (spot - 0.3), height: 0.0002 * spot, rough: 0.72 + 0.18 * spot };
  }),
  scale: sheet('#5a5e68', '#35373c', (u, v) => {
    const plate = clouds(u, v, 5, 5, 5, 4);
    const scratch = ramp(0.86, 0.95, noise(u, v, 8, 210, 5));
    return { tone: plate - 0.35 * scratch, height: 0.00005 * plate, rough: 0.42 + 0.25 * plate - 0.12 * scratch };
  }),
  rust: sheet('#9a5a34', '#4f2d20', (u, v) => {
    const run = clouds(u, v, 9, 3, 5, 14);
    const grain = clouds(u, v, 60, 60, 3, 6);
    return { tone: 0.65 * run + 0.5 * (grain - 0.25), height: 0.0004 * grain, rough: 0.8 + 0.15 * grain };
  }),
  grit: sheet('#232425', '#161717', (u, v) => {
    const grain = clouds(u, v, 70, 70, 2, 6);
    return { tone: 1 - grain, height: 0.00006 * grain, rough: 0.56 + 0.14 * grain };
  }),
  larch: wood('#cf9f6a', '#8f5f38', { boards: 8, rings: 5 }),
  oak: wood('#bd9463', '#8a6640', { boards: 8, rings: 7, rough: 0.46 }),
  walnut: wood('#6f4d3a', '#432c20', { boards: 8, rings: 6, rough: 0.42 }),
  spruce: wood('#dfc298', '#bd945f', { boards: 9, rings: 4, rough: 0.62 }),
  // One veneer over the whole sheet: nothing but its grain, which goes on over the edge.
  plywood: sheet('#dfc8a2', '#c9aa78', (u, v) => {
    const ring = 0.5 + 0.5 * Math.sin(Math.PI * 2 * (7 * v + 2.2 * clouds(u, v, 2, 4, 3, 11)));
    const fibre = noise(u, v, 24, 420, 5);
    return { tone: 0.15 + 0.5 * ring * ring + 0.25 * (fibre - 0.5), height: 0.00005 * ring, rough: 0.5 + 0.1 * fibre };
  }),
  decking: wood('#9d978d', '#6c675f', { boards: 8, rings: 5, gap: 0.005, groove: 0.0012, rough: 0.78 }),
  concrete: cast('#bdb8ae', '#a19c92', 0.35),
  darkConcrete: cast('#7b7976', '#5d5b58', 0.3, 0.86),
  boardMarked: (u, v, out, size) => {
    RECIPES.concrete(u, v, out, size);
    const boards = 12;
    const across = v * boards - Math.floor(v * boards);
    const own = scattered(Math.floor(v * boards), 3, 9);
    const fibre = noise(u, v, 10, 380, 7);
    const seam = 1 - ramp(0.0006, 0.003, (Math.min(across, 1 - across) / boards) * size);
    shade(out, (0.93 + 0.14 * own) * (0.95 + 0.1 * fibre) * (1 - 0.25 * seam));
    out.height += 0.0005 * fibre + 0.0012 * own + 0.0014 * seam;
  },
  terrazzo: (u, v, out) => {
    const { id, near, next } = cell(u, v, 26, 26, 8);
    const chip = ramp(0.05, 0.12, next - near) * (near < 0.34 + 0.2 * id ? 1 : 0);
    const tones: Rgb[] = [rgb('#8d8376'), rgb('#e7e2d8'), rgb('#6a6f70'), rgb('#b39a7c')];
    const cement = rgb('#c6c1b7');
    const fine = noise(u, v, 260, 260, 3);
    mix(out, cement, tones[Math.floor(id * 3.999)], chip);
    shade(out, 0.93 + 0.14 * fine);
    out.height = 0;
    out.roughness = 0.18 + 0.08 * (1 - chip) + 0.04 * fine;
  },
  redBrick: bricks(['#7d3b2b', '#96503b', '#a8614a', '#8a4434'], '#a9a196', 4, 12),
  yellowBrick: bricks(['#b18f59', '#c4a773', '#a78250', '#cdb283'], '#a9a294', 4, 12),
  clinker: bricks(['#3c302d', '#55423b', '#463833', '#2f2a2a'], '#6f6a64', 4, 12, { rough: 0.6, wear: 0.35 }),
  block: bricks(['#cbc6b9', '#d6d1c5'], '#c4bfb2', 3, 6, { width: 0.004, relief: 0.0012, rough: 0.92, wear: 0.1 }),
  tile: bricks(['#e6e7e4', '#ebebe8'], '#b7b5ae', 4, 4, { offset: 0, width: 0.003, relief: 0.0012, rough: 0.08, wear: 0.02 }),
  paving: bricks(['#9a958c', '#a8a39a', '#918c83'], '#5f5a52', 3, 3, { offset: 0, width: 0.005, relief: 0.005, rough: 0.9, wear: 0.22 }),
  granite: grains(['#a3a09b', '#8b8987', '#5a5958', '#b8b3ab', '#77706b'], 90, 0.45),
  sandstone: (u, v, out) => {
    const bed = clouds(u, v, 2, 14, 4, 6);
    const sand = noise(u, v, 420, 420, 5);
    mix(out, rgb('#cbb083'), rgb('#a5865a'), 0.2 + 0.6 * bed);
    shade(out, 0.86 + 0.28 * sand);
    out.height = 0.0006 * bed + 0.00025 * sand;
    out.roughness = 0.84 + 0.1 * sand;
  },
  marble: (u, v, out) => {
    const bend = clouds(u, v, 3, 3, 5, 2);
    const vein = 1 - Math.abs(2 * clouds(u + 0.35 * bend, v + 0.35 * bend, 3, 3, 4, 9) - 1);
    mix(out, rgb('#e9e7e2'), rgb('#9fa1a3'), 0.1 * bend + 0.7 * ramp(0.9, 1, vein));
    out.height = 0;
    out.roughness = 0.14 + 0.06 * bend;
  },
  slate: (u, v, out) => {
    const layer = clouds(u, v, 3, 7, 6, 5);
    const step = Math.floor(layer * 9) / 9 + 0.3 * ramp(0.75, 1, (layer * 9) % 1) / 9;
    mix(out, rgb('#565c61'), rgb('#3b4044'), 0.3 + 0.5 * noise(u, v, 30, 60, 4));
    out.height = 0.006 * step;
    out.roughness = 0.58 + 0.16 * noise(u, v, 120, 120, 6);
  },
  render: lumps(['#d8d2c6', '#cbc5b8', '#d2ccbf'], 110, 0.0022),
  studs: (u, v, out, size) => {
    const [x, y] = [u * 10, v * 10];
    const from = (Math.hypot(x - Math.floor(x) - 0.5, y - Math.floor(y) - 0.5) * size) / 10;
    const up = 1 - ramp(0.0085, 0.0105, from);
    const fine = noise(u, v, 300, 300, 4);
    mix(out, rgb('#27282a'), rgb('#303134'), up * 0.7 + 0.3 * fine);
    out.height = 0.0012 * up;
    out.roughness = 0.82 - 0.12 * up + 0.06 * fine;
  },
  felt: sheet('#8a8b8c', '#6b6c6d', (u, v) => {
    const fibre = 0.5 * clouds(u, v, 60, 200, 2, 3) + 0.5 * clouds(u, v, 200, 60, 2, 8);
    return { tone: (fibre - 0.5) * 2.2 + 0.5, height: 0.0004 * fibre, rough: 0.97 };
  }),
  canvas: weave('#c4b598', '#8f8168', 40, 0.0006),
  carpet: lumps(['#34363a', '#424449', '#3a3c40'], 130, 0.004, 1),
  leather: lumps(['#5f3e29', '#523522', '#5a3a26'], 70, 0.00025, 0.48),
  asphalt: lumps(['#2f3031', '#4a4a49', '#3a3b3b', '#5a5855'], 120, 0.003, 0.93),
  gravel: lumps(['#7c766b', '#a39b8e', '#918a80', '#b4aca0', '#6d675e'], 34, 0.016),
  grass: (u, v, out) => {
    const bent = clouds(u, v, 20, 20, 2, 6) - 0.5;
    const blade = noise(u + bent * 0.02, v, 170, 34, 5);
    const other = noise(u - bent * 0.02, v + 0.3, 150, 40, 11);
    const high = Math.max(blade, other);
    mix(out, rgb('#2c4019'), rgb('#6f8f45'), ramp(0.25, 0.95, high) * (0.7 + 0.5 * clouds(u, v, 6, 6, 3, 9)));
    out.height = 0.02 * high;
    out.roughness = 0.95;
  },
  sand: sheet('#cfb98f', '#ac9468', (u, v) => {
    const grain = noise(u, v, 460, 460, 4);
    const drift = clouds(u, v, 3, 6, 3, 8);
    return { tone: 0.35 * (grain - 0.5) + 0.2 + 0.5 * (1 - drift), height: 0.01 * drift + 0.0003 * grain, rough: 0.94 + 0.05 * grain };
  }),
  snow: sheet('#f3f6f8', '#dde5ec', (u, v) => {
    const drift = clouds(u, v, 3, 3, 5, 5);
    const grain = noise(u, v, 400, 400, 7);
    return { tone: 0.7 * (1 - drift), height: 0.03 * drift + 0.0004 * grain, rough: 0.62 + 0.16 * grain };
  }),
  ripples: sheet('#4a7f84', '#35636a', (u, v) => {
    const wave = 0.6 * clouds(u, v, 5, 7, 3, 6) + 0.4 * clouds(u, v, 13, 9, 2, 12);
    return { tone: 1 - wave, height: 0.04 * wave, rough: 0.04 + 0.03 * wave };
  }),
} satisfies Record<string, Recipe>; // prettier-ignore

export type RecipeName = keyof typeof RECIPES;
