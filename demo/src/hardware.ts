/** Hexagon bolts, nuts and washers, with the sizes of ISO 4014, 4032 and 7089. */
import { cylinder, hexagon, ring } from './shapes.ts';
import type { Shape3D } from 'replicad';

/**
 * Width across flats and head height by thread diameter, mm (ISO 4014); height of the nut (ISO 4032); outer diameter and
 * thickness of the washer (ISO 7089). From memory; the heads agree with docs/developers.md.
 */
export const ISO_SIZES: Record<
  number,
  { flats: number; head: number; nut: number; washer: number; thickness: number; hole: number }
> = {
  10: { flats: 16, head: 6.4, nut: 8.4, washer: 20, thickness: 2, hole: 10.5 },
  12: { flats: 18, head: 7.5, nut: 10.8, washer: 24, thickness: 2.5, hole: 13 },
  16: { flats: 24, head: 10, nut: 14.8, washer: 30, thickness: 3, hole: 17 },
};

/** Head above z = 0, shank below. */
export function bolt(diameter: number, length: number): Shape3D {
  const { flats, head } = ISO_SIZES[diameter];
  const shank = cylinder(diameter / 2, length).translate([0, 0, -length]) as Shape3D;
  return hexagon(flats, head).fuse(shank) as Shape3D;
}

export function nut(diameter: number): Shape3D {
  const { flats, nut: height } = ISO_SIZES[diameter];
  return hexagon(flats, height).cut(cylinder(diameter / 2, height)) as Shape3D;
}

export function washer(diameter: number): Shape3D {
  const size = ISO_SIZES[diameter];
  return ring(size.washer / 2, size.hole / 2, size.thickness);
}
