/** The sheave train: a beam on two posts with six sheaves that carry the rope. Invented; millimetres, z up. */
import type { Shape3D } from 'replicad';
import { assembly, at, boltSet, facing, part } from './assemble.ts';
import { bar, beam, block, corners, cylinder, onCircle, plate, ring, turned } from './shapes.ts';
import type { AssemblyDefinition, Child, PartDefinition } from './stepAssembly.ts';

const SHEAVES = 6;
const PITCH = 520;
/** The train stands beside the bull wheel, so that the rope leaves the wheel's groove straight: along x at this y and z. */
const BESIDE = { x: 4300, y: 1178 };
/** Height of the rope's axis: the middle of the wheel's groove. */
const ROPE = 1090;

export async function sheaveTrain(): Promise<AssemblyDefinition> {
  const sheave = await sheaveAssembly();
  const beamPart = await part('Train beam', 'STRUCTURE', beam(3400, 260, 180, 14, 20));
  const bracket = await part(
    'Rocker bracket',
    'STRUCTURE',
    block(180, 16, 320).cut(bar(26, 300).rotate(90, [0, 0, 0], [0, 0, 1]).translate([0, -100, 60])) as Shape3D,
  );
  const rope = await part('Haul rope', 'ROPEWAY', bar(20, 15600), { colour: '#3b3d40' });
  const catcher = await part(
    'Rope catcher',
    'ROPEWAY',
    block(40, 150, 16).fuse(block(40, 16, 110).translate([0, 67, 0])) as Shape3D,
  );
  const bolts = await boltSet(16, 20);
  const children: Child[] = [];
  for (let i = 0; i < SHEAVES; i++) {
    const x = (i - (SHEAVES - 1) / 2) * PITCH;
    // One sheave wears a new liner: its placement has a colour of its own.
    children.push(facing(sheave, [x, 190, ROPE - 220], [0, -1, 0], [1, 0, 0], { tag: `sheave ${i + 1}` }));
    children.push(
      at(bracket, x, 100, ROPE - 280),
      at(bracket, x, -98, ROPE - 280),
      at(catcher, x, 190, ROPE - 10, 0, i === 2 ? { colour: '#c0392b' } : {}),
    );
    children.push(at(bolts, x - 60, 60, ROPE + 60), at(bolts, x + 60, 60, ROPE + 60));
  }
  return assembly(
    'Sheave train',
    [
      at(beamPart, 0, 0, ROPE + 40),
      at(await postAssembly(), -1450, 0, 0, 0, { tag: 'inner' }),
      at(await postAssembly(), 1450, 0, 0, 180, { tag: 'outer' }),
      at(rope, -BESIDE.x, 190, ROPE),
      ...children,
    ].map(beside),
  );
}

/** Moves a child of the train to its place in the station. */
function beside(child: Child): Child {
  const [x, y, z] = child.place.origin;
  return { ...child, place: { ...child.place, origin: [x + BESIDE.x, y + BESIDE.y, z] } };
}

let post: AssemblyDefinition | undefined;

async function postAssembly(): Promise<AssemblyDefinition> {
  if (post) return post;
  const column = await part(
    'Post',
    'STRUCTURE',
    block(220, 220, ROPE + 15, 20).cut(block(196, 196, ROPE + 15, 10)) as Shape3D,
  );
  const foot = await part('Post foot', 'STRUCTURE', plate(460, 460, 25, 20, corners(360, 360), 17));
  const rib = await part('Post rib', 'STRUCTURE', block(110, 12, 200));
  const anchor = await boltSet(16, 25);
  const ribs: Child[] = [at(rib, 165, 0, 25), at(rib, -165, 0, 25), at(rib, 0, 165, 25, 90), at(rib, 0, -165, 25, 90)];
  post = assembly('Post, complete', [
    at(foot, 0, 0, 0),
    at(column, 0, 0, 25),
    ...ribs,
    ...corners(360, 360).map(([x, y]) => at(anchor, x, y, 25)),
  ]);
  return post;
}

/** One sheave, its axle along z. */
async function sheaveAssembly(): Promise<AssemblyDefinition> {
  const body: PartDefinition = await part(
    'Sheave body',
    'ROPEWAY',
    turned([
      [62, 0],
      [90, 0],
      [96, 22],
      [180, 22],
      [196, 6],
      [206, 6],
      [206, 74],
      [196, 74],
      [180, 58],
      [96, 58],
      [90, 80],
      [62, 80],
    ]),
  );
  const liner = await part(
    'Sheave liner',
    'ROPEWAY',
    turned([
      [206, 12],
      [228, 12],
      [226, 26],
      [212, 34],
      [212, 46],
      [226, 54],
      [228, 68],
      [206, 68],
    ]),
    { colour: '#1f2022' },
  );
  const axle = await part(
    'Sheave axle',
    'BEARINGS',
    turned([
      [0, 0],
      [25, 0],
      [25, 300],
      [22, 303],
      [0, 303],
    ]),
    { colour: '#8c8d90' },
  );
  const bearing = await part('Sheave bearing', 'BEARINGS', ring(62, 25, 34), { colour: '#c3c2be' });
  const flange = await part('Side flange', 'ROPEWAY', ring(205, 96, 5).cut(cylinderRow()) as Shape3D);
  const cap = await part(
    'Axle cap',
    'BEARINGS',
    turned([
      [0, 0],
      [44, 0],
      [44, 8],
      [30, 16],
      [0, 18],
    ]),
  );
  const bolts = await boltSet(10, 46);
  return assembly('Sheave', [
    at(body, 0, 0, 0),
    at(liner, 0, 0, 0),
    at(axle, 0, 0, -40),
    at(bearing, 0, 0, 2, 0, { tag: 'inner' }),
    at(bearing, 0, 0, 44, 0, { tag: 'outer' }),
    at(flange, 0, 0, 58),
    facing(flange, [0, 0, 22], [0, 0, -1]),
    at(cap, 0, 0, 263),
    ...onCircle(6, 140).map(([x, y]) => at(bolts, x, y, 63)),
  ]);
}

/** Lightening holes of the flange, as one tool. */
function cylinderRow(): Shape3D {
  return onCircle(6, 140, 30)
    .map(([x, y]) => cylinder(24, 5).translate([x, y, 0]) as Shape3D)
    .reduce((a, b) => a.fuse(b) as Shape3D);
}
