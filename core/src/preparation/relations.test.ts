// Tests by relation: random scenes and random lists of steps of every kind. Nobody says what comes out; what is said is what has to come out
// alike, as it does where each feature is right beside all the others. What is written is compared by another reader (glTF-Transform).
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { getBounds } from '@gltf-transform/functions';
import { describe, expect, it } from 'vitest';
import { nodePictures } from '../../../node/src/pictures.ts';
import { MemoryBlobs, MemoryMemo, memorySurroundings } from '../memoryStores.ts';
import { factsOf } from '../scene/facts.ts';
import { composed, IDENTITY, invert, multiply, transformPoint } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { corners, geometryTransform, worldBox } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import type { Selector } from '../select/selector.ts';
import { STEP_KINDS } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';
import type { StepKind } from '../steps/kind.ts';
import { atLength } from '../testing/atLength.ts';
import { Chance, randomTree, sceneOf } from '../testing/randomScenes.ts';
import { RandomSteps } from '../testing/randomSteps.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { sentTo } from '../testing/sent.ts';
import { MESH_WRITERS } from '../write/formats.ts';
import { settledSteps, signedSteps } from './equals.ts';
import { evaluate, evaluateNow, SceneMemo } from './evaluate.ts';
import { mergeSlots } from './slots.ts';
import { stepsFor } from './template.ts';

const ALL_KINDS = [...STEP_KINDS.values()];
const kindsBut = (...left: string[]): StepKind[] => ALL_KINDS.filter(({ kind }) => !left.includes(kind));

interface Said {
  /** Names from the top, how it looks, triangles. */
  what: string;
  /** Corners of the box in the world, metres. */
  box: number[];
}

/** What people see of a scene. @param rows of those alone for which it holds */
function seen(scene: Scene, { paths = true, rows = (_: number): boolean => true } = {}): Said[] {
  const { nodes, meshes } = scene;
  const facts = factsOf(scene);
  const pathOf = (row: number): string => {
    const above = nodes.columns.parent[row];
    return `${above < 0 || !paths ? '' : `${pathOf(above)}/`}${nodes.text('name', row)}`;
  };
  return [...facts.order].flatMap((row): Said[] => {
    const node = nodes.row(row);
    if (!node.mesh || !rows(row)) return [];
    const figures = meshes[node.mesh];
    const points = corners(figures.bounds).map((corner) => transformPoint(geometryTransform(node, facts.world(row)), corner)); // prettier-ignore
    const ends = (of: (...values: number[]) => number) => [0, 1, 2].map((axis) => of(...points.map((point) => point[axis]))); // prettier-ignore
    const looks = node.materials.filter((_, slot) => (figures.slots[slot] ?? 0) > 0).map((id) => lookOf(scene, id)); // prettier-ignore
    return [{ what: `${pathOf(row)} ${JSON.stringify(looks)} ${figures.triangles}`, box: [...ends(Math.min), ...ends(Math.max)] }]; // prettier-ignore
  });
}

/** A material without the names that its source gives it, and its pictures by theirs. */
function lookOf({ materials, textures }: Scene, id: string): object {
  const { textures: uses = {}, ...look } = materials[id] ?? materials.none;
  const pictures = Object.entries(uses).map(([slot, use]) => [slot, { ...use, texture: textures[use.texture]?.name }]);
  return { ...look, id: '', pictures };
}

/** Share of the size of all by which corners may be apart: single precision of shapes, and what is made of them. */
const APART = 2e-5;

/** The same is seen of both, whatever the order of their rows. */
function expectAlike(a: readonly Said[], b: readonly Said[], words: string): void {
  const whats = (list: readonly Said[]) => list.map(({ what }) => what).sort();
  expect(whats(a), words).toEqual(whats(b));
  const size = Math.max(1, ...b.flatMap(({ box }) => box.map(Math.abs)));
  const left = [...b];
  for (const { what, box } of a) {
    const apart = (one: Said) => Math.max(...one.box.map((value, i) => Math.abs(value - box[i])));
    const [nearest] = left.filter((one) => one.what === what).sort((p, q) => apart(p) - apart(q));
    expect(apart(nearest) / size, `${words}; ${what.slice(0, 60)} stands elsewhere`).toBeLessThan(APART);
    left.splice(left.indexOf(nearest), 1);
  }
}

interface Job {
  scene: Scene;
  blobs: MemoryBlobs;
}
const make = async (tree: PartSpec[], blobs = new MemoryBlobs(), slot = 's'): Promise<Job> => ({ blobs, scene: mergeSlots([{ slot, scene: (await sceneOf(tree, blobs)).scene }]) }); // prettier-ignore
const run = async ({ scene, blobs }: Job, steps: readonly Step[], memo = new MemoryMemo()) =>
  (await evaluate(scene, 'k', steps, memorySurroundings({ blobs, memo }))).scene;
const titles = (seed: number, steps: readonly Step[]) => `seed ${seed}: ${steps.map(({ kind, on }) => (on ? kind : `(${kind})`)).join(', ')}`; // prettier-ignore

/** The same in another order, at every level. */
const shuffled = (chance: Chance, tree: PartSpec[]): PartSpec[] =>
  chance.shuffled(tree).map((spec) => (spec.children ? { ...spec, children: shuffled(chance, spec.children) } : spec));

/** Below one more row, which stands elsewhere and takes it back. */
function wrapped(chance: Chance, tree: PartSpec[]): PartSpec[] {
  const around = composed([3, -2, chance.between(-4, 4)], [0, Math.SQRT1_2, 0, Math.SQRT1_2], [1, 1, 1]);
  const back = invert(around);
  return [{ name: 'Around', transform: around, children: tree.map((spec) => ({ ...spec, transform: multiply(back, spec.transform ?? IDENTITY) })) }]; // prettier-ignore
}

/** Shapes four times as large, in rows that are four times as small. */
const grown = (tree: PartSpec[]): PartSpec[] =>
  tree.map(({ mesh, children, transform = IDENTITY, ...spec }) => ({
    ...spec,
    transform: mesh ? multiply(transform, QUARTER) : transform,
    ...(mesh ? { mesh: { ...mesh, positions: mesh.positions.map((value) => value * 4), edges: mesh.edges.map((value) => value * 4) } } : {}), // prettier-ignore
    ...(children ? { children: grown(children) } : {}),
  }));
const QUARTER: Matrix = composed([0, 0, 0], [0, 0, 0, 1], [0.25, 0.25, 0.25]);

const within = (slot: string, selector: Selector): Selector => ({ by: 'and', of: [{ by: 'source', sources: [slot] }, selector] }); // prettier-ignore

/** Kinds that are about what is above a row, about each row at the top, or about the axes of a source. */
const OF_ANOTHER = ['rename', 'own-materials', 'join', 'regroup', 'dissolve', 'needless', 'group', 'attach', 'unit', 'up', 'scale', 'turn', 'drop', 'mirror', 'rotate', 'branch', 'pivot', 'handle', 'put-on']; // prettier-ignore

/** By seed; each throws where something did not come out alike. */
const RELATIONS: Record<string, (seed: number) => Promise<void>> = {
  async 'what the page applies with known results is what the server made, and what comes back is the same'(seed) {
    const chance = new Chance(seed);
    const job = await make(randomTree(chance));
    const steps = new RandomSteps(chance, job.scene).list(4);
    const memo = new KnownMemo();
    const made = await evaluate(job.scene, 'k', steps, memorySurroundings({ blobs: job.blobs, memo }));
    const now = evaluateNow(job.scene, 'k', steps, (key) => memo.known.get(key));
    expectAlike(seen(now.scene), seen(made.scene), titles(seed, steps));
    expect(now.missing.length, titles(seed, steps)).toBe(0);
    // As saved, and loaded again.
    const again = JSON.parse(JSON.stringify(steps)) as Step[];
    expectAlike(seen(await run(job, again)), seen(made.scene), titles(seed, steps));
  },

  async 'a step that is off is as one that is not there, and on again as it was'(seed) {
    const chance = new Chance(seed);
    const job = await make(randomTree(chance));
    const steps = new RandomSteps(chance, job.scene).list(4);
    const which = chance.whole(steps.length);
    const off = steps.map((step, i) => (i === which ? { ...step, on: false } : step));
    const around = memorySurroundings({ blobs: job.blobs });
    const memo = new SceneMemo();
    const on = async (list: readonly Step[]) => (await evaluate(job.scene, 'k', list, around, memo)).scene;
    const first = seen(await on(steps));
    expectAlike(seen(await on(off)), seen(await run(job, steps.toSpliced(which, 1))), titles(seed, off));
    expectAlike(seen(await on(steps)), first, titles(seed, steps));
  },

  async 'steps of one source leave another one alone, whichever comes first'(seed) {
    const chance = new Chance(seed);
    const blobs = new MemoryBlobs();
    const [left, right] = [randomTree(chance, 2), randomTree(chance, 2)];
    const [a, b] = [await make(left, blobs, 'a'), await make(right, blobs, 'b')];
    const both = mergeSlots([
      { slot: 'a', scene: (await sceneOf(left, blobs)).scene },
      { slot: 'b', scene: (await sceneOf(right, blobs)).scene },
    ]);
    // What concerns the job as a whole, what asks who else has a material, and names that nothing else has are about both.
    const kinds = kindsBut('own-materials', 'rename').filter(
      (kind) => !kind.whole?.(kind.example?.parameters ?? kind.defaults),
    );
    const draw = (job: Job, slot: string) =>
      new RandomSteps(chance, job.scene, kinds).list(2).map((step, i) => ({ ...step, id: `${slot}${i}`, selector: within(slot, step.selector) })); // prettier-ignore
    const [ofA, ofB] = [draw(a, 'a'), draw(b, 'b')];
    const isOf = (slot: string) => (scene: Scene) =>
      seen(scene, { rows: (row) => scene.nodes.word('source', row) === slot });
    const together = await run({ scene: both, blobs }, [...ofA, ...ofB]);
    const other = await run({ scene: both, blobs }, [ofB[0], ofA[0], ofB[1], ofA[1]]);
    expectAlike(seen(other), seen(together), titles(seed, [...ofA, ...ofB]));
    expectAlike(isOf('a')(together), seen(await run(a, ofA)), titles(seed, ofA));
    expectAlike(isOf('b')(together), seen(await run(b, ofB)), titles(seed, ofB));
  },

  async 'what goes through a template comes out as it was'(seed) {
    const chance = new Chance(seed);
    const tree = randomTree(chance);
    const blobs = new MemoryBlobs();
    const [job, there] = [await make(tree, blobs), await make(tree, blobs, 'other')];
    const steps = new RandomSteps(chance, job.scene).list(4);
    const kept = JSON.parse(JSON.stringify(signedSteps(job.scene, steps))) as Step[];
    const given = stepsFor(kept, [{ id: 's', name: 'f' }], [{ id: 'other', name: 'f' }]);
    expectAlike(seen(await run(there, given)), seen(await run(job, steps)), titles(seed, steps));
    const home = settledSteps(job.scene, kept);
    expect(home.map(({ selector }) => selector)).toEqual(steps.map(({ selector }) => selector));
  },

  async 'rows in another order are the same rows'(seed) {
    const chance = new Chance(seed);
    const tree = randomTree(chance);
    // What counts, joins in turn, or names rows by their order among equals says so by its kind.
    const kinds = kindsBut('rename', 'own-materials', 'join', 'split');
    const job = await make(tree);
    const steps = new RandomSteps(chance, job.scene, kinds).list(3);
    const there = await make(shuffled(chance, tree), job.blobs);
    const signed = signedSteps(job.scene, steps);
    expectAlike(seen(await run(there, signed)), seen(await run(job, steps)), titles(seed, steps));
  },

  async 'below one more row that takes its place back everything stands where it stood'(seed) {
    const chance = new Chance(seed);
    const tree = randomTree(chance);
    // What is said by the parent, by assemblies, or of each row at the top, is said of another one here; units and axes are those of a source.
    const kinds = kindsBut(...OF_ANOTHER);
    const selectors = new RandomSteps(chance, (await make(tree)).scene, kinds);
    const isAboutAll = ({ selector, parameters }: Step) => ['all', 'layer', 'name'].includes(selector.by) && !/"on":"s:|"s:\/|"along":"(parent|own)"/.test(JSON.stringify(parameters)); // prettier-ignore
    const steps = selectors.list(4).filter(isAboutAll);
    const blobs = new MemoryBlobs();
    const options = { paths: false };
    const [plain, below] = [await make(tree, blobs), await make(wrapped(chance, tree), blobs)];
    expectAlike(seen(await run(below, steps), options), seen(await run(plain, steps), options), titles(seed, steps));
  },

  async 'larger shapes in smaller rows have the same figures'(seed) {
    const chance = new Chance(seed);
    const tree = randomTree(chance);
    const [blobs, draws] = [new MemoryBlobs(), chance.whole(1e6)];
    const [plain, other] = [await make(tree, blobs), await make(grown(tree), blobs)];
    // Coordinates are lengths of the mesh, and what is drawn of a handle is taken in its own frame.
    const kinds = kindsBut('unwrap', 'faces');
    const [steps, same] = [plain, other].map((job) => new RandomSteps(new Chance(draws), job.scene, kinds).list(3));
    expectAlike(seen(await run(other, same)), seen(await run(plain, steps)), titles(seed, steps));
  },

  async 'what is written holds, and stands where another reader finds it'(seed) {
    const chance = new Chance(seed);
    const job = await make(randomTree(chance));
    const steps = new RandomSteps(chance, job.scene).list(3);
    const scene = await run(job, steps);
    if (!scene.nodes.some(({ mesh }) => mesh)) return;
    const { target: format } = MESH_WRITERS[seed % MESH_WRITERS.length];
    const { readBack, output } = await sentTo(scene, job.blobs, { format }, { pictures: nodePictures });
    expect(readBack.differences, `${format}, ${titles(seed, steps)}`).toEqual([]);
    if (format !== 'glb') return;
    const document = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(output.files[0].bytes);
    const box = getBounds(document.getRoot().listScenes()[0]);
    const { min, max } = worldBox(scene)!;
    const size = Math.hypot(...max.map((high, axis) => high - min[axis]));
    // The box of a turned part is that of its box, which is no smaller than that of its corners.
    box.min.forEach((low, axis) => expect(low, titles(seed, steps)).toBeGreaterThan(min[axis] - 1e-4 * size));
    box.max.forEach((high, axis) => expect(high, titles(seed, steps)).toBeLessThan(max[axis] + 1e-4 * size));
  },
};

class KnownMemo extends MemoryMemo {
  readonly known = new Map<string, unknown>();
  override async set(key: string, value: unknown): Promise<void> {
    this.known.set(key, value);
    await super.set(key, value);
  }
}

const SHORT = Number(process.env.RELATIONS ?? 13);
const LONG = Number(process.env.RELATIONS ?? 125);

describe('what has to come out alike', () => {
  it.each(Object.keys(RELATIONS))('%s', async (name) => {
    for (let seed = 1; seed <= SHORT; seed++) await RELATIONS[name](seed);
  });

  atLength.each(Object.keys(RELATIONS))('%s, of many', async (name) => {
    for (let seed = 1; seed <= LONG; seed++) await RELATIONS[name](seed);
  }, 600_000); // prettier-ignore
});
