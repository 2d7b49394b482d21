// The demo job made lighter and sent: what a reduction costs, steps switched, moved and undone, all found again, a GLB for other readers.
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { GLTF } from 'three/addons/loaders/GLTFLoader.js';
import { Texture } from 'three';
import type { Mesh, Object3D } from 'three';
import validator from 'gltf-validator';
import { AT_LENGTH, Bench, copyOfDemo } from './bench.ts';

const TANGENTS_LEFT_OUT = 'MESH_PRIMITIVE_GENERATED_TANGENT_SPACE';

/** What its assembly is called before it is made lighter. */
const WHEEL = 'Bull wheel Ø 2.4 m';

test.describe.configure({ mode: 'serial' });

let page: Page;
let bench: Bench;
test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  bench = new Bench(page);
  const job = await copyOfDemo(page.request, 'Lightened', (steps) => [
    ...steps,
    {
      id: 'named',
      kind: 'rename',
      on: true,
      selector: { by: 'name', pattern: 'Bull wheel' },
      parameters: { name: WHEEL, of: 'assemblies' },
    },
  ]);
  await bench.open(job.id);
  await expect(bench.row(WHEEL)).toBeVisible();
  await bench.settled();
});
test.afterAll(() => page.close());

test('reduces a selection and reads what it cost', { tag: AT_LENGTH }, async () => {
  await bench.station('Lighten');
  await bench.row('Gearbox').click();
  const before = Bench.number(await bench.cell('Gearbox', 1));
  await bench.panel.getByLabel('Keep').fill('30 %');
  await bench.panel.getByLabel('Keep').press('Tab');
  await bench.panel.getByRole('button', { name: 'Add step' }).click();
  await expect(bench.step('Reduce')).toHaveCount(3);
  await bench.settled();
  const after = Bench.number(await bench.cell('Gearbox', 1));
  expect(after).toBeLessThan(before * 0.5);
  expect(Bench.number(await bench.cell('Gearbox', 2))).toBeGreaterThan(0);
  await expect(bench.panel.getByRole('table')).toContainText('max, mm');

  await bench.row(WHEEL).click();
  await bench.choose('Until', 'deviation reaches');
  await bench.panel.getByLabel('At most').fill('0.5 mm');
  await bench.panel.getByLabel('At most').press('Tab');
  await bench.panel.getByRole('button', { name: 'Add step' }).click();
  await bench.settled();
  expect(Bench.number(await bench.cell(WHEEL, 2))).toBeLessThanOrEqual(0.5);
});

test('switches steps off and on, moves and deletes them, and undoes all of it', { tag: AT_LENGTH }, async () => {
  const triangles = await bench.triangles();
  const count = Bench.number(await bench.steps.getByRole('button', { name: /^Steps/ }).textContent());
  const last = bench.step('Reduce').last();
  await last.getByRole('checkbox').uncheck();
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(triangles);
  await last.getByRole('checkbox').check();
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBe(triangles);

  await last.locator('.words').focus();
  await page.keyboard.press('Alt+ArrowLeft');
  await bench.settled();
  await bench.station('Arrange');
  // What is not in the strip is in the sheet.
  await page.keyboard.press('s');
  const sheet = page.getByRole('dialog', { name: 'Steps' });
  await sheet.getByLabel('Find steps').fill('Bull wheel Ø');
  await sheet.getByLabel('Choose all').check();
  await sheet.getByRole('button', { name: 'Delete', exact: true }).click();
  await page.keyboard.press('Escape');
  await expect(bench.row('Bull wheel')).toBeVisible();
  await expect(bench.steps.getByRole('button', { name: /^Steps/ })).toHaveText(`Steps ${count - 1}`);
  await page.locator('body').press('Control+z');
  await expect(bench.row(WHEEL)).toBeVisible();
  await page.locator('body').press('Control+Shift+z');
  await expect(bench.row('Bull wheel')).toBeVisible();
  await page.locator('body').press('Control+z');
  await expect(bench.row(WHEEL)).toBeVisible();
  await bench.settled();
});

test('finds everything again after closing the browser', { tag: AT_LENGTH }, async () => {
  const triangles = await bench.triangles();
  await page.reload();
  await expect(bench.row(WHEEL)).toBeVisible();
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBe(triangles);
});

test('sends a GLB that a second reader opens with the same names, places and counts', { tag: AT_LENGTH }, async () => {
  await bench.station('Transmit');
  const triangles = await bench.triangles();
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(sent.getByRole('row').filter({ hasText: 'Triangles drawn' })).toContainText('✓');

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    sent.getByRole('link', { name: 'File' }).click(),
  ]);
  const bytes = await readFile(await download.path());
  expect(download.suggestedFilename()).toMatch(/^Lightened_v\d+\.glb$/);

  const loader = new GLTFLoader();
  // There is nothing here to decode a picture with; that they are in the file is checked below.
  loader.register(() => ({ name: 'pictures', loadTexture: () => Promise.resolve(new Texture()) }) as never);
  const gltf = await new Promise<GLTF>((resolve, reject) =>
    loader.parse(
      bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer,
      '',
      resolve,
      reject,
    ),
  );
  let drawn = 0;
  const geometries = new Set<unknown>();
  const names = new Set<string>();
  gltf.scene.traverse((object: Object3D) => {
    names.add((object.userData.name as string | undefined) ?? object.name);
    const { geometry } = object as Mesh;
    if (!geometry) return;
    drawn += (geometry.index?.count ?? geometry.getAttribute('position').count) / 3;
    geometries.add(geometry);
  });
  expect(drawn).toBe(triangles);
  // Placed 752 times, stored once each.
  expect(geometries.size).toBeLessThan(150);
  expect([...names]).toEqual(expect.arrayContaining(['Drive unit', WHEEL, 'Motor group']));

  // Those of the furniture, those that were made of its set, and those of the library materials in use.
  const pictures = (gltf.parser.json.images as { name: string }[]).map(({ name }) => name);
  expect(pictures.filter((name) => name.startsWith('furniture/'))).toHaveLength(2);
  const made = ['larch_normals.png', 'larch_surface.png', ...['colour', 'normal', 'surface'].map((of) => `brick-red_${of}.png`)]; // prettier-ignore
  expect(pictures).toEqual(expect.arrayContaining(made));
  // The second reader finds the gates and the pump moving as long as they were sent.
  expect(gltf.animations.map(({ name, duration }) => [name, duration])).toEqual([['Boarding', 5.5], ['Pump stroke', 2]]); // prettier-ignore

  const report = await validator.validateBytes(new Uint8Array(bytes));
  expect(report.issues.numErrors).toBe(0);
  // Tangents are left to the receiving tool, as glTF allows (3.7.2.1): the validator remarks on it where there is a normal map.
  const others = report.issues.messages.filter(({ code, severity }) => severity < 2 && code !== TANGENTS_LEFT_OUT);
  expect(others).toEqual([]);

  const [manifest] = await Promise.all([
    page.waitForEvent('download'),
    sent.getByRole('link', { name: 'Manifest' }).click(),
  ]);
  const json = JSON.parse(await readFile(await manifest.path(), 'utf8')) as {
    outputs: object[];
    parts: object[];
    movements: object[];
    measures: object[];
  };
  expect(json.outputs).toMatchObject([{ coordinates: 'local', upAxis: 'y', unit: 'm', readBack: { holds: true } }]);
  expect(json.parts).toHaveLength(752);
  expect(json.movements).toEqual([{ name: 'Boarding', duration: 5.5, nodes: 2 }, { name: 'Pump stroke', duration: 2, nodes: 3 }]); // prettier-ignore
  // Where the station stands on the map, and what the pump weighs.
  expect(json).toMatchObject({ origin: { map: { rotation: 0.52 } } });
  expect(json.measures).toMatchObject([{ name: 'Weight of the pump', of: 'mass', isExact: true, parts: 5 }]);
});
