// Rows of a revision keep what they were: among equals by shape and place, whatever their order, and nothing passes to another.
import { describe, expect, it } from 'vitest';
import { boxMesh } from '../testing/meshes.ts';
import { randomNumbers } from '../testing/random.ts';
import { sceneWith } from '../testing/scenes.ts';
import type { PartSpec } from '../testing/scenes.ts';
import { translation } from './matrix.ts';
import { recognised } from './recognise.ts';
import type { Scene } from './types.ts';

/** A bolt of a length that tells it, somewhere. */
const bolt = (length: number, x = length, name = 'Bolt'): PartSpec => ({ name, mesh: boxMesh(length, 1, 1), transform: translation([x, 0, 0]) }); // prettier-ignore
const scene = async (...children: PartSpec[]) => (await sceneWith([{ name: 'Frame', children }])).scene;

/** Length of each bolt by its key. */
const lengths = ({ nodes, meshes }: Scene): Record<string, number> =>
  Object.fromEntries(
    [...nodes].flatMap(({ key, mesh }) => (mesh ? [[key.slice('/Frame/'.length), meshes[mesh].bounds.max[0] * 2]] : [])), // prettier-ignore
  );

describe('bolts of one name', () => {
  it('are told by their shapes where one of them is gone', async () => {
    const before = await scene(bolt(1), bolt(2), bolt(3), bolt(4));
    expect(lengths(before)).toEqual({ Bolt: 1, 'Bolt#2': 2, 'Bolt#3': 3, 'Bolt#4': 4 });
    expect(lengths(recognised(before, await scene(bolt(2), bolt(3), bolt(4))))).toEqual({ 'Bolt#2': 2, 'Bolt#3': 3, 'Bolt#4': 4 }); // prettier-ignore
  });

  it('are told in any order, moved, and beside new ones, which get ordinals that nobody had', async () => {
    const before = await scene(bolt(1), bolt(2), bolt(3), bolt(4));
    const after = recognised(before, await scene(bolt(9), bolt(4, 40), bolt(2), bolt(3), bolt(1)));
    expect(lengths(after)).toEqual({ Bolt: 1, 'Bolt#2': 2, 'Bolt#3': 3, 'Bolt#4': 4, 'Bolt#5': 9 });
  });

  it('are told by where they stand where their shapes are equal, or were changed', async () => {
    const equal = await scene(bolt(1, 10), bolt(1, 20), bolt(1, 30));
    const places = ({ nodes }: Scene) => Object.fromEntries([...nodes].flatMap(({ key, mesh, transform }) => (mesh ? [[key.slice('/Frame/'.length), transform[12]]] : []))); // prettier-ignore
    expect(places(recognised(equal, await scene(bolt(1, 30), bolt(1, 20))))).toEqual({ 'Bolt#3': 30, 'Bolt#2': 20 });
    const before = await scene(bolt(1, 10), bolt(2, 20), bolt(3, 30));
    expect(lengths(recognised(before, await scene(bolt(7, 20), bolt(1, 10), bolt(3, 30))))).toEqual({ 'Bolt#2': 7, Bolt: 1, 'Bolt#3': 3 }); // prettier-ignore
  });

  it('that are equal and were all moved stay in their order where none came or went; else none is taken for another', async () => {
    const before = await scene(bolt(1, 10), bolt(1, 20));
    const moved = recognised(before, await scene(bolt(1, 11), bolt(1, 21)));
    expect(Object.keys(lengths(moved))).toEqual(['Bolt', 'Bolt#2']);
    const fewer = recognised(before, await scene(bolt(1, 11)));
    expect(Object.keys(lengths(fewer))).toEqual(['Bolt#3']);
    // Neither shape nor place tells which is which.
    const others = recognised(await scene(bolt(1), bolt(2)), await scene(bolt(3), bolt(4)));
    expect(lengths(others)).toEqual({ 'Bolt#3': 3, 'Bolt#4': 4 });
  });

  it('keep what they are over several revisions', async () => {
    const first = await scene(bolt(1), bolt(2), bolt(3));
    const second = recognised(first, await scene(bolt(3), bolt(2)));
    const third = recognised(second, await scene(bolt(2), bolt(3, 33), bolt(1)));
    expect(lengths(second)).toEqual({ 'Bolt#3': 3, 'Bolt#2': 2 });
    expect([lengths(third)['Bolt#2'], lengths(third)['Bolt#3']]).toEqual([2, 3]);
  });
});

describe('other rows', () => {
  it('that are the only one of their name are told by it, whatever their shape; the same scene is the same', async () => {
    const before = await scene(bolt(1, 1, 'Cover'), bolt(2), bolt(3));
    const same = await scene(bolt(5, 50, 'Cover'), bolt(2), bolt(3));
    expect(recognised(before, same)).toBe(same);
  });

  it('are told by what is below them, and so are those below', async () => {
    const unit = (...bolts: PartSpec[]): PartSpec => ({ name: 'Unit', children: bolts });
    const before = await scene(unit(bolt(1), bolt(2)), unit(bolt(3), bolt(4)));
    const after = recognised(before, await scene(unit(bolt(3), bolt(4)), unit(bolt(1), bolt(2))));
    expect(lengths(after)).toEqual({ 'Unit/Bolt': 1, 'Unit/Bolt#2': 2, 'Unit#2/Bolt': 3, 'Unit#2/Bolt#2': 4 });
  });

  it('in any order and number: whoever has the key it had is what it was', async () => {
    for (let seed = 1; seed <= 60; seed++) {
      const random = randomNumbers(seed);
      const all = Array.from({ length: 2 + Math.floor(random() * 8) }, (_, i) =>
        bolt(i + 1, Math.floor(random() * 50)),
      );
      const before = await scene(...all);
      const left = all.filter(() => random() > 0.3).sort(() => random() - 0.5);
      if (left.length === 0) continue;
      const [was, is] = [lengths(before), lengths(recognised(before, await scene(...left)))];
      expect(Object.keys(is)).toHaveLength(left.length);
      for (const [key, length] of Object.entries(is)) expect([seed, key, length]).toEqual([seed, key, was[key]]);
    }
  });
});
