// Places against gltf-transform's own of the same file (glTF 2.0, 3.5.3); a tree too large for objects of a library by its count.
import { Document, WebIO } from '@gltf-transform/core';
import type { JSONDocument, Node } from '@gltf-transform/core';
import { expect, it } from 'vitest';
import { factsOf } from '../../scene/facts.ts';
import { fileOf, readAll, warningsOf } from '../../testing/reading.ts';
import { randomNumbers } from '../../testing/random.ts';
import { takeTree } from './tree.ts';

const json = (nodes: object[], more: object = {}): JSONDocument['json'] =>
  ({ asset: { version: '2.0' }, nodes, ...more }) as JSONDocument['json'];

it('puts every node of a random tree where gltf-transform puts it', async () => {
  const random = randomNumbers(11);
  const document = new Document();
  const scene = document.createScene();
  const nodes: Node[] = [];
  for (let i = 0; i < 300; i++) {
    const [x, y, z, w] = [random() - 0.5, random() - 0.5, random() - 0.5, random() + 0.1];
    const length = Math.hypot(x, y, z, w);
    const node = document
      .createNode(`n${i}`)
      .setTranslation([random() * 10, random() * 10, random() * 10])
      .setRotation([x / length, y / length, z / length, w / length])
      .setScale([random() + 0.5, random() + 0.5, i % 7 ? 1 : -1]);
    (i === 0 ? scene : nodes[Math.floor(random() * i)]).addChild(node);
    nodes.push(node);
  }
  const bytes = await new WebIO().writeBinary(document);
  const { scene: read } = await readAll(fileOf('tree.glb', bytes));
  const facts = factsOf(read);
  const rows = new Map(read.nodes.map((node) => [node.name, node.id]));
  expect(rows.size).toBe(300);
  for (const node of nodes) {
    const world = facts.world(rows.get(node.getName()) ?? -1);
    node.getWorldMatrix().forEach((value, i) => expect(world[i]).toBeCloseTo(value, 6));
  }
});

it('takes a matrix as it stands, sheared too', async () => {
  const matrix = [1, 0, 0, 0, 0.5, 1, 0, 0, 0, 0, 1, 0, 7, 8, 9, 1];
  const { node } = await readAll(fileOf('a.gltf', JSON.stringify(json([{ name: 'Skewed', matrix }]))));
  expect(node('Skewed').transform).toEqual(matrix);
});

it('leaves to the library what its movements, skins and lists of places refer to, by other numbers', () => {
  const file = json([{ name: 'a', children: [1, 2] }, { name: 'b' }, { name: 'c' }, { name: 'd' }], {
    scenes: [{ nodes: [0] }, { nodes: [3] }],
    animations: [{ channels: [{ sampler: 0, target: { node: 2, path: 'scale' } }, { sampler: 0, target: { node: 9, path: 'scale' } }], samplers: [] }], // prettier-ignore
    skins: [{ joints: [3] }],
  });
  const { roots, known, nodes, scenes } = takeTree(file);
  expect({ roots, known, names: nodes.map(({ name }) => name), scenes }).toEqual({
    roots: [0],
    known: [2, 3],
    names: ['a', 'b', 'c', 'd'],
    scenes: 2,
  });
  expect(file.nodes).toHaveLength(2);
  expect(file.animations?.[0].channels.map(({ target }) => target.node)).toEqual([0]);
  expect(file.skins?.[0].joints).toEqual([1]);
});

it('takes a root that is listed twice once, and passes over one that is not there', () => {
  expect(takeTree(json([{ name: 'a' }], { scenes: [{ nodes: [0, 7, 0] }] })).roots).toEqual([0]);
  expect(takeTree(json([{ children: [1] }, {}], { scenes: [{}] })).roots).toEqual([0]);
});

it('keeps a node that refers to what is not in the file, and says so', async () => {
  const { scene } = await readAll(fileOf('a.gltf', JSON.stringify(json([{ name: 'Lost', mesh: 4, camera: 2 }]))));
  expect(scene.nodes.map(({ name, kind }) => [name, kind])).toEqual([['Lost', 'assembly']]);
  expect(warningsOf(scene)).toEqual(['dangling', 'dangling']);
});
