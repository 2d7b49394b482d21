// Arranging: what is under the pointer is told and measured from, a section box opens the model, a rectangle selects.
import { expect, test } from '@playwright/test';
import { AT_LENGTH, Bench, newJob } from './bench.ts';

/** A box of 2 × 1 × 0.5 m, beside it a drum of radius 0.4 m and height 1 m with 32 sides, and on request a small cube between them. */
function boxAndDrum(withCube = false): string {
  const lines = ['o Box'];
  for (let i = 0; i < 8; i++) lines.push(`v ${i & 1 ? 2 : 0} ${i & 2 ? 1 : 0} ${i & 4 ? 0.5 : 0}`);
  lines.push('f 1 3 4 2', 'f 5 6 8 7', 'f 1 2 6 5', 'f 3 7 8 4', 'f 1 5 7 3', 'f 2 4 8 6', 'o Drum');
  const sides = 32;
  for (const y of [0, 1])
    for (let i = 0; i < sides; i++) {
      const angle = (i / sides) * 2 * Math.PI;
      lines.push(`v ${3 + 0.4 * Math.cos(angle)} ${y} ${0.25 + 0.4 * Math.sin(angle)}`);
    }
  const at = (ring: number, i: number) => 9 + ring * sides + (i % sides);
  for (let i = 0; i < sides; i++) lines.push(`f ${at(0, i)} ${at(1, i)} ${at(1, i + 1)} ${at(0, i + 1)}`);
  const all = Array.from({ length: sides }, (_, i) => i);
  lines.push(
    `f ${all.map((i) => at(0, i)).join(' ')}`,
    `f ${all
      .reverse()
      .map((i) => at(1, i))
      .join(' ')}`,
  );
  if (!withCube) return lines.join('\n');
  lines.push('o Cube');
  for (let i = 0; i < 8; i++) lines.push(`v ${i & 1 ? 2.5 : 2.1} ${i & 2 ? 0.4 : 0} ${i & 4 ? 0.4 : 0}`);
  const quads = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]]; // prettier-ignore
  for (const quad of quads) lines.push(`f ${quad.map((i) => at(2, 0) + i).join(' ')}`);
  return lines.join('\n');
}

/** What is said where the pointer is, at points all over the picture: pixels from its upper left corner. */
function said({ canvas }: Bench): Promise<{ x: number; y: number; text: string }[]> {
  return canvas.evaluate(async (element) => {
    const { left, top, width, height } = element.getBoundingClientRect();
    const out: { x: number; y: number; text: string }[] = [];
    const frame = () => new Promise((done) => requestAnimationFrame(done));
    const at = async (x: number, y: number): Promise<string> => {
      element.dispatchEvent(new PointerEvent('pointermove', { clientX: left + x, clientY: top + y, bubbles: true }));
      // What was looked for in this frame is said by the end of it.
      await frame();
      const text = document.querySelector<HTMLElement>('.aimed')?.innerText.replace(/\u00a0/g, ' ') ?? '';
      if (text) out.push({ x, y, text });
      return text;
    };
    // In large steps first; then closely where something ends. The curves of a part come a moment after it was pointed at first.
    const STEP = 28;
    const [across, down] = [Math.floor((width - 20) / STEP), Math.floor((height - 190) / STEP)];
    const coarse: string[][] = [];
    for (let v = 0; v <= down; v++) {
      coarse.push([]);
      for (let u = 0; u <= across; u++) coarse[v].push(await at(10 + u * STEP, 100 + v * STEP));
    }
    for (let v = 0; v < down; v++)
      for (let u = 0; u < across; u++) {
        const around = [coarse[v][u], coarse[v][u + 1], coarse[v + 1][u], coarse[v + 1][u + 1]];
        if (around.every((text) => text === around[0] && (text === '' || text.startsWith('on a face')))) continue;
        for (const [dx, dy] of [[14, 0], [0, 14], [14, 14]]) await at(10 + u * STEP + dx, 100 + v * STEP + dy); // prettier-ignore
      }
    return out;
  });
}

test(
  'corners are measured between, a circle says its radius, a section box opens the model, a rectangle selects',
  { tag: AT_LENGTH },
  async ({ page }) => {
    // A picture is drawn for each point that is looked at; a small one has fewer.
    test.setTimeout(300_000);
    await page.setViewportSize({ width: 1060, height: 640 });
    const bench = await newJob(page, 'Box and drum');
    await bench.drop({ name: 'box-and-drum.obj', bytes: new TextEncoder().encode(boxAndDrum()) });
    await bench.settled();
    await expect(bench.row('Drum')).toBeVisible();
    await page.keyboard.press('f');
    await bench.picture();
    const box = (await bench.canvas.boundingBox())!;
    const words = page.locator('.aimed');
    const measured = page.locator('.measured');

    // Over the whole picture: what is said where the pointer is, until every kind was met and two corners were taken.
    await page.keyboard.press('d');
    await expect(measured).toHaveText('click the first point');
    const met = new Map<string, { x: number; y: number }>();
    const corners: { x: number; y: number }[] = [];
    for (const { x, y, text } of await said(bench)) {
      const [what, name] = text.split('\n');
      if (what === 'corner' && name === 'Box' && corners.every((other) => Math.hypot(other.x - x, other.y - y) > 60))
        corners.push({ x, y });
      met.set(`${what}, ${name}`, { x, y });
    }
    const kinds = [...met.keys()];
    expect(kinds).toContain('on a circle, r 0.4 m from the mesh, Drum');
    expect(kinds).toContain('centre of a circle, r 0.4 m from the mesh, Drum');
    expect(kinds).toContain('middle of an edge, 1 m, Box');
    expect(kinds).toContain('on a face, Box');
    expect(corners.length).toBeGreaterThan(1);
    const distances = new Set([2, 1, 0.5, Math.hypot(2, 1), Math.hypot(2, 0.5), Math.hypot(1, 0.5), Math.hypot(2, 1, 0.5)].map((value) => value.toFixed(3))); // prettier-ignore
    for (const [i, a] of corners.entries())
      for (const b of corners.slice(i + 1, i + 2)) {
        for (const { x, y } of [a, b]) {
          await page.mouse.move(box.x + x, box.y + y);
          await page.mouse.click(box.x + x, box.y + y);
        }
        const text = (await measured.innerText()).replace(/\u00a0/g, ' ');
        const [, length, ...along] = /^([\d.]+) m \(x (.*), y (.*), z (.*) m\)$/.exec(text) ?? [];
        expect([...distances], text).toContain(Number(length).toFixed(3));
        expect(Math.hypot(...along.map(Number))).toBeCloseTo(Number(length), 3);
      }
    // Kept under a name, it stands in the view and in the list, and is taken again behind what is moved.
    const name = page.getByRole('textbox', { name: 'Name of the measure' });
    await expect(name).toHaveValue('Distance 1');
    await name.fill('Width of the box');
    const kept = (await measured.innerText()).replace(/\u00a0/g, ' ').split(' (')[0];
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await expect(bench.step('Measure')).toContainText('“Width of the box”');
    await page.keyboard.press('Escape');
    await expect(words).toHaveCount(0);
    await bench.station('Arrange');
    await bench.action('Measure');
    const list = bench.panel.getByLabel('Kept measures');
    await expect(list).toContainText(kept.replace(/ /g, '\u00a0'));
    await bench.action('Scale');
    await bench.panel.getByLabel('x', { exact: true }).fill('3');
    await bench.panel.getByLabel('x', { exact: true }).press('Tab');
    await bench.panel.getByRole('button', { name: 'Scale', exact: true }).last().click();
    await bench.settled();
    await bench.action('Measure');
    const now = async () => Number(/box([\d.]+)/.exec((await list.innerText()).replace(/\s/g, ''))?.[1]);
    await expect.poll(now).toBeCloseTo(3 * Number(kept.split(' ')[0]), 4);
    await page.getByRole('button', { name: 'Undo' }).click();
    await bench.settled();

    // The section box: around everything, typed, dragged, and taken away.
    const before = await bench.picture();
    await page.keyboard.press('x');
    const section = page.getByRole('group', { name: 'Section box' });
    await expect(section.getByLabel('x to')).toHaveValue('3.4');
    await section.getByLabel('y to').fill('50 cm');
    await section.getByLabel('y to').press('Enter');
    await expect(section.getByLabel('y to')).toHaveValue('0.5');
    const opened = await bench.picture();
    expect(opened).not.toBe(before);
    await section.getByLabel('y to').fill('-3');
    await section.getByLabel('y to').press('Enter');
    await expect(section.getByRole('alert')).toContainText('at least 0 m');
    await page.keyboard.press('Escape');
    await bench.canvas.focus();
    await page.keyboard.press('x');
    await expect(section).toHaveCount(0);
    expect(await bench.picture()).not.toBe(opened);

    // A rectangle over everything takes both; one that only touches the drum takes it from the right to the left alone.
    const drum = met.get('on a circle, r 0.4 m from the mesh, Drum')!;
    const drag = async (from: { x: number; y: number }, to: { x: number; y: number }) => {
      await page.keyboard.down('Shift');
      await page.mouse.move(box.x + from.x, box.y + from.y);
      await page.mouse.down();
      await page.mouse.move(box.x + to.x, box.y + to.y, { steps: 3 });
      await page.mouse.up();
      await page.keyboard.up('Shift');
    };
    await drag({ x: 8, y: 112 }, { x: box.width - 5, y: box.height - 5 });
    await expect(bench.block).toContainText('2 rows selected');
    await drag({ x: drum.x - 6, y: drum.y - 6 }, { x: drum.x + 6, y: drum.y + 6 });
    await expect(bench.block).not.toContainText('selected');
    await drag({ x: drum.x + 6, y: drum.y + 6 }, { x: drum.x - 6, y: drum.y - 6 });
    await expect(bench.block).toContainText('Drum');
    expect(bench.errors).toEqual([]);
  },
);

test(
  'a step is looked at before and after: the line moves from the one picture to the other',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Before and after');
    await bench.drop({ name: 'box-and-drum.obj', bytes: new TextEncoder().encode(boxAndDrum(true)) });
    await bench.settled();
    // Nothing else in the picture depends on it: it lies within the box of the others.
    await bench.row('Cube').click();
    await page.keyboard.press('Delete');
    await expect(bench.row('Cube')).toHaveCount(0);
    await bench.settled();
    const after = await bench.picture();
    await bench.step('Leave out').getByRole('checkbox').click();
    await expect(bench.row('Cube')).toBeVisible();
    await bench.settled();
    const before = await bench.picture();
    expect(before).not.toBe(after);
    await bench.step('Leave out').getByRole('checkbox').click();
    await expect(bench.row('Cube')).toHaveCount(0);
    await bench.settled();

    await bench.step('Leave out').getByRole('button').first().click();
    await bench.panel.getByRole('button', { name: 'Before | after' }).click();
    const line = page.getByRole('slider', { name: 'Without Leave out on the left, with it on the right' });
    await expect(line).toContainText('without Leave out');
    // Through the middle of the cube.
    for (let i = 0; i < 2; i++) await line.press('ArrowRight');
    expect([before, after]).not.toContain(await bench.picture());
    for (let i = 0; i < 8; i++) await line.press('ArrowRight');
    await expect(line).toHaveAttribute('aria-valuenow', '100');
    await expect.poll(() => bench.picture()).toBe(before);
    for (let i = 0; i < 20; i++) await line.press('ArrowLeft');
    await expect.poll(() => bench.picture()).toBe(after);
    await page.keyboard.press('w');
    await expect(line).toHaveCount(0);
    await expect.poll(() => bench.picture()).toBe(after);
    expect(bench.errors).toEqual([]);
  },
);

test(
  'a part is turned and scaled by hand, the second drag going on from the first',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'By hand');
    await bench.drop({ name: 'box-and-drum.obj', bytes: new TextEncoder().encode(boxAndDrum(true)) });
    await bench.settled();
    await bench.station('Arrange');
    await bench.row('Box').click();
    await bench.action('Rotate');
    const take = bench.panel.getByRole('button', { name: 'Drag in the view' });
    // Of one row with one pivot nothing more has to be said; of two there is one point to be chosen.
    await expect(take).toBeEnabled();
    await bench.row('Drum').click({ modifiers: ['Control'] });
    await expect(take).toBeDisabled();
    await expect(bench.panel).toContainText(
      'Each of several rows has a pivot of its own: choose one point for all of them.',
    );
    await bench.choose('About', 'the middle of all');
    await take.click();

    await page.keyboard.press('f');
    await bench.settled();

    const box = (await bench.canvas.boundingBox())!;
    const words = page.locator('.aimed.lines');
    /** Until nothing more is drawn: the camera stands, and what was let go is where it was put. */
    const drawn = async () => {
      const frames = () => bench.canvas.getAttribute('data-frames');
      for (let was; was !== (was = await frames());) await page.waitForTimeout(700);
    };
    // The ground with its many lines is there while something is dragged before it.
    const ground = () =>
      page.screenshot({ clip: { x: box.x + 10, y: box.y + 115, width: box.width - 20, height: box.height - 250 } });
    /** Takes what stands right of the middle of the picture, and draws it to the right; gives what it is said to have come to. */
    const drag = async (way: number, key?: string) => {
      const [x, y] = [box.x + box.width / 2 + 40, box.y + box.height / 2 - 10];
      await page.mouse.move(x, y);
      await drawn();
      if (key) await page.keyboard.down(key);
      await page.mouse.down();
      await page.mouse.move(x + way, y, { steps: 4 });
      await drawn();
      const text = await words.innerText();
      const { length } = await ground();
      // Without lines a picture of this size is a few thousand bytes of PNG.
      expect(length).toBeGreaterThan(15_000);
      await page.mouse.up();
      if (key) await page.keyboard.up(key);
      await expect(words).toHaveCount(0);
      return Bench.number(text);
    };
    const angle = async () => Bench.number(await bench.panel.getByLabel('Angle').inputValue());
    // What was chosen is shown already, with the quarter turn that the form begins with: the drag goes on from there.
    await expect(page.getByText('Preview of Rotate, not applied yet')).toBeVisible();
    const shown = await angle();
    await expect(bench.panel).toContainText('2 rows would change.');
    const first = await drag(70);
    expect(Math.abs(first)).toBeGreaterThan(2);
    expect(Math.abs((await angle()) - shown - first)).toBeLessThan(0.1);
    const sum = await angle();
    const second = await drag(70, 'Shift');
    expect(Math.abs(second % 15)).toBeLessThan(1e-6);
    expect(Math.abs((await angle()) - sum - second)).toBeLessThan(0.1);
    await bench.panel.getByRole('button', { name: 'Rotate', exact: true }).last().click();
    await expect(bench.step('Rotate')).toBeVisible();

    await bench.action('Scale');
    await bench.choose('About', 'the middle of their base');
    await bench.panel.getByRole('button', { name: 'Drag in the view' }).click();
    const larger = await drag(60);
    expect(larger).not.toBe(1);
    const factor = Bench.number(await bench.panel.getByLabel('x', { exact: true }).inputValue());
    expect(Math.abs(factor / larger - 1)).toBeLessThan(1e-3);
    await page.getByRole('button', { name: 'Discard' }).click();
    expect(bench.errors).toEqual([]);
  },
);
