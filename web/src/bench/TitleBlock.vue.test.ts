// The title block: what is selected, how large it is, where it stands and what it is made of; figures worked out by hand from three boxes.
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { translation } from '@noble-prism/core/scene/matrix';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import type { PartSpec } from '@noble-prism/core/testing/scenes';
import { useLooks } from '../stores/looks.ts';
import { useSelection } from '../stores/selection.ts';
import { click, mounted, openJob, textOf, the, unmountAll } from '../testing/mountBench.ts';
import type { OpenJob } from '../testing/mountBench.ts';
import TitleBlock from './TitleBlock.vue';

/** Boxes about their middles: a beam of 3 m at the origin, and two bolts of 0.5 m at (3, 4, 0), (5, 4, 0). */
const TREE: PartSpec[] = [
  {
    name: 'Frame',
    children: [
      { name: 'Beam', mesh: boxMesh(3, 1, 1), materials: ['#808080'] },
      { name: 'Bolt', mesh: boxMesh(0.5, 0.5, 0.5), materials: ['#202020'], transform: translation([3, 4, 0]) },
      { name: 'Bolt', mesh: boxMesh(0.5, 0.5, 0.5), materials: ['#202020'], transform: translation([5, 4, 0]) },
    ],
  },
];

let job: OpenJob;
let opened: ReturnType<typeof mounted>;
beforeEach(async () => {
  job = await openJob(TREE);
  opened = mounted(TitleBlock, { arrivals: 0 });
});
afterEach(unmountAll);

/** What is selected, and below it where that stands or how much it is. */
const heading = () =>
  [...the('group', 'Title block').querySelectorAll('button:first-child > *')].map((line) => textOf(line));
const cells = () => [...the('group', 'Title block').querySelectorAll('button')].map((cell) => textOf(cell));
const cell = (words: string) => cells().find((text) => text.includes(words));

/** Chooses rows by their numbers. */
async function choose(...rows: number[]): Promise<void> {
  useSelection().pick(rows.map((row) => job.store.scene.nodes.key(row)));
  await opened.page.vm.$nextTick();
}

describe('the title block', () => {
  it('tells of all where nothing is selected', () => {
    expect(cells()[0]).toContain('3 parts, 2 distinct');
    // From the left end of the beam to the right end of the far bolt, and from below the beam to above the bolts.
    expect(cells()[1]).toContain('6.75 × 4.75 × 1 m');
    expect(cell('Triangles')).toMatch(/36 · \d/);
    expect(cell('Centre')).toContain('1.875, 1.875, 0 m');
  });

  it('of one part says where its pivot is and how far from the origin, by Pythagoras', async () => {
    await choose(2);
    expect(heading()).toEqual(['Bolt', 'Frame']);
    expect(cells()[1]).toContain('0.5 × 0.5 × 0.5 m');
    expect(cell('Pivot')).toContain('3, 4, 0 m');
    expect(cell('Pivot')).toContain('5 m off');
    expect(cell('Triangles')).toContain('12 · 1');
  });

  it('of several of one name counts them, of others says how many rows', async () => {
    await choose(2, 3);
    expect(heading()).toEqual(['Bolt ×2', '2 parts']);
    expect(cells()[1]).toContain('2.5 × 0.5 × 0.5 m');
    expect(cell('Centre')).toContain('4, 4, 0 m');
    await choose(1, 2);
    expect(heading()).toEqual(['2 rows selected', '2 parts']);
  });

  it('leads to the stations where a figure is changed, and goes through the ways of looking', async () => {
    await opened.router.push('/jobs/j/receive');
    await click(the('button', /^Triangles/));
    expect(opened.router.currentRoute.value.params.station).toBe('lighten');
    await click(the('button', /^Material/));
    expect(opened.router.currentRoute.value.params.station).toBe('finishes');
    const before = useLooks().look;
    await click(the('button', /^Look/));
    expect(useLooks().look).not.toBe(before);
    expect(cell('Look')).toContain(useLooks().look);
  });
});
