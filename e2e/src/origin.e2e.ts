// Origins: sources are put in register by named points, a job far from zero gets an origin of its own and goes out where it came from.
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { WebIO } from '@gltf-transform/core';
import { TOWER } from '../../demo/src/tower.ts';
import { AT_LENGTH, Bench, demoFile, newJob } from './bench.ts';
import { nestedModel } from './nested.ts';

async function type({ panel }: Bench, label: string, value: string, nth = 0): Promise<void> {
  const field = panel.getByLabel(label, { exact: true }).nth(nth);
  await field.fill(value);
  await field.press('Tab');
}

/** Sends as the form stands, and opens what was sent with another library. */
async function sent(page: Page, bench: Bench) {
  const count = await bench.panel.getByRole('article').count();
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(bench.panel.getByRole('article')).toHaveCount(count + 1, { timeout: 60_000 });
  const article = bench.panel.getByRole('article').first();
  await expect(article.getByText('holds', { exact: true })).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), article.getByRole('link', { name: 'File' }).click()]);
  const document = await new WebIO().readBinary(new Uint8Array(await readFile(await download.path())));
  const nodes = document.getRoot().listNodes();
  return (name: string) => nodes.find((node) => node.getName() === name)?.getWorldTranslation() ?? [];
} // prettier-ignore

test('a tower that lies seven hundred kilometres away is worked on near zero, and goes out where it came from', async ({ page }) => {
  const bench = await newJob(page, 'Survey');
  await bench.drop(demoFile('tower-1.glb'));
  await bench.settled();
  await bench.station('Arrange');
  await expect(bench.row('Mast')).toBeVisible();

  await bench.action('Local origin');
  await bench.panel.getByRole('button', { name: '100\u00a0m' }).click();
  await expect(page.getByText('Preview of Local origin, not applied yet')).toBeVisible();
  await expect(bench.panel).toContainText('Taken off: x 683\u2009200\u00a0m, y 0\u00a0m, z -247\u2009100\u00a0m.');
  await bench.panel.getByRole('button', { name: 'Set local origin' }).click();
  await bench.settled();
  await bench.row('Tower 1').click();
  await expect(bench.block).toContainText('10.437, 1\u2009590.2, -0.612 m');

  // The map, by the point that the surveyor gave: the pivot of the tower.
  await page.keyboard.press('Escape');
  await bench.action('Map coordinates');
  await type(bench, 'x', '10.437 m');
  await type(bench, 'y', '1590.2 m');
  await type(bench, 'z', '-0.612 m');
  await type(bench, 'Eastings', '683210.437');
  await type(bench, 'Northings', '247100.612');
  await type(bench, 'Height', '1590.2');
  await expect(bench.panel.getByLabel('Eastings')).toHaveValue('683210.437');
  await bench.panel.getByRole('button', { name: 'Set map coordinates' }).click();
  await bench.settled();

  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Whole scene', exact: true }).click();
  const { eastings, northings, height } = TOWER;
  const near = (await sent(page, bench))('Tower 1');
  [10.437, 1590.2, -0.612].forEach((value, i) => expect(near[i]).toBeCloseTo(value, 6));
  for (const way of ['as received, offset put back', 'of the map']) {
    await bench.choose('Coordinates', way);
    await expect(bench.panel).toContainText('Origin at');
    const far = (await sent(page, bench))('Tower 1');
    [eastings, height, -northings].forEach((value, i) => expect(far[i]).toBeCloseTo(value, 6));
  }
  expect(bench.errors).toEqual([]);
}); // prettier-ignore

test('two sources come into register by setting-out points, turned and moved; points on one spot are refused', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Register');
  // The same bay twice: as the building has it, and as the machine maker does, elsewhere and turned by a quarter.
  const bay = (name: string) => nestedModel([{ name, children: [{ name: `${name} base`, box: [6, 0.2, 4] }, { name: `${name} post`, at: [3, 1, 0], box: [0.2, 2, 0.2] }] }]);
  await bench.drop({ name: 'building.gltf', bytes: bay('Building') });
  await bench.settled();
  await bench.drop({ name: 'machine.gltf', bytes: bay('Machine') });
  await bench.settled();
  await bench.station('Arrange');
  await bench.row('Machine').click();
  await bench.action('Rotate');
  await type(bench, 'Angle', '90');
  await bench.panel.getByRole('button', { name: 'Rotate', exact: true }).last().click();
  await bench.action('Move');
  await type(bench, 'x', '25 m');
  await type(bench, 'z', '-7 m');
  await bench.panel.getByRole('button', { name: 'Move', exact: true }).last().click();
  await bench.settled();

  // Two points are named on each; typed here, as a list of a surveyor has them.
  const POINTS = [['Grid A', '0', '0'], ['Grid B', '3 m', '0'], ['Seat A', '25 m', '-7 m'], ['Seat B', '25 m', '-10 m']] as const;
  await page.keyboard.press('Escape');
  await bench.action('Setting-out point');
  for (const [name, x, z] of POINTS) {
    await bench.panel.getByRole('textbox', { name: 'Name' }).fill(name);
    await type(bench, 'x', x);
    await type(bench, 'y', '0');
    await type(bench, 'z', z);
    await bench.panel.getByRole('button', { name: 'Name point' }).click();
    await bench.settled();
    await expect(bench.row(name).getByRole('img', { name: 'setting-out point' })).toBeVisible();
  }

  await bench.row('Machine').click();
  await bench.action('Register');
  const point = (field: string, name: string, nth = 0) => bench.panel.getByRole('button', { name: `${field}: ${name}`, exact: true }).nth(nth).click();
  await point('This point', 'Seat A');
  await point('is there', 'Grid A');
  await point('Second point', 'Seat A');
  await point('is there', 'Grid B', 1);
  await expect(bench.panel).toContainText('The moved points lie on one spot.');
  await point('Second point', 'Seat B');
  await expect(bench.panel).toContainText('2 points in register; left over: 0\u00a0mm, 0\u00a0mm.');
  await bench.panel.getByRole('button', { name: 'Put in register' }).click();
  await bench.settled();
  await bench.row('Machine post').click();
  await expect(bench.block).toContainText('3, 1, 0 m');
  expect(bench.errors).toEqual([]);
}); // prettier-ignore
