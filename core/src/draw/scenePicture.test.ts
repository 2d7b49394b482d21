// A picture of a scene: what stands where in it, by hand.
import { expect, it } from 'vitest';
import { translation } from '../scene/matrix.ts';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { scenePicture } from './scenePicture.ts';

const size = { width: 120, height: 90 };

/** With materials that are called by their colours; of glass where that is said too. */
async function painted(parts: Parameters<typeof sceneWith>[0]) {
  const { scene, blobs } = await sceneWith(parts);
  const COLOURS = { red: [1, 0, 0], green: [0, 1, 0], blue: [0, 0, 1] } as const;
  for (const [name, [r, g, b]] of Object.entries(COLOURS))
    for (const id of [name, `${name} glass`]) {
      const known = scene.materials[id];
      if (known) scene.materials[id] = { ...known, baseColor: [r, g, b], opacity: id === name ? 1 : 0.3 };
    }
  return { scene, blobs };
}

/** Pixels in which one channel stands out, with their middle. */
function coloured(data: Uint8Array, channel: number) {
  let [count, x, y] = [0, 0, 0];
  for (let i = 0; i < data.length / 4; i++) {
    const rgb = [...data.subarray(i * 4, i * 4 + 3)];
    if (data[i * 4 + 3] === 0 || rgb[channel] < 1.5 * Math.max(...rgb.filter((_, k) => k !== channel))) continue;
    count++;
    x += i % size.width;
    y += Math.floor(i / size.width);
  }
  return { count, x: x / count, y: y / count };
}

it('shows parts where they stand, in their colours: what is higher is higher up, whichever axis points up', async () => {
  const stacked = (lift: [number, number, number]) =>
    painted([
      { name: 'Low', mesh: boxMesh(1, 1, 1), materials: ['red'] },
      { name: 'High', mesh: boxMesh(1, 1, 1), materials: ['blue'], transform: translation(lift) },
    ]);
  for (const [up, lift] of [['y', [0, 3, 0]], ['z', [0, 0, 3]]] as const) {
    const { scene, blobs } = await stacked([...lift]);
    const { data, width, height } = (await scenePicture(scene, blobs, { ...size, up }))!;
    expect([width, height, data.length]).toEqual([120, 90, 120 * 90 * 4]);
    const [low, high] = [coloured(data, 0), coloured(data, 2)];
    expect(low.count).toBeGreaterThan(100);
    expect(high.y).toBeLessThan(low.y - 20);
    expect(Math.abs(high.x - low.x)).toBeLessThan(2);
  }
}); // prettier-ignore

it('shows what stands behind glass, half, and nothing of what stands behind a wall', async () => {
  const behind = async (material: string) => {
    const { scene, blobs } = await painted([
      { name: 'Ball', mesh: ballMesh(0.4, 24), materials: ['red'] },
      { name: 'Pane', mesh: boxMesh(4, 4, 4), materials: [material] },
    ]);
    const { data } = (await scenePicture(scene, blobs, size))!;
    return [...data.subarray((45 * size.width + 60) * 4, (45 * size.width + 60) * 4 + 3)];
  };
  const [[wallRed, wallGreen], [red, green]] = [await behind('green'), await behind('green glass')];
  expect(wallRed).toBe(0);
  expect(wallGreen).toBeGreaterThan(100);
  expect(red).toBeGreaterThan(100);
  expect(green).toBeGreaterThan(100);
});

it('draws thousands of small parts as a point each, and nothing of a scene that shows nothing', async () => {
  const far = { name: 'Far', mesh: boxMesh(1, 1, 1), materials: ['blue'], transform: translation([1000, 0, 0]) };
  const { scene, blobs } = await painted([{ ...far, transform: translation([0, 0, 0]), materials: ['red'] }, far]);
  const { data } = (await scenePicture(scene, blobs, size))!;
  expect([coloured(data, 0).count, coloured(data, 2).count]).toEqual([1, 1]);
  const empty = await sceneWith([{ name: 'Nothing', children: [] }]);
  expect(await scenePicture(empty.scene, empty.blobs, size)).toBeUndefined();
});
