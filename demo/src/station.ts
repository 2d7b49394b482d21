/**
 * The station building: a platform level and a machine level over it, open towards the rope. Invented; metres, z up, the floor of
 * the machine level at zero, where the drive unit stands.
 */
import { IfcText, rectangle } from './ifcText.ts';
import type { Element, Point3 } from './ifcText.ts';

const PLATFORM = -4.2;
const ROOF = 3.6;
/** Outline of the platform level: from, to. */
const X = [-3.2, 14] as const;
const Y = [-4.2, 4.8] as const;
/** The machine level ends here, so that cabins can hang down before it. */
const EDGE = 7.4;

const middle = ([from, to]: readonly [number, number]) => (from + to) / 2;
const span = ([from, to]: readonly [number, number]) => to - from;

function slab(name: string, x: readonly [number, number], z: number, thickness: number): Element {
  return {
    type: 'IFCSLAB',
    name,
    at: [middle(x), middle(Y), z - thickness],
    bodies: [{ outline: rectangle(span(x), span(Y)), height: thickness }],
    style: 'Concrete',
    layer: 'A-SLAB',
    properties: { LoadBearing: true, FireRating: 'R90' },
  };
}

function wall(name: string, at: Point3, x: number, y: number, height: number, more: Partial<Element> = {}): Element {
  return {
    type: 'IFCWALL',
    name,
    at,
    bodies: [{ outline: rectangle(x, y), height }],
    style: 'Larch cladding',
    layer: 'A-WALL',
    properties: { IsExternal: true, FireRating: 'R60' },
    ...more,
  };
}

function columns(height: number, places: readonly (readonly [number, number])[]): Element[] {
  return places.map(([x, y], i) => ({
    type: 'IFCCOLUMN',
    name: `Column ${i + 1}`,
    at: [x, y, 0],
    bodies: [{ outline: rectangle(0.2, 0.2), height }],
    style: 'Steel, dark',
    layer: 'S-COLS',
    properties: { LoadBearing: true },
  }));
}

function railing(name: string, from: Point3, length: number, along: 'x' | 'y'): Element {
  const posts = Math.round(length / 1.2);
  const bars = Array.from({ length: posts + 1 }, (_, i): [number, number] => {
    const d = (i / posts - 0.5) * length;
    return along === 'x' ? [d, 0] : [0, d];
  });
  const moved = (outline: [number, number][], [x, y]: [number, number]) =>
    outline.map(([a, b]): [number, number] => [a + x, b + y]);
  const rail = along === 'x' ? rectangle(length, 0.06) : rectangle(0.06, length);
  return {
    type: 'IFCRAILING',
    name,
    at: from,
    bodies: [
      ...bars.map((place) => ({ outline: moved(rectangle(0.05, 0.05), place), height: 1.05 })),
      { outline: rail, height: 0.06, from: 1.05 },
    ],
    style: 'Steel, dark',
    layer: 'A-RAIL',
  };
}

const corners = (x: readonly [number, number]): [number, number][] =>
  [x[0] + 0.4, middle(x), x[1] - 0.4].flatMap((px): [number, number][] =>
    [Y[0] + 0.4, Y[1] - 0.4].map((py): [number, number] => [px, py]),
  );

/** @returns the text of the IFC file */
export function station(): string {
  const text = new IfcText('Tarn Gondola', 'Lower station');
  text.style('Concrete', [0.72, 0.71, 0.68]);
  text.style('Larch cladding', [0.8, 0.7, 0.56]);
  text.style('Steel, dark', [0.25, 0.27, 0.29]);
  text.style('Glass', [0.7, 0.85, 0.86], 0.65);
  text.style('Roof sheet', [0.42, 0.45, 0.44]);
  text.style('Door, red', [0.6, 0.16, 0.12]);

  const height = -PLATFORM - 0.3;
  text.storey('Platform level', PLATFORM, [
    slab('Platform slab', X, 0, 0.35),
    ...columns(height, corners(X)),
    wall('Back wall', [middle(X), Y[1] - 0.15, 0], span(X), 0.3, height, {
      openings: [
        { at: [-3, 0, 0.9], size: [1.8, 0.6, 1.2] },
        { at: [3, 0, 0.9], size: [1.8, 0.6, 1.2] },
      ],
    }),
    wall('End wall', [X[0] + 0.15, middle(Y), 0], 0.3, span(Y) - 0.6, height, {
      openings: [{ at: [0, 1.5, 0], size: [0.6, 0.9, 2.1] }],
    }),
    ...[-3, 3].map((x, i): Element => ({
      type: 'IFCWINDOW',
      name: `Window ${i + 1}`,
      at: [middle(X) + x, Y[1] - 0.15, 0.9],
      bodies: [{ outline: rectangle(1.8, 0.05), height: 1.2 }],
      style: 'Glass',
      layer: 'A-GLAZ',
    })),
    {
      type: 'IFCDOOR',
      name: 'Staff door',
      at: [X[0] + 0.15, middle(Y) + 1.5, 0],
      bodies: [{ outline: rectangle(0.06, 0.9), height: 2.1 }],
      style: 'Door, red',
      layer: 'A-DOOR',
      properties: { FireRating: 'EI30' },
    },
    railing('Railing to the slope', [X[1] - 0.1, middle(Y) - 1.4, 0], span(Y) - 3.4, 'y'),
  ]);
  const loft: [number, number] = [X[0], EDGE];
  text.storey('Machine level', 0, [
    slab('Machine slab', loft, 0, 0.3),
    ...columns(ROOF, corners(loft)),
    wall('Back wall', [middle(loft), Y[1] - 0.15, 0], span(loft), 0.3, 1.1),
    wall('End wall', [X[0] + 0.15, middle(Y), 0], 0.3, span(Y) - 0.6, 1.1),
    railing('Railing at the edge', [EDGE - 0.1, middle(Y) - 2, 0], 4.4, 'y'),
  ]);
  text.storey('Roof', ROOF, [
    {
      type: 'IFCROOF',
      name: 'Roof',
      at: [middle(X), middle(Y), 0],
      bodies: [{ outline: rectangle(span(X) + 1.2, span(Y) + 1.2), height: 0.22 }],
      style: 'Roof sheet',
      layer: 'A-ROOF',
    },
  ]);
  return text.toString();
}
