// Above Send stands what has to be known before: what was not read in full, lies on its back, or has no material; each leads to where it is mended.
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Scene } from '@noble-prism/core/scene/types';
import { boxMesh, squareMesh } from '@noble-prism/core/testing/meshes';
import { DEFAULT_TARGET } from '@noble-prism/core/transmit/targets/target';
import { useSelection } from '../../stores/selection.ts';
import { all, click, mounted, openJob, textOf, the, unmountAll } from '../../testing/mountBench.ts';
import TransmitStation from './TransmitStation.vue';

afterEach(unmountAll);

const cut = (scene: Scene): Scene => ({
  ...scene,
  sources: [
    { ...scene.sources[0], warnings: [{ code: 'dangling', message: 'Entity #3 refers to #9.' }, { code: 'truncated', message: 'It ends in the middle of entity #812.' }] }, // prettier-ignore
  ],
});

async function station(received?: (scene: Scene) => Scene) {
  const job = await openJob([{ name: 'Box', mesh: boxMesh(1, 1, 1), materials: ['#808080'] }, { name: 'Bare', mesh: boxMesh(2, 1, 1) }], [], received); // prettier-ignore
  return { ...job, ...mounted(TransmitStation) };
}
const line = (words: RegExp) => all('listitem').find((item) => words.test(textOf(item)));

describe('before sending', () => {
  it('is said what was not read in full, with the way to where it is told', async () => {
    const { router } = await station(cut);
    await router.push('/jobs/j/transmit');
    const said = line(/not read in full/);
    expect(textOf(said as HTMLElement)).toContain(
      'test.stp was not read in full: It ends in the middle of entity #812. And 1 more.',
    );
    await click(said?.querySelector('button') as HTMLElement);
    expect(router.currentRoute.value.params.station).toBe('receive');
  });

  it('nothing is said of what was read whole', async () => {
    await station();
    expect(line(/not read in full/)).toBeUndefined();
  });

  it('is said which parts have no material, and that it still stands z up; the parts can be selected', async () => {
    await station();
    expect(line(/Still z up: test\.stp/)).toBeDefined();
    const bare = line(/1 part with faces that have no material: Bare/);
    await click(bare?.querySelector('button') as HTMLElement);
    expect(useSelection().nodes.map(({ name }) => name)).toEqual(['Bare']);
  });

  it('is said what vanishes from behind, as long as a target shows one side only; one press shows both', async () => {
    const { server, store } = await openJob([{ name: 'Sheet', mesh: squareMesh(1, 1) }, { name: 'Box', mesh: boxMesh(1, 1, 1) }]); // prettier-ignore
    server.targets = [{ id: 't', name: 'Whole scene', on: true, settings: DEFAULT_TARGET }];
    await store.open('j');
    mounted(TransmitStation);
    await vi.waitFor(() => expect(line(/1 part vanishes from behind.*: Sheet/)).toBeDefined());
    await click(line(/vanish/)?.querySelector('button') as HTMLElement);
    await vi.waitFor(() => expect(server.job.version.steps.map(({ kind }) => kind)).toContain('sides'));
    await vi.waitFor(() => expect(line(/vanish/)).toBeUndefined());
    expect(line(/no material: Sheet, Box/)).toBeDefined();
  });

  it('is said how large all of it is by a unit that the file did not say', async () => {
    await station((scene) => ({ ...scene, sources: scene.sources.map((source) => ({ ...source, unit: { name: 'm', metres: 1, declared: false } })) })); // prettier-ignore
    expect(textOf(line(/Unit only assumed/) as HTMLElement)).toContain('test.stp in m. All is 2 × 1 × 1');
    unmountAll();
    await station();
    expect(line(/Unit only assumed/)).toBeUndefined();
  });

  it('says what will be sent, and how it is called', async () => {
    await station();
    expect(textOf(document.body)).toContain('2 parts, 24 triangles');
    expect((the('textbox', /Name/) as HTMLInputElement).value).toBe('Job');
  });
});
