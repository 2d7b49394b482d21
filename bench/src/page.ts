/**
 * The page with 100 000 and 1 000 000 placed parts, in headless Chromium: opening a job that is known, steps that change all or few
 * parts, and the ledger. What is stated is the sum of the times in which the page could not answer (the browser's long tasks).
 */
import { chromium } from '@playwright/test';
import type { Page } from '@playwright/test';
import { join } from 'node:path';
import { packScene } from '@noble-prism/core/scene/sceneFile';
import { BlobFolder } from '@noble-prism/node/blobFolder';
import { connect } from '@noble-prism/server/db/connect';
import { TestServer } from '@noble-prism/server/testing';
import { plantOf } from './boxes.ts';
import { print } from './report.ts';
import { buildInterface, startPostgres } from './scripts.ts';

await buildInterface();
const postgres = await startPostgres();

const LEAST_SETTLED = 700;
const CHROMIUM = [
  '--no-sandbox', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update',
  '--disable-sync', '--use-gl=angle', '--use-angle=swiftshader', '--enable-unsafe-swiftshader',
]; // prettier-ignore

const aims = new Map([
  [100_000, { all: 100, few: 50, open: 3, memory: 200, ledger: 100 }],
  [1_000_000, { all: 250, few: 100, open: 15, memory: 1200, ledger: 400 }],
]);

/** A job with a source that was read already: what is measured is the page, not the reader. */
async function jobWith(server: TestServer, parts: number, shapes?: number): Promise<string> {
  const blobs = new BlobFolder(join(server.dataDir, 'blobs'));
  const job = await server.makeJob(`Plant of ${parts}`);
  const scene = await plantOf(parts, blobs, shapes);
  const blob = await blobs.put(await packScene(scene));
  const db = connect(server.databaseUrl);
  await db
    .insertInto('sources')
    .values({
      id: 'plant',
      slot: 'plant',
      job: job.id,
      name: 'plant.ifc',
      bytes: 1,
      blob,
      state: 'ready',
      survey: blob,
      scene: blob,
      error: 'null',
    })
    .execute();
  await db.destroy();
  const step = (id: string, kind: string, selector: object, parameters: object) => ({
    id,
    kind,
    on: false,
    selector,
    parameters,
  });
  const saved = await server.call('POST', `/api/jobs/${job.id}/versions`, {
    base: 1,
    note: 'Bench',
    sources: ['plant'],
    steps: [
      { id: 'up', kind: 'turn', on: true, selector: { by: 'all' }, parameters: { direction: 'z-to-y' } },
      step('all', 'rename', { by: 'all' }, { name: '{name} a', of: 'parts' }),
      step(
        'finish',
        'finishes',
        { by: 'all' },
        { rules: [{ which: { by: 'name', pattern: 'Part *' }, material: 'lib:glass' }] },
      ),
      step('few', 'pivot', { by: 'name', pattern: 'Part 1???' }, { place: 'box-centre', of: 'parts' }),
      step(
        'fewFinish',
        'finishes',
        { by: 'name', pattern: 'Part 1???' },
        { rules: [{ which: { by: 'name', pattern: '*' }, material: 'lib:glass' }] },
      ),
    ],
  });
  if (saved.status !== 200) throw new Error(JSON.stringify(saved.body));
  return job.id;
}

async function watchLongTasks(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const own = window as unknown as { long: number[] };
    own.long = [];
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) own.long.push(entry.duration);
    }).observe({ entryTypes: ['longtask'] });
  });
}

/** Milliseconds that the page was blocked since this was last asked, and the longest of them. */
async function blocked(page: Page): Promise<{ sum: number; most: number }> {
  const list = await page.evaluate(() => {
    const own = window as unknown as { long: number[] };
    return own.long.splice(0);
  });
  return { sum: list.reduce((sum, one) => sum + one, 0), most: Math.max(0, ...list) };
}

/** Until rows, spectrum and view answer. */
async function opened(page: Page): Promise<void> {
  await page.locator('.ledger [role=row]').nth(3).waitFor();
  await page.locator('.spectrum .strip button').first().waitFor();
  await page.waitForFunction(() => Number(document.querySelector('canvas')?.dataset.frames ?? 0) > 1);
}

/** Until the page has had nothing to do for a while: no task is under way, and nothing was drawn. */
async function settled(page: Page): Promise<void> {
  let last = '';
  for (let quiet = 0; quiet < LEAST_SETTLED;) {
    const now = await page.evaluate(
      () =>
        `${document.querySelector('canvas')?.dataset.frames} ${document.querySelectorAll('.tasks *').length} ${(window as unknown as { long: number[] }).long.length}`,
    );
    quiet = now === last ? quiet + 100 : 0;
    last = now;
    await page.waitForTimeout(100);
  }
}

interface MemoryMeasurement {
  bytes: number;
  breakdown: { bytes: number; attribution: { scope: string }[] }[];
}

/** Megabytes of the page and of its workers, as the browser measures them: objects of scripts and buffers. */
async function memory(page: Page): Promise<{ all: number; workers: number }> {
  const { bytes, breakdown } = await page.evaluate(() =>
    (performance as unknown as { measureUserAgentSpecificMemory(): Promise<MemoryMeasurement> }).measureUserAgentSpecificMemory(),
  ); // prettier-ignore
  const isWorker = ({ attribution }: MemoryMeasurement['breakdown'][number]) => attribution.some(({ scope }) => scope.includes('Worker')); // prettier-ignore
  return { all: bytes / 1e6, workers: breakdown.filter(isWorker).reduce((sum, part) => sum + part.bytes, 0) / 1e6 };
}

/** Works with a page in a browser of its own. @param address of a job whose tasks are done */
async function withPage(server: TestServer, job: string, work: (page: Page, address: string) => Promise<void>) {
  await server.until(job, ({ tasks }) => tasks.every(({ state }) => state === 'done'), 600);
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    args: CHROMIUM,
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    page.setDefaultTimeout(60_000);
    page.on('pageerror', (error) => process.stdout.write(`error in the page: ${error.message}\n`));
    await watchLongTasks(page);
    await work(page, `${server.url}/jobs/${job}/arrange`);
  } finally {
    await browser.close();
  }
}

async function measure(server: TestServer, parts: number, shapes?: number): Promise<void> {
  const aim = aims.get(parts) ?? { all: 0, few: 0, open: 0, memory: 0, ledger: 0 };
  await withPage(server, await jobWith(server, parts, shapes), async (page, address) => {
    const of = `at ${parts} parts${shapes === undefined ? '' : ` of ${shapes} shapes`}`;
    const start = performance.now();
    await page.goto(address);
    await opened(page);
    const open = (performance.now() - start) / 1000;
    await settled(page);
    const opening = await blocked(page);
    print({
      name: `Opened ${of}`,
      value: open,
      unit: 's',
      aim: { most: aim.open },
      note: `blocked ${opening.sum.toFixed(0)} ms, at most ${opening.most.toFixed(0)} at once`,
    });
    const step = async (title: string, index: number, most: number) => {
      for (const way of ['on', 'off']) {
        await page
          .locator('.steps .step')
          .filter({ has: page.locator('.number', { hasText: new RegExp(`^${index + 1}$`) }) })
          .locator('input')
          .click();
        await page.waitForTimeout(50);
        await settled(page);
        const { sum, most: once } = await blocked(page);
        print({
          name: `${title} switched ${way} ${of}`,
          value: sum,
          unit: 'ms',
          aim: { most },
          note: `at most ${once.toFixed(0)} ms at once`,
        });
      }
    };
    await step('A turn of all', 0, aim.all);
    await step('New names for all', 1, aim.all);
    await step('A finish on all', 2, aim.all);
    await step('Pivots of 1000', 3, aim.few);
    await step('A finish on 1000', 4, aim.few);
    const ledger = async (name: string, act: () => Promise<unknown>) => {
      await act();
      await settled(page);
      const { sum } = await blocked(page);
      print({ name: `${name} ${of}`, value: sum, unit: 'ms', aim: { most: aim.ledger } });
    };
    await ledger('Sorted by triangles', () =>
      page
        .getByRole('columnheader', { name: /Longest|Layer/ })
        .first()
        .getByRole('button')
        .click(),
    );
    await ledger('Filtered', () => page.getByPlaceholder('Find name').fill('Part 1234'));
    await ledger('Filter cleared', () => page.getByPlaceholder('Find name').fill(''));
    await ledger('One row selected', () => page.locator('.ledger .line').nth(1).click());
    await ledger('All rows selected', async () => {
      await page.locator('.ledger .line').nth(0).click();
    });
    const { all, workers } = await memory(page);
    print({ name: `Memory of the page ${of}`, value: all, unit: 'MB', aim: { most: aim.memory }, note: `${workers.toFixed(0)} MB of it in its workers` }); // prettier-ignore
  });
}

/** Distinct meshes that arrive one by one. */
const ARRIVING = 20_000;

/** Opens a job with as many shapes as parts, and goes on until all of them have arrived and are drawn. */
async function arriving(server: TestServer): Promise<void> {
  await withPage(server, await jobWith(server, ARRIVING, ARRIVING), async (page, address) => {
    let arrived = 0;
    page.on('response', (response) => {
      if (response.url().includes('/api/blobs/')) arrived++;
    });
    const start = performance.now();
    await page.goto(address);
    await opened(page);
    // What opening takes is measured by itself.
    await blocked(page);
    while (arrived < ARRIVING && performance.now() - start < 240_000) await page.waitForTimeout(250);
    await settled(page);
    const elapsed = performance.now() - start;
    const { sum, most } = await blocked(page);
    const of = `while ${ARRIVING} distinct meshes arrive`;
    const note = `${arrived} in ${(elapsed / 1000).toFixed(0)} s, blocked ${sum.toFixed(0)} ms`;
    print({ name: `Blocked at once ${of}`, value: most, unit: 'ms', aim: { most: 50 }, note });
    print({ name: `Blocked ${of}`, value: (100 * sum) / elapsed, unit: '%', aim: { most: 5 } });
  });
}

/** Parts of a job whose storeys have 5,000 each. */
const DRAGGED_AMONG = 50_000;
const DRAGS = 40;

/** Adds up what moves of the pointer and callbacks of frames take, milliseconds; nothing else happens in a drag. */
async function timeScript(page: Page): Promise<void> {
  // What the loader of this file keeps names by is not in the page.
  await page.addInitScript({ content: 'globalThis.__name = (work) => work;' });
  await page.addInitScript(() => {
    const own = window as unknown as { script: number };
    own.script = 0;
    const timed =
      <A extends unknown[]>(work: (...given: A) => unknown) =>
      (...given: A) => {
        const began = performance.now();
        work(...given);
        own.script += performance.now() - began;
      };
    const ask = window.requestAnimationFrame.bind(window);
    window.requestAnimationFrame = (work) => ask(timed(work));
    const [add, remove] = [window.addEventListener, window.removeEventListener];
    const wrapped = new WeakMap<object, EventListener>();
    window.addEventListener = function (type: string, work: EventListener, ...more: unknown[]) {
      if (type === 'pointermove') wrapped.set(work, timed(work));
      add.call(window, type as never, wrapped.get(work) ?? work, ...(more as []));
    } as never;
    window.removeEventListener = function (type: string, work: EventListener, ...more: unknown[]) {
      remove.call(window, type as never, wrapped.get(work) ?? work, ...(more as []));
    } as never;
  });
}

/** Drags an assembly of 5,000 parts over the view: what the page's own script takes for each frame that is drawn. */
async function dragging(server: TestServer): Promise<void> {
  await withPage(server, await jobWith(server, DRAGGED_AMONG), async (page, address) => {
    await timeScript(page);
    await page.goto(address);
    await opened(page);
    await settled(page);
    const box = await page.locator('canvas').boundingBox();
    if (!box) throw new Error('There is no view.');
    // Where a part of the topmost storey is seen.
    let [x, y] = [0, 0];
    const isOfStorey = async () => /Storey 9\b/.test((await page.locator('.block').textContent()) ?? '');
    for (let tries = 0; tries < 200 && !(await isOfStorey()); tries++) {
      [x, y] = [box.x + 40 + ((tries * 37) % 460), box.y + 280 + ((tries * 7) % 40)];
      await page.mouse.click(x, y);
    }
    await page.getByPlaceholder('Find name').fill('Storey 9');
    // The ledger went to what was clicked.
    await page.locator('.ledger .scroll').evaluate((list) => (list.scrollTop = 0));
    await page.locator('.ledger .line').filter({ hasText: 'Storey 9' }).first().click();
    await page.getByRole('button', { name: /^Place:/ }).click();
    await page.getByRole('button', { name: /^Move/ }).first().click();
    await page.getByRole('button', { name: 'Drag in the view' }).click();
    await settled(page);
    const read = async () => ({
      script: await page.evaluate(() => (window as unknown as { script: number }).script),
      frames: Number(await page.locator('canvas').getAttribute('data-frames')),
    });
    await page.mouse.move(x, y);
    await page.mouse.down();
    // The first pointing has curves told apart and shaders made.
    for (let i = 0; i < 10; i++) await page.mouse.move(x + i, y - i);
    await page.waitForTimeout(1500);
    const before = await read();
    for (let i = 0; i < DRAGS; i++) {
      await page.mouse.move(x + 60 * Math.cos(i / 10), y + 40 * Math.sin(i / 10));
      // A frame for each: a queue of them would be measured as one.
      await page.evaluate(() => new Promise((done) => requestAnimationFrame(done)));
    }
    const after = await read();

    if (!(await page.locator('.aimed').textContent())?.includes('x, y, z')) throw new Error('Nothing was dragged.');
    await page.mouse.up();
    const frames = after.frames - before.frames;
    if (frames < 5 || after.script === 0) throw new Error(`Only ${frames} frames were drawn.`);
    print({
      name: `Script of a frame while 5000 of ${DRAGGED_AMONG} parts are dragged`,
      value: (after.script - before.script) / frames,
      unit: 'ms',
      aim: { most: 4 },
      note: `moves of the pointer and what draws, over ${frames} frames, which the processor draws here`,
    });
  });
}

const server = await TestServer.start(join(process.cwd(), 'web', 'dist'));
try {
  for (const parts of (process.env.PARTS ?? '100000,1000000').split(',').map(Number).filter(Boolean))
    await measure(server, parts, process.env.SHAPES ? Number(process.env.SHAPES) : undefined);
  if (!process.env.PARTS || process.env.ARRIVING) await arriving(server);
  if (!process.env.PARTS || process.env.DRAGGING) await dragging(server);
} finally {
  await server.stop();
  postgres.stop();
}
process.exit(0);
