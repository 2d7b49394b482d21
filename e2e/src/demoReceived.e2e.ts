// The demo job at its first station: found in the list, what its files say of themselves, tessellated coarser, finer and with other limits for some.
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { AT_LENGTH, Bench, copyOfDemo } from './bench.ts';

test.describe.configure({ mode: 'serial' });

let page: Page;
let bench: Bench;
let job: string;
test.beforeAll(async ({ browser }) => {
  page = await browser.newPage();
  bench = new Bench(page);
  job = (await copyOfDemo(page.request, 'Received')).id;
  await bench.open(job);
  // Also one that is told alone begins with the scene as it is.
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(0);
});
test.afterAll(() => page.close());

test('finds the demo job in the list and opens it', async () => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Tarn Gondola, lower station' }).click();
  await expect(bench.row('Drive unit')).toBeVisible();
  await expect(page).toHaveTitle(/Tarn Gondola/);
  // What others look at is left as it was.
  await bench.open(job);
  await expect(bench.row('Drive unit')).toBeVisible();
});

test('sees what the files say of themselves', async () => {
  const drive = bench.panel.getByRole('article').filter({ hasText: 'drive-unit.stp' });
  await expect(drive).toContainText('STEP AP214');
  await expect(drive).toContainText('373 parts in 78 assemblies, 47 distinct solids');
  await expect(drive).toContainText(/Unit\s*mm/);
  await drive.getByText('8 layers').click();
  await expect(drive.getByRole('button', { name: 'FASTENERS' })).toBeVisible();
});

test('sees parts appear while they are being tessellated', async () => {
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(100_000);
  await expect(bench.block).toContainText('752 parts');
});

test('tessellates coarser, cancels a fine run, and undoes it', async () => {
  const near = await bench.triangles();
  await bench.choose('Purpose', 'Real time, far');
  await bench.panel.getByRole('button', { name: 'Apply change' }).click();
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeLessThan(near * 0.8);

  await bench.panel.getByLabel('Chord dev.').fill('0.02 mm');
  await bench.panel.getByLabel('Angle').fill('4');
  await bench.panel.getByLabel('Angle').press('Tab');
  await bench.panel.getByRole('button', { name: 'Apply change' }).click();
  // Not the forecast, which may still be made.
  await expect(bench.tasks).toContainText('Tessellate');
  await bench.tasks.getByRole('button', { name: 'Cancel' }).click();
  await expect(bench.tasks).toContainText('left to compute');

  await page.keyboard.press('Escape');
  await bench.steps.getByRole('button', { name: 'Undo' }).click();
  await bench.steps.getByRole('button', { name: 'Undo' }).click();
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBe(near);
});

test('gives one layer other limits, and leaves the rest as it was', { tag: AT_LENGTH }, async () => {
  const near = await bench.triangles();
  const motor = await bench.row('Motor group').getByRole('gridcell').last().textContent();
  await bench.panel.getByRole('button', { name: 'Other limits for some' }).click();
  await bench.concerns('layer', 'Layers', 'ROPEWAY');
  await bench.choose('Purpose', 'Close-up picture');
  await bench.panel.getByRole('button', { name: 'Tessellate', exact: true }).click();
  await expect(bench.panel.getByRole('listitem').filter({ hasText: 'layer ROPEWAY' })).toBeVisible();
  await bench.settled();
  // Until they are computed they are not counted, and others may be before them in the queue.
  await expect.poll(() => bench.triangles(), { timeout: 90_000 }).toBeGreaterThan(near);
  await expect(bench.row('Motor group').getByRole('gridcell').last()).toHaveText(motor ?? '');
  await bench.steps.getByRole('button', { name: 'Undo' }).click();
  await expect(bench.panel.getByRole('listitem').filter({ hasText: 'layer ROPEWAY' })).toHaveCount(0);
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBe(near);
});

test('refuses limits that make no sense, in words', async () => {
  const chord = bench.panel.getByLabel('Chord dev.');
  await chord.fill('two');
  await chord.press('Tab');
  await expect(bench.panel.getByRole('alert')).toContainText('Not a length');
  await chord.fill('0.2');
  await chord.press('Tab');
  await expect(bench.panel.getByRole('alert')).toHaveCount(0);
});
