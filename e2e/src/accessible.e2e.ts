// Who cannot see the screen, or uses no mouse, works here too: axe-core finds nothing serious on any screen, light or dark.
import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { AT_LENGTH, Bench, copyOfDemo } from './bench.ts';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

interface Finding {
  id: string;
  impact: string;
  help: string;
  nodes: { html: string; failureSummary: string }[];
}

/** What is serious or critical by WCAG 2.2 A and AA and the practices of axe, each with where it is. */
async function faults(page: Page): Promise<string[]> {
  await page.evaluate(AXE);
  const { violations } = await page.evaluate(
    () =>
      (window as unknown as { axe: { run(where: Document, how: object): Promise<{ violations: Finding[] }> } }).axe.run(document, {
        resultTypes: ['violations'],
      }),
  ); // prettier-ignore
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .flatMap(({ id, help, nodes }) => nodes.slice(0, 4).map(({ html, failureSummary }) => `${id}: ${help}: ${html.slice(0, 200)} ${failureSummary.slice(0, 300)}`)); // prettier-ignore
}

test(
  'nothing serious stands in the way on any screen of the demo job',
  { tag: AT_LENGTH },
  async ({ page, request }) => {
    // Each screen is looked through whole.
    test.setTimeout(300_000);
    const { id } = await copyOfDemo(request, 'For all');
    const bench = new Bench(page);
    const found: Record<string, string[]> = {};
    const look = async (screen: string) => {
      const faulty = await faults(page);
      if (faulty.length > 0) found[screen] = faulty;
    };
    await page.goto('/');
    await expect(page.getByLabel('New job')).toBeVisible();
    await look('jobs');
    await bench.open(id, 'receive');
    await bench.settled();
    await look('Receive');
    for (const station of ['Arrange', 'Finishes', 'Lighten', 'Transmit']) {
      await bench.station(station);
      await look(station);
    }
    await bench.row('Gearbox').click();
    await bench.station('Arrange');
    await bench.action('Move');
    await look('a form');
    await bench.row('Gearbox').click({ button: 'right' });
    await expect(page.getByRole('dialog', { name: 'What can be done' })).toBeVisible();
    await look('the menu of the right click');
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+k');
    await expect(page.getByRole('dialog', { name: 'Find an action' })).toBeVisible();
    await look('the finder');
    await page.keyboard.press('Escape');
    await page.keyboard.press('s');
    await expect(page.getByRole('dialog').first()).toBeVisible();
    await look('all steps');
    await page.keyboard.press('Escape');
    await page.keyboard.press('?');
    await expect(page.getByRole('dialog').first()).toBeVisible();
    await look('the keys');
    await page.keyboard.press('Escape');
    await bench.station('Finishes');
    await bench.panel.getByRole('button', { name: 'Material library…' }).click();
    await expect(page.getByRole('dialog').first()).toBeVisible();
    await look('the library');
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: /Dark sheet|dark/ }).first().click(); // prettier-ignore
    await look('Finishes, dark');
    expect(found).toEqual({});
  },
);
