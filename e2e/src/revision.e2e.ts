// A plant of a hundred thousand parts, and its next revision: what was decided for the first holds for the second.
import { expect, test } from '@playwright/test';
import { strToU8 } from 'fflate';
import { AT_LENGTH, newJob } from './bench.ts';

const ZONES = 100;
const PARTS = 1000;

/** A GLB of boxes that all show one mesh, in zones. @param left out: a part of this revision that is not there */
function plant({ shift = 0, without = '' }: { shift?: number; without?: string } = {}): Buffer {
  const positions = new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]);
  const indices = new Uint16Array([0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2]);
  const binary = Buffer.concat([Buffer.from(positions.buffer), Buffer.from(indices.buffer)]);
  const nodes: object[] = [{ name: 'Plant', children: [] as number[] }];
  const zones: number[] = [];
  for (let zone = 0; zone < ZONES; zone++) {
    const children: number[] = [];
    for (let part = 0; part < PARTS; part++) {
      const name = `Part ${zone}-${part}`;
      if (name !== without)
        children.push(nodes.push({ name, mesh: 0, translation: [(part % 40) * 2 + shift, 0, Math.floor(part / 40) * 2] }) - 1); // prettier-ignore
    }
    zones.push(nodes.push({ name: `Zone ${zone}`, children, translation: [(zone % 10) * 90, 0, Math.floor(zone / 10) * 60] }) - 1); // prettier-ignore
  }
  Object.assign(nodes[0], { children: zones });
  const json = Buffer.from(
    JSON.stringify({
      asset: { version: '2.0' },
      scene: 0,
      scenes: [{ nodes: [0] }],
      nodes,
      meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
      accessors: [
        { bufferView: 0, componentType: 5126, count: 4, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 1] },
        { bufferView: 1, componentType: 5123, count: 12, type: 'SCALAR' },
      ],
      bufferViews: [
        { buffer: 0, byteOffset: 0, byteLength: 48 },
        { buffer: 0, byteOffset: 48, byteLength: 24 },
      ],
      buffers: [{ byteLength: 72 }],
    }),
  );
  const padded = Buffer.concat([json, Buffer.alloc((4 - (json.length % 4)) % 4, ' ')]);
  const header = (words: number[]) => Buffer.from(Uint32Array.from(words).buffer);
  return Buffer.concat([
    header([0x46546c67, 2, 12 + 8 + padded.length + 8 + binary.length, padded.length, 0x4e4f534a]),
    padded,
    header([binary.length, 0x004e4942]),
    binary,
  ]);
}

test(
  'a plant of 100 000 parts is searched, a step switched, a picked part followed through a new revision, and undone',
  { tag: AT_LENGTH },
  async ({ page }) => {
    // Two models of a hundred thousand rows are read, and drawn by the processor.
    test.setTimeout(300_000);
    const bench = await newJob(page, 'Plant');
    const choose = (label: string, buffer: Buffer) =>
      page
        .getByLabel(label, { exact: true })
        .setInputFiles({ name: 'plant.glb', mimeType: 'model/gltf-binary', buffer });
    await choose('Choose files', plant());
    await expect(bench.row('Plant')).toBeVisible({ timeout: 120_000 });
    await bench.settled();
    await expect(bench.block).toContainText('100 000 parts');
    await expect.poll(() => bench.triangles()).toBe(400_000);

    const rename = async (part: string, name: string) => {
      await bench.search.fill(part);
      await bench.row(part).click();
      await page.keyboard.press('F2');
      await page.getByLabel('New name').fill(name);
      await page.keyboard.press('Enter');
      await bench.search.fill(name);
      await expect(bench.row(name)).toBeVisible();
    };
    await rename('Part 42-78', 'Spare pump');
    await rename('Part 42-77', 'Feed pump');
    // Its steps stand first at their station.
    await bench.station('Arrange');
    const renamed = bench.step('Rename').last().getByRole('checkbox');
    await renamed.click();
    await expect(bench.row('Feed pump')).toHaveCount(0);
    await renamed.click();
    await expect(bench.row('Feed pump')).toBeVisible();
    await bench.settled();

    await bench.station('Receive');
    // The same name again: asked whether it is a new revision.
    const sheet = bench.panel.locator('article');
    await expect(sheet).toContainText('revision 1');
    await choose('Choose files', plant({ shift: 0.5, without: 'Part 42-78' }));
    await page.getByRole('dialog').getByRole('button', { name: 'New revision' }).click();
    await expect(sheet).toContainText('revision 2', { timeout: 120_000 });
    await bench.settled();
    await expect(sheet).toHaveCount(1);
    await expect(bench.row('Feed pump')).toBeVisible();
    // It is still the part that is selected, half a metre farther along.
    await expect(bench.block).toContainText('Feed pump');
    await expect(bench.block).toContainText('254.5, 0, 242 m');
    // The step for the part that is gone says by name what it no longer finds.
    await expect(sheet).toContainText('Rename no longer finds Part 42-78.');
    await expect(bench.steps.getByLabel('has problems')).toHaveCount(1);

    await page.keyboard.press('Control+z');
    await expect(sheet).toContainText('revision 1');
    await expect(bench.row('Feed pump')).toBeVisible();
    await expect(bench.steps.getByLabel('has problems')).toHaveCount(0);
    expect(bench.errors).toEqual([]);
  },
);

/** A post and a bolt, OBJ in metres. @param width of the post */
const post = (width: number) => ({
  name: 'post.obj',
  bytes: strToU8(
    ['o Post', ...[0, 1].flatMap((z) => [`v 0 0 ${z}`, `v ${width} 0 ${z}`, `v ${width} 1 ${z}`, `v 0 1 ${z}`]),
      ...['4 3 2 1', '5 6 7 8', '1 2 6 5', '2 3 7 6', '3 4 8 7', '4 1 5 8'].map((corners) => `f ${corners}`),
      'o Bolt', 'v 3 0 0', 'v 3.2 0 0', 'v 3 0.2 0', 'v 3 0 0.2', ...['9 11 10', '9 10 12', '10 11 12', '9 12 11'].map((corners) => `f ${corners}`)].join('\n'),
  ),
}); // prettier-ignore

test('a corner that a pivot was set by is gone with the next revision: the step says so, and not once it is picked anew', { tag: AT_LENGTH }, async ({ page }) => {
  // Twice it is looked for in the view.
  test.setTimeout(240_000);
  const bench = await newJob(page, 'Corner');
  await bench.drop(post(1));
  await bench.settled();
  await bench.station('Arrange');
  await bench.row('Post').click();
  await page.keyboard.press('f');
  await bench.picture();
  await bench.row('Bolt').click();
  await bench.action('Pivot');
  await bench.choose('Place at', 'point, circle or axis');
  await bench.pick('Point', /^corner/);
  await bench.panel.getByRole('button', { name: 'Set pivot' }).click();
  await bench.settled();
  await expect(bench.steps.getByLabel('has problems')).toHaveCount(0);

  await bench.drop(post(1.25));
  await page.getByRole('dialog').getByRole('button', { name: 'New revision' }).click();
  await expect(bench.steps.getByLabel('has problems')).toHaveCount(1, { timeout: 60_000 });
  await bench.settled();
  await bench.step('Pivot').click();
  const said = bench.panel.getByText(/Point: what was picked on Post \(corner\) is no longer there; the nearest is 0.25\s?m away/);
  await expect(said).toBeVisible();
  await bench.pick('Point', /^corner/);
  await bench.panel.getByRole('button', { name: 'Apply change' }).click();
  await bench.settled();
  await expect(bench.steps.getByLabel('has problems')).toHaveCount(0);
  expect(bench.errors).toEqual([]);
}); // prettier-ignore
