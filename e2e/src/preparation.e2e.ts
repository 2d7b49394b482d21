// A long preparation is kept in hand: found, switched and moved in its sheet; begun from the right click or by words.
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { AT_LENGTH, newJob } from './bench.ts';
import type { Bench } from './bench.ts';
import { rack } from './rack.ts';

/** A job with 60 steps: the two that it begins with, and names for one part after the other. */
async function longJob(page: Page, name: string): Promise<Bench> {
  const bench = await newJob(page, name);
  const id = new URL(page.url()).pathname.split('/')[2];
  const job = (await (await page.request.get(`/api/jobs/${id}`)).json()) as {
    version: { number: number; steps: object[] };
  };
  const names = Array.from({ length: 58 }, (_, i) => ({
    id: `n${i}`,
    kind: 'rename',
    on: true,
    selector: { by: 'name', pattern: i === 30 ? 'Nobody*' : `Nut${i % 2 ? '' : '*'}`, as: 'received' },
    parameters: { name: `Nut M${i}`, of: 'picked' },
  }));
  await page.request.post(`/api/jobs/${id}/versions`, {
    data: { base: job.version.number, note: 'Names', steps: [...job.version.steps, ...names], sources: [] },
  });
  await page.reload();
  await bench.drop({ name: 'rack.stp', bytes: rack() });
  await bench.settled();
  return bench;
}

test(
  'sixty steps are read, searched, switched, moved and deleted in one sheet',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await longJob(page, 'Sixty steps');
    await bench.search.fill('Nut M');
    await bench.station('Arrange');
    await expect(bench.steps).toContainText('Steps 60');
    // The steps of the station stand first; what does not fit is counted, and so is the one that finds nothing.
    await expect(bench.step('Turn')).toBeVisible();
    await expect(bench.steps.getByRole('button', { name: /^and \d+ more/ })).toContainText('!');
    await page.keyboard.press('s');
    const sheet = page.getByRole('dialog', { name: 'Steps' });
    await expect(sheet.getByRole('status').first()).toHaveText('60 steps, 1 with problems');

    await sheet.getByLabel('Find steps').fill('nobody');
    await expect(sheet.getByRole('table')).toContainText('received as Nobody*');
    await expect(sheet.getByRole('table')).toContainText('finds nothing');
    await sheet.getByLabel('Choose all').check();
    await sheet.getByRole('button', { name: 'Delete', exact: true }).click();
    await expect(sheet.getByText('No step says “nobody”.')).toBeVisible();
    await sheet.getByLabel('Find steps').fill('');
    await expect(sheet.getByRole('status').first()).toHaveText('59 steps');

    // The last name wins: moved before the others, it is another.
    await sheet.getByLabel('Find steps').fill('Nut M57');
    await sheet.getByLabel(/^Choose 59/).check();
    await sheet.getByRole('button', { name: 'Switch off' }).click();
    await page.keyboard.press('Escape');
    await expect(bench.row('Nut M56').first()).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(bench.row('Nut M57').first()).toBeVisible();
    await page.keyboard.press('s');
    await sheet.getByLabel('Find steps').fill('Nut M57');
    await sheet.getByLabel(/^Choose 59/).check();
    await sheet.getByRole('button', { name: 'Earlier' }).click();
    await page.keyboard.press('Escape');
    await expect(bench.row('Nut M56').first()).toBeVisible();
    expect(bench.errors).toEqual([]);
  },
);

test(
  'what can be done with a part is offered on the right click, and found by words',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Actions');
    await bench.drop({ name: 'rack.stp', bytes: rack() });
    await bench.settled();
    await bench.search.fill('Nut');
    await bench.row('Nut').first().click({ button: 'right' });
    const menu = page.getByRole('dialog', { name: 'What can be done' });
    await expect(menu).toContainText('Hide');
    await menu.getByText('Rename…').click();
    // Its form is open, and concerns what was clicked.
    await expect(bench.panel.getByRole('heading', { name: 'Arrange' })).toBeVisible();
    await expect(bench.panel.getByRole('combobox', { name: /^Concerns/ })).toContainText('Nut');
    await bench.panel.getByLabel('New name').fill('Lock nut');
    await bench.panel.getByRole('button', { name: 'Set names' }).click();
    await bench.search.fill('Lock');
    await expect(bench.row('Lock nut').first()).toBeVisible();
    await bench.row('Lock nut').first().click();

    await page.keyboard.press('Control+k');
    await page.keyboard.type('decimate');
    await expect(page.getByRole('option', { name: /Reduce…/ })).toBeVisible();
    await page.keyboard.press('Enter');
    await expect(bench.panel.getByLabel('Keep')).toBeVisible();
    // A rule made of rules says how much it finds.
    await bench.choose(/^Concerns/, 'none of these');
    await expect(bench.panel.getByRole('status')).toHaveText(/^\d+ parts?$/);
    await bench.choose(/^Concerns/, 'everything');
    await page.keyboard.press('Escape');
    await bench.canvas.click({ button: 'right' });
    await expect(menu).toBeVisible();
    await page.keyboard.press('Escape');
    expect(bench.errors).toEqual([]);
  },
);
