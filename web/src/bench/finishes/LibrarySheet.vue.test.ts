// The material library: found by words, given to what is selected, copied, edited and kept as an own one.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h } from 'vue';
import { FAMILIES } from '@noble-prism/core/finish/library/entry';
import { LIBRARY } from '@noble-prism/core/finish/library/library';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { FinishesParameters } from '@noble-prism/core/steps/finishes';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { api } from '../../api/client.ts';
import { useSelection } from '../../stores/selection.ts';
import { all, click, fill, mounted, openJob, textOf, the, unmountAll } from '../../testing/mountBench.ts';
import type { OpenJob } from '../../testing/mountBench.ts';
import LibrarySheet from './LibrarySheet.vue';
import { useSchedule } from './schedule.ts';

let job: OpenJob;
/** What the server keeps. */
let own: OwnMaterial[];
beforeEach(async () => {
  job = await openJob([
    { name: 'Motor', mesh: boxMesh(1, 1, 1), materials: ['#802020'] },
    { name: 'Guard', mesh: boxMesh(2, 1, 1), materials: ['#802020'] },
  ]);
  own = [];
  vi.spyOn(api, 'materials').mockImplementation(async () => own);
  vi.spyOn(api, 'keepMaterial').mockImplementation(async (material) => (own = [...own.filter((one) => one.material.id !== material.material.id), material])); // prettier-ignore
  vi.spyOn(api, 'deleteMaterial').mockImplementation(async (id) => (own = own.filter(({ material }) => material.id !== id))); // prettier-ignore
  mounted(
    defineComponent(() => {
      const schedule = useSchedule();
      return () => h(LibrarySheet, { schedule, visible: true });
    }),
  );
  await vi.waitFor(() => expect(cards().length).toBe(LIBRARY.length));
});
afterEach(() => {
  unmountAll();
  vi.restoreAllMocks();
});

const cards = () => [...document.querySelectorAll<HTMLElement>('.card')];
const card = (name: string) => cards().find(({ title }) => title === name) as HTMLElement;
const families = () => [...document.querySelectorAll('.list section')].map((one) => one.getAttribute('aria-label'));
const fact = (name: string) => {
  const term = [...document.querySelectorAll('dt')].find((one) => textOf(one) === name);
  return term?.nextElementSibling ? textOf(term.nextElementSibling) : undefined;
};
const seek = (words: string) => fill(the('textbox', 'Find a material'), words);
const rules = () => (job.store.steps[0]?.parameters as FinishesParameters | undefined)?.rules ?? [];

describe('the library', () => {
  it('stands in its families, with a count', () => {
    expect(families()).toEqual(FAMILIES.filter((family) => LIBRARY.some((one) => one.family === family)));
    expect(textOf(the('status'))).toBe(`${LIBRARY.length} materials`);
  });

  it('is searched by name, family and other words, all of which must be there', async () => {
    await seek('glass');
    const glasses = cards().map(({ title }) => title);
    expect(glasses).toContain('Glass, clear');
    await seek('glass clear');
    expect(cards().length).toBeLessThan(glasses.length);
    await seek('unobtainium');
    expect(cards()).toEqual([]);
    expect(textOf(the('status'))).toBe('0 materials');
    expect(document.body.textContent).toContain('Nothing is called so.');
  });

  it('says of water and glass how they refract, of bare metal that it is bare', async () => {
    await seek('glass clear');
    await click(card('Glass, clear'));
    // Soda-lime glass: 1.52 (common practice).
    expect(Number(fact('Refraction'))).toBeCloseTo(1.52, 1);
    await seek('gold');
    await click(cards()[0]);
    expect(fact('Metalness')).toBe('100 %');
    // What is diffuse in a metal is black: all of its colour is specular (glTF 2.0, appendix B).
    expect(fact('As diffuse')).toBe('#000000');
    expect(Number.parseFloat(fact('There and back') ?? '')).toBeLessThan(1);
  });
});

describe('a material of the library', () => {
  it('is given to what is selected, as a rule that can be undone', async () => {
    expect((the('button', 'Give to the selection') as HTMLButtonElement).disabled).toBe(true);
    const key = job.store.scene.nodes.key(1);
    useSelection().pick([key]);
    await seek('glass clear');
    await click(card('Glass, clear'));
    await click(the('button', 'Give to 1 part'));
    await job.settled();
    expect(rules()).toHaveLength(1);
    const scene = job.store.scene;
    expect(scene.materials[scene.nodes.row(1).materials[0]].name).toBe('Glass, clear');
    expect(scene.materials[scene.nodes.row(0).materials[0]].name).not.toBe('Glass, clear');
  });

  it('is copied, edited and kept among the own ones, which come first', async () => {
    await seek('glass clear');
    await click(card('Glass, clear'));
    await click(the('button', 'Copy and edit'));
    expect((the('textbox', 'Name') as HTMLInputElement).value).toBe('Glass, clear, copy');
    await fill(the('textbox', 'Name'), '  Cabin window ');
    await fill(the('textbox', /^Roughness/), '12');
    await click(the('button', /^(Keep|Save)/));
    await vi.waitFor(() => expect(own).toHaveLength(1));
    expect(own[0].material).toMatchObject({ name: 'Cabin window', roughness: 0.12 });
    expect(own[0].material.id).toMatch(/^mine:/);
    await seek('');
    expect(families()[0]).toBe('Own');
    expect(card('Cabin window').getAttribute('aria-pressed')).toBe('true');
    await click(the('button', 'Delete'));
    await vi.waitFor(() => expect(own).toEqual([]));
    expect(families()).not.toContain('Own');
  });

  it('that came with the job is kept from the selection', async () => {
    useSelection().pick([job.store.scene.nodes.key(0)]);
    await job.settled();
    await click(the('button', /^Keep “Colour #802020”/));
    await click(the('button', /^(Keep|Save)( |$)/));
    await vi.waitFor(() => expect(own.map(({ material }) => material.name)).toEqual(['Colour #802020']));
  });

  it('is not lost where the server refuses it: it says why, and the form stays', async () => {
    vi.mocked(api.keepMaterial).mockRejectedValueOnce(new Error('The disk of the server is full.'));
    await click(the('button', 'Copy and edit'));
    await fill(the('textbox', 'Name'), 'Try');
    await click(the('button', /^(Keep|Save)/));
    expect((the('textbox', 'Name') as HTMLInputElement).value).toBe('Try');
    expect(all('alert').map((one) => textOf(one)).join()).toContain('full');
  }); // prettier-ignore
});
