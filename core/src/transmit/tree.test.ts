import { expect, it } from 'vitest';
import { Box3, Matrix4, Vector3 } from 'three';
import { unpackMesh } from '../mesh/mesh.ts';
import { composed, translation } from '../scene/matrix.ts';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { treeOf } from './tree.ts';

it('says of every row where it stands, what it is made of, and how large it is with what is below it', async () => {
  const turned = composed([0, 3, 0], [0, 0, Math.sin(0.3), Math.cos(0.3)], [1, 1, 1]);
  const { scene, blobs } = await sceneWith([
    {
      name: 'Unit A/B',
      transform: translation([10, 0, 0]),
      children: [
        { name: 'Bolt', mesh: boxMesh(1, 2, 3), transform: turned, layer: 'L' },
        { name: 'Bolt', mesh: ballMesh(1, 12), transform: translation([0, -4, 0]) },
        { name: 'Empty', children: [] },
      ],
    },
  ]);
  const rows = await treeOf(scene, blobs);
  expect(rows.map(({ path }) => path)).toEqual(['/Unit A∕B', '/Unit A∕B/Bolt', '/Unit A∕B/Bolt#2', '/Unit A∕B/Empty']);
  const [unit, box, ball, empty] = rows;
  expect(box).toMatchObject({ kind: 'part', name: 'Bolt', layer: 'L', materials: ['No material'], triangles: 12 });
  expect(box.pivot).toEqual([10, 3, 0]);
  expect(unit.triangles).toBe(box.triangles + ball.triangles);
  expect(empty.size).toBeUndefined();
  // By three.js: the vertices of each mesh, placed.
  const boxBy = async ({ mesh, world }: (typeof rows)[number]) => {
    const { positions } = unpackMesh(await blobs.get(mesh!));
    const matrix = new Matrix4().fromArray([...world]);
    const points = Array.from({ length: positions.length / 3 }, (_, i) => new Vector3().fromArray(positions, i * 3));
    return new Box3().setFromPoints(points.map((point) => point.applyMatrix4(matrix)));
  };
  const boxes = [await boxBy(box), await boxBy(ball)];
  const both = boxes[0].clone().union(boxes[1]);
  for (const [row, expected] of [[box, boxes[0]], [ball, boxes[1]], [unit, both]] as const)
    expected.getSize(new Vector3()).toArray().forEach((value, axis) => expect(row.size![axis]).toBeCloseTo(value, 6)); // prettier-ignore
});
