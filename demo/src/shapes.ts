/** Solids from a few strokes: turned profiles, plates with holes, beams, hexagons. Millimetres, z up. */
import { draw, drawCircle, drawPolysides, drawRectangle, drawRoundedRectangle, makeCylinder } from 'replicad';
import type { Shape3D } from 'replicad';

export type Point = [number, number];

/** A body of revolution about z from its half profile, as [radius, height] points. */
export function turned(profile: Point[]): Shape3D {
  const [first, ...others] = profile;
  let pen = draw(first);
  for (const point of others) pen = pen.lineTo(point);
  return pen.close().sketchOnPlane('XZ').revolve([0, 0, 1]) as Shape3D;
}

/** A ring with a rectangular section, standing on z = 0. */
export function ring(outer: number, inner: number, height: number): Shape3D {
  return turned([
    [inner, 0],
    [outer, 0],
    [outer, height],
    [inner, height],
  ]);
}

export function cylinder(radius: number, height: number): Shape3D {
  return makeCylinder(radius, height);
}

/** A cylinder along x, starting at x = 0. */
export function bar(radius: number, length: number): Shape3D {
  return makeCylinder(radius, length, [0, 0, 0], [1, 0, 0]);
}

/** A box centred in x and y, standing on z = 0. */
export function block(x: number, y: number, z: number, radius = 0): Shape3D {
  const outline = radius > 0 ? drawRoundedRectangle(x, y, radius) : drawRectangle(x, y);
  return outline.sketchOnPlane('XY').extrude(z) as Shape3D;
}

/** A plate with holes through it. */
export function plate(x: number, y: number, z: number, radius: number, holes: Point[], hole: number): Shape3D {
  let outline = drawRoundedRectangle(x, y, radius);
  for (const [hx, hy] of holes) outline = outline.cut(drawCircle(hole / 2).translate(hx, hy));
  return outline.sketchOnPlane('XY').extrude(z) as Shape3D;
}

/** An I beam along x, centred, standing on z = 0. */
export function beam(length: number, height: number, width: number, web: number, flange: number): Shape3D {
  const half = width / 2;
  const w = web / 2;
  const points: Point[] = [
    [-half, 0], [half, 0], [half, flange], [w, flange], [w, height - flange], [half, height - flange],
    [half, height], [-half, height], [-half, height - flange], [-w, height - flange], [-w, flange], [-half, flange],
  ]; // prettier-ignore
  const [first, ...others] = points;
  let pen = draw(first);
  for (const point of others) pen = pen.lineTo(point);
  return (pen.close().sketchOnPlane('YZ').extrude(length) as Shape3D).translate([-length / 2, 0, 0]) as Shape3D;
}

/** A hexagonal prism by its width across flats, standing on z = 0. */
export function hexagon(acrossFlats: number, height: number): Shape3D {
  return drawPolysides(acrossFlats / Math.sqrt(3), 6)
    .sketchOnPlane('XY')
    .extrude(height) as Shape3D;
}

/** Points evenly on a circle. */
export function onCircle(count: number, radius: number, start = 0): Point[] {
  return Array.from({ length: count }, (_, i): Point => {
    const angle = ((start + (360 * i) / count) * Math.PI) / 180;
    return [radius * Math.cos(angle), radius * Math.sin(angle)];
  });
}

/** Four corners of a rectangle. */
export function corners(x: number, y: number): Point[] {
  return [
    [-x / 2, -y / 2],
    [x / 2, -y / 2],
    [x / 2, y / 2],
    [-x / 2, y / 2],
  ];
}
