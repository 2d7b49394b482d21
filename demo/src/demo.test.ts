// The demo's files: as large and as varied as the job needs, the same each time, with bolts of the sizes that ISO 4014 gives.
import { createHash } from 'node:crypto';
import { beforeAll, describe, expect, it } from 'vitest';
import { MemoryBlobs, memorySurroundings } from '@noble-prism/core/memoryStores';
import { evaluate } from '@noble-prism/core/preparation/evaluate';
import { surveyCounts } from '@noble-prism/core/scene/counts';
import { readSource } from '@noble-prism/core/read/readSource';
import { sentTo } from '@noble-prism/core/testing/sent';
import { factsOf } from '@noble-prism/core/scene/facts';
import { mergeScenes } from '@noble-prism/core/scene/merge';
import { onMap } from '@noble-prism/core/scene/origin';
import { provideKernel } from '@noble-prism/core/solid/kernel';
import { checkSteps, STEP_KINDS } from '@noble-prism/core/steps/kinds';
import type { Scene } from '@noble-prism/core/scene/types';
import { atLength } from '@noble-prism/core/testing/atLength';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { authorDemo } from './author.ts';
import { demoBytes, keptDemoFiles } from './kept.ts';
import { arrangingSteps } from './arranging.ts';
import { demoSteps } from './preparation.ts';

let files: Map<string, Uint8Array>;
let scenes: Scene[];
const blobs = new MemoryBlobs();
beforeAll(async () => {
  provideKernel(loadKernel);
  files = demoBytes(await keptDemoFiles());
  scenes = [];
  for (const [name, bytes] of files) {
    scenes.push(await (await readSource({ name, bytes }, name.replace(/\..*$/, ''))).build(blobs));
  }
  // Whoever comes first authors the files.
}, 240_000);

const depthOf = ({ nodes }: Scene) => {
  const depths: number[] = [];
  for (const node of nodes) depths[node.id] = node.parent === null ? 1 : depths[node.parent] + 1;
  return Math.max(...depths);
};

describe('the demo files', () => {
  it('hold enough of everything, in millimetres, without a warning', () => {
    const solids = scenes.slice(0, 2);
    const counts = solids.map((scene) => surveyCounts(scene));
    const sum = (of: (c: (typeof counts)[number]) => number) => counts.reduce((total, entry) => total + of(entry), 0);
    expect(sum((c) => c.pieces)).toBeGreaterThanOrEqual(40);
    expect(sum((c) => c.parts)).toBeGreaterThanOrEqual(250);
    expect(new Set(counts.flatMap((c) => c.layers.map((layer) => layer.name))).size).toBe(8);
    expect(sum((c) => c.materials.length)).toBeGreaterThanOrEqual(8);
    for (const scene of solids) {
      expect(depthOf(scene)).toBeGreaterThanOrEqual(4);
      expect(scene.sources[0]).toMatchObject({ unit: { name: 'mm', declared: true }, warnings: [] });
    }
    expect([...files.values()].reduce((total, bytes) => total + bytes.length, 0)).toBeLessThan(5_000_000);
  });

  atLength('are the same bytes each time', async () => {
    const hash = (made: Map<string, Uint8Array>) =>
      [...made.values()].map((bytes) => createHash('sha256').update(bytes).digest('hex'));
    expect(hash(await authorDemo())).toEqual(hash(files));
  });

  it('bring a cabin in inches, a building with storeys and furniture with pictures', async () => {
    const [, , cabin, building, furniture] = scenes;
    expect(cabin.sources[0].unit).toMatchObject({ name: 'inch', metres: 0.0254, declared: true });
    const storeys = building.nodes.filter((node) => node.class === 'IfcBuildingStorey');
    expect(storeys.map(({ properties }) => properties?.Elevation)).toEqual(['-4.2 m', '0 m', '3.6 m']);
    expect(building.nodes.filter((node) => node.kind === 'part' && !node.mesh)).toEqual([]);
    // A door leaf is about 2.1 m high (common practice).
    const door = building.nodes.find((node) => node.class === 'IfcDoor');
    const { bounds } = building.meshes[door?.mesh ?? ''];
    expect(bounds.max[2] - bounds.min[2]).toBeCloseTo(2.1, 3);
    const states = Object.values(furniture.textures).map(({ state }) => state);
    expect(states.sort()).toEqual(['found', 'found', 'unbound', 'unbound']);
    expect(furniture.sources[0]).toMatchObject({ unit: { declared: false }, warnings: [] });
  });

  it('bring gates that swing, in two liveries, with a lamp and a camera', () => {
    const gates = scenes[5];
    expect(gates.sources[0]).toMatchObject({
      variants: ['Summer', 'Winter'],
      holds: { cameras: 1, lights: 1, animations: 1 },
      warnings: [],
    });
    expect(gates.sources[0].notRead).toBeUndefined();
    // The second shuts half a second after the first.
    expect(Object.values(gates.animations)).toMatchObject([{ name: 'Boarding', duration: 5.5, nodes: 2 }]);
  });

  // Width across flats and head height, ISO 4014, mm; from memory, as the heads of M10 to M16 in any table of bolts.
  it.each([
    [10, 16, 6.4],
    [12, 18, 7.5],
    [16, 24, 10],
  ])('have hexagon heads of M%i with %d mm across flats and %d mm height', async (diameter, flats, height) => {
    const all = mergeScenes(scenes);
    const node = all.nodes.find(({ name }) => name.startsWith(`Hexagon bolt M${diameter}`));
    const step = {
      id: 't',
      kind: 'tessellate',
      on: true,
      selector: { by: 'picked' as const, keys: [node?.key ?? ''] },
      parameters: { chord: 0.0001, angle: 0.3, preset: 'own' },
    };
    const { scene } = await evaluate(all, 'demo', [step], memorySurroundings({ blobs }));
    const { bounds } = scene.meshes[scene.nodes.row(node?.id ?? 0).mesh as string];
    const size = bounds.max.map((high, axis) => (high - bounds.min[axis]) * 1000);
    // Across flats one way, across corners (2/√3 of it) the other.
    expect(Math.min(size[0], size[1])).toBeCloseTo(flats, 2);
    expect(Math.max(size[0], size[1])).toBeCloseTo((flats * 2) / Math.sqrt(3), 2);
    expect(bounds.max[2] * 1000).toBeCloseTo(height, 2);
  });
});

describe('the demo preparation', () => {
  /** Kinds for faults that the demo job's files do not have. */
  const NOT_NEEDED = [
    'group', 'dissolve', 'regroup', 'join', 'split', 'lock', 'move', 'rotate', 'scale', 'put-on', 'drop', 'mirror', 'branch', 'calibrate',
    'rebase', 'drive',
  ]; // prettier-ignore
  const arranging = new Set(arrangingSteps((file) => file).map(({ id }) => id));
  const stepsOfJob = () => checkSteps(demoSteps((file) => file.replace(/\..*$/, '')));

  it('shows every kind of step that its files need, and every step finds something', async () => {
    const steps = stepsOfJob();
    const shown = steps.map((step) => step.kind);
    expect(new Set([...shown, ...NOT_NEEDED])).toEqual(new Set(STEP_KINDS.keys()));
    expect(shown.filter((kind) => NOT_NEEDED.includes(kind))).toEqual([]);
    const { select } = await import('@noble-prism/core/select/select');
    const all = mergeScenes(scenes);
    for (const step of steps) expect(select(all, step.selector).size, step.id).toBeGreaterThan(0);
  });

  it('mends the pump and the tower: what was needless is gone, the flywheel is with its crank, the tower stands up the line', async () => {
    const files = ['tensioning-pump', 'tower-1'];
    const own = mergeScenes(scenes.filter(({ sources }) => files.includes(sources[0].id)));
    const mending = stepsOfJob().filter(({ id, kind }) => kind === 'turn' || arranging.has(id));
    const { scene, reports } = await evaluate(own, 'pump', mending, memorySurroundings({ blobs }));
    expect(reports.flatMap(({ problems, lost }) => [...problems, ...lost])).toEqual([]);
    const paths = scene.nodes.map(({ parent, name }) => `${parent === null ? '' : scene.nodes.text('name', parent)}/${name}`);
    expect(paths).toEqual(expect.arrayContaining(['Crank/Flywheel', 'Pump, exported/Pump body', '/Pump on its bed']));
    expect(paths.filter((path) => path.includes('Pump body group'))).toEqual([]);
    const placeOf = (name: string) => factsOf(scene).world(scene.nodes.find((node) => node.name === name)?.id ?? -1);
    // The crank's pivot on its shaft, 220 mm over the floor.
    [2.4, 0.22, 1.5].forEach((value, i) => expect(placeOf('Crank')[12 + i]).toBeCloseTo(value, 9));
    // The corners of the tower come to where they were set out, to a micrometre, seven hundred kilometres from where they came.
    [20.5, -4.2, 0.322].forEach((value, i) => expect(placeOf('Tower corner A')[12 + i]).toBeCloseTo(value, 6));
    [23.5, -4.2, 0.322].forEach((value, i) => expect(placeOf('Tower corner B')[12 + i]).toBeCloseTo(value, 6));
    // On the map they are where they came from.
    const map = scene.origin?.map;
    const came = factsOf(scenes[7]).world(0);
    const [east, north, up] = onMap(map!, placeOf('Tower 1').slice(12, 15) as never);
    [east - came[12], up - came[13], north + came[14]].forEach((off) => expect(off).toBeCloseTo(0, 4));
    expect(Object.values(scene.animations)).toMatchObject([{ name: 'Pump stroke', duration: 2, nodes: 3 }]);
  }); // prettier-ignore

  it('that moves reads back in every format that carries movements, with the steps of the job around it', async () => {
    const own = mergeScenes(scenes.filter(({ animations }) => Object.keys(animations).length > 0));
    const mending = stepsOfJob().filter(({ id, kind }) => kind === 'turn' || kind === 'run' || arranging.has(id));
    const { scene } = await evaluate(own, 'moves', mending, memorySurroundings({ blobs }));
    expect(Object.values(scene.animations).length).toBeGreaterThan(0);
    for (const format of ['glb', 'usda', 'dae', 'x3d'])
      expect([format, (await sentTo(scene, blobs, { format })).readBack.differences]).toEqual([format, []]);
  });
});
