// Rows that steps made above others: what is written has them where they are, as another library finds it.
import { WebIO } from '@gltf-transform/core';
import type { Node } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { factsOf } from '../scene/facts.ts';
import { composed, translation } from '../scene/matrix.ts';
import { boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { farthestBetween } from '../testing/trees.ts';
import { sentTo } from '../testing/sent.ts';
import { MESH_WRITERS } from './formats.ts';

const model = () =>
  sceneWith([{ name: 'Root', transform: composed([5, 1, 2], [Math.SQRT1_2, 0, 0, Math.SQRT1_2], [1, 1, 1]), children: [
    { name: 'A', mesh: boxMesh(1, 2, 3), layer: 'STEEL', transform: translation([1, 1, 1]) },
    { name: 'B', mesh: boxMesh(1, 2, 3), layer: 'GLASS', transform: translation([4, 1, 1]) },
    { name: 'Inner', children: [{ name: 'C', mesh: boxMesh(1, 2, 3), layer: 'STEEL', transform: translation([7, 1, 1]) }] },
  ] }]); // prettier-ignore

describe('rows that steps made', () => {
  it.each([
    ['handle', { name: 'Site', spot: { at: [1, 2, 3] } }, 'Site/Root/Inner/C'],
    ['group', { name: 'Unit', pivot: 'base' }, 'Unit/Root/Inner/C'],
    ['regroup', { by: 'layer' }, 'STEEL/C'],
    ['point', { name: 'Grid A', spot: { at: [0, 0, 0], on: '/Root/A' } }, 'Root/Inner/C'],
    ['join', { name: 'All', each: 'assembly' }, 'Root/Inner/C'],
  ])('%s', async (kind, parameters, path) => {
    const { scene, blobs } = await model();
    const step = { id: 's', kind, on: true, selector: { by: 'all' } as const, parameters };
    const { scene: after, reports } = await evaluate(scene, 'k', [step], memorySurroundings({ blobs }));
    expect(reports[0].problems).toEqual([]);
    const { output, readBack, manifest } = await sentTo(after, blobs);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    for (const { target: format } of MESH_WRITERS)
      expect((await sentTo(after, blobs, { format })).readBack, format).toMatchObject({ holds: true, differences: [] });
    const document = await new WebIO().readBinary(output.files[0].bytes);
    const nodes = document.getRoot().listNodes();
    const pathOf = (node: Node): string => `${node.getParentNode() ? `${pathOf(node.getParentNode()!)}/` : ''}${node.getName()}`;
    expect(nodes.map(pathOf)).toContain(path);
    expect(manifest.parts.map((part) => part.path)).toContain(path.replaceAll('/', ' › '));
    for (const node of after.nodes) {
      const written = nodes.find((one) => one.getName() === node.name)!;
      expect(farthestBetween(written.getWorldMatrix(), factsOf(after).world(node.id))).toBeLessThan(1e-6);
    }
  }); // prettier-ignore
});
