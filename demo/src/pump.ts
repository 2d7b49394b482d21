/**
 * The pump that keeps the rope tensioned: crank, rod and plunger, as its maker exports it. With the faults that such files have: every
 * part drawn where it stands in the machine, so that all pivots lie at one point; assemblies around a single part; and the flywheel
 * left outside of the crank that it is keyed to. Invented; millimetres, z up, the crank's axis along y.
 */
import { makeCylinder } from 'replicad';
import type { Shape3D } from 'replicad';
import { assembly, at, part } from './assemble.ts';
import { block } from './shapes.ts';
import type { AssemblyDefinition } from './stepAssembly.ts';

/** Throw of the crank, length of the rod between its eyes, and the angle that the crank is drawn at. */
export const PUMP = { throw: 60, rod: 240, angle: 0.6, height: 220 };
/** Where it stands on the machine level. */
const PLACE = [2400, -1500, 0] as const;

/** Where the crank pin and the wrist pin are, x and z. */
const PIN = [PUMP.throw * Math.cos(PUMP.angle), PUMP.height + PUMP.throw * Math.sin(PUMP.angle)] as const;
const WRIST = [PIN[0] + Math.sqrt(PUMP.rod ** 2 - (PIN[1] - PUMP.height) ** 2), PUMP.height] as const;

/** A cylinder along y, from one y to another, about x and z. */
function across(radius: number, from: number, to: number, [x, z]: readonly [number, number]): Shape3D {
  return makeCylinder(radius, to - from, [x, from, z], [0, 1, 0]);
}
/** A cylinder along x at the height of the crank. */
function along(radius: number, from: number, to: number): Shape3D {
  return makeCylinder(radius, to - from, [from, 0, PUMP.height], [1, 0, 0]);
}
const joined = (first: Shape3D, ...others: Shape3D[]) => others.reduce((sum, one) => sum.fuse(one) as Shape3D, first);

export async function pump(): Promise<AssemblyDefinition> {
  const axis = [0, PUMP.height] as const;
  const bed = block(860, 300, 40, 20).translate([210, 0, 0]) as Shape3D;
  const pedestal = (y: number) => block(120, 40, PUMP.height + 10, 8).translate([0, y, 20]) as Shape3D;
  const barrel = joined(along(62, 330, 600), block(240, 110, 190, 8).translate([470, 0, 20]) as Shape3D);
  const body = joined(bed, pedestal(-105), pedestal(105), across(48, -125, -85, axis), across(48, 85, 125, axis), barrel)
    .cut(across(22.05, -140, 140, axis))
    .cut(along(40.05, 320, 560)) as Shape3D;
  const web = (from: number, to: number) => across(88, from, to, axis);
  const crank = joined(across(22, -240, -50, axis), across(22, 50, 140, axis), web(-60, -24), web(24, 60), across(16, -30, 30, PIN));
  const [dx, dz] = [WRIST[0] - PIN[0], WRIST[1] - PIN[1]];
  const shank = block(PUMP.rod - 36, 26, 26, 5)
    .translate([PUMP.rod / 2, 0, -13])
    .rotate((-Math.atan2(dz, dx) * 180) / Math.PI, [0, 0, 0], [0, 1, 0])
    .translate([PIN[0], 0, PIN[1]]) as Shape3D;
  const rod = joined(shank, across(30, -20, 20, PIN), across(22, -14, 14, WRIST))
    .cut(across(16.05, -40, 40, PIN))
    .cut(across(12.05, -40, 40, WRIST)) as Shape3D;
  const fork = block(90, 60, 50, 6).translate([WRIST[0] + 15, 0, PUMP.height - 25]) as Shape3D;
  const slot = block(100, 32, 60).translate([WRIST[0] - 12, 0, PUMP.height - 30]) as Shape3D;
  const plunger = joined(fork.cut(slot) as Shape3D, across(12, -28, 28, WRIST), along(40, WRIST[0] + 40, WRIST[0] + 230));
  const flywheel = joined(across(210, -235, -185, axis).cut(across(170, -250, -170, axis)) as Shape3D, across(172, -220, -200, axis), across(46, -240, -180, axis))
    .cut(across(22, -260, -160, axis)) as Shape3D;
  const parts = {
    body: await part('Pump body', 'MACHINE', body),
    crank: await part('Crank shaft', 'BEARINGS', crank, { colour: '#8c8d90' }),
    rod: await part('Connecting rod', 'DRIVE', rod),
    plunger: await part('Plunger', 'BEARINGS', plunger, { colour: '#a9adb3' }),
    flywheel: await part('Flywheel', 'GUARDS', flywheel),
  };
  return assembly('Tensioning pump', [
    at(
      assembly('Pump, exported', [
        at(assembly('Pump body group', [at(assembly('Pump body unit', [at(parts.body, 0, 0, 0)]), 0, 0, 0)]), 0, 0, 0),
        at(assembly('Crank', [at(parts.crank, 0, 0, 0)]), 0, 0, 0),
        at(parts.rod, 0, 0, 0),
        at(parts.plunger, 0, 0, 0),
      ]),
      ...PLACE,
    ),
    at(parts.flywheel, ...PLACE),
  ]);
} // prettier-ignore
