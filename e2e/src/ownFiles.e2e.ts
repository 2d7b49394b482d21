// Files that are not ours: an open assembly all the way through, and files that are broken in every way we know.
import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { StepText } from '@noble-prism/core/testing/stepText';
import { AT_LENGTH, models, newJob } from './bench.ts';

// From Debian's package gmsh-doc: the assembly of ISO's conformance tests.
const ASSEMBLY = join(models, 'as1-tu-203.stp');

test('an open assembly is surveyed, tessellated and sent', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Conformance');
  await expect(page.getByText('Drop models here.')).toBeVisible();
  await bench.drop(ASSEMBLY);
  const source = bench.panel.getByRole('article');
  await expect(source).toContainText('18 parts');
  await expect(source).toContainText('5 distinct solids');
  await expect(source).toContainText('AP203');
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(1000);
  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  await expect(bench.panel.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  expect(bench.errors).toEqual([]);
});

test('broken files say what is wrong with them, and the good one beside them is used', async ({ page }) => {
  const bench = await newJob(page, 'Broken');
  const text = new TextEncoder();
  const whole = readFileSync(ASSEMBLY);
  // In the middle of an entity: behind the opening bracket of one that stands at two thirds of the file.
  const middle = whole.indexOf('(', Math.floor(whole.length * 0.66)) + 1;
  await bench.drop(
    { name: 'holiday.stp', bytes: text.encode('not a model at all') },
    { name: 'half.stp', bytes: whole.subarray(0, middle) },
    { name: 'model.xyz', bytes: text.encode('0 1 2') },
    { name: 'good.stp', bytes: new Uint8Array(whole) },
  );
  const source = (name: string) => bench.panel.getByRole('article').filter({ hasText: name });
  await expect(source('holiday.stp').getByRole('alert')).toContainText('is not a STEP file');
  await expect(source('model.xyz').getByRole('alert')).toContainText('not in an open format');
  await expect(source('half.stp')).toContainText(/ends in the middle of entity #\d+/);
  await expect(source('good.stp')).toContainText('18 parts');
  await bench.settled();
  await expect.poll(() => bench.triangles()).toBeGreaterThan(1000);
});

test('an empty file is refused before it is sent', { tag: AT_LENGTH }, async ({ page }) => {
  const bench = await newJob(page, 'Empty');
  await bench.drop({ name: 'nothing.stp', bytes: new Uint8Array() });
  await expect(page.getByText(/nothing\.stp is empty \(0 bytes\)/)).toBeVisible();
  await expect(bench.panel.getByRole('article')).toHaveCount(0);
});

test(
  'an assembly that contains itself, dangling references and a name of 10 000 characters are survived',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await newJob(page, 'Hostile');
    const step = new StepText();
    const outer = step.product('Outer');
    const inner = step.product('N'.repeat(10_000), [step.tetrahedron(30).solid]);
    const box = step.product('Box');
    step.place(outer, inner, step.axis([100, 0, 0]));
    step.place(outer, box, step.axis());
    step.place(box, outer, step.axis());
    const top = step.product('Top');
    step.place(top, outer, step.axis());
    const broken = step.product('Broken', [step.tetrahedron(20).solid]);
    step.place(top, broken, step.axis());
    const damaged = new TextEncoder().encode(
      step.toString().replace(/VERTEX_POINT\('',#\d+\)(?![\s\S]*VERTEX_POINT)/, "VERTEX_POINT('',#999999)"),
    );
    await bench.drop({ name: '../../hostile.stp', bytes: damaged });
    const source = bench.panel.getByRole('article').filter({ hasText: 'hostile.stp' });
    await expect(source).toContainText('The assembly contains itself');
    await expect(source).toContainText('was cut to 1,000');
    await expect(source).toContainText('#999999, which is not in the file');
    await bench.settled();
    await expect(bench.block).toBeVisible();
  },
);

test(
  'somebody else saves first: nothing is overwritten, and the change can be made on top',
  { tag: AT_LENGTH },
  async ({ page, request }) => {
    const bench = await newJob(page, 'Two people');
    await bench.drop(ASSEMBLY);
    await bench.settled();
    const id = page.url().split('/jobs/')[1].split('/')[0];
    // The page is kept from hearing of it, as over a slow line.
    await page.route('**/api/jobs/*/events', (route) => route.abort());
    await page.reload();
    await expect(bench.ledger).toBeVisible();
    const job = (await (await request.get(`/api/jobs/${id}`)).json()) as {
      version: { number: number; sources: string[]; steps: { id: string }[] };
    };
    await request.post(`/api/jobs/${id}/versions`, {
      data: {
        base: job.version.number,
        note: 'Theirs',
        steps: job.version.steps.slice(0, 1),
        sources: job.version.sources,
      },
    });
    await bench.station('Finishes');
    await bench.choose('Material for 256', 'Bearing bronze');
    await expect(page.getByRole('dialog')).toContainText('nothing was overwritten');
    await page.getByRole('button', { name: 'Make mine again on top' }).click();
    await expect(bench.step('Finishes')).toHaveCount(1);
    await expect(bench.step('Turn')).toHaveCount(0);
  },
);
