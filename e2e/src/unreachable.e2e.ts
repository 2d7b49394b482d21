// The server goes away in the middle of the work: nothing that was done is lost, also over a reload of the page, and it says what is not saved.
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { TestServer } from '@noble-prism/server/testing';
import { AT_LENGTH, Bench, newJob } from './bench.ts';
import { nestedModel } from './nested.ts';

const model = nestedModel([{ name: 'Station', children: [{ name: 'Motor', box: [2, 1, 1] }, { name: 'Rail', box: [1, 1, 1] }] }]); // prettier-ignore

/** A job with one model, open at Arrange. */
async function opened(bench: Bench): Promise<void> {
  await bench.drop({ name: 'station.gltf', bytes: model });
  await bench.settled();
  await bench.station('Arrange');
}

async function move(bench: Bench, name: string, to: string): Promise<void> {
  await bench.row(name).click();
  await bench.action('Move');
  await bench.panel.getByLabel('x', { exact: true }).fill(to);
  await bench.panel.getByLabel('x', { exact: true }).press('Enter');
}
const steps = (bench: Bench) => bench.step('Move');

test('with the network off moves are kept in their order, undone, and there again after a reload; back on, they are saved', async ({
  page,
  context,
}) => {
  const bench = await newJob(page, 'Offline');
  await opened(bench);
  await context.setOffline(true);
  await move(bench, 'Motor', '1 m');
  await move(bench, 'Rail', '2 m');
  await move(bench, 'Rail', '3 m');
  await expect(steps(bench)).toHaveCount(3);
  await expect(bench.tasks).toContainText('3 changes not saved yet');
  await bench.steps.getByRole('button', { name: 'Undo' }).click();
  await expect(steps(bench)).toHaveCount(2);
  await expect(bench.tasks).toContainText('2 changes not saved yet');

  // The page comes back before what it saves by goes through.
  await page.route('**/versions', (route) => route.abort());
  await context.setOffline(false);
  await page.reload();
  await expect(bench.tasks).toContainText('2 changes not saved yet');
  await expect(steps(bench)).toHaveCount(2);
  await page.unroute('**/versions');
  await expect(bench.tasks).not.toContainText('not saved yet');
  await page.reload();
  await expect(steps(bench)).toHaveCount(2);
});

test(
  'a server that is killed finds, when it runs again, what was done meanwhile',
  { tag: AT_LENGTH },
  async ({ browser }) => {
    const server = await TestServer.start(join(import.meta.dirname, '..', '..', 'web', 'dist'));
    const context = await browser.newContext({ baseURL: server.url });
    try {
      const page = await context.newPage();
      const bench = await newJob(page, 'Killed');
      await opened(bench);
      await server.kill();
      await move(bench, 'Motor', '1 m');
      await move(bench, 'Rail', '2 m');
      await expect(bench.tasks).toContainText('2 changes not saved yet');
      await server.launch();
      await expect(bench.tasks).not.toContainText('not saved yet', { timeout: 60_000 });
      await page.reload();
      await expect(steps(bench)).toHaveCount(2);
      // Others went on while this page was away: what it did is offered on top.
      const other = await context.newPage();
      await page.route('**/versions', (route) => route.abort());
      await page.route('**/events', (route) => route.abort());
      await move(bench, 'Motor', '5 m');
      await expect(bench.tasks).toContainText('1 change not saved yet');
      await other.goto(page.url());
      const theirs = new Bench(other);
      await move(theirs, 'Rail', '7 m');
      await expect(steps(theirs)).toHaveCount(3);
      await theirs.settled();
      await page.unrouteAll();
      await page.getByRole('button', { name: 'Make mine again on top' }).click();
      await expect(steps(bench)).toHaveCount(4);
    } finally {
      await context.close();
      await server.stop();
    }
  },
);
