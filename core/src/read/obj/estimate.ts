/**
 * How many vertices and corners a large OBJ is likely to hold, from samples of its lines: lists that are as long as they will be from
 * the start need not be copied while they grow, which takes twice the memory.
 */
const NEWLINE = 10;
const [F, N, T, V] = [102, 110, 116, 118];

export interface ObjEstimate {
  vertices: number;
  uvs: number;
  normals: number;
  /** Three for each triangle. */
  corners: number;
}

const WINDOWS = 16;
const WINDOW = 64_000;
/** Smaller files are read before it would pay. */
const LARGE = 16_000_000;
/** The samples may miss a little. */
const SPARE = 1.08;

export function estimateObj(bytes: Uint8Array): ObjEstimate {
  const out: ObjEstimate = { vertices: 0, uvs: 0, normals: 0, corners: 0 };
  if (bytes.length < LARGE) return out;
  for (let window = 0; window < WINDOWS; window++) {
    const start = Math.floor((bytes.length * window) / WINDOWS);
    count(bytes, start, start + WINDOW, out);
  }
  const factor = (bytes.length / (WINDOWS * WINDOW)) * SPARE;
  for (const key of Object.keys(out) as (keyof ObjEstimate)[]) out[key] = Math.ceil(out[key] * factor);
  return out;
}

function count(bytes: Uint8Array, start: number, end: number, out: ObjEstimate): void {
  for (let at = bytes.indexOf(NEWLINE, start) + 1; at > 0 && at < end; at = bytes.indexOf(NEWLINE, at) + 1) {
    const [first, second] = [bytes[at], bytes[at + 1]];
    if (first === F) out.corners += 3 * Math.max(1, wordsFrom(bytes, at + 1) - 2);
    else if (first !== V) continue;
    else if (second === T) out.uvs++;
    else if (second === N) out.normals++;
    else out.vertices++;
  }
}

function wordsFrom(bytes: Uint8Array, from: number): number {
  let words = 0;
  for (let at = from; at < bytes.length && bytes[at] !== NEWLINE; at++)
    if (bytes[at] > 32 && bytes[at - 1] <= 32) words++;
  return words;
}
