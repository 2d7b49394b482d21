/** Short words for putting parts together: parts from shapes, assemblies from children, places by position and turn. */
import type { Shape3D } from 'replicad';
import { bolt, ISO_SIZES, nut, washer } from './hardware.ts';
import type { AssemblyDefinition, Child, PartDefinition, Place } from './stepAssembly.ts';

/** Layers of the works drawings, with the colour that parts on them have unless they say otherwise. */
export const LAYERS = {
  STRUCTURE: '#8e9a8c',
  MACHINE: '#a3ada0',
  DRIVE: '#c89c3c',
  BEARINGS: '#6d747c',
  FASTENERS: '#b9bcc0',
  GUARDS: '#e3b40c',
  ROPEWAY: '#565b63',
  ELECTRICAL: '#4d6f92',
  CABIN: '#b3261e',
  GLAZING: '#cfe6dc',
} as const;

export type LayerName = keyof typeof LAYERS;

export interface PartOptions {
  colour?: string;
  transparency?: number;
  faceColours?: Record<number, string>;
}

export async function part(
  name: string,
  layer: LayerName,
  shape: Shape3D,
  options: PartOptions = {},
): Promise<PartDefinition> {
  const step = await shape.blobSTEP().text();
  return { name, layer, colour: LAYERS[layer], step, ...options };
}

export function assembly(name: string, children: Child[]): AssemblyDefinition {
  return { name, children };
}

type Of = PartDefinition | AssemblyDefinition;

/** A child standing upright at a point, turned about z by some degrees. */
export function at(of: Of, x: number, y: number, z: number, turn = 0, more: Partial<Child> = {}): Child {
  const angle = (turn * Math.PI) / 180;
  const place: Place = { origin: [x, y, z], z: [0, 0, 1], x: [clean(Math.cos(angle)), clean(Math.sin(angle)), 0] };
  return { of, place, ...more };
}

/** A child whose own z points along a direction; its x as near to `x` as that allows. */
export function facing(
  of: Of,
  origin: Place['origin'],
  z: Place['z'],
  x: Place['x'] = [1, 0, 0],
  more: Partial<Child> = {},
): Child {
  return { of, place: { origin, z, x }, ...more };
}

function clean(value: number): number {
  return Math.abs(value) < 1e-12 ? 0 : value;
}

/** Bolt, two washers and nut through a joint of some thickness: head on top at z = 0, nut below. */
export async function boltSet(diameter: number, grip: number): Promise<AssemblyDefinition> {
  const { thickness, nut: nutHeight } = ISO_SIZES[diameter];
  const length = Math.ceil((grip + 2 * thickness + nutHeight + 4) / 5) * 5;
  const [head, disc, below] = await hardware(diameter, length);
  return assembly(`Bolt set M${diameter} grip ${grip}`, [
    at(head, 0, 0, thickness),
    at(disc, 0, 0, 0),
    at(disc, 0, 0, -grip - thickness),
    at(below, 0, 0, -grip - thickness - nutHeight),
  ]);
}

const made = new Map<string, Promise<PartDefinition>>();

/** Every size is one part, however often it is used. */
function once(name: string, make: () => Shape3D): Promise<PartDefinition> {
  let known = made.get(name);
  if (!known) made.set(name, (known = part(name, 'FASTENERS', make())));
  return known;
}

function hardware(diameter: number, length: number): Promise<PartDefinition[]> {
  return Promise.all([
    once(`Hexagon bolt M${diameter} × ${length}`, () => bolt(diameter, length)),
    once(`Washer M${diameter}`, () => washer(diameter)),
    once(`Hexagon nut M${diameter}`, () => nut(diameter)),
  ]);
}
