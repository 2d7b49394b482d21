/**
 * Cuts a STEP file into one self-contained text per distinct solid: the closure of the entities that the solid refers to,
 * its representation context, and a fresh product around them. Entities are renumbered in the order in which they are
 * reached from the solid, so that the same solid gives the same text in every file and revision.
 */
import type { Part21 } from './part21.ts';
import type { Piece } from './pieces.ts';

export interface CutPiece {
  bytes: Uint8Array;
  /** Id of an entity that the solid needs and the file does not have. */
  missing?: number;
  /** Largest extent of the points, in the unit of the file. */
  extent: number;
}

const HEADER =
  "ISO-10303-21;HEADER;FILE_DESCRIPTION((''),'2;1');FILE_NAME('','',(''),(''),'','','');FILE_SCHEMA(('AUTOMOTIVE_DESIGN'));ENDSEC;DATA;\n";

const encoder = new TextEncoder();

/** Representation types in which the kernel looks for the kinds of shape. */
function representationType(solidType: string): string {
  if (solidType === 'SHELL_BASED_SURFACE_MODEL') return 'MANIFOLD_SURFACE_SHAPE_REPRESENTATION';
  if (solidType === 'GEOMETRIC_CURVE_SET' || solidType === 'GEOMETRIC_SET')
    return 'GEOMETRICALLY_BOUNDED_WIREFRAME_SHAPE_REPRESENTATION';
  if (solidType === 'FACETED_BREP') return 'FACETED_BREP_SHAPE_REPRESENTATION';
  return 'ADVANCED_BREP_SHAPE_REPRESENTATION';
}

/** Cuts one piece. `marks` (see {@link cutMarks}) is reused between calls and left clean. */
export function cutPiece(file: Part21, piece: Pick<Piece, 'solid' | 'context'>, marks: Int32Array): CutPiece {
  const order: number[] = [];
  let missing: number | undefined;
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  const pointType = new Set<number>();
  file.typeNames.forEach((name, number) => {
    if (name === 'CARTESIAN_POINT') pointType.add(number);
  });

  const reach = (root: number) => {
    const stack = [root];
    while (stack.length > 0) {
      const index = stack.pop() as number;
      if (marks[index] !== 0) continue;
      order.push(index);
      marks[index] = order.length;
      for (let r = file.refStarts[index + 1] - 1; r >= file.refStarts[index]; r--) {
        const next = file.indexOf(file.refs[r]);
        if (next < 0) missing ??= file.refs[r];
        else if (marks[next] === 0) stack.push(next);
      }
    }
  };
  reach(piece.solid);
  if (piece.context >= 0) reach(piece.context);

  let size = 0;
  for (const index of order) size += file.ends[index] - file.starts[index] + 24;
  const out = new Uint8Array(HEADER.length + size * 2 + 2048);
  let at = encoder.encodeInto(HEADER, out).written;
  at = copyEntities(file, order, marks, out, at, (index, start, end) => {
    if (pointType.has(file.types[index])) measure(out, start, end, min, max);
  });
  const write = (text: string) => {
    at += encoder.encodeInto(text, out.subarray(at)).written;
  };
  const n = order.length;
  const solid = marks[piece.solid];
  const context = piece.context >= 0 ? `#${marks[piece.context]}` : `#${n + 20}`;
  write(
    `#${n + 1}=APPLICATION_CONTEXT('');#${n + 2}=PRODUCT_CONTEXT('',#${n + 1},'mechanical');#${n + 3}=PRODUCT('p','p','',(#${n + 2}));` +
      `#${n + 4}=PRODUCT_DEFINITION_FORMATION('','',#${n + 3});#${n + 5}=PRODUCT_DEFINITION_CONTEXT('part definition',#${n + 1},'design');` +
      `#${n + 6}=PRODUCT_DEFINITION('d','',#${n + 4},#${n + 5});#${n + 7}=PRODUCT_DEFINITION_SHAPE('','',#${n + 6});` +
      `#${n + 8}=CARTESIAN_POINT('',(0.,0.,0.));#${n + 9}=AXIS2_PLACEMENT_3D('',#${n + 8},$,$);` +
      `#${n + 10}=${representationType(file.typeOf(piece.solid))}('',(#${n + 9},#${solid}),${context});` +
      `#${n + 11}=SHAPE_DEFINITION_REPRESENTATION(#${n + 7},#${n + 10});\n`,
  );
  if (piece.context < 0) {
    write(
      `#${n + 20}=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#${n + 21},#${n + 22},#${n + 23}))REPRESENTATION_CONTEXT('',''));` +
        `#${n + 21}=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));#${n + 22}=(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.));` +
        `#${n + 23}=(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT());\n`,
    );
  }
  write('ENDSEC;END-ISO-10303-21;\n');
  for (const index of order) marks[index] = 0;
  const extent = Math.max(0, ...min.map((low, axis) => max[axis] - low).filter(Number.isFinite));
  return { bytes: out.slice(0, at), extent, ...(missing === undefined ? {} : { missing }) };
}

/**
 * Writes the entities with their new numbers and without blanks; returns where they end. Kept apart from everything that
 * closures share: most of the time of reading a large file is spent in this loop.
 */
function copyEntities(
  file: Part21,
  order: readonly number[],
  marks: Int32Array,
  out: Uint8Array,
  from: number,
  written: (index: number, start: number, end: number) => void,
): number {
  const { bytes, starts, ends } = file;
  // A dangling reference stays dangling: the kernel then drops only what needs it.
  const nowhere = order.length + 1000;
  let at = from;
  for (const index of order) {
    out[at++] = 35;
    at = writeNumber(out, at, marks[index]);
    out[at++] = 61;
    const end = ends[index];
    const start = at;
    for (let i = starts[index]; i < end;) {
      const c = bytes[i];
      if (c === 35) {
        let id = 0;
        let d = bytes[++i];
        while (d >= 48 && d <= 57) {
          id = id * 10 + d - 48;
          d = bytes[++i];
        }
        const target = file.indexOf(id);
        out[at++] = 35;
        at = writeNumber(out, at, target < 0 ? nowhere : marks[target]);
      } else if (c === 39) {
        do out[at++] = bytes[i++];
        while (i < end && bytes[i] !== 39);
        if (i < end) out[at++] = bytes[i++];
      } else if (c === 32 || c === 10 || c === 13 || c === 9) i++;
      else {
        out[at++] = c;
        i++;
      }
    }
    written(index, start, at);
    out[at++] = 59;
    out[at++] = 10;
  }
  return at;
}

/** Writes a whole number in decimal digits; returns where it ends. */
function writeNumber(out: Uint8Array, at: number, value: number): number {
  let digits = 1;
  for (let limit = 10; limit <= value; limit *= 10) digits++;
  let rest = value;
  for (let i = at + digits - 1; i >= at; i--) {
    const tenth = (rest / 10) | 0;
    out[i] = 48 + rest - tenth * 10;
    rest = tenth;
  }
  return at + digits;
}

/** Scratch for {@link cutPiece}: one number per entity, all zero. */
export function cutMarks(file: Part21): Int32Array {
  return new Int32Array(file.count);
}

const latin = new TextDecoder('latin1');

/** Widens min and max by the point written at `out[start..end]`. */
function measure(out: Uint8Array, start: number, end: number, min: number[], max: number[]): void {
  const open = out.lastIndexOf(40, end);
  if (open < start) return;
  const parts = latin.decode(out.subarray(open + 1, out.indexOf(41, open))).split(',');
  for (let axis = 0; axis < 3; axis++) {
    const value = Number(parts[axis]);
    if (!Number.isFinite(value)) continue;
    if (value < min[axis]) min[axis] = value;
    if (value > max[axis]) max[axis] = value;
  }
}
