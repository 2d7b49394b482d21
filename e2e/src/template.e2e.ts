// A preparation is kept as a template, and given to another job and to every new one: which changes how all jobs begin.
import { expect, test } from '@playwright/test';
import { AT_LENGTH, newJob } from './bench.ts';
import { rack } from './rack.ts';

test(
  'a preparation is kept as a template and given to another job and to every new one',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Hall A');
    await bench.drop({ name: 'rack.stp', bytes: rack() });
    await bench.settled();
    await bench.station('Lighten');
    await bench.choose(/^Concerns/, 'name');
    await bench.panel.getByLabel('Name', { exact: true }).fill('Bolt*');
    await bench.panel.getByRole('button', { name: 'Add step' }).click();
    await expect(bench.step('Reduce')).toHaveCount(1);
    // One that is about a single part of this very source.
    await bench.search.fill('Nut');
    await bench.row('Nut').first().click();
    await page.keyboard.press('Delete');
    await expect(bench.step('Leave out')).toHaveCount(1);
    await page.keyboard.press('s');
    const sheet = page.getByRole('dialog', { name: 'Steps' });
    await sheet.getByRole('button', { name: 'Keep or give all…' }).click();
    await sheet.getByLabel('As a template called').fill('Halls');
    await sheet.getByRole('button', { name: 'Keep 4 steps' }).click();
    await expect(sheet).toContainText('Kept as the template “Halls”.');
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+k');
    await page.keyboard.type('templates');
    await page.keyboard.press('Enter');
    const templates = page.getByRole('dialog', { name: 'Templates' });
    await expect(templates).toContainText('4 steps: ');
    await templates.getByLabel('every new job').check();
    await expect(templates.getByLabel('every new job')).toBeChecked();

    // A new job begins with it; without a source nothing is wrong with its rules yet.
    const next = await newJob(page, 'Hall B');
    await expect(next.steps).toContainText('Steps 4');
    // The file of the same name is what the picked part belongs to.
    await next.drop({ name: 'rack.stp', bytes: rack() });
    await next.settled();
    await expect(next.steps.getByLabel('has problems')).toHaveCount(0);
    await expect(next.block.locator('.path').first()).toContainText('3 parts');
    // Given once more to what has no such parts, it says which rule catches nothing.
    await next.row('Rack').click();
    await page.keyboard.press('Delete');
    await page.keyboard.press('Control+k');
    await page.keyboard.type('templates');
    await page.keyboard.press('Enter');
    await templates.getByRole('button', { name: 'Give Halls to this job' }).click();
    await expect(page.getByRole('dialog', { name: 'Steps' })).toContainText('finds nothing');
    await page.keyboard.press('Escape');
    // What was there already is not there twice.
    await expect(next.steps).toContainText('Steps 5');
    await page.keyboard.press('Control+k');
    await page.keyboard.type('templates');
    await page.keyboard.press('Enter');
    await templates.getByRole('button', { name: 'Delete Halls' }).click();
    await templates.getByRole('alert').getByRole('button', { name: 'Delete Halls' }).click();
    await expect(templates).toContainText('None yet.');
  },
);
