// Structure and places: needless nesting goes, a stray part is taken to its assembly, a handle is set at a corner and locked.
import { expect, test } from '@playwright/test';
import { Bench, newJob } from './bench.ts';
import { nestedModel } from './nested.ts';

const model = nestedModel([
  {
    name: 'Station',
    children: [
      { name: 'Outer', at: [0, 0.5, 0], children: [{ name: 'Inner', children: [{ name: 'Motor', box: [2, 1, 1] }] }] },
      { name: 'Hollow', children: [{ name: 'Void' }] },
      {
        name: 'Fence',
        at: [4, 0, 0],
        children: [
          { name: 'Post left', box: [0.2, 1, 0.2] },
          { name: 'Post right', at: [2, 0, 0], box: [0.2, 1, 0.2] },
        ],
      },
    ],
  },
  { name: 'Rail', at: [4, 1, 0], box: [2.2, 0.1, 0.2] },
]);

/** The names of the ledger from above, with how deep each stands. */
async function outline({ ledger }: Bench): Promise<string[]> {
  return ledger
    .getByRole('row')
    .filter({ has: ledger.page().locator('.name .text') })
    .evaluateAll((rows) =>
      rows.map((row) => `${row.getAttribute('aria-level')} ${row.querySelector('.name .text')?.textContent}`),
    );
}

test('groups around single parts go, a stray rail is dragged to its fence, all of it is held and locked', async ({
  page,
}) => {
  const bench = await newJob(page, 'Nested');
  await bench.drop({ name: 'nested.gltf', bytes: model });
  await bench.settled();
  await bench.station('Arrange');
  await bench.search.fill('o');
  await expect(bench.row('Inner')).toBeVisible();
  await bench.search.fill('');

  // Seen before it is applied, and discarded; then applied.
  await bench.action('Needless groups');
  await bench.panel.getByRole('button', { name: 'Preview' }).click();
  await expect(page.getByText('Preview of Needless groups, not applied yet')).toBeVisible();
  await expect(bench.row('Hollow')).toHaveCount(0);
  await expect(bench.panel).toContainText('would change');
  await page.getByRole('button', { name: 'Discard' }).click();
  await expect(bench.row('Hollow')).toBeVisible();
  await expect(bench.step('Needless groups')).toHaveCount(0);
  await bench.panel.getByRole('button', { name: 'Take out' }).click();
  await expect(bench.row('Hollow')).toHaveCount(0);
  await expect(bench.row('Motor')).toHaveAttribute('aria-level', '2');

  // The rail is dragged onto the fence, where it stays in its place; the fence cannot be dragged into itself.
  await bench.row('Rail').click();
  const place = await bench.block.getByText('Pivot').locator('..').textContent();
  const rail = (await bench.row('Rail').boundingBox())!;
  const fence = (await bench.row('Fence').boundingBox())!;
  const drag = async (from: typeof rail, to: typeof rail) => {
    await page.mouse.move(from.x + 90, from.y + 12);
    await page.mouse.down();
    await page.mouse.move(to.x + 110, (from.y + to.y) / 2, { steps: 3 });
    await page.mouse.move(to.x + 110, to.y + 12, { steps: 3 });
  };
  await drag(rail, fence);
  await expect(bench.ledger.getByRole('status')).toHaveText('Rail under Fence');
  await page.mouse.up();
  await expect(bench.step('Attach')).toBeVisible();
  await expect(bench.row('Rail')).toHaveAttribute('aria-level', '3');
  expect(await bench.block.getByText('Pivot').locator('..').textContent()).toBe(place);
  await drag((await bench.row('Fence').boundingBox())!, (await bench.row('Post left').boundingBox())!);
  await expect(bench.ledger.getByRole('status')).toHaveText('Post left belongs to what is dragged');
  await page.mouse.up();
  await expect(bench.step('Attach')).toHaveCount(1);
  await bench.settled();
  expect(await outline(bench)).toEqual(['1 Station', '2 Motor', '2 Fence', '3 Post left', '3 Post right', '3 Rail']);

  // A handle at typed coordinates of a corner, locked at once: a move of all says that it stays.
  await page.keyboard.press('Escape');
  await bench.action('Handle');
  await bench.panel.getByRole('textbox', { name: 'Name' }).fill('Site corner');
  for (const [axis, value] of [['x', '4 m'], ['y', '0'], ['z', '20 cm']] as const) {
    await bench.panel.getByLabel(axis, { exact: true }).fill(value);
    await bench.panel.getByLabel(axis, { exact: true }).press('Enter');
  }
  await bench.choose('It is', 'locked');
  await bench.panel.getByRole('button', { name: 'Make handle' }).click();
  await bench.row('Site corner').click();
  await expect(bench.row('Site corner').getByRole('img', { name: 'locked' })).toBeVisible();
  await expect(bench.block).toContainText('4, 0, 0.2 m');
  await bench.action('Move');
  await bench.panel.getByLabel('x', { exact: true }).fill('1 m');
  await bench.panel.getByLabel('x', { exact: true }).press('Tab');
  await expect(bench.panel).toContainText('1 row is locked and stays: Site corner.');
  await expect(bench.panel).toContainText('Nothing would change.');
  await page.getByRole('button', { name: 'Discard' }).click();
  await page.keyboard.press('k');
  await expect(bench.row('Site corner').getByRole('img', { name: 'locked' })).toHaveCount(0);
  await bench.panel.getByLabel('x', { exact: true }).fill('1 m');
  await bench.panel.getByLabel('x', { exact: true }).press('Tab');
  await bench.panel.getByRole('button', { name: 'Move', exact: true }).last().click();
  await expect(bench.block).toContainText('5, 0, 0.2 m');
  expect(bench.errors).toEqual([]);
}); // prettier-ignore
