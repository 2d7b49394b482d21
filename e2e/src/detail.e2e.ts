// Deciding how fine: two settings side by side, what was measured, what the file states.
import { expect, test } from '@playwright/test';
import { join } from 'node:path';
import { AT_LENGTH, Bench, models, newJob } from './bench.ts';

const AS1 = join(models, 'as1-tu-203.stp');

/** Drops the open assembly and waits until all of it is there. */
async function received(bench: Bench): Promise<void> {
  await bench.drop(AS1);
  await expect.poll(() => bench.triangles()).toBeGreaterThan(1000);
  await bench.settled();
}

test('compares two settings on one part and takes the coarser one', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Settings');
  await received(bench);
  const compare = bench.panel.getByRole('button', { name: /Compare two settings/ });
  await expect(compare).toBeDisabled();

  // Worst first: the first row of what was measured is selected, and compared.
  const measured = bench.panel.getByRole('table', { name: 'Measured from the exact surfaces' }).getByRole('rowgroup');
  await expect(bench.panel).toContainText('All 5 within their limit; worst first.');
  const figures = await measured.getByRole('row').locator('[role=cell]:nth-child(2)').allTextContents();
  expect(figures).toHaveLength(5);
  expect(figures.map(Number)).toEqual(figures.map(Number).sort((a, b) => b - a));
  await measured.getByRole('row').first().getByRole('button').click();
  await compare.click();

  const dialog = page.getByRole('dialog');
  const [left, right] = [dialog.getByRole('region', { name: 'Left' }), dialog.getByRole('region', { name: 'Right' })];
  const triangles = async (side: typeof left) => Bench.number(await side.locator('dd').first().textContent());
  await expect.poll(() => triangles(right)).toBeGreaterThan(await triangles(left));
  await expect(left).toContainText('0.2 mm, 16°');
  await right.getByRole('combobox').click();
  await page.getByRole('option', { name: 'Real time, far' }).click();
  await expect(right).toContainText('1 mm, 30°');
  await expect.poll(async () => (await triangles(right)) < (await triangles(left))).toBe(true);

  // Both turn together, by the keyboard too.
  const shot = () => right.locator('canvas').screenshot();
  const before = await shot();
  await left.locator('canvas').focus();
  await page.keyboard.press('ArrowRight');
  await expect.poll(async () => (await shot()).equals(before)).toBe(false);

  await right.getByRole('button', { name: 'Put this into the form' }).click();
  await expect(dialog).toBeHidden();
  await expect(bench.panel.getByRole('textbox', { name: 'Chord dev.' })).toHaveValue('1');
  const fine = await bench.triangles();
  await bench.panel.getByRole('button', { name: 'Apply change' }).click();
  await expect.poll(() => bench.triangles()).toBeLessThan(fine);
  expect(bench.errors).toEqual([]);
});

test('says that what was meshed is what the file states of its parts', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Stated');
  await received(bench);
  await expect(bench.panel.getByRole('article')).toContainText('volume, area or centre of 18 parts: all agree');
});

test('limits the edges, and says what is wrong with a limit', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Edges');
  await received(bench);
  const before = await bench.triangles();
  const upTo = bench.panel.getByRole('textbox', { name: 'Edges up to' });
  const from = bench.panel.getByRole('textbox', { name: 'Edges from' });
  await expect(upTo).toHaveValue('');
  await upTo.fill('10');
  await upTo.press('Tab');
  await from.fill('8');
  await from.press('Tab');
  const apply = bench.panel.getByRole('button', { name: 'Apply change' });
  await apply.click();
  await expect(bench.panel).toContainText('The largest edge must be at least twice the smallest.');
  await from.fill('');
  await from.press('Tab');
  await apply.click();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(2 * before);
  await expect(bench.step('Tessellate')).toContainText('edges up to 10');
});

test('puts a USD scene together from the layers that were dropped with it', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Seats');
  const encode = (text: string) => new TextEncoder().encode(text);
  const seat = `#usda 1.0
( defaultPrim = "Seat"
  metersPerUnit = 0.01 )
def Xform "Seat" {
  def Cube "Cushion" { double size = 45 }
}`;
  const row = `#usda 1.0
( defaultPrim = "Row"
  metersPerUnit = 0.01
  upAxis = "Z" )
def Xform "Row" {
${[0, 1, 2]
  .map(
    (n) => `  def "Seat_${n}" (references = @seat.usda@) {
    double3 xformOp:translate = (${n * 60}, 0, 0)
    uniform token[] xformOpOrder = ["xformOp:translate"]
  }`,
  )
  .join('\n')}
  def "Table" (references = @table.usda@) {}
}`;
  await bench.drop({ name: 'row.usda', bytes: encode(row) }, { name: 'seat.usda', bytes: encode(seat) });
  const sheet = bench.panel.getByRole('article');
  await expect(sheet).toHaveCount(1);
  await expect(sheet).toContainText('USD text');
  await expect(sheet).toContainText('cm, as declared');
  await expect(sheet).toContainText('table.usda is not there');
  await expect(sheet).toContainText('36 triangles as placed');
  await expect(bench.row('Cushion')).toHaveCount(0);
  await expect(sheet).toContainText('1.65 × 0.45 × 0.45');
  expect(bench.errors).toEqual([]);
});

test('stands a model on its feet that came lying on its back', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Lying');
  // A post of 0.2 by 0.2 by 3 m, drawn along z in a format that is y up by convention.
  const corners = [0, 0.2].flatMap((x) => [0, 0.2].flatMap((y) => [0, 3].map((z) => `v ${x} ${y} ${z}`)));
  const post = `${corners.join('\n')}\no Post\nf 1 2 4 3\nf 5 7 8 6\nf 1 5 6 2\nf 3 4 8 7\n`;
  await bench.drop({ name: 'post.obj', bytes: new TextEncoder().encode(post) });
  const sheet = bench.panel.getByRole('article');
  await expect(sheet).toContainText('y, by convention, not in the file');
  await expect(bench.block).toContainText('0.2 × 0.2 × 3');
  await sheet.getByRole('combobox', { name: 'Up axis of post.obj' }).click();
  await page.getByRole('option', { name: 'z', exact: true }).click();
  await expect(bench.step('Up axis')).toContainText('z is up');
  await expect(bench.block).toContainText('0.2 × 3 × 0.2');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(bench.block).toContainText('0.2 × 0.2 × 3');
  expect(bench.errors).toEqual([]);
});
