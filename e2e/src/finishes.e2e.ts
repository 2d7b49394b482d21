// Finishes: materials land on the right parts, everybody can see why, and they are changed in one place.
import { expect, test } from '@playwright/test';
import type { Locator, Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { AT_LENGTH, Bench, demoFile, newJob } from './bench.ts';
import { nestedModel } from './nested.ts';

/** A job with the building of the demo: walls, columns, railings, a door, on layers. */
async function building(page: Page, name: string): Promise<Bench> {
  const bench = await newJob(page, name);
  await bench.drop(demoFile('lower-station.ifc'));
  await bench.settled();
  await bench.station('Finishes');
  return bench;
}

const schedule = ({ panel }: Bench) => panel.getByRole('table', { name: 'Finish schedule' });
const rule = (bench: Bench, number: number) => schedule(bench).locator(`[aria-rowindex="${number + 1}"]`);
const materialOf = (row: Locator) => row.getByRole('gridcell').nth(2);

async function give(bench: Bench, material: string, scope: string | RegExp, button: string): Promise<void> {
  await bench.choose('Material to give', material);
  await bench.panel.getByRole('radio', { name: scope }).check();
  await bench.panel.getByRole('button', { name: button, exact: true }).click();
}

test('a wall that was given a material of its own says why, and goes back to by layer; a shared steel is replaced everywhere', async ({
  page,
}) => {
  const bench = await building(page, 'Finishes');
  const { panel } = bench;
  await expect(panel.getByRole('status').first()).toContainText('24 parts without a rule');
  await bench.choose('Material for A-WALL', 'Concrete, fair-faced');
  await expect(rule(bench, 1)).toContainText('layer A-WALL');
  await expect(panel.getByRole('status').first()).toContainText('20 parts without a rule');

  // One wall by itself, seen before it is applied.
  await bench.search.fill('l');
  await bench.row('End wall').first().click();
  await bench.choose('Material to give', 'Paint, sage grey');
  await expect(page.getByText('Preview of Finishes, not applied yet')).toBeVisible();
  await expect(materialOf(bench.row('End wall').first())).toHaveText('Paint, sage grey');
  await panel.getByRole('button', { name: 'Give to 1 part' }).click();
  await expect(schedule(bench).getByRole('row')).toHaveCount(3);
  const why = panel.getByRole('region', { name: 'Why this material?' });
  await expect(why.getByRole('listitem')).toHaveText([
    /before\s*Larch cladding/,
    /lost\s*1\s+layer A-WALL → Concrete, fair-faced/,
    /won\s*2\s+End wall → Paint, sage grey/,
  ]);

  // The layer's rule knows that it lost a part, and gets it back.
  await panel.getByRole('button', { name: 'Schedule across the width' }).click();
  await expect(rule(bench, 1)).toContainText('rule 2 on 1');
  await expect(rule(bench, 2)).toContainText('rule 1 on 1');
  await rule(bench, 1).getByRole('button', { name: 'layer A-WALL', exact: true }).click();
  await expect(panel).toContainText('1 part of A-WALL shows another rule’s material.');
  await panel.getByRole('button', { name: 'Back to by layer' }).click();
  await expect(schedule(bench).getByRole('row')).toHaveCount(2);
  await expect(materialOf(bench.row('End wall').first())).toHaveText('Concrete, fair-faced');
  await bench.steps.getByRole('button', { name: 'Undo' }).click();
  await expect(schedule(bench).getByRole('row')).toHaveCount(3);

  // Moved above it, the rule of the layer wins by its place.
  await rule(bench, 2)
    .getByRole('button', { name: /^Rule 2/ })
    .press('ArrowUp');
  await expect(rule(bench, 2)).toContainText('layer A-WALL');
  await expect(materialOf(bench.row('End wall').first())).toHaveText('Concrete, fair-faced');
  await rule(bench, 2).getByRole('checkbox').uncheck();
  await expect(materialOf(bench.row('End wall').first())).toHaveText('Paint, sage grey');
  await rule(bench, 2).getByRole('checkbox').check();
  await panel.getByRole('button', { name: 'Schedule back to the side' }).click();

  // Columns and railings share one steel: three scopes, each said with its count.
  await bench.row('Column 1').first().click();
  const scopes = panel.getByRole('radiogroup', { name: 'How far it goes' });
  await expect(scopes).toContainText(/This part, Column 1\s*1 part/);
  await expect(scopes).toContainText(/Layer S-COLS\s*12 parts/);
  await expect(scopes).toContainText(/Everywhere Steel, dark is used\s*14 parts/);
  await give(bench, 'Galvanised steel', /^Everywhere Steel/, 'Give to 14 parts');
  await expect(materialOf(bench.row('Railing at the edge'))).toHaveText('Galvanised steel');
  await give(bench, 'Cast iron, dark', /^Layer S-COLS/, 'Give to 12 parts');
  await expect(materialOf(bench.row('Column 1').first())).toHaveText('Cast iron, dark');
  await expect(materialOf(bench.row('Railing at the edge'))).toHaveText('Galvanised steel');
  expect(bench.errors).toEqual([]);
});

test(
  'a schedule is saved as a table, used in another job, and a broken one is refused with the line',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await building(page, 'Schedule out');
    await bench.choose('Material for A-SLAB', 'Concrete, fair-faced');
    await bench.choose('Material for A-DOOR', 'Paint, guard yellow');
    await bench.panel.getByRole('button', { name: 'Add a rule' }).click();
    const added = bench.panel.getByRole('region', { name: 'Rule 3' });
    await added.getByLabel('Name', { exact: true }).fill('/^window (/');
    await expect(added.getByRole('alert')).toContainText('cannot be understood');
    await expect(added.getByRole('button', { name: 'Add the rule' })).toBeDisabled();
    await added.getByLabel('Name', { exact: true }).fill('/^window \\d/');
    await added.getByRole('combobox', { name: /^Material/ }).click();
    await page.getByRole('option', { name: 'Glass, clear' }).click();
    await added.getByRole('button', { name: 'Add the rule' }).click();
    await expect(rule(bench, 3)).toContainText('named /^window \\d/');
    await expect(rule(bench, 3)).toContainText('2');

    const saved = async (button: string) => {
      const download = page.waitForEvent('download');
      await bench.panel.getByRole('button', { name: button }).click();
      return readFile(await (await download).path());
    };
    const [csv, json] = [await saved('Save as CSV'), await saved('Save as JSON')];
    expect(csv.toString()).toContain('yes,layer,A-DOOR,"Paint, guard yellow",1,12,');
    expect(JSON.parse(json.toString())).toMatchObject({ rules: [{ material: 'lib:concrete' }, {}, {}] });

    // Another job, in which a table of one's own is opened: semicolons, and a layer that is not there.
    const other = await building(page, 'Schedule in');
    const open = (name: string, content: Buffer | string) =>
      other.panel
        .getByLabel('A finish schedule')
        .setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(content) });
    await open('broken.csv', 'Layer;Material\r\nA-SLAB;Unobtainium\r\n');
    await expect(other.panel.getByRole('alert')).toHaveText(
      'broken.csv: Line 2: there is no material “Unobtainium”. Nothing was taken.',
    );
    await expect(other.step('Finishes')).toHaveCount(0);
    await open('own.csv', '\ufeffLayer;Material\r\nA-SLAB;Concrete, fair-faced\r\nB-NONE;Rubber, black\r\n');
    await expect(other.panel).toContainText('1 of them is on no part here: layer B-NONE');
    await other.panel.getByRole('button', { name: 'Cancel' }).click();
    await open('finishes.csv', csv);
    await other.panel.getByRole('button', { name: 'Add below' }).click();
    await expect(schedule(other).getByRole('row')).toHaveCount(4);
    await other.search.fill('Window');
    await expect(materialOf(other.row('Window 1'))).toHaveText('Glass, clear');
    await open('finishes.json', json);
    await other.panel.getByRole('button', { name: 'Take instead of all rules' }).click();
    await expect(rule(other, 2)).toContainText('layer A-DOOR');
    await expect(schedule(other).getByRole('row')).toHaveCount(4);
    expect([...bench.errors, ...other.errors]).toEqual([]);
  },
);

test(
  'one face of one wall is painted, and the other walls of its shape keep what they show',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'One face');
    const wall = (name: string, x: number) => ({ name, at: [x, 0, 0] as [number, number, number], box: [2, 2, 0.2] as [number, number, number] }); // prettier-ignore
    await bench.drop({ name: 'walls.gltf', bytes: nestedModel([wall('Wall left', 0), wall('Wall right', 3)]) });
    await bench.settled();
    await bench.station('Finishes');
    await page.keyboard.press('g');
    const box = (await bench.canvas.boundingBox())!;
    // Somewhere on the left wall.
    const face = bench.panel.getByRole('radio', { name: /^This face/ });
    await expect(async () => {
      for (const across of [0.3, 0.36, 0.42, 0.24]) {
        await page.mouse.click(box.x + box.width * across, box.y + box.height * 0.5);
        if (await face.isVisible()) return;
      }
      expect(await face.isVisible()).toBe(true);
    }).toPass();
    await bench.choose('Material to give', 'Paint, guard yellow');
    await bench.panel.getByRole('button', { name: 'Give to 1 face' }).click();
    await expect(bench.step('Painted faces')).toContainText('1 face');
    await bench.settled();
    // One more material on one wall; still one shape, drawn twice.
    await expect(bench.ledger).toContainText('Paint, guard yellow');
    await page.keyboard.press('Escape');
    await bench.row('Wall left').click();
    await expect(materialOf(bench.row('Wall left'))).toContainText('Paint, guard yellow');
    await expect(materialOf(bench.row('Wall right'))).not.toContainText('Paint, guard yellow');
    await bench.row('Wall left').click({ button: 'right' });
    await page.getByRole('option', { name: /^Select all of the same shape/ }).click();
    await expect(bench.block).toContainText('2 parts');
    // Given up from its own list.
    await bench.step('Painted faces').getByRole('button').first().click();
    await bench.panel.getByRole('button', { name: 'Leave face 1 as it was' }).click();
    await expect(bench.step('Painted faces')).toHaveCount(0);
    expect(bench.errors).toEqual([]);
  },
);

test(
  'a steel that columns and railings share is told apart, and five copies of one iron become one',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await building(page, 'Shared');
    const { panel } = bench;
    await bench.search.fill('l');
    await bench.action('Own copies');
    await panel.getByRole('button', { name: 'Give own copies' }).click();
    await expect(materialOf(bench.row('Railing at the edge'))).toHaveText('Steel, dark, A-RAIL');
    await expect(materialOf(bench.row('Column 1').first())).toHaveText('Steel, dark, S-COLS');
    await bench.row('Railing at the edge').click();
    await expect(panel.getByRole('radiogroup', { name: 'How far it goes' })).toContainText(/A-RAIL is used\s*2 parts/);
    await give(bench, 'Stainless steel, brushed', /^Everywhere Steel, dark, A-RAIL/, 'Give to 2 parts');
    await expect(materialOf(bench.row('Railing to the slope'))).toHaveText('Stainless steel, brushed');
    await expect(materialOf(bench.row('Column 1').first())).toHaveText('Steel, dark, S-COLS');

    // The furniture of the demo brings one iron under five names.
    const other = await newJob(page, 'Copies');
    await other.drop(demoFile('furniture.zip'));
    await other.settled();
    await other.station('Finishes');
    await expect(materialOf(other.row('Lamp 2 post'))).toHaveText('black iron');
    await other.action('Merge materials');
    await expect(other.panel).toContainText('1 group of the same');
    for (const name of ['iron.001', 'Iron_2', 'black iron', 'iron copy']) await expect(other.panel.getByRole('group')).toContainText(name); // prettier-ignore
    await other.panel.getByRole('button', { name: 'Preview' }).click();
    await expect(materialOf(other.row('Lamp 2 post'))).toHaveText('iron');
    await other.panel.getByRole('button', { name: 'Merge', exact: true }).click();
    await expect(other.step('Merge materials')).toHaveCount(1);
    for (const name of ['Bench 2 frame', 'Lamp 1 post', 'Lamp 3 post'])
      await expect(materialOf(other.row(name))).toHaveText('iron');
    expect([...bench.errors, ...other.errors]).toEqual([]);
  },
);

test(
  'a library material is copied, changed with a live view, kept, and used in a second job',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await building(page, 'Own material');
    const { panel } = bench;
    await bench.search.fill('l');
    await bench.row('End wall').first().click();
    await panel.getByRole('button', { name: 'Material library…' }).click();
    const sheet = page.getByRole('dialog', { name: 'Material library' });
    await expect(sheet.getByRole('status')).toHaveText(/^(9\d|1\d\d) materials$/);
    await sheet.getByLabel('Find a material').fill('enamel dark');
    await sheet
      .getByRole('region', { name: 'Painted metal' })
      .getByRole('button', { name: 'Enamel, dark green' })
      .click();
    await sheet.getByRole('button', { name: 'Copy and edit' }).click();
    await sheet.getByLabel('Name', { exact: true }).fill('Enamel, lake blue');
    await sheet.getByLabel('Colour', { exact: true }).fill('#1f4f8b');
    await sheet.getByLabel('Roughness', { exact: true }).fill('8');
    await sheet.getByLabel('Clear coat', { exact: true }).fill('60');
    await sheet.getByRole('button', { name: 'Keep in the library' }).click();
    await sheet.getByLabel('Find a material').fill('');
    await expect(sheet.getByRole('region', { name: 'Own' }).getByRole('button')).toHaveText(['Enamel, lake blue']);
    await expect(sheet).toContainText(/Clear coat\s*60\s%/);
    await sheet.getByRole('button', { name: 'Give to 1 part' }).click();
    await page.keyboard.press('Escape');
    await expect(materialOf(bench.row('End wall').first())).toHaveText('Enamel, lake blue');

    // In another job it is there, and is one of the choices.
    const other = await building(page, 'Own material elsewhere');
    await other.choose('Material for A-DOOR', 'Enamel, lake blue');
    await other.search.fill('door');
    await expect(materialOf(other.row('Staff door'))).toHaveText('Enamel, lake blue');
    // Edited while this job uses it: the view shows it, and the job keeps what was kept.
    await other.panel.getByRole('button', { name: 'Material library…' }).click();
    await sheet.getByRole('region', { name: 'Own' }).getByRole('button', { name: 'Enamel, lake blue' }).click();
    await sheet.getByRole('button', { name: 'Edit', exact: true }).click();
    await sheet.getByLabel('Name', { exact: true }).fill('Enamel, night blue');
    await expect(materialOf(other.row('Staff door'))).toHaveText('Enamel, night blue');
    await sheet.getByRole('button', { name: 'Keep the change' }).click();
    await expect(sheet.getByRole('button', { name: 'Edit', exact: true })).toBeVisible();
    // Taken out of the library, jobs keep what they have.
    await sheet.getByRole('button', { name: 'Delete', exact: true }).click();
    await expect(sheet.getByRole('region', { name: 'Own' })).toHaveCount(0);
    await page.keyboard.press('Escape');
    await page.reload();
    await other.search.fill('door');
    await expect(materialOf(other.row('Staff door'))).toHaveText('Enamel, night blue');
    expect([...bench.errors, ...other.errors]).toEqual([]);
  },
);
