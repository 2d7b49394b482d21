/** The bench as a practitioner handles it, for the tests: rows, steps, stations, readings. */
import { expect } from '@playwright/test';
import type { APIRequestContext, Locator, Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import type { Step } from '@noble-prism/core/steps/kinds';
import { nodePictures } from '@noble-prism/node/pictures';
import { basename, join } from 'node:path';
import type { Job } from '@noble-prism/wire/job';

/** Of stories that `npm run test:long` tells: more of what others tell already, or large. */
export const AT_LENGTH = '@at-length';

/** Where `npm test` unpacks the open files. */
export const models = process.env.MODELS ?? join(import.meta.dirname, '..', '..', '.data', 'models');

/** A file of the demo job, as it was written for this run. */
export const demoFile = (name: string) =>
  join(import.meta.dirname, '..', '..', 'test-results', 'e2e-data', 'demo', name);

/** Drops files on a part of a page as a file manager does. */
export async function dropFiles(
  page: Page,
  on: string,
  files: readonly (string | { name: string; bytes: Uint8Array })[],
): Promise<void> {
  const list = files.map((file) =>
    typeof file === 'string'
      ? { name: basename(file), base64: readFileSync(file).toString('base64') }
      : { name: file.name, base64: Buffer.from(file.bytes).toString('base64') },
  );
  const transfer = await page.evaluateHandle((entries) => {
    const data = new DataTransfer();
    for (const { name, base64 } of entries)
      data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
    return data;
  }, list);
  const target = page.locator(on);
  await target.dispatchEvent('dragenter', { dataTransfer: transfer });
  await target.dispatchEvent('drop', { dataTransfer: transfer });
}

export class Bench {
  readonly ledger: Locator;
  readonly panel: Locator;
  readonly steps: Locator;
  readonly block: Locator;
  readonly tasks: Locator;
  readonly canvas: Locator;
  readonly search: Locator;
  readonly errors: string[] = [];
  /** Pictures of the view so far. */
  readonly #seen: { name: string; data: Uint8Array }[] = [];

  constructor(readonly page: Page) {
    this.ledger = page.getByRole('region', { name: 'Ledger' });
    this.panel = page.getByRole('complementary');
    this.steps = page.getByLabel('Steps', { exact: true });
    this.block = page.getByRole('group', { name: 'Title block' });
    this.tasks = page.locator('.tasks');
    this.canvas = page.locator('canvas');
    this.search = page.getByPlaceholder('Find name');
    page.on('pageerror', (error) => this.errors.push(error.message));
    page.on('console', (message) => {
      if (message.type() === 'error') this.errors.push(message.text());
    });
  }

  async open(job: string, station = ''): Promise<void> {
    await this.page.goto(`/jobs/${job}/${station}`);
    await expect(this.ledger).toBeVisible();
  }

  async station(name: string): Promise<void> {
    await this.page
      .getByRole('navigation', { name: 'Stations' })
      .getByRole('button', { name: new RegExp(`^(\\d )?${name}\\b`) })
      .click();
    await expect(this.panel.getByRole('heading', { name })).toBeVisible();
  }

  /** The row of the ledger with exactly this name. */
  row(name: string): Locator {
    return this.ledger
      .getByRole('row')
      .filter({ has: this.page.locator('.name .text', { hasText: new RegExp(`^${escape(name)}$`) }) });
  }

  /** Text of a cell of a row: 1 is the first column after the name. */
  async cell(name: string, column: number): Promise<string> {
    return ((await this.row(name).first().getByRole('gridcell').nth(column).textContent()) ?? '').trim();
  }

  /** Number in a text, thin spaces between groups of three left out. */
  static number(text: string | null): number {
    return Number((text ?? '').replace(/[\u2009\u00a0\s]/g, '').match(/-?[\d.]+/)?.[0]);
  }

  /** Waits until nothing is being computed or saved. */
  async settled(): Promise<void> {
    await expect(this.tasks).toBeEmpty({ timeout: 90_000 });
  }

  /** Triangles of everything, as the spectrum states them. */
  async triangles(): Promise<number> {
    return Bench.number(((await this.page.locator('.spectrum .caption').textContent()) ?? '').split('·')[1]);
  }

  step(title: string): Locator {
    return this.steps
      .getByRole('listitem')
      .filter({ has: this.page.locator('b', { hasText: new RegExp(`^${title}$`) }) });
  }

  async choose(label: string | RegExp, option: string): Promise<void> {
    await this.panel.getByRole('combobox', { name: label }).click();
    await this.page.getByRole('option', { name: option }).first().click();
  }

  /** Opens an action of the station, where it is not open; before it its topic, where that is folded. */
  async action(title: string): Promise<void> {
    const topic = this.panel.getByRole('button', {
      name: new RegExp(`: (.*, )?${escape(title)}(,|$)`),
      expanded: false,
    });
    if ((await topic.count()) > 0) await topic.click();
    const line = this.panel
      .getByRole('heading', { level: 3 })
      // Topics say what is in them behind a colon.
      .getByRole('button', { name: new RegExp(`^${escape(title)}\\b(?![^:]*:)`) });
    if ((await line.getAttribute('aria-expanded')) === 'false') await line.click();
  }

  /** Picks a point of a step in the view: where the pointer says what is meant. @param meant of what it says there */
  async pick(label: string, meant: RegExp): Promise<void> {
    const { page } = this;
    const words = page.locator('.aimed');
    const canvas = (await this.canvas.boundingBox())!;
    await this.panel.getByRole('button', { name: `Pick: ${label}` }).click();
    for (let y = 0.2; y < 0.75; y += 0.03)
      for (let x = 0.2; x < 0.8; x += 0.025) {
        const [px, py] = [canvas.x + canvas.width * x, canvas.y + canvas.height * y];
        await page.mouse.move(px, py);
        await page.waitForTimeout(60);
        if ((await words.count()) === 0 || !meant.test(await words.innerText())) continue;
        await page.mouse.click(px, py);
        return;
      }
    throw new Error(`Nothing in the view is ${meant.source}.`);
  }

  /** Says what a step concerns by words that the scene has: layers, classes. */
  async concerns(rule: string, words: string, ...chosen: string[]): Promise<void> {
    await this.choose(/^Concerns/, rule);
    await this.panel.getByRole('combobox', { name: words, exact: true }).press('ArrowDown');
    for (const word of chosen) await this.page.getByRole('option', { name: word, exact: true }).click();
    await this.page.keyboard.press('Escape');
  }

  /** Drops files on the bench as a file manager does. */
  async drop(...files: (string | { name: string; bytes: Uint8Array })[]): Promise<void> {
    await dropFiles(this.page, '.bench', files);
  }

  /** Colour in the middle of the view, as drawn. */
  async middle(): Promise<string> {
    const box = await this.canvas.boundingBox();
    if (!box) return '';
    const clip = { x: box.x + box.width / 2 - 20, y: box.y + box.height / 2 - 40, width: 40, height: 40 };
    return (await this.page.screenshot({ clip })).toString('base64');
  }

  /** What the view shows once it has come to rest, without what stands before it: the name of the picture, the same for those that look the same. */
  async picture(): Promise<string> {
    const box = await this.canvas.boundingBox();
    if (!box) return '';
    // Within the frame that shows what has the keyboard.
    const clip = { x: box.x + 16, y: box.y + 64, width: box.width - 32, height: box.height - 164 };
    // At rest: no frame was drawn for a while.
    const frames = () => this.canvas.getAttribute('data-frames');
    for (let calm = 0, last = await frames(); calm < 4;) {
      await this.page.waitForTimeout(250);
      // A page that had no time to draw is not at rest.
      await this.page.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))));
      const now = await frames();
      calm = now === last ? calm + 1 : 0;
      last = now;
    }
    // The line between two pictures is none of them.
    const line = this.page.locator('.wipe');
    const show = async (how: string) => {
      if ((await line.count()) > 0) await line.evaluate((element, value) => (element.style.visibility = value), how);
    };
    await show('hidden');
    const bytes = await this.page.screenshot({ clip });
    await show('');
    const { data } = await nodePictures.decode(bytes, 'image/png', { values: true });
    const alike = this.#seen.find((one) => isAlike(one.data, data));
    if (alike) return alike.name;
    const name = createHash('sha256').update(data).digest('hex');
    this.#seen.push({ name, data });
    return name;
  }
}

/** A job of one's own that is as the demo job, with nothing left to compute, and with other steps where that is said. */
export async function copyOfDemo(
  request: APIRequestContext,
  name: string,
  change: (steps: readonly Step[]) => readonly Step[] = (steps) => steps,
): Promise<Job> {
  // What it takes is computed once for all: by the demo job itself.
  const demo = async () => isComputed((await (await request.get('/api/jobs/demo')).json()) as Job);
  await expect.poll(demo, WAITING).toBe(true);
  const copy = (await (await request.post('/api/jobs/demo/copy', { data: { name } })).json()) as Job;
  const { number, steps, sources } = copy.version;
  const changed = change(steps);
  if (changed === steps) return copy;
  const data = { base: number, note: 'Begun', steps: changed, sources };
  return (await (await request.post(`/api/jobs/${copy.id}/versions`, { data })).json()) as Job;
}

const WAITING = { timeout: 110_000 };
const isOpen = ({ state }: { state: string }) => state === 'queued' || state === 'running';

/** Nothing open alone does not say so: right after its start a job has not asked for anything yet. */
const isComputed = ({ sources, tasks, version }: Job) =>
  sources.every(({ state }) => state === 'ready') &&
  !tasks.some(isOpen) &&
  tasks.some(
    ({ kind, state, result }) => kind === 'evaluate' && state === 'done' && result?.version === version.number,
  );

/** Makes a job through the list of jobs, as a person does. */
export async function newJob(page: Page, name: string): Promise<Bench> {
  await page.goto('/');
  await page.getByLabel('New job').fill(name);
  await page.getByRole('button', { name: 'Make job' }).click();
  const bench = new Bench(page);
  await expect(bench.ledger).toBeVisible();
  return bench;
}

/** The browser puts the pale ground behind the view together anew now and then, a level of 255 lighter or darker here and there. */
function isAlike(a: Uint8Array, b: Uint8Array): boolean {
  return a.length === b.length && a.every((value, i) => Math.abs(value - b[i]) <= 1);
}

function escape(text: string): string {
  return text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
}
