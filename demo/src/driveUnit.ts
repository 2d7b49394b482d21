/** The drive unit of the lower station: base frame, motor, gearbox, brake, bull wheel, guards. Invented; millimetres, z up. */
import type { Shape3D } from 'replicad';
import { assembly, at, boltSet, facing, part } from './assemble.ts';
import { bar, beam, block, corners, cylinder, hexagon, onCircle, plate, ring, turned } from './shapes.ts';
import type { AssemblyDefinition, Child } from './stepAssembly.ts';

export async function driveUnit(): Promise<AssemblyDefinition> {
  return assembly('Drive unit', [
    at(await baseFrame(), 0, 0, 0),
    at(await gearbox(), 0, 0, 190),
    at(await motorGroup(), 1180, 0, 190),
    at(await bullWheel(), 0, 0, 1010),
    at(await guards(), 0, 0, 30),
  ]);
}

async function baseFrame(): Promise<AssemblyDefinition> {
  const rail = await part('Frame rail', 'STRUCTURE', beam(3300, 160, 120, 12, 16));
  const cross = await part('Cross member', 'STRUCTURE', beam(1180, 160, 120, 12, 16));
  const deck = await part('Deck plate', 'STRUCTURE', plate(3300, 1420, 15, 20, corners(3160, 1300), 17));
  const foot = await part('Foot plate', 'STRUCTURE', plate(260, 260, 15, 15, corners(190, 190), 17));
  const gusset = await part('Gusset', 'STRUCTURE', block(90, 12, 128));
  const anchor = await boltSet(16, 15);
  const feet: Child[] = [];
  for (const [x, y] of corners(3000, 1300)) {
    feet.push(at(foot, x, y, 0));
    for (const [hx, hy] of corners(190, 190)) feet.push(at(anchor, x + hx, y + hy, 15));
  }
  return assembly('Base frame', [
    at(rail, 0, -650, 15, 0, { tag: 'left' }),
    at(rail, 0, 650, 15, 0, { tag: 'right' }),
    ...[-1400, -470, 470, 1400].map((x) => at(cross, x, 0, 15, 90)),
    ...[-1400, -470, 470, 1400].flatMap((x) => [at(gusset, x, -575, 31, 90), at(gusset, x, 575, 31, 90)]),
    at(deck, 0, 0, 175),
    ...feet,
  ]);
}

async function motorGroup(): Promise<AssemblyDefinition> {
  // Fins around the housing: turned grooves, as cast ones would be along the axis; heavy enough to be worth reducing.
  const profile: [number, number][] = [[150, 0]];
  for (let i = 0; i < 14; i++) {
    const z = 20 + i * 44;
    profile.push([205, z], [205, z + 3], [250, z + 6], [250, z + 18], [205, z + 21], [205, z + 24]);
  }
  profile.push([205, 660], [150, 660]);
  const housing = await part('Motor housing', 'DRIVE', turned(profile.map(([r, z]) => [r, z])));
  const bell = await part(
    'End bell',
    'DRIVE',
    turned([
      [60, 0],
      [235, 0],
      [235, 40],
      [190, 70],
      [90, 90],
      [60, 90],
    ]),
  );
  const cowl = await part(
    'Fan cowl',
    'DRIVE',
    turned([
      [0, 150],
      [160, 150],
      [215, 120],
      [240, 60],
      [240, 0],
      [232, 0],
      [232, 58],
      [208, 114],
      [157, 142],
      [0, 142],
    ]),
  );
  const shaft = await part(
    'Motor shaft',
    'BEARINGS',
    turned([
      [0, 0],
      [45, 0],
      [45, 780],
      [38, 784],
      [38, 940],
      [35, 943],
      [0, 943],
    ]),
    { colour: '#8c8d90' },
  );
  const foot = await part('Motor foot', 'DRIVE', plate(560, 420, 30, 20, corners(480, 340), 17));
  const saddle = await part(
    'Motor saddle',
    'DRIVE',
    block(440, 300, 200).cut(bar(206, 600).translate([-300, 0, 270])) as Shape3D,
  );
  const box = await part(
    'Terminal box',
    'ELECTRICAL',
    block(230, 170, 120, 14).fuse(block(246, 186, 14, 18).translate([0, 0, 120])) as Shape3D,
    {
      faceColours: { 1: '#d8d4c4' },
    },
  );
  const gland = await part('Cable gland', 'ELECTRICAL', hexagon(38, 16).fuse(cylinder(14, 44)) as Shape3D, {
    colour: '#2c2f33',
  });
  const eye = await part(
    'Lifting eye',
    'FASTENERS',
    ring(34, 18, 16).fuse(block(20, 20, 46).translate([0, -44, -15])) as Shape3D,
  );
  const bolts = await boltSet(16, 45);
  // The motor lies along x, its shaft towards the gearbox at smaller x.
  const axis = 470;
  const along: [number, number, number] = [-1, 0, 0];
  return assembly('Motor group', [
    facing(housing, [330, 0, axis], along, [0, 0, 1]),
    facing(bell, [-330, 0, axis], along, [0, 0, 1], { tag: 'drive end' }),
    facing(bell, [330, 0, axis], [1, 0, 0], [0, 0, 1], { tag: 'fan end' }),
    facing(cowl, [420, 0, axis], [1, 0, 0], [0, 0, 1]),
    facing(shaft, [400, 0, axis], along, [0, 0, 1]),
    at(foot, 0, 0, 0),
    at(saddle, 0, 0, 30),
    at(box, 40, 0, axis + 235),
    ...[-60, 0, 60].map((x) => facing(gland, [40 + x, -85, axis + 290], [0, -1, 0])),
    ...[-200, 220].map((x) => facing(eye, [x, 8, axis + 282], [0, -1, 0], [1, 0, 0])),
    ...corners(480, 340).map(([x, y]) => at(bolts, x, y, 30)),
  ]);
}

async function gearbox(): Promise<AssemblyDefinition> {
  const caseBody = block(760, 700, 520, 40).cut(block(700, 640, 480, 25).translate([0, 0, 30])) as Shape3D;
  const openings = caseBody.cut(bar(110, 900).translate([-450, 0, 470 - 190])) as Shape3D;
  const housing = await part('Gearbox case', 'MACHINE', openings);
  const coverHoles = onCircle(12, 320, 15);
  const cover = await part('Gearbox cover', 'MACHINE', plate(800, 740, 36, 50, coverHoles, 13));
  const tower = await part(
    'Output tower',
    'MACHINE',
    turned([
      [130, 0],
      [270, 0],
      [270, 30],
      [215, 60],
      [180, 200],
      [180, 244],
      [130, 244],
    ]),
  );
  const input = await part(
    'Input shaft',
    'BEARINGS',
    turned([
      [0, 0],
      [40, 0],
      [40, 260],
      [55, 262],
      [55, 700],
      [0, 700],
    ]),
    { colour: '#8c8d90' },
  );
  const output = await part(
    'Output shaft',
    'BEARINGS',
    turned([
      [0, 0],
      [95, 0],
      [95, 640],
      [80, 648],
      [80, 900],
      [76, 904],
      [0, 904],
    ]),
    { colour: '#8c8d90' },
  );
  const flange = await part(
    'Bearing flange',
    'BEARINGS',
    turned([
      [58, 0],
      [150, 0],
      [150, 18],
      [120, 26],
      [58, 26],
    ]),
  );
  const wheel = await part('Crown gear', 'BEARINGS', gearWheel(290, 96, 60, 44), { colour: '#7b7264' });
  const pinion = await part('Pinion', 'BEARINGS', gearWheel(88, 55, 90, 18), { colour: '#7b7264' });
  const coupling = await part(
    'Coupling half',
    'DRIVE',
    turned([
      [39, 0],
      [120, 0],
      [120, 34],
      [75, 44],
      [75, 110],
      [39, 110],
    ]),
    { colour: '#45474a' },
  );
  const disc = await part('Brake disc', 'DRIVE', ring(240, 76, 18), { colour: '#8c8d90' });
  const caliper = await part(
    'Brake caliper',
    'DRIVE',
    block(120, 150, 110, 12).cut(block(60, 160, 24).translate([-40, 0, 43])) as Shape3D,
    { colour: '#a8301f' },
  );
  const sight = await part(
    'Oil sight glass',
    'MACHINE',
    turned([
      [0, 0],
      [30, 0],
      [30, 10],
      [24, 16],
      [0, 16],
    ]),
    { colour: '#cfe6dc', transparency: 0.6 },
  );
  const joint = await boltSet(12, 56);
  const flangeBolt = await boltSet(12, 36);
  return assembly('Gearbox', [
    at(housing, 0, 0, 0),
    at(cover, 0, 0, 520),
    at(tower, 0, 0, 556),
    at(output, 0, 0, 60),
    at(wheel, 0, 0, 300),
    facing(input, [640, 0, 280], [-1, 0, 0], [0, 0, 1]),
    facing(pinion, [300, 0, 280], [-1, 0, 0], [0, 0, 1]),
    facing(flange, [380, 0, 280], [1, 0, 0], [0, 0, 1], { tag: 'input' }),
    facing(flange, [-380, 0, 280], [-1, 0, 0], [0, 0, 1], { tag: 'blind' }),
    facing(coupling, [590, 0, 280], [1, 0, 0], [0, 0, 1], { tag: 'gearbox side' }),
    facing(coupling, [760, 0, 280], [-1, 0, 0], [0, 0, 1], { tag: 'motor side' }),
    facing(disc, [500, 0, 280], [1, 0, 0], [0, 0, 1]),
    facing(caliper, [455, 0, 480], [0, 0, 1], [1, 0, 0]),
    ...[-220, 220].map((y) => facing(sight, [y, -350, 180], [0, -1, 0])),
    ...coverHoles.map(([x, y]) => at(joint, x, y, 556)),
    ...onCircle(8, 240).map(([x, y]) => at(flangeBolt, x, y, 586)),
  ]);
}

/** A spur wheel with straight flanks: near enough for a machine that is seen from outside. */
function gearWheel(outer: number, bore: number, width: number, teeth: number): Shape3D {
  let wheel = ring(outer, bore, width);
  const depth = (outer * 4.2) / teeth;
  const tool = block(depth * 2, (outer * Math.PI) / teeth, width);
  for (let i = 0; i < teeth; i++) {
    wheel = wheel.cut(
      tool
        .clone()
        .translate([outer, 0, 0])
        .rotate((360 * i) / teeth, [0, 0, 0], [0, 0, 1]) as Shape3D,
    ) as Shape3D;
  }
  return wheel;
}

async function bullWheel(): Promise<AssemblyDefinition> {
  const groove: [number, number][] = [
    [1290, 0],
    [1400, 0],
    [1400, 30],
    [1372, 52],
    [1360, 80],
    [1372, 108],
    [1400, 130],
    [1400, 160],
    [1290, 160],
    [1290, 130],
    [1310, 120],
    [1310, 40],
    [1290, 30],
  ];
  const rim = await part('Rim', 'MACHINE', turned(groove));
  const lining = await part(
    'Rim lining',
    'ROPEWAY',
    turned([
      [1360, 54],
      [1374, 58],
      [1366, 80],
      [1374, 102],
      [1360, 106],
      [1352, 80],
    ]),
    { colour: '#1f2022' },
  );
  const spoke = await part('Spoke', 'MACHINE', block(1060, 120, 90, 12).cut(block(760, 60, 90, 28)) as Shape3D);
  const hubHoles = onCircle(16, 235);
  const hub = await part('Hub', 'MACHINE', plate(560, 560, 150, 279.9, hubHoles, 13).cut(cylinder(82, 150)) as Shape3D);
  const cap = await part(
    'Hub cap',
    'MACHINE',
    turned([
      [0, 0],
      [190, 0],
      [190, 12],
      [150, 40],
      [60, 58],
      [0, 60],
    ]),
    { colour: '#c89c3c' },
  );
  const bearing = await part(
    'Bearing housing',
    'BEARINGS',
    turned([
      [100, 0],
      [220, 0],
      [220, 25],
      [170, 40],
      [170, 110],
      [100, 110],
    ]),
  );
  const ringPart = await part(
    'Bearing ring',
    'BEARINGS',
    turned([
      [82, 0],
      [99, 0],
      [99, 34],
      [95, 40],
      [86, 40],
      [82, 34],
    ]),
    { colour: '#c3c2be' },
  );
  const plateRing = await part('Clamp ring', 'MACHINE', ring(275, 195, 20));
  const bolts = await boltSet(12, 150);
  return assembly('Bull wheel', [
    at(rim, 0, 0, 0),
    at(lining, 0, 0, 0),
    at(hub, 0, 0, 5),
    at(cap, 0, 0, 175),
    at(plateRing, 0, 0, 155),
    at(bearing, 0, 0, -112),
    at(ringPart, 0, 0, -60, 0, { tag: 'lower' }),
    at(ringPart, 0, 0, -108, 0, { tag: 'upper' }),
    ...Array.from({ length: 8 }, (_, i) => {
      const angle = (i * Math.PI) / 4;
      return at(spoke, 780 * Math.cos(angle), 780 * Math.sin(angle), 35, i * 45);
    }),
    ...hubHoles.map(([x, y]) => at(bolts, x, y, 175)),
  ]);
}

async function guards(): Promise<AssemblyDefinition> {
  let panelShape = block(1000, 30, 620);
  for (let i = 0; i < 9; i++)
    panelShape = panelShape.cut(block(60, 40, 500).translate([-400 + i * 100, 0, 60])) as Shape3D;
  const panel = await part('Guard panel', 'GUARDS', panelShape);
  const post = await part('Guard post', 'GUARDS', block(60, 60, 760, 6));
  const shoe = await part('Post shoe', 'GUARDS', plate(140, 140, 12, 10, corners(100, 100), 13));
  const bolts = await boltSet(12, 12);
  const posts: Child[] = [];
  for (const x of [-1560, -520, 520, 1560]) {
    for (const y of [-690, 690]) {
      const base = 160;
      posts.push(at(post, x, y, base + 12), at(shoe, x, y, base));
      for (const [hx, hy] of corners(100, 100).slice(0, 2)) posts.push(at(bolts, x + hx, y + hy, base + 12));
    }
  }
  const panels = [-1040, 0, 1040].flatMap((x) => [at(panel, x, -690, 260), at(panel, x, 690, 260)]);
  return assembly('Guards', [...posts, ...panels]);
}
