// Everyday handling: many models at once, keys after a list was used, leaving out, names that went, jobs in their list.
import { expect, test } from '@playwright/test';
import { zipSync } from 'fflate';
import { AT_LENGTH, newJob } from './bench.ts';
import { rack } from './rack.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const OBJ = 'mtllib wedge.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1\no Wedge\nf 1 3 2\nf 1 2 4\nf 2 3 4\nf 1 4 3\n';

test(
  'a zip of several models is a source for each, with its own unit and up axis',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Mixed delivery');
    const zip = zipSync({
      'rack.stp': rack(),
      'wedge.obj': bytes(OBJ),
      'wedge.mtl': bytes('newmtl red\nKd 1 0 0\n'),
      'read me.txt': bytes('hello'),
    });
    await bench.drop({ name: 'mixed.zip', bytes: zip });
    const sheets = bench.panel.locator('article');
    await expect(sheets).toHaveCount(2);
    await bench.settled();
    await expect(sheets.nth(0)).toContainText('rack.stp');
    await expect(sheets.nth(0).getByRole('combobox', { name: /^Unit/ })).toContainText('mm');
    await expect(sheets.nth(0)).toContainText('mixed.zip: 1 file that is no model was left out: read me.txt.');
    await expect(sheets.nth(1)).toContainText('wedge.obj');
    await expect(sheets.nth(1).getByRole('combobox', { name: /^Unit/ })).toContainText('m');
    await expect(sheets.nth(1).getByRole('combobox', { name: /^Up axis/ })).toContainText('y');
  },
);

test('the next delivery of several models is asked about, and each goes to the source that is called like it', async ({
  page,
}) => {
  const bench = await newJob(page, 'Two deliveries');
  await bench.drop({ name: 'A.zip', bytes: zipSync({ 'rack.stp': rack(), 'wedge.obj': bytes(OBJ) }) });
  const sheets = bench.panel.locator('article');
  await expect(sheets).toHaveCount(2);
  await bench.settled();
  await bench.choose(/^Unit of wedge/, 'mm');
  await bench.settled();
  const larger = bytes(OBJ.replace('v 1 0 0', 'v 2 0 0'));
  await bench.drop({ name: 'B.zip', bytes: zipSync({ 'B/rack.stp': rack(), 'B/wedge.obj': larger, 'B/ramp.obj': bytes(OBJ) }) }); // prettier-ignore
  const asked = page.getByRole('dialog');
  await expect(asked).toContainText('B.zip holds what is in this job already');
  await expect(asked).toContainText('rack.stp, wedge.obj');
  await asked.getByRole('button', { name: 'New revisions' }).click();
  await expect(sheets).toHaveCount(3);
  for (const sheet of [sheets.nth(0), sheets.nth(1)]) await expect(sheet).toContainText('revision 2');
  await expect(sheets.nth(2)).toContainText('ramp.obj');
  // What was said of it holds for its next revision.
  await expect(sheets.nth(1).getByRole('combobox', { name: /^Unit/ })).toContainText('mm');
});

test(
  'keys work after a list was used; Del leaves out what is selected; a search opens equal sets',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Keys');
    await bench.drop({ name: 'rack.stp', bytes: rack() });
    await bench.settled();
    await bench.search.fill('nut');
    await expect(bench.row('Nut')).toHaveCount(2);
    await bench.search.fill('');

    // A list of choices keeps the focus; the number keys and undo are heard all the same.
    await bench.choose(/^Up axis of rack/, 'x');
    await expect(bench.step('Up axis')).toHaveCount(1);
    await page.keyboard.press('3');
    await expect(bench.panel.getByRole('heading', { name: 'Arrange' })).toBeVisible();
    await page.keyboard.press('1');
    await bench.choose(/^Up axis of rack/, 'y points down');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect(bench.step('Up axis')).toHaveCount(0);

    const parts = () => bench.block.locator('.path').first().textContent();
    expect(await parts()).toContain('4 parts');
    await bench.row('Rack').click();
    await page.keyboard.press('ArrowRight');
    await bench.search.fill('nut');
    await bench.row('Nut').first().click();
    await page.keyboard.press('Delete');
    await bench.search.fill('');
    await expect(bench.step('Leave out')).toHaveCount(1);
    await bench.canvas.focus();
    await page.keyboard.press('Escape');
    await expect.poll(parts).toContain('3 parts');
    await page.keyboard.press('Control+z');
    await expect.poll(parts).toContain('4 parts');

    // The title is renamed by one click, and letters typed there are letters.
    await page.getByRole('heading', { level: 1 }).getByRole('button').click();
    await page.getByLabel('Name of the job').press('Control+a');
    await page.keyboard.type('Rack 3');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Rack 3');
    await expect(bench.panel.getByRole('heading', { name: 'Receive' })).toBeVisible();
  },
);

test(
  'a step whose names went with a rename is marked, and told before anything is sent',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Names');
    await bench.drop({ name: 'rack.stp', bytes: rack() });
    await bench.settled();
    await bench.station('Arrange');
    await bench.action('Rename');
    await bench.choose(/^Concerns/, 'name');
    await bench.panel.getByLabel('Name', { exact: true }).fill('Nut');
    await bench.panel.getByLabel('New name').fill('Lock nut');
    await bench.panel.getByRole('button', { name: 'Set names' }).click();
    await expect(bench.step('Rename')).toHaveCount(1);

    await bench.station('Finishes');
    await bench.panel.getByRole('button', { name: 'Add a rule' }).click();
    const rule = bench.panel.getByRole('region', { name: 'Rule 1' });
    await rule.getByLabel('Name', { exact: true }).fill('Lock nut');
    await rule.getByRole('button', { name: 'Add the rule' }).click();
    await expect(bench.step('Finishes')).toHaveCount(1);
    await expect(bench.steps.getByLabel('has problems')).toHaveCount(0);

    await bench.step('Rename').getByRole('button').first().focus();
    await page.keyboard.press('Delete');
    await expect(bench.steps.getByLabel('has problems')).toHaveCount(1);
    await bench.station('Transmit');
    await expect(bench.panel).toContainText('Rule 1, named Lock nut, is on no part.');
  },
);

test('a job is duplicated with its picture, found among others, and deleted', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Upper station');
  await bench.drop({ name: 'rack.stp', bytes: rack() });
  await bench.settled();
  // The picture is taken when all has come to rest.
  await page.waitForResponse(
    (response) => response.url().endsWith('/picture') && response.request().method() === 'PUT',
  );
  await page.goto('/');
  await page.getByRole('button', { name: 'Duplicate Upper station', exact: true }).click();
  const copy = page.getByRole('listitem').filter({ hasText: 'Upper station, copy' });
  await expect(copy.locator('img')).toHaveJSProperty('complete', true);
  // It shows something: many colours, where an empty sheet has few.
  const drawn = await copy.locator('img').evaluate((img: HTMLImageElement) => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [img.naturalWidth, img.naturalHeight];
    const sheet = canvas.getContext('2d');
    sheet?.drawImage(img, 0, 0);
    const pixels = new Uint32Array(sheet?.getImageData(0, 0, canvas.width, canvas.height).data.buffer ?? []);
    return { width: img.naturalWidth, colours: new Set(pixels).size };
  });
  expect(drawn.width).toBe(480);
  expect(drawn.colours).toBeGreaterThan(200);
  await copy.getByRole('link', { name: 'Upper station, copy' }).click();
  await expect(bench.row('Rack')).toBeVisible();
  await bench.settled();

  await page.goto('/');
  await page.getByLabel('Find a job').fill('upper');
  await expect(page.getByRole('region', { name: 'Jobs' }).getByRole('listitem')).toHaveCount(2);
  await page.getByRole('button', { name: 'Delete Upper station, copy' }).first().click();
  await page.getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByRole('region', { name: 'Jobs' }).getByRole('listitem')).toHaveCount(2);
  await page.getByRole('button', { name: 'Delete Upper station, copy' }).first().click();
  await page.getByRole('alert').getByRole('button', { name: 'Delete Upper station, copy' }).click();
  await expect(page.getByRole('listitem')).toHaveCount(1);
  await expect(page.getByText('in use: files and meshes')).toBeVisible();
});
