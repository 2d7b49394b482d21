// Many models at once: dropped on the list of jobs, prepared and sent alike, each with its own fate.
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { strToU8, unzipSync } from 'fflate';
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import { StepText } from '@noble-prism/core/testing/stepText';
import { AT_LENGTH, dropFiles, models } from './bench.ts';

const wedge = (i: number) => {
  const step = new StepText();
  step.product(`Wedge ${i}`, [step.tetrahedron(10 * i).solid]);
  return { name: `wedge-${i}.stp`, bytes: step.bytes() };
};
const TEMPLATE = 'All of iron';
const BROKEN = { name: 'broken.stp', bytes: strToU8('ISO-10303-21; no model') };

async function dropped(page: Page, files: Parameters<typeof dropFiles>[2]): Promise<void> {
  await page.goto('/');
  await expect(page.getByLabel('New job')).toBeVisible();
  await dropFiles(page, 'main', files);
  await expect(page.getByRole('form', { name: 'New batch' })).toBeVisible();
}

// What others look at is left as it was.
test.afterEach(async ({ request }) => {
  for (const { id } of (await (await request.get('/api/batches')).json()) as { id: string }[])
    await request.delete(`/api/batches/${id}?jobs=true`);
  for (const { id, name } of (await (await request.get('/api/templates')).json()) as { id: string; name: string }[])
    if (name === TEMPLATE) await request.delete(`/api/templates/${id}`);
});

const row = (page: Page, name: string) => page.getByRole('row').filter({ has: page.getByRole('link', { name, exact: true }) }); // prettier-ignore
const through = (page: Page) => expect(page.getByRole('button', { name: 'Stop' })).toBeHidden({ timeout: 150_000 });

test('ten files with one broken: a template and two targets for all, one table that fills, one zip', { tag: AT_LENGTH }, async ({ page }) => {
  // Behind whatever else the server has to do.
  test.setTimeout(240_000);
  // A template that somebody kept: the usual steps, and cast iron for all.
  const iron = { id: 'iron', kind: 'finishes', on: true, selector: { by: 'all' }, parameters: { rules: [{ which: { by: 'all' }, material: 'lib:cast-iron' }] } }; // prettier-ignore
  const kept = await page.request.post('/api/templates', { data: { name: TEMPLATE, steps: [...defaultSteps(), iron], sources: [] } }); // prettier-ignore
  expect(kept.status()).toBe(201);

  await dropped(page, [...Array.from({ length: 9 }, (_, i) => wedge(i + 1)), BROKEN]);
  const form = page.getByRole('form', { name: 'New batch' });
  await expect(form).toContainText('10 models');
  await form.getByRole('combobox', { name: /Begins with/ }).click();
  await page.getByRole('option', { name: /^All of iron/ }).click();
  await form.getByLabel('Name', { exact: true }).fill('Ten wedges');
  await form.getByLabel(/^Milling, simulation/).check();
  await form.getByRole('button', { name: 'Prepare 10 models' }).click();

  await expect(page.getByRole('heading', { name: 'Ten wedges' })).toBeVisible();
  await through(page);
  await expect(page.getByRole('status')).toContainText('10 models: 9 sent, 1 failed');
  await expect(page.getByText('sent, holds ✓')).toHaveCount(9);
  await expect(row(page, 'broken')).toContainText('failed');
  await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('broken.stp');
  await expect(row(page, 'wedge-7')).toContainText('4');

  const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'All files' }).click()]); // prettier-ignore
  expect(download.suggestedFilename()).toBe('Ten-wedges.zip');
  const files = unzipSync(new Uint8Array(await readFile(await download.path())));
  const stls = Object.keys(files).filter((name) => name.endsWith('.stl'));
  expect(stls).toHaveLength(9);
  expect(stls).toContain('wedge-7_v2/wedge-7_v2_mm.stl');
  expect(Buffer.from(files['wedge-7_v2/wedge-7_v2.glb']).toString('latin1')).toContain('Cast iron');

  // The list tells of the batch, and not of each of its jobs.
  await page.getByRole('link', { name: 'All jobs' }).click();
  const batches = page.getByRole('region', { name: 'Batches' });
  await expect(batches.getByRole('listitem').filter({ hasText: 'Ten wedges' })).toContainText('9 sent, 1 failed');
  await expect(page.getByRole('region', { name: 'Jobs' }).getByRole('link', { name: 'wedge-7' })).toHaveCount(0);
}); // prettier-ignore

test('files that did not arrive are dropped again, and all is sent again with one key', async ({ page }) => {
  await page.route('**/api/uploads', (route) => route.fulfill({ status: 413, body: JSON.stringify({ error: { code: 'too-large', message: 'More than the server takes.' } }) })); // prettier-ignore
  await dropped(page, [wedge(1), join(models, 'OBJ', 'box.obj')]);
  await page.getByRole('button', { name: 'Prepare 2 models' }).click();
  await expect(page.getByText('did not arrive', { exact: true })).toHaveCount(2, { timeout: 60_000 });
  await expect(page.getByRole('alert')).toContainText('2 files have not arrived');
  await expect(page.getByRole('region', { name: 'What went wrong' })).toContainText('More than the server takes.');

  await page.unroute('**/api/uploads');
  await dropFiles(page, 'main', [wedge(1), join(models, 'OBJ', 'box.obj')]);
  await through(page);
  await expect(page.getByRole('status')).toContainText('2 models: 2 sent');
  await page.keyboard.press('t');
  // Both may have gone out before anybody has seen that they are to: what counts is that each was sent twice.
  await row(page, 'box').getByRole('link', { name: 'box', exact: true }).click();
  await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: /Transmit/ }).click();
  await expect(page.getByRole('complementary').getByRole('article')).toHaveCount(2, { timeout: 90_000 });
}); // prettier-ignore
