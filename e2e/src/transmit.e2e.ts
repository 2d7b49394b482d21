// Sending: several targets at once, what each carries, the same again after a change, and the settings of targets.
import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';

import { join } from 'node:path';
import type { Bench } from './bench.ts';
import { AT_LENGTH, models, newJob } from './bench.ts';
import { WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { StepText } from '@noble-prism/core/testing/stepText';
import { nestedModel } from './nested.ts';

const ASSEMBLY = join(models, 'as1-tu-203.stp');

/** A hall with two posts of one shape and a roof, 8 m wide. */
const hall = () =>
  nestedModel([{ name: 'Hall', children: [
    { name: 'Post', at: [0, 0, 0], box: [0.2, 3, 0.2] },
    { name: 'Post', at: [7.8, 0, 0], box: [0.2, 3, 0.2] },
    { name: 'Roof', at: [0, 3, 0], box: [8, 0.2, 4] },
  ] }]); // prettier-ignore

async function started(page: Page, name: string): Promise<Bench> {
  const bench = await newJob(page, name);
  await bench.drop({ name: 'hall.gltf', bytes: hall() });
  await bench.settled();
  await bench.station('Transmit');
  return bench;
}

async function add(bench: Bench, purpose: string): Promise<void> {
  await bench.panel.getByRole('combobox', { name: 'Add a target' }).click();
  await bench.page.getByRole('option', { name: new RegExp(`^${purpose}`) }).click();
  await expect(bench.panel.getByRole('button', { name: purpose, exact: true })).toBeVisible();
}

async function downloaded(bench: Bench, link: string | RegExp): Promise<{ name: string; bytes: Uint8Array }> {
  const [download] = await Promise.all([
    bench.page.waitForEvent('download'),
    bench.panel.getByRole('article').first().getByRole('link', { name: link }).click(),
  ]);
  return { name: download.suggestedFilename(), bytes: new Uint8Array(await readFile(await download.path())) };
}

test('four targets at once: each is written, read back and named, and one zip holds all', async ({ page }) => {
  const bench = await started(page, 'Four ways');
  for (const purpose of ['Printing', 'Milling, simulation', 'Augmented reality']) await add(bench, purpose);
  await bench.panel.getByRole('button', { name: 'Send to 4 targets' }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(sent).toContainText('4 targets, 4 files');
  await expect(sent.getByRole('button', { name: 'read-back ✓' })).toHaveCount(4);
  await sent.getByRole('button', { name: 'read-back ✓' }).nth(1).click();
  await expect(sent.getByRole('row').filter({ hasText: 'Triangles drawn' })).toContainText('36 ✓');
  // Millimetres, z up: 8 m wide, 4 m deep, 3.2 m high.
  const { bytes, name } = await downloaded(bench, /_mm\.stl$/);
  expect(name).toMatch(/^Four-ways_v\d+_mm\.stl$/);
  const view = new DataView(bytes.buffer);
  const reach = [0, 1, 2].map((axis) => {
    const values = Array.from({ length: 36 * 3 }, (_, i) => view.getFloat32(84 + Math.floor(i / 3) * 50 + 12 + (i % 3) * 12 + axis * 4, true));
    return Math.max(...values) - Math.min(...values);
  });
  [8000, 4000, 3200].forEach((size, axis) => expect(reach[axis]).toBeCloseTo(size, 1));
  const all = Object.keys(unzipSync((await downloaded(bench, 'Files')).bytes));
  expect(all.map((file) => file.replace(/^Four-ways_v\d+/, '')).sort()).toEqual(['.3mf', '.glb', '.manifest.json', '.report.html', '.usdz', '_mm.stl']);
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('the carry-over sheet names what a target would lose, and which format would carry it', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await started(page, 'Sheet');
  await add(bench, 'Milling, simulation');
  await bench.panel.getByRole('button', { name: 'Carry-over sheet', exact: true }).click();
  const sheet = page.getByRole('dialog', { name: 'Carry-over sheet' });
  const row = (what: string) => sheet.getByRole('row').filter({ has: page.getByRole('rowheader', { name: new RegExp(`^${what}`) }) });
  await expect(row('Hierarchy').getByRole('cell').first()).toContainText('carried');
  await expect(row('Hierarchy').getByRole('cell').nth(1)).toContainText('no place for it');
  await expect(row('Hierarchy').getByRole('cell').nth(1)).toContainText('carried by Binary glTF 2.0');
  await expect(row('Shared geometry').getByRole('cell').nth(1)).toContainText('written out each');
  await expect(row('Unit').getByRole('cell').nth(1)).toContainText('millimetres: tell the receiving tool');
  await sheet.getByLabel('only what is changed or lost').check();
  await expect(row('Hierarchy')).toBeVisible();
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('targets stay with the job, are another job’s too, and what their format cannot do is not asked', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await started(page, 'Kept');
  await bench.panel.getByRole('button', { name: 'Whole scene', exact: true }).click();
  await expect(bench.panel.getByRole('combobox', { name: 'Unit' })).toHaveCount(0);
  await bench.choose('Format', 'USD (text)');
  await bench.choose('Unit', 'cm');
  await bench.choose('Hierarchy', 'parts without assemblies');
  await bench.panel.getByRole('button', { name: 'More settings' }).click();
  await bench.choose('Names', 'safe');
  await expect(bench.panel).toContainText('USD (text) · cm, y up');
  await page.reload();
  await expect(bench.panel).toContainText('USD (text) · cm, y up');
  const other = await newJob(page, 'Taker');
  await other.station('Transmit');
  await other.panel.getByRole('button', { name: 'From another job…' }).click();
  await other.choose('Job whose targets are taken over', 'Kept');
  await expect(other.panel.getByRole('button', { name: 'Whole scene 2', exact: true })).toBeVisible();
  await expect(other.panel).toContainText('USD (text) · cm, y up');
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('split by layer: a file for each, which share the origin of the job', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Layers');
  const text = new StepText();
  const [frame, panel] = ['FRAME', 'PANEL'].map((layer) => {
    const { solid } = text.tetrahedron(200);
    text.layer(layer, solid);
    return text.product(layer === 'FRAME' ? 'Post' : 'Sheet', [solid]);
  });
  const unit = text.product('Unit');
  text.place(unit, frame, text.axis([0, 0, 0]));
  text.place(unit, panel, text.axis([3000, 0, 0]));
  await bench.drop({ name: 'unit.stp', bytes: text.bytes() });
  await bench.settled();
  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Whole scene', exact: true }).click();
  await bench.panel.getByRole('button', { name: 'More settings' }).click();
  await bench.choose(/^Files/, 'one for each layer');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(sent).toContainText('1 target, 2 files');
  const places = [];
  for (const layer of ['FRAME', 'PANEL']) {
    const { bytes } = await downloaded(bench, new RegExp(`_${layer}\\.glb$`));
    const document = await new WebIO().readBinary(bytes);
    const nodes = document.getRoot().listNodes().filter((node) => node.getMesh());
    expect(nodes).toHaveLength(1);
    places.push(nodes[0].getWorldTranslation()[0]);
  }
  expect(places[1] - places[0]).toBeCloseTo(3, 6);
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('exact solids go out as STEP with the names that they were given, and without what was left out', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Solids');
  await bench.drop({ name: 'assembly.stp', bytes: new Uint8Array(await readFile(ASSEMBLY)) });
  await bench.settled();
  await bench.row('plate').click();
  await page.keyboard.press('F2');
  await bench.ledger.getByRole('textbox').last().fill('Grundplatte Ä');
  await page.keyboard.press('Enter');
  await expect(bench.row('Grundplatte Ä')).toBeVisible();
  await bench.station('Transmit');
  await bench.panel.getByRole('checkbox', { name: 'Send to Whole scene' }).uncheck();
  await add(bench, 'Engineering');
  await bench.panel.getByRole('button', { name: 'Leave something out' }).click();
  await bench.panel.locator('[id$=-without]').click();
  await page.getByRole('option', { name: 'name' }).click();
  await bench.panel.locator('.form').getByRole('textbox').last().fill('*rod*');
  await page.keyboard.press('Tab');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  await sent.getByRole('button', { name: 'read-back ✓' }).click();
  const { bytes, name } = await downloaded(bench, /\.step$/);
  expect(name).toMatch(/^Solids_v\d+\.step$/);
  const text = new TextDecoder().decode(bytes);
  expect(text).toContain("PRODUCT('Grundplatte \\X2\\00C4\\X0\\'");
  expect(text).not.toMatch(/PRODUCT\('rod/);
  expect(text.match(/=MANIFOLD_SOLID_BREP/g)).toHaveLength(4);
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('a sheet that is seen from behind is hatched, said before sending, and shown from both sides with one press', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Sheets');
  const corners = ['-2 1 -2', '2 1 -2', '2 1 2', '-2 1 2'].map((corner) => `v ${corner}\n`).join('');
  await bench.drop({ name: 'roof.obj', bytes: Buffer.from(`o Roof\n${corners}f 1 2 3 4\n`) });
  await bench.settled();
  await bench.station('Transmit');
  const hatched = await bench.picture();
  await bench.panel.getByRole('listitem').filter({ hasText: 'vanishes from behind' }).getByRole('button').click();
  await expect(bench.step('Sides')).toContainText('both sides');
  await bench.settled();
  expect(await bench.picture()).not.toBe(hatched);
  await expect(bench.panel.getByText('vanishes from behind')).toHaveCount(0);
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('after a change the same is sent again with one key; a target that fails costs itself alone', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await started(page, 'Again');
  await add(bench, 'Printing');
  // The print has nothing in it: whoever sends it is told, and gets the rest.
  await bench.panel.getByRole('button', { name: 'Leave something out' }).click();
  await bench.panel.locator('[id$=-without]').click();
  await page.getByRole('option', { name: 'everything' }).click();
  await bench.panel.getByRole('button', { name: 'Send to 2 targets' }).click();
  const latest = bench.panel.getByRole('article').first();
  await expect(latest).toContainText('Nothing is left to send as 3MF', { timeout: 60_000 });
  await expect(latest.getByRole('button', { name: 'read-back ✓' })).toHaveCount(1);
  await bench.row('Roof').click();
  await page.keyboard.press('F2');
  await bench.ledger.getByRole('textbox').last().fill('Canopy');
  await page.keyboard.press('Enter');
  await expect(bench.row('Canopy')).toBeVisible();
  await page.keyboard.press('t');
  await expect(bench.panel.getByRole('article')).toHaveCount(2, { timeout: 60_000 });
  const { name, bytes } = await downloaded(bench, /\.glb$/);
  expect(name).toMatch(/^Again_v\d+\.glb$/);
  expect(new TextDecoder('latin1').decode(bytes)).toContain('"name":"Canopy"');
  // What is different from what was sent before; and the page that goes with it.
  await latest.getByRole('button', { name: 'What changed' }).click();
  await expect(latest.getByRole('definition').filter({ hasText: /Canopy$/ })).toBeVisible();
  await expect(latest.getByRole('definition').filter({ hasText: /Roof$/ })).toBeVisible();
  expect(bench.errors).toEqual([]);
  const [report] = await Promise.all([page.waitForEvent('download'), latest.getByRole('link', { name: 'Report' }).click()]);
  await page.setContent(await readFile(await report.path(), 'utf8'));
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Again');
  await expect(page.getByRole('img')).toHaveJSProperty('complete', true);
  await expect(page.getByRole('cell', { name: /Nothing is left to send as 3MF/ })).toBeVisible();
  // Printed, it is one page (each is an object of that type in a PDF, ISO 32000).
  expect((await page.pdf({ preferCSSPageSize: true })).toString('latin1').match(/\/Type\s*\/Page\b/g)).toHaveLength(1);
}); // prettier-ignore

test('modules: each distinct asset once, with its picture and a thumbnail, and a scene that places them', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Modules');
  await bench.drop(ASSEMBLY);
  await bench.settled();
  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Whole scene', exact: true }).click();
  await bench.choose(/^Files/, 'a folder for each distinct asset');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(sent.getByRole('row').filter({ hasText: 'Assets by themselves' })).toContainText('5 ✓');
  const files = unzipSync((await downloaded(bench, 'Files')).bytes);
  const scene = Object.keys(files).find((name) => name.endsWith('.gltf')) as string;
  // Five shapes stand in eighteen places; the scene holds none of their numbers.
  const json = JSON.parse(new TextDecoder().decode(files[scene])) as { buffers: { uri: string }[]; nodes: { mesh?: number }[] };
  expect(json.nodes.filter(({ mesh }) => mesh !== undefined)).toHaveLength(18);
  for (const asset of ['bolt', 'l-bracket', 'nut', 'plate', 'rod']) {
    expect(json.buffers.map(({ uri }) => uri)).toContain(`assets/${asset}/${asset}.glb`);
    expect(Buffer.from(files[`assets/${asset}/thumbnail.png`]).toString('latin1', 1, 4)).toBe('PNG');
    const alone = await new WebIO().readBinary(files[`assets/${asset}/${asset}.glb`]);
    expect(alone.getRoot().listMeshes()).toHaveLength(1);
  }
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('limits of a receiver are told before sending, with a way to the parts; pictures go packed for graphics cards', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Headset');
  await bench.drop(join(models, 'glTF2/BoxTextured-glTF-Binary/BoxTextured.glb'));
  await bench.settled();
  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Whole scene', exact: true }).click();
  await bench.panel.getByRole('button', { name: 'More settings' }).click();
  await bench.choose('Picture files', 'KTX2, packed for graphics cards');
  const limit = bench.panel.getByLabel('Limit of a part');
  await limit.fill('2.5 thousand');
  await limit.press('Enter');
  await expect(bench.panel.getByText('Not a whole number')).toBeVisible();
  await limit.fill('10');
  await limit.press('Enter');
  // A box has twelve.
  const notice = bench.panel.getByText('1 part with more than 10 triangles').locator('..');
  await notice.getByRole('button', { name: 'select them' }).click();
  await expect(bench.panel.getByRole('heading', { name: 'Lighten' })).toBeVisible();
  await expect(bench.block).toContainText('12');
  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  await expect(sent).toContainText('1 part with more than 10 triangles');
  const { bytes } = await downloaded(bench, /\.glb$/);
  const file = await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes);
  expect(file.getRoot().listTextures().map((texture) => texture.getMimeType())).toEqual(['image/ktx2']);
  expect(bench.errors).toEqual([]);
}); // prettier-ignore
