// Links, positions and runs of a crank, rod and piston: against the textbook formula and three.js; files carry the movement.
import { Matrix4, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { MemoryBlobs, memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { movesOn } from '../linkage/links.ts';
import type { Link } from '../linkage/links.ts';
import { factsOf } from '../scene/facts.ts';
import { composed, transformPoint, translation } from '../scene/matrix.ts';
import type { Vector } from '../scene/matrix.ts';
import { placesAt } from '../scene/motion.ts';
import type { AnimationKeys } from '../scene/motion.ts';
import type { Scene } from '../scene/types.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { farthestBetween, placeOf } from '../testing/trees.ts';
import { sentTo } from '../testing/sent.ts';
import { checkSteps } from './kinds.ts';
import type { Step } from './kinds.ts';

const [R, L, AT] = [0.05, 0.16, 0.4];
const PIN: Vector = [R * Math.cos(AT), R * Math.sin(AT), 0];
const WRIST: Vector = [PIN[0] + Math.sqrt(L * L - PIN[1] ** 2), 0, 0];
const wristAt = (angle: number) => R * Math.cos(AT + angle) + Math.sqrt(L * L - (R * Math.sin(AT + angle)) ** 2);

/** A crank with a bolt in it, a rod, and a piston in a cylinder; the whole engine stands turned somewhere, the rod in the crank's assembly. */
const ENGINE = placeOf([1, 2, -1], 0.8, [40, 5, -7]);
const engine = (blobs?: MemoryBlobs) =>
  sceneWith([{ name: 'Engine', transform: ENGINE.toArray(), children: [
    { name: 'Cylinder', mesh: boxMesh(0.2, 0.05, 0.05) },
    { name: 'Crank', transform: composed([0.01, 0, 0], [0, 0, 0, 1], [2, 2, 2]), children: [
      { name: 'Bolt', mesh: boxMesh(0.01, 0.01, 0.01) },
      { name: 'Rod', mesh: boxMesh(0.05, 0.01, 0.01) },
    ] },
    { name: 'Piston', mesh: boxMesh(0.03, 0.03, 0.03), transform: translation(WRIST) },
  ] }], blobs); // prettier-ignore

const world = (v: Vector): Vector => new Vector3(...v).applyMatrix4(ENGINE).toArray();
const along = (v: Vector): Vector => new Vector3(...v).transformDirection(ENGINE).toArray();
const step = (kind: string, parameters: object, id = `${kind} ${JSON.stringify(parameters)}`.slice(0, 60)): Step => ({
  id,
  kind,
  on: true,
  selector: { by: 'all' },
  parameters,
});
const link = (
  name: string,
  part: string,
  base: string | undefined,
  at: Vector,
  axis: Vector,
  more: object = { as: 'hinge' },
) => step('link', { name, part, ...(base ? { base } : {}), axis: { at: world(at), axis: along(axis) }, ...more });
const LINKS = [
  link('Shaft', '/Engine/Crank', undefined, [0, 0, 0], [0, 0, 1]),
  link('Pin', '/Engine/Crank/Rod', '/Engine/Crank', PIN, [0, 0, 1]),
  link('Wrist', '/Engine/Piston', '/Engine/Crank/Rod', WRIST, [0, 0, 1]),
  link('Bore', '/Engine/Piston', '/Engine/Cylinder', WRIST, [1, 0, 0], { as: 'slide' }),
];
const run = (scene: Scene, blobs: MemoryBlobs, steps: Step[]) => evaluate(scene, 'k', checkSteps(steps), memorySurroundings({ blobs })); // prettier-ignore
const placeIn = (scene: Scene, path: string) => factsOf(scene).world(factsOf(scene).rowOf(path)!);
/** What a body has done in the frame of the engine. */
const doneBy = (before: Scene, after: Scene, path: string) =>
  ENGINE.clone().invert().multiply(new Matrix4().fromArray(placeIn(after, path) as number[])).multiply(new Matrix4().fromArray(placeIn(before, path) as number[]).invert()).multiply(ENGINE); // prettier-ignore

describe('a position', () => {
  it('is that of the textbook, wherever the engine stands, through assemblies with a scale', async () => {
    const { scene, blobs } = await engine();
    for (const turn of [0.5, 2, -1, 4, 7]) {
      const { scene: after, reports } = await run(scene, blobs, [...LINKS, step('drive', { link: 'Shaft', turn })]);
      expect(reports.flatMap(({ problems }) => problems)).toEqual([]);
      const piston = doneBy(scene, after, '/Engine/Piston');
      expect(farthestBetween(piston.toArray(), new Matrix4().makeTranslation(wristAt(turn) - WRIST[0], 0, 0).toArray())).toBeLessThan(1e-9);
      const crank = doneBy(scene, after, '/Engine/Crank');
      expect(farthestBetween(crank.toArray(), new Matrix4().makeRotationZ(turn).toArray())).toBeLessThan(1e-9);
      // The bolt goes with the crank that it is in; the rod is in it too, and still turns by itself.
      expect(farthestBetween(doneBy(scene, after, '/Engine/Crank/Bolt').toArray(), crank.toArray())).toBeLessThan(1e-9);
      const rod = doneBy(scene, after, '/Engine/Crank/Rod').toArray();
      transformPoint(rod, WRIST).forEach((value, i) => expect(value).toBeCloseTo([wristAt(turn), 0, 0][i], 9));
      expect(placeIn(after, '/Engine/Cylinder')).toEqual(placeIn(scene, '/Engine/Cylinder'));
    }
  }); // prettier-ignore

  it('says what every link comes to, and a second one begins where the first ended', async () => {
    const { scene, blobs } = await engine();
    const { scene: after, reports } = await run(scene, blobs, [...LINKS, step('drive', { link: 'Shaft', turn: 2 }), step('drive', { link: 'Shaft', turn: -1 })]);
    expect(reports.at(-1)?.notes).toEqual([expect.stringMatching(/^Shaft -57\.3°, Pin .+, Wrist .+, Bore .+\u00a0mm\.$/u)]);
    const once = (await run(scene, blobs, [...LINKS, step('drive', { link: 'Shaft', turn: -1 })])).scene;
    for (const path of ['/Engine/Crank', '/Engine/Piston']) expect(farthestBetween(placeIn(after, path), placeIn(once, path))).toBeLessThan(1e-8);
  }); // prettier-ignore

  it('goes with the engine when that is moved after it was linked', async () => {
    const { scene, blobs } = await engine();
    const shaft = { ...LINKS[0], parameters: { ...LINKS[0].parameters, base: '/Engine/Cylinder' } };
    const bed = [shaft, ...LINKS.slice(1)];
    const move: Step = { ...step('rotate', { angle: 1, axis: 'y', about: 'origin' }), selector: { by: 'picked', keys: ['/Engine'] } };
    const { scene: after, reports } = await run(scene, blobs, [...bed, move, step('drive', { link: 'Shaft', turn: 2 })]);
    expect(reports.flatMap(({ problems }) => problems)).toEqual([]);
    const { scene: first } = await run(scene, blobs, [...bed, step('drive', { link: 'Shaft', turn: 2 }), move]);
    for (const path of ['/Engine/Crank', '/Engine/Piston']) expect(farthestBetween(placeIn(after, path), placeIn(first, path))).toBeLessThan(1e-8);
  }); // prettier-ignore
});

describe('a run', () => {
  const RUN = step('run', { name: 'One turn', link: 'Shaft', turnFrom: 0, turnTo: 2 * Math.PI, seconds: 2 });

  it('has the piston where the textbook has it, at keys and between them', async () => {
    const { scene, blobs } = await engine();
    const { scene: after, reports } = await run(scene, blobs, [...LINKS, RUN]);
    expect(reports.at(-1)).toMatchObject({ problems: [], notes: ['Shaft from 0° to 360° in 2 s, 30 keys a second.'] });
    const [info] = Object.values(after.animations);
    expect(info).toMatchObject({ name: 'One turn', duration: 2, nodes: 3 });
    const keys = JSON.parse(new TextDecoder().decode(await blobs.get(info.keys!))) as AnimationKeys;
    const row = factsOf(after).rowOf('/Engine/Piston')!;
    for (let time = 0; time <= 2; time += 0.013) {
      const place = placesAt(after, info.id, keys, time).get(row)!;
      // Between two keys, six degrees of the crank, it goes straight: an eighth of r·(6°)² at most.
      expect(Math.abs(place[12] - wristAt((time / 2) * 2 * Math.PI))).toBeLessThan((1.4 * R * (Math.PI / 30) ** 2) / 8);
    }
    // At rest everything stands as before.
    expect(after.nodes.columns.place).toEqual(scene.nodes.columns.place);
  });

  it('goes into a file whose read-back holds, also after the engine was moved, and back the same way', async () => {
    const { scene, blobs } = await engine();
    const back = step('run', { name: 'To and fro', link: 'Shaft', turnTo: 1, seconds: 1, back: 'same-way' });
    const move = { ...step('move', { x: 5, y: 0, z: 0 }), selector: { by: 'picked', keys: ['/Engine'] } } as Step;
    const { scene: after, reports } = await run(scene, blobs, [...LINKS, RUN, back, move]);
    expect(reports.flatMap(({ problems }) => problems)).toEqual([]);
    const { manifest, readBack } = await sentTo(after, blobs);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    expect(manifest.movements).toEqual([{ name: 'One turn', duration: 2, nodes: 3 }, { name: 'To and fro', duration: 2, nodes: 3 }]);
  }); // prettier-ignore

  it('that cannot be gone keeps nothing, and says how far it comes', async () => {
    const { scene, blobs } = await engine();
    const short = LINKS.with(3, link('Bore', '/Engine/Piston', '/Engine/Cylinder', WRIST, [1, 0, 0], { as: 'slide', leastShift: -0.03 }));
    const { scene: after, reports } = await run(scene, blobs, [...short, RUN]);
    expect(reports.at(-1)?.problems).toEqual([expect.stringMatching(/^“Shaft” comes to [\d.]+° only: “Bore” is at its end, -30\u00a0mm\.$/u)]);
    expect(after.animations).toEqual({});
  }); // prettier-ignore
});

describe('which of two rows moves', () => {
  const link = (part: number, base: number) => ({ part, base }) as Link;
  const [BODY, CRANK, ROD, PLUNGER] = [1, 2, 3, 4];
  it.each([
    ['from the crank on', [[CRANK, BODY], [CRANK, ROD], [PLUNGER, ROD], [PLUNGER, BODY]]],
    ['from the plunger on', [[PLUNGER, BODY], [PLUNGER, ROD], [CRANK, ROD], [CRANK, BODY]]],
  ])('follows from the links before: of crank, rod and plunger all move, the body never, %s', (_, pairs) => {
    const links: Link[] = [];
    for (const [shaft, hole] of pairs) links.push(link(...movesOn(links, shaft, hole)));
    expect(new Set(links.map(({ part }) => part))).toEqual(new Set([CRANK, ROD, PLUNGER]));
  });
}); // prettier-ignore

describe('what is wrong', () => {
  const said = async (...steps: Step[]) => {
    const { scene, blobs } = await engine();
    const { scene: after, reports } = await run(scene, blobs, steps);
    for (const row of scene.nodes) expect(factsOf(after).world(row.id)).toEqual(factsOf(scene).world(row.id));
    return reports.at(-1)?.problems;
  };

  it('is said, and nothing moves', async () => {
    expect(await said(step('drive', { link: 'Shaft' }))).toEqual(['Nothing is linked yet: name a hinge or a slide first.']);
    expect(await said(...LINKS, step('drive', { link: 'Nobody' }))).toEqual(['There is no link “Nobody”. There are: Shaft, Pin, Wrist, Bore.']);
    expect(await said(link('X', '/Engine/Gone', undefined, PIN, [0, 0, 1]))).toEqual(['“X”: the row is no longer there: /Engine/Gone.']);
    expect(await said(link('X', '/Engine/Crank', '/Engine/Crank/Rod', PIN, [0, 0, 1]))).toEqual(['“X”: it is on something that is inside of it, which would move with it.']);
    const lock = { ...step('lock', { lock: 'locked' }), selector: { by: 'picked', keys: ['/Engine/Piston'] } } as Step;
    expect(await said(...LINKS, lock, step('drive', { link: 'Shaft', turn: 1 }))).toEqual(['Piston is locked, so that nothing can be driven.']);
    const third = link('Third', '/Engine/Crank/Rod', undefined, [0, 0.3, 0], [0, 0, 1]);
    expect(await said(...LINKS, third, step('drive', { link: 'Shaft', turn: 1 }))).toEqual([expect.stringMatching(/^“Shaft” comes to 0° only: it is locked: .+ These stand still, as no link says that they move: Cylinder\.$/u)]);
  }); // prettier-ignore

  it('is refused at the field', () => {
    const check = (parameters: object) => () => checkSteps([step('link', { name: 'X', as: 'hinge', part: '/A', axis: { at: [0, 0, 0], axis: [0, 0, 1] }, ...parameters })]);
    expect(check({ axis: { at: [0, 0, 0] } })).toThrow('The axis is missing');
    expect(check({ base: '/A' })).toThrow('A row cannot be linked to itself');
    expect(check({ leastTurn: 1, greatestTurn: 0 })).toThrow('It ends before it begins');
    expect(check({ part: '' })).toThrow('has to be chosen');
  }); // prettier-ignore
});
