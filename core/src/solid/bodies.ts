/**
 * Parts a BREP file into its bodies: each becomes a text of its own at its own origin, so that bodies that are placed several times are
 * one, and each can be tessellated, or fail, by itself.
 */
import type { TopoDS_Shape } from 'replicad-opencascadejs';
import { PrismError } from '../errors.ts';
import type { Matrix } from '../scene/matrix.ts';
import { dropKernel, kernel, owning } from './kernel.ts';
import type { Kernel, Own } from './kernel.ts';

export interface BodiesInput {
  /** The whole file. */
  text: Uint8Array;
}

export interface Body {
  kind: 'solid' | 'shell' | 'face';
  /** Its own text, in the unit of the file. */
  text: Uint8Array;
  faces: number;
  /** Largest side of its box, unit of the file. */
  extent: number;
  /** Column-major, translation in the unit of the file. */
  place: Matrix;
}

export interface BodiesOutput {
  bodies: Body[];
  /** Lines that bound no face. */
  edges: number;
}

/** What is a body: solids, then shells outside solids, then faces outside shells. */
const KINDS = [
  ['solid', 'TopAbs_SOLID', 'TopAbs_SHAPE'],
  ['shell', 'TopAbs_SHELL', 'TopAbs_SOLID'],
  ['face', 'TopAbs_FACE', 'TopAbs_SHELL'],
] as const;

/** Most bodies of one file. */
const MOST = 20_000;

/** True for the text form of the kernel's own shapes. */
export function isBrepText(bytes: Uint8Array): boolean {
  return /^\s*(DBRep_DrawableShape|CASCADE Topology)/.test(new TextDecoder('latin1').decode(bytes.subarray(0, 200)));
}

/** @throws PrismError `solid-failed` where the kernel cannot read it */
export function shapeOfBrep(oc: Kernel, text: Uint8Array, own: Own): TopoDS_Shape {
  const shape = own(oc.BRepToolsWrapper.Read(new TextDecoder('latin1').decode(text)));
  if (shape.IsNull()) throw new PrismError('solid-failed', 'The kernel made no shape of it.');
  return shape;
}

/** @throws PrismError `solid-failed`, `too-large` */
export async function bodiesOf({ text }: BodiesInput): Promise<BodiesOutput> {
  const oc = await kernel();
  try {
    return owning((own) => bodiesWith(oc, shapeOfBrep(oc, text, own), own));
  } catch (error) {
    if (error instanceof PrismError) throw error;
    // The instance may be left in any state after a trap.
    dropKernel();
    throw new PrismError('solid-failed', 'The kernel could not read it.');
  }
}

function bodiesWith(oc: Kernel, shape: TopoDS_Shape, own: Own): BodiesOutput {
  const bodies: Body[] = [];
  for (const [kind, find, avoid] of KINDS)
    for (const found of explore(oc, shape, find, avoid, own)) {
      if (bodies.length >= MOST) throw new PrismError('too-large', `It has more than ${MOST} bodies.`);
      const location = own(found.Location());
      const base = own(found.Located(own(new oc.TopLoc_Location()), false));
      bodies.push({
        kind,
        text: new TextEncoder().encode(oc.BRepToolsWrapper.Write(base)),
        faces: explore(oc, base, 'TopAbs_FACE', 'TopAbs_SHAPE', own).length,
        extent: extentOf(oc, base, own),
        place: location.IsIdentity() ? [...IDENTITY] : matrixOf(own(location.Transformation())),
      });
    }
  return { bodies, edges: explore(oc, shape, 'TopAbs_EDGE', 'TopAbs_FACE', own).length };
}

const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

function explore(oc: Kernel, shape: TopoDS_Shape, find: string, avoid: string, own: Own): TopoDS_Shape[] {
  const out: TopoDS_Shape[] = [];
  const explorer = own(new oc.TopExp_Explorer(shape, find as never, avoid as never));
  for (; explorer.More(); explorer.Next()) out.push(own(explorer.Current()));
  return out;
}

function extentOf(oc: Kernel, shape: TopoDS_Shape, own: Own): number {
  const box = own(new oc.Bnd_Box());
  oc.BRepBndLib.Add(shape, box, false);
  if (box.IsVoid()) return 0;
  const [low, high] = [own(box.CornerMin()), own(box.CornerMax())];
  return Math.max(high.X() - low.X(), high.Y() - low.Y(), high.Z() - low.Z());
}

function matrixOf(transform: { Value(row: number, column: number): number }): Matrix {
  const rows = [1, 2, 3];
  return [1, 2, 3, 4].flatMap((column) => [...rows.map((row) => transform.Value(row, column)), column === 4 ? 1 : 0]);
}
