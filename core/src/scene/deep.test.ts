// Sources that nobody should send: a hundred thousand levels, and two million rows in one.
import { describe, expect, it } from 'vitest';
import { select } from '../select/select.ts';
import { applyStep } from '../steps/kind.ts';
import { leaveOutStep } from '../steps/leaveOut.ts';
import { pivotStep } from '../steps/pivot.ts';
import { renameStep } from '../steps/rename.ts';
import { turnStep } from '../steps/turn.ts';
import { atLength } from '../testing/atLength.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { factsOf } from './facts.ts';
import { translation } from './matrix.ts';
import { NodeWriter } from './nodeWriter.ts';
import { packScene, unpackScene } from './sceneFile.ts';
import { worldBox } from './tree.ts';
import type { Scene } from './types.ts';

/** A scene of one cube, with rows of one's own. */
async function withRows(write: (rows: NodeWriter, mesh: string) => void): Promise<Scene> {
  const { scene } = await sceneWith([{ name: 'Cube', mesh: boxMesh(1, 1, 1) }]);
  const rows = new NodeWriter('s');
  write(rows, Object.keys(scene.meshes)[0]);
  return { ...scene, nodes: rows.table() };
}

describe('very many levels', () => {
  const chain = (levels: number) =>
    withRows((rows, mesh) => {
      let parent: number | null = null;
      for (let level = 0; level < levels; level++)
        parent = rows.add({ parent, name: `Level ${level}`, kind: 'assembly', transform: translation([0.001, 0, 0]) });
      rows.add({ parent, name: 'Cube', kind: 'part', mesh, materials: ['none'] });
    });

  it('are placed, counted, found and stored: twenty thousand', () => areStored(20_000));
  atLength('are placed, counted, found and stored: a hundred thousand', () => areStored(100_000));

  async function areStored(levels: number): Promise<void> {
    const scene = await chain(levels);
    const facts = factsOf(scene);
    // A millimetre for each level.
    expect(facts.world(levels)[12]).toBeCloseTo(levels / 1000, 6);
    expect(facts.triangles[0]).toBe(12);
    expect(facts.likeness.a).toHaveLength(levels + 1);
    expect(select(scene, { by: 'name', pattern: `Level ${levels - 10}` }).size).toBe(11);
    expect(worldBox(scene)?.max[0]).toBeCloseTo(levels / 1000 + 0.5, 6);
    const back = await unpackScene(await packScene(scene));
    expect(back.nodes.length).toBe(levels + 1);
    expect(back.nodes.row(levels).parent).toBe(levels - 1);
  }

  it('are turned, renamed, given pivots and left out: twenty thousand', () => areChanged(20_000));
  atLength('are turned, renamed, given pivots and left out: a hundred thousand', () => areChanged(100_000));

  async function areChanged(levels: number): Promise<void> {
    const scene = await chain(levels);
    const all = select(scene, { by: 'all' });
    expect(applyStep(turnStep, scene, all, { direction: 'z-to-y' }).changed).toBe(1);
    expect(applyStep(renameStep, scene, all, { name: '{name}!', of: 'assemblies' }).changed).toBe(levels);
    const top = new Set([0]);
    expect(applyStep(pivotStep, scene, top, { place: 'box-centre', of: 'assemblies' }).changed).toBe(2);
    // Nothing is left of the groups that held nothing else.
    expect(applyStep(leaveOutStep, scene, new Set([levels]), {}).scene.nodes.length).toBe(0);
  }
});

it('two hundred thousand rows in one level are taken, told apart, found and stored', () => inOneLevel(200_000));
atLength('two million rows in one level are taken, told apart, found and stored', () => inOneLevel(2_000_000), 120_000);

async function inOneLevel(count: number): Promise<void> {
  const scene = await withRows((rows, mesh) => {
    const parent = rows.add({ name: 'Yard', kind: 'assembly' });
    for (let i = 1; i < count; i++)
      rows.add({ parent, name: i % 2 ? 'Stone' : 'Slab', kind: 'part', mesh, materials: ['none'] });
  });
  const { nodes } = scene;
  expect(nodes.key(count - 1)).not.toBe(nodes.key(count - 3));
  expect(factsOf(scene).rowOf(nodes.key(count - 1))).toBe(count - 1);
  expect(factsOf(scene).takeOff).toMatchObject({ parts: count - 1, triangles: 12 * (count - 1), drawCalls: 1 });
  expect(select(scene, { by: 'name', pattern: 'sla?' }).size).toBe(count / 2 - 1);
  const back = await unpackScene(await packScene(scene));
  expect(back.nodes.length).toBe(count);
  expect(back.nodes.key(count - 1)).toBe(nodes.key(count - 1));
}
