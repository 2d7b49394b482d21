// Receiving: files that belong together, a building storey by storey, limits for one layer, a unit that was lost.
import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { StepText } from '@noble-prism/core/testing/stepText';
import { AT_LENGTH, Bench, models, newJob } from './bench.ts';

const model = (...path: string[]) => join(models, ...path);
const text = (name: string, content: string) => ({ name, bytes: new TextEncoder().encode(content) });

/** A frame that places a wheel three times; the wheel is in a file of its own, and one part did not come along. */
function spreadAssembly() {
  const wheel = new StepText();
  wheel.product('Wheel', [wheel.tetrahedron(80, 'wheel').solid]);
  const main = new StepText();
  const trolley = main.product('Trolley');
  const [outer, lost] = [main.product('Wheel'), main.product('Axle')];
  main.external(outer, 'wheel.stp');
  main.external(lost, 'axle.stp');
  for (const x of [0, 200, 400]) main.place(trolley, outer, main.axis([x, 0, 0]));
  main.place(trolley, lost, main.axis([100, 0, 0]));
  return [
    { name: 'trolley.stp', bytes: main.bytes() },
    { name: 'wheel.stp', bytes: wheel.bytes() },
  ];
}

test(
  'puts an assembly over several files together, and says which one is missing',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Trolley');
    await bench.drop(...spreadAssembly());
    const sheet = bench.panel.getByRole('article');
    await expect(sheet).toHaveCount(1);
    await expect(sheet).toContainText('4 parts in 1 assembly, 1 distinct solid');
    await expect(sheet).toContainText(/axle\.stp.*did not come along/);
    await bench.settled();
    await expect(bench.row('Wheel')).toContainText('×3');
    await expect.poll(() => bench.triangles()).toBe(12);
    expect(bench.errors).toEqual([]);
  },
);

test(
  'takes files of some megabytes that belong together, with a picture that no browser draws',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Duck');
    // The picture has 786 kB, and the text is made longer than it has to be.
    const duck = readFileSync(model('Collada', 'duck.dae'), 'utf8');
    const text = duck.replace('</COLLADA>', `${'<!-- yellow -->\n'.repeat(60_000)}</COLLADA>`);
    await bench.drop({ name: 'duck.dae', bytes: new TextEncoder().encode(text) }, model('Collada', 'duckCM.tga'));
    const sheet = bench.panel.getByRole('article');
    await expect(sheet).toContainText('1 found');
    await sheet.getByText('1 picture').click();
    await expect(sheet).toContainText('512 × 512 px');
    await bench.settled();
    await bench.station('Transmit');
    await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
    await expect(bench.panel.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
    expect(bench.errors).toEqual([]);
  },
);

test(
  'binds loose pictures and the material file to the mesh that they came with',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Spider');
    const pictures = ['wal67ar_small.jpg', 'wal69ar_small.jpg', 'SpiderTex.jpg', 'drkwood2.jpg', 'engineflare1.jpg'];
    await bench.drop(
      model('OBJ', 'spider.obj'),
      model('OBJ', 'spider.mtl'),
      ...pictures.map((name) => model('OBJ', name)),
    );
    const sheet = bench.panel.getByRole('article');
    await expect(sheet).toContainText('1 368 triangles as placed');
    await expect(sheet).toContainText('5 found');
    await expect(sheet).toContainText('m, assumed');
    await sheet.getByText('4 materials').click();
    await sheet.getByRole('button', { name: 'HLeibTex' }).click();
    await expect(bench.block.locator('strong')).not.toHaveText('Spider');

    // The same mesh alone says what is missing.
    const alone = await newJob(page, 'Spider alone');
    await alone.drop(model('OBJ', 'spider.obj'));
    await expect(alone.panel.getByRole('article')).toContainText('spider.mtl is not there');
  },
);

test(
  'takes a building storey by storey, and adds what was left out at the right place',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'House');
    await bench.drop(model('house.ifc'));
    const sheet = bench.panel.getByRole('article');
    await expect(sheet).toContainText('IFC IFC2X3');
    await bench.settled();
    await expect(bench.block).toContainText('110 parts');
    await expect.poll(() => bench.triangles()).toBeGreaterThan(30_000);
    const all = await bench.triangles();
    const size = await bench.block.locator('.size span').textContent();

    await sheet.getByText('2 storeys').click();
    const upper = sheet.getByRole('checkbox', { name: /Dachgeschoss|Obergeschoss|2\.7 m/ });
    await upper.uncheck();
    await expect(bench.step('Leave out')).toHaveCount(1);
    await expect(sheet).toContainText('2 storeys, 1 left out');
    await expect.poll(() => bench.triangles()).toBeLessThan(all);
    await upper.check();
    await expect(bench.step('Leave out')).toHaveCount(0);
    await expect.poll(() => bench.triangles()).toBe(all);
    await expect(bench.block.locator('.size span')).toHaveText(size ?? '');

    // By class, and found by what a property says.
    await sheet.getByText('10 classes').click();
    await sheet.getByRole('checkbox', { name: 'Take IfcFurnishingElement' }).uncheck();
    await expect(bench.block).toContainText('89 parts');
    await bench.settled();
    await page.reload();
    await expect(bench.block).toContainText('89 parts');
    await page.keyboard.press('/');
    await page.keyboard.type('Leichtbeton');
    await expect(bench.row('Wand-Ext-ERDG-1')).toBeVisible();
  },
);

test('gives parts of one name other limits', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Rod');
  await bench.drop(model('as1-tu-203.stp'), text('crate.obj', CRATE));
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(500);
  const before = await bench.triangles();
  await bench.panel.getByRole('button', { name: 'Other limits for some' }).click();
  await bench.choose(/Concerns/, 'name');
  await bench.panel.getByLabel('Name', { exact: true }).fill('bolt*');
  await bench.choose('Purpose', 'Close-up picture');
  await bench.panel.getByRole('button', { name: 'Tessellate', exact: true }).click();
  await expect(bench.step('Tessellate')).toHaveCount(2);
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(before);
  await expect(bench.panel).toContainText('named bolt*');
});

test('goes on with a build that was cancelled, and keeps what was finished', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Rods');
  await bench.drop(model('linkrods.step'), model('as1-tu-203.stp'));
  await expect(bench.panel.getByText('5 distinct solids')).toBeVisible();
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(1000);
  const near = await bench.triangles();
  // Finer limits take a while: long enough to think better of it.
  await bench.panel.getByLabel('Chord dev.').fill('0.02 mm');
  await bench.panel.getByLabel('Chord dev.').press('Tab');
  await bench.panel.getByRole('textbox', { name: 'Angle' }).fill('5');
  await bench.panel.getByRole('textbox', { name: 'Angle' }).press('Tab');
  await bench.panel.getByRole('button', { name: 'Apply change' }).click();
  await bench.tasks.getByRole('button', { name: 'Cancel' }).click();
  await expect(bench.tasks).toContainText('left to compute');
  await bench.tasks.getByRole('button', { name: 'Continue' }).click();
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(near);
  expect(bench.errors).toEqual([]);
});

const CRATE = `# crate\n${[0, 1]
  .flatMap((z) =>
    [
      [0, 0],
      [50.8, 0],
      [50.8, 25.4],
      [0, 25.4],
    ].map(([x, y]) => `v ${x} ${y} ${z * 25.4}`),
  )
  .join('\n')}
o Crate
f 4 3 2 1
f 5 6 7 8
f 1 2 6 5
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
`;

test('finds a lost unit doubtful, reads it in another, and calibrates it by a known length', async ({ page }) => {
  const bench = await newJob(page, 'Crate');
  await bench.drop(text('crate.obj', CRATE));
  const sheet = bench.panel.getByRole('article');
  await expect(sheet).toContainText('50.8 × 25.4 × 25.4 m');
  await sheet.getByRole('button', { name: /if inch/ }).click();
  await expect(bench.step('Unit')).toContainText('read in inch');
  await bench.settled();
  await expect(sheet).toContainText('1.29 × 0.6452 × 0.6452 m');

  await bench.steps.getByRole('button', { name: 'Undo' }).click();
  await expect(bench.step('Unit')).toHaveCount(0);
  await expect(sheet).toContainText('50.8 × 25.4 × 25.4 m');

  await sheet.getByRole('combobox', { name: /Unit of/ }).click();
  await page.getByRole('option', { name: 'by a known length…' }).click();
  const box = await bench.canvas.boundingBox();
  const [x, y] = [(box?.width ?? 0) / 2, (box?.height ?? 0) / 2 - 30];
  await expect(async () => {
    await bench.canvas.click({ position: { x: x - 60, y } });
    await bench.canvas.click({ position: { x: x + 60, y } });
    await expect(sheet.getByText(/^Measured/)).toBeVisible({ timeout: 1500 });
  }).toPass();
  const measured = Bench.number(await sheet.getByText(/^Measured/).textContent());
  await sheet.getByLabel('In truth').fill(`${measured / 20} m`);
  await sheet.getByLabel('In truth').press('Tab');
  await sheet.getByRole('button', { name: 'Calibrate' }).click();
  await expect(bench.step('Unit')).toContainText('in truth');
  await bench.settled();
  // A twentieth of 50.8 m by 25.4 m.
  await expect(sheet).toContainText('2.54 × 1.27 × 1.27 m');
});

test('says what to ask for instead of a format that nobody else can read', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Odd files');
  await bench.drop(text('report.docx', 'words'), {
    name: 'lamp.stl',
    bytes: new Uint8Array(readFileSync(model('STL', 'Wuson.stl'))),
  });
  await expect(bench.panel.getByRole('alert')).toContainText(/not in an open format.*STEP.*IFC.*glTF/s);
  await expect(bench.panel.getByRole('article').filter({ hasText: 'lamp.stl' })).toContainText('3 732 triangles');
});
