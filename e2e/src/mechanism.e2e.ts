// A pump as its maker exports it: mended, given its turning point on the shaft's axis, linked, driven, run and sent.
import { expect, test } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { WebIO } from '@gltf-transform/core';
import { formatLength } from '@noble-prism/core/units';
import { AT_LENGTH, demoFile, newJob } from './bench.ts';
import { PUMP } from '../../demo/src/pump.ts';

test('the pump is mended, its crank gets its pivot on the axis of the shaft, and it runs in the file', { tag: AT_LENGTH }, async ({ page }) => {
  test.setTimeout(240_000);
  const bench = await newJob(page, 'Pump');
  await bench.drop(demoFile('tensioning-pump.stp'));
  await bench.settled();
  await bench.station('Arrange');
  // All of it is open.
  await bench.search.fill('pump');
  await expect(bench.row('Crank')).toBeVisible();

  // The flywheel that was left outside is hung into the crank; then what is needless goes.
  await bench.row('Flywheel').click();
  await bench.action('Attach');
  await bench.panel.getByRole('button', { name: 'Under' }).click();
  await bench.row('Crank').click();
  await bench.panel.getByRole('button', { name: 'Attach', exact: true }).last().click();
  await expect(bench.row('Flywheel')).toHaveAttribute('aria-level', '4');
  await page.keyboard.press('Escape');
  await bench.action('Needless groups');
  await bench.panel.getByRole('button', { name: 'Take out' }).click();
  await expect(bench.row('Pump body unit')).toHaveCount(0);
  await bench.settled();

  // The axis is picked in the view: with the shaft alone, its webs and ends are all about it.
  await bench.row('Crank shaft').click();
  await page.keyboard.press('i');
  await page.keyboard.press('f');
  await bench.picture();
  await bench.row('Crank').click();
  await bench.action('Pivot');
  await bench.choose('Place at', 'point, circle or axis');
  await bench.pick('Point', /^axis, r (22|88)\s/u);
  await bench.choose('Turned', 'along the picked axis');
  await bench.choose('Of', 'the rows themselves');
  await bench.panel.getByRole('button', { name: 'Set pivot' }).click();
  await bench.settled();
  // The title block has the pivot of what is selected: over the place of the pump, at the height of the shaft. Metres, y up.
  const pivot = (await bench.block.getByText(/^-?[\d.]+, -?[\d.]+, -?[\d.]+ m$/u).innerText()).split(' m')[0].split(', ').map(Number);
  expect(pivot[0]).toBeCloseTo(2.4, 2);
  expect(pivot[1]).toBeCloseTo(PUMP.height / 1000, 2);

  // Shafts in holes are offered, also one within an assembly; four links are named.
  await page.keyboard.press('a');
  await bench.row('Pump, exported').click();
  await bench.action('Link');
  await bench.panel.getByRole('button', { name: 'Look for shafts in holes' }).click();
  const offers = bench.panel.getByRole('list', { name: 'Shafts in holes' });
  await expect(offers.getByRole('listitem')).toHaveCount(5, { timeout: 60_000 });
  const links = bench.panel.getByRole('list', { name: 'Links', exact: true });
  for (const [i, pair] of ['Hinge of Crank in Pump body', 'Hinge of Crank in Connecting rod', 'Hinge of Plunger in Connecting rod', 'Slide of Plunger in Pump body'].entries()) {
    await offers.getByRole('button', { name: pair }).click();
    await bench.panel.getByRole('button', { name: 'Name link' }).click();
    await expect(links.getByRole('listitem')).toHaveCount(i + 1);
    await bench.settled();
  }
  await expect(links).toContainText('Connecting rod turns on Crank');

  // Driven by the slider the whole chain follows, and a typed angle is kept as a step.
  await bench.action('Drive');
  await bench.choose('Driver', 'Hinge 1');
  const values = bench.panel.getByLabel('Links', { exact: true });
  await expect(values).toContainText('Pump body');
  const before = await bench.picture();
  const slider = bench.panel.getByRole('slider', { name: 'Drive Hinge 1' });
  await slider.fill(String(Math.PI / 2 - PUMP.angle));
  expect(await bench.picture()).not.toBe(before);
  await bench.panel.getByLabel('Turned by').fill('55.622532°');
  await bench.panel.getByLabel('Turned by').press('Tab');
  // Where the plunger comes to, by the textbook: the shaft turns the other way round than its angle was drawn.
  const at = (angle: number) => PUMP.throw * Math.cos(angle) + Math.sqrt(PUMP.rod ** 2 - (PUMP.throw * Math.sin(angle)) ** 2);
  const way = at(PUMP.angle - (55.622532 * Math.PI) / 180) - at(PUMP.angle);
  await expect(bench.panel).toContainText(`Slide 1 ${formatLength(way / 1000, 'mm', 5)}.`);
  await page.getByRole('button', { name: 'Discard' }).click();

  const keepRun = async () => {
    await bench.action('Run');
    await bench.panel.getByRole('textbox', { name: 'Name' }).fill('One turn');
    await bench.choose('Driver', 'Hinge 1');
    await bench.panel.getByLabel('to', { exact: true }).fill('360°');
    await bench.panel.getByLabel('to', { exact: true }).press('Tab');
    await bench.panel.getByRole('button', { name: 'Keep movement' }).click();
    await bench.settled();
  };
  // Beyond what a link may do it is said, and nothing is applied.
  await bench.action('Link');
  await links.getByRole('button', { name: 'Slide 1' }).click();
  await bench.panel.getByLabel('From', { exact: true }).fill('-30 mm');
  await bench.panel.getByLabel('From', { exact: true }).press('Tab');
  await bench.panel.getByRole('button', { name: 'Apply change' }).click();
  await bench.settled();
  await keepRun();
  await expect(bench.panel).toContainText(/Added, but: “Hinge 1” comes to [\d.]+° only: “Slide 1” is at its end, -30\u00a0mm/u);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await bench.settled();
  await keepRun();
  await expect(page.getByRole('group', { name: 'Movement' })).toContainText('One turn');

  // Sent: the read-back holds, and another library finds the crank turning about its own pivot, which does not move.
  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  const [download] = await Promise.all([page.waitForEvent('download'), sent.getByRole('link', { name: 'File' }).click()]);
  const document = await new WebIO().readBinary(new Uint8Array(await readFile(await download.path())));
  const [movement] = document.getRoot().listAnimations();
  const channels = movement.listChannels().map((channel) => ({
    of: channel.getTargetNode()?.getName(),
    path: channel.getTargetPath(),
    times: [...(channel.getSampler()?.getInput()?.getArray() ?? [])],
    values: [...(channel.getSampler()?.getOutput()?.getArray() ?? [])],
  }));
  const of = (name: string, path: string) => channels.find((channel) => channel.of === name && channel.path === path);
  expect(of('Crank', 'translation')).toBeUndefined();
  expect(of('Crank', 'rotation')?.times.at(-1)).toBeCloseTo(4, 6);
  expect(of('Plunger', 'rotation')).toBeUndefined();
  const plunger = of('Plunger', 'translation')?.values.filter((_, i) => i % 3 === 0) ?? [];
  // Its stroke is twice the throw of the crank.
  expect((Math.max(...plunger) - Math.min(...plunger)) * 1000).toBeCloseTo(2 * PUMP.throw, 0);

  // As a package of USD the plunger has the same stroke, over the same time.
  await bench.panel.getByRole('button', { name: 'Whole scene', exact: true }).click();
  await bench.choose('Format', 'USD (package) (.usdz)');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const packed = bench.panel.getByRole('article').filter({ hasText: '.usdz' });
  await expect(packed.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  const [file] = await Promise.all([page.waitForEvent('download'), packed.getByRole('link', { name: 'File' }).click()]);
  const [layer] = Object.values(unzipSync(new Uint8Array(await readFile(await file.path()))));
  const [, own] = new TextDecoder().decode(layer).split(/def \w+ "Plunger"/);
  const samples = /xformOp:translate\.timeSamples = \{([^}]*)\}/.exec(own)![1];
  const keys = [...samples.matchAll(/([\d.]+): \(([^,]*),/g)].map(([, code, x]) => [Number(code) / 24, Number(x)]);
  expect(keys.at(-1)![0]).toBeCloseTo(4, 6);
  const xs = keys.map(([, x]) => x);
  expect((Math.max(...xs) - Math.min(...xs)) * 1000).toBeCloseTo(2 * PUMP.throw, 0);

  // The whole of it as a template is another job's too: links, points on parts and all lead to the rows of its own source.
  await page.keyboard.press('s');
  const sheet = page.getByRole('dialog', { name: 'Steps' });
  await sheet.getByRole('button', { name: 'Keep or give all…' }).click();
  await sheet.getByLabel('As a template called').fill('Pumps');
  await sheet.getByRole('button', { name: /^Keep \d+ steps$/ }).click();
  await expect(sheet).toContainText('Kept as the template “Pumps”.');
  const next = await newJob(page, 'Pump B');
  await next.drop(demoFile('tensioning-pump.stp'));
  await next.settled();
  const templates = page.getByRole('dialog', { name: 'Templates' });
  const open = async () => {
    await page.keyboard.press('Control+k');
    await page.keyboard.type('templates');
    await page.keyboard.press('Enter');
  };
  await open();
  await templates.getByRole('button', { name: 'Give Pumps to this job' }).click();
  await page.keyboard.press('Escape');
  await next.settled();
  await next.station('Arrange');
  await next.action('Drive');
  await next.choose('Driver', 'Hinge 1');
  await expect(next.panel.getByLabel('Links', { exact: true })).toContainText('Pump body');
  await expect(page.getByRole('group', { name: 'Movement' })).toContainText('One turn');
  await page.keyboard.press('s');
  await expect(sheet).toContainText('Needless groups');
  await expect(sheet).not.toContainText('no longer');
  await page.keyboard.press('Escape');
  await open();
  await templates.getByRole('button', { name: 'Delete Pumps' }).click();
  await templates.getByRole('alert').getByRole('button', { name: 'Delete Pumps' }).click();
  expect(bench.errors).toEqual([]);
}); // prettier-ignore
