/** Reads off a solid what is exact in it: surfaces, circles, area, volume and centroid, by the kernel. */
import type { BRepAdaptor_Curve, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs';
import { PrismError } from '../errors.ts';
import type { Circle } from '../measure/circle.ts';
import { lengthOf, minus } from '../measure/circle.ts';
import type { ExactFace, ExactShape } from '../measure/exactShape.ts';
import type { Vector } from '../scene/matrix.ts';
import type { Box } from '../scene/types.ts';
import type { Form } from './exactSurface.ts';
import { exactFaces } from './faces.ts';
import { dropKernel, kernel, MILLIMETRE, owning } from './kernel.ts';
import type { Kernel, Own } from './kernel.ts';
import { circleOf, cylinderOf } from './recognised.ts';
import { translate } from './tessellate.ts';

export interface ExactInput {
  text: Uint8Array;
  /** How much larger the solid is to be than its text says. */
  scale?: number;
}

/** Faces that are read of one solid at most: of the others is told that there are none. */
const MOST_FACES = 20_000;

/** @throws PrismError `solid-failed` */
export async function readExact({ text, scale = 1 }: ExactInput): Promise<ExactShape> {
  const oc = await kernel();
  try {
    return owning((own) => exactWith(oc, translate(oc, text, own), MILLIMETRE * scale, own));
  } catch (error) {
    if (error instanceof PrismError) throw error;
    // The instance may be left in any state after a trap.
    dropKernel();
    throw new PrismError('solid-failed', 'The kernel could not measure this solid.');
  }
}

function exactWith(oc: Kernel, shape: TopoDS_Shape, metres: number, own: Own): ExactShape {
  const point = (v: Vector): Vector => [v[0] * metres, v[1] * metres, v[2] * metres];
  const faces = exactFaces(oc, shape, own)
    .slice(0, MOST_FACES)
    .map(({ face, surface: { form: known, at } }): ExactFace => {
      const form = known ?? splineCylinder(oc, face, at);
      const isTurned = String(face.Orientation()) === 'TopAbs_REVERSED';
      return {
        surface: surfaceOf(form, point, metres),
        isHollow: form !== undefined && form.kind !== 'plane' && isTurned !== form.isMirrored,
        box: boxOf(oc, face, point, own),
        area: massOf(oc, face, 'SurfaceProperties', own).mass * metres ** 2,
      };
    });
  const surface = massOf(oc, shape, 'SurfaceProperties', own);
  const areas = { area: surface.mass * metres ** 2, areaCentre: point(surface.centre) };
  const { mass, centre } = massOf(oc, shape, 'VolumeProperties', own);
  const circles = circlesOf(oc, shape, own).map(({ centre, normal, radius }) => ({
    centre: point(centre),
    normal,
    radius: radius * metres,
  }));
  // Of shells that are open the kernel counts nothing; a solid that is inside out counts against itself.
  if (!(Math.abs(mass) > 0)) return { faces, circles, ...areas };
  return { faces, circles, ...areas, volume: Math.abs(mass) * metres ** 3, centroid: point(centre) };
}

/** What the file gives as a spline, and is a cylinder. */
function splineCylinder(oc: Kernel, face: TopoDS_Face, at: (u: number, v: number) => Vector): Form | undefined {
  const { UMin, UMax, VMin, VMax } = oc.BRepTools.UVBounds(face);
  return cylinderOf(at, [UMin, UMax], [VMin, VMax]);
}

function surfaceOf(form: Form | undefined, point: (v: Vector) => Vector, metres: number): ExactFace['surface'] {
  if (!form) return { kind: 'free' };
  const { kind, axis } = form;
  const at = point(form.point);
  const radius = form.radius * metres;
  switch (kind) {
    case 'plane':
      return { kind, point: at, axis };
    case 'cylinder':
      return { kind, point: at, axis, radius };
    case 'cone':
      return { kind, point: at, axis, radius, slope: form.slope };
    case 'sphere':
      return { kind, point: at, radius };
    case 'torus':
      return { kind, point: at, axis, radius, minor: form.minor * metres };
  }
}

function boxOf(oc: Kernel, shape: TopoDS_Shape, point: (v: Vector) => Vector, own: Own): Box {
  const box = own(new oc.Bnd_Box());
  oc.BRepBndLib.Add(shape, box, false);
  if (box.IsVoid()) return { min: [0, 0, 0], max: [0, 0, 0] };
  const [low, high] = [own(box.CornerMin()), own(box.CornerMax())];
  return {
    min: [...point([low.X(), low.Y(), low.Z()])] as [number, number, number],
    max: [...point([high.X(), high.Y(), high.Z()])] as [number, number, number],
  };
}

/** Area or volume, and its centre; in powers of millimetres. */
function massOf(
  oc: Kernel,
  shape: TopoDS_Shape,
  of: 'SurfaceProperties' | 'VolumeProperties',
  own: Own,
): { mass: number; centre: Vector } {
  const found = own(new oc.GProp_GProps());
  if (of === 'SurfaceProperties') oc.BRepGProp.SurfaceProperties(shape, found, true, false);
  else oc.BRepGProp.VolumeProperties(shape, found, true, true, false);
  const centre = own(found.CentreOfMass());
  return { mass: found.Mass(), centre: [centre.X(), centre.Y(), centre.Z()] };
}

/** Circles that edges lie on, each once. */
function circlesOf(oc: Kernel, shape: TopoDS_Shape, own: Own): Circle[] {
  const out: Circle[] = [];
  const explorer = own(new oc.TopExp_Explorer(shape, 'TopAbs_EDGE' as never, 'TopAbs_SHAPE' as never));
  for (; explorer.More(); explorer.Next()) {
    const edge = own(oc.TopoDS.Edge(own(explorer.Current())));
    if (oc.BRep_Tool.Degenerated(edge)) continue;
    const curve = own(new oc.BRepAdaptor_Curve(edge));
    const found = circleAt(curve, own);
    if (!found) continue;
    const { centre, radius } = found;
    // Both faces at an edge have it, and an edge may be in pieces.
    const isKnown = out.some(
      (one) => Math.abs(one.radius - radius) < 1e-9 * radius && lengthOf(minus(one.centre, centre)) < 1e-9 * radius,
    );
    if (!isKnown) out.push(found);
  }
  return out;
}

/** The circle that an edge lies on, said as such or as a spline. */
function circleAt(curve: BRepAdaptor_Curve, own: Own): Circle | undefined {
  const kind = String(curve.GetType());
  if (kind === 'GeomAbs_Circle') {
    const circle = own(curve.Circle());
    const [at, axis] = [own(circle.Location()), own(own(circle.Axis()).Direction())];
    return { centre: [at.X(), at.Y(), at.Z()], normal: [axis.X(), axis.Y(), axis.Z()], radius: circle.Radius() };
  }
  if (kind !== 'GeomAbs_BSplineCurve' && kind !== 'GeomAbs_BezierCurve') return undefined;
  const at = (t: number): Vector => {
    const point = curve.EvalD0(t);
    const found: Vector = [point.X(), point.Y(), point.Z()];
    point.delete();
    return found;
  };
  return circleOf(at, [curve.FirstParameter(), curve.LastParameter()]);
}
