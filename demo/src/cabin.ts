/** The cabin on its hanger, as the cabin maker draws it: inches, z up, the rope's axis through the origin along x. Invented. */
import type { Shape3D } from 'replicad';
import { assembly, at, part } from './assemble.ts';
import { bar, block, cylinder, ring } from './shapes.ts';
import type { AssemblyDefinition, Child } from './stepAssembly.ts';

/** Inches. */
const BODY = { length: 86, width: 62, height: 78 };
const SHELL = 1.5;
const HANGER = 84;

const ROOF = -HANGER;
const FLOOR = ROOF - BODY.height;

/** A frame of square tubes around the body, one for each edge. */
async function frame(): Promise<Child[]> {
  const post = await part('Corner post', 'STRUCTURE', block(2, 2, BODY.height));
  const long = await part('Long rail', 'STRUCTURE', block(BODY.length, 2, 2));
  const short = await part('Cross rail', 'STRUCTURE', block(2, BODY.width, 2));
  const [x, y] = [BODY.length / 2, BODY.width / 2];
  return [
    ...[
      [-x, -y],
      [x, -y],
      [x, y],
      [-x, y],
    ].map(([px, py]) => at(post, px, py, FLOOR)),
    ...[FLOOR, ROOF - 2].flatMap((z) => [
      at(long, 0, -y, z),
      at(long, 0, y, z),
      at(short, -x, 0, z),
      at(short, x, 0, z),
    ]),
  ];
}

export async function cabin(): Promise<AssemblyDefinition> {
  const { length, width, height } = BODY;
  const floor = await part('Floor', 'STRUCTURE', block(length, width, SHELL, 3), { colour: '#4a4d50' });
  const roof = await part('Roof', 'CABIN', block(length + 4, width + 4, 3, 6));
  const apron = await part('Side panel', 'CABIN', block(length - 4, 1, height * 0.4));
  const pane = await part('Side pane', 'GLAZING', block(length - 4, 0.5, height * 0.52), { transparency: 0.7 });
  const end = await part('End pane', 'GLAZING', block(0.5, width - 4, height * 0.9), { transparency: 0.7 });
  const seat = await part(
    'Seat',
    'MACHINE',
    block(length - 14, 15, 2, 1).fuse(block(length - 20, 2, 16).translate([0, 0, -16])) as Shape3D,
    { colour: '#7a5a3c' },
  );
  const hanger = await part(
    'Hanger',
    'ROPEWAY',
    block(4, 4, HANGER - 8).fuse(block(18, 6, 6).translate([0, 0, -4])) as Shape3D,
  );
  const grip = {
    ...(await part('Grip', 'MACHINE', block(14, 7, 9).cut(bar(0.8, 40).translate([-20, 0, 5])) as Shape3D)),
    // The rope's axis, which the maker drew for the fit.
    lines: [
      [
        [-20, 0, 5],
        [20, 0, 5],
      ],
    ] satisfies [number, number, number][][],
  };
  const roller = await part('Guide roller', 'MACHINE', ring(3, 0.75, 2).fuse(cylinder(0.75, 4)) as Shape3D);
  return assembly('Cabin', [
    assembly2('Hanger and grip', [
      at(hanger, 0, 0, ROOF + 3),
      at(grip, 0, 0, -5),
      ...[-5, 5].map((x) => at(roller, x, 0, 4)),
    ]),
    assembly2('Body', [
      at(floor, 0, 0, FLOOR),
      at(roof, 0, 0, ROOF),
      ...(await frame()),
      ...[-1, 1].map((side) => at(apron, 0, (side * width) / 2, FLOOR + 2)),
      ...[-1, 1].map((side) => at(pane, 0, (side * width) / 2, FLOOR + 4 + height * 0.4)),
      ...[-1, 1].map((side) => at(end, (side * length) / 2, 0, FLOOR + 3)),
      at(seat, 0, -width / 2 + 10, FLOOR + 17),
      at(seat, 0, width / 2 - 10, FLOOR + 17, 180),
    ]),
  ]);
}

/** A sub-assembly in its own place. */
function assembly2(name: string, children: Child[]): Child {
  return at(assembly(name, children), 0, 0, 0);
}

/** Where the cabin hangs in the station, in inches: on the rope, before the edge of the machine level. */
export const CABIN_PLACE: [number, number, number] = [10_300 / 25.4, 1_368 / 25.4, 1_090 / 25.4];
