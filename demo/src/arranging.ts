/** Steps of the demo job that mend structure and places, and set the tensioning pump in motion. */
import { ALL } from '@noble-prism/core/select/select';
import type { Spot } from '@noble-prism/core/scene/spot';
import type { Step } from '@noble-prism/core/steps/kinds';
import { PUMP } from './pump.ts';
import { TOWER } from './tower.ts';

/** Where the surveyor's two corners are in the job, metres, y up: up the line, under the rope. */
const CORNERS: [number, number, number][] = [
  [20.5, -4.2, 0.322],
  [23.5, -4.2, 0.322],
];

/** @param source id of a source by its file name */
export function arrangingSteps(source: (file: string) => string): Step[] {
  const step = (id: string, kind: string, parameters: object, selector: Step['selector'] = ALL): Step => ({
    id,
    kind,
    on: true,
    selector,
    parameters,
  });
  const inPump = (path: string) => `${source('tensioning-pump.stp')}:/Tensioning pump${path}`;
  const CRANK = inPump('/Pump, exported/Crank');
  const ROD = inPump('/Pump, exported/Connecting rod');
  const PLUNGER = inPump('/Pump, exported/Plunger');
  const BODY = inPump('/Pump, exported/Pump body group/Pump body unit/Pump body');
  /** A point of the drawing of the pump: millimetres, z up. */
  const drawn = (on: string, [x, y, z]: number[], axis: Spot['axis'], what: string): Spot => ({
    at: [x / 1000, y / 1000, z / 1000],
    on,
    ...(axis ? { axis } : {}),
    what,
  });
  const pin = [PUMP.throw * Math.cos(PUMP.angle), 0, PUMP.height + PUMP.throw * Math.sin(PUMP.angle)];
  const wrist = [pin[0] + Math.sqrt(PUMP.rod ** 2 - (pin[2] - PUMP.height) ** 2), 0, PUMP.height];
  const shaft = drawn(`${CRANK}/Crank shaft`, [0, 0, PUMP.height], [0, 1, 0], 'axis, r 22 mm');
  const tower = `${source('tower-1.glb')}:/Tower 1/Foundation`;
  const corner = (name: string) => `${source('tower-1.glb')}:+${name}`;
  return [
    step('pump-nesting', 'needless', { what: 'single', name: 'child' }, { by: 'name', pattern: 'Pump body *' }),
    step('flywheel', 'attach', { to: CRANK }, { by: 'picked', keys: [inPump('/Flywheel')] }),
    step('crank-pivot', 'pivot', { place: 'spot', spot: shaft, turn: 'axis', of: 'picked' }, { by: 'picked', keys: [CRANK] }),
    step('pump-handle', 'handle', { name: 'Pump on its bed', spot: drawn(BODY, [-220, -150, 0], undefined, 'corner of the bed'), lock: 'locked', mark: 'pump-handle' }, { by: 'picked', keys: [inPump('')] }),
    step('shaft', 'link', { name: 'Crank shaft', as: 'hinge', part: CRANK, base: BODY, axis: shaft, mark: 'shaft' }),
    step('pin', 'link', { name: 'Crank pin', as: 'hinge', part: ROD, base: CRANK, axis: drawn(ROD, pin, [0, 1, 0], 'axis of a shaft in a hole'), mark: 'pin' }),
    step('wrist', 'link', { name: 'Wrist pin', as: 'hinge', part: PLUNGER, base: ROD, axis: drawn(PLUNGER, wrist, [0, 1, 0], 'axis of a shaft in a hole'), mark: 'wrist' }),
    step('bore', 'link', { name: 'Bore', as: 'slide', part: PLUNGER, base: BODY, axis: drawn(PLUNGER, wrist, [1, 0, 0], 'axis of a shaft in a hole'), mark: 'bore' }),
    step('stroke', 'run', { name: 'Pump stroke', link: 'shaft', turnFrom: 0, turnTo: 2 * Math.PI, seconds: 2, mark: 'stroke' }),
    step('corner-a', 'point', { name: 'Tower corner A', spot: { at: TOWER.corners[0], on: tower, what: 'corner' }, mark: 'corner-a' }),
    step('corner-b', 'point', { name: 'Tower corner B', spot: { at: TOWER.corners[1], on: tower, what: 'corner' }, mark: 'corner-b' }),
    step(
      'tower-place',
      'register',
      {
        from1: { at: [0, 0, 0], on: corner('corner-a'), what: 'setting-out point' },
        to1: { at: CORNERS[0] },
        from2: { at: [0, 0, 0], on: corner('corner-b'), what: 'setting-out point' },
        to2: { at: CORNERS[1] },
      },
      { by: 'picked', keys: [`${source('tower-1.glb')}:/Tower 1`] },
    ),
    step('map', 'map', { spot: { at: [22, -4.8, CORNERS[0][2] - 1.5] }, eastings: TOWER.eastings, northings: TOWER.northings, height: TOWER.height, rotation: TOWER.angle, scale: 1 }),
  ];
} // prettier-ignore

/** Measures that the rehearsal asks for: taken behind everything. */
export function measureSteps(source: (file: string) => string): Step[] {
  const pump = `${source('tensioning-pump.stp')}:/Tensioning pump`;
  return [
    {
      id: 'pump-mass',
      kind: 'measure',
      on: true,
      selector: { by: 'picked', keys: [pump] },
      // Cast iron, common practice.
      parameters: { name: 'Weight of the pump', of: 'mass', density: 7200 },
    },
  ];
}
