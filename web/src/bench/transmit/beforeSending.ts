/** What has to be known before a job is sent; sending is still possible. Each leads to where it is mended. */
import { computed } from 'vue';
import type { ComputedRef } from 'vue';
import { withoutCoordinates } from '@noble-prism/core/finish/withoutCoordinates';
import { notInFull } from '@noble-prism/core/scene/inFull';
import { seenFromBehind } from '@noble-prism/core/scene/fromBehind';
import { impossibleSize } from '@noble-prism/core/scene/plausible';
import { PART } from '@noble-prism/core/scene/nodes';
import type { Box } from '@noble-prism/core/scene/types';
import { worldBox } from '@noble-prism/core/scene/tree';
import { overLimits } from '@noble-prism/core/transmit/limits';
import { sentOf } from '@noble-prism/core/transmit/targets/leftOut';
import { tooLarge } from '@noble-prism/core/transmit/tooLarge';
import { counted, formatCount, formatNumber } from '@noble-prism/core/units';
import { writerFor } from '@noble-prism/core/write/formats';
import { titleOf } from '@noble-prism/core/steps/kinds';
import { sidesStep } from '@noble-prism/core/steps/sides';
import { useJob } from '../../stores/job.ts';
import { useSelection } from '../../stores/selection.ts';
import { layCoordinates, wordsOfBare } from '../finishes/bareOfCoordinates.ts';
import { changeSteps, openStep } from '../stepEdits.ts';
import { troublesOf } from '../stepTroubles.ts';
import type { Targets } from './targets.ts';

export interface Notice {
  id: string;
  text: string;
  tone: 'quiet' | 'warn' | 'bad';
  /** What the way to it is called, and the way. */
  way?: { text: string; go(): void };
}

/** Kinds of step by which somebody has said in which unit a source is. */
const SAYS_UNIT = new Set(['unit', 'branch']);

/** `4 × 1 × 4 m`. */
const sizeWords = ({ min, max }: Box) => `${max.map((high, axis) => formatNumber(high - min[axis], 3)).join(' × ')}\u00a0m`; // prettier-ignore

/** Parts that are named one by one. */
const NAMED = 3;

/** @param go opens a station */
export function useBeforeSending(go: (station: string) => void, { on, open }: Targets): ComputedRef<Notice[]> {
  const store = useJob();
  const selection = useSelection();

  /** Rows of parts of which something holds. */
  const partsWhere = (test: (row: number) => boolean): number[] => {
    const { nodes } = store.scene;
    const { kind } = nodes.columns;
    const rows: number[] = [];
    for (let row = 0; row < nodes.rows; row++) if (kind[row] === PART && test(row)) rows.push(row);
    return rows;
  };
  const named = (rows: readonly number[]) => {
    const names = rows.slice(0, NAMED).map((row) => store.scene.nodes.text('name', row));
    return `${names.join(', ')}${rows.length > NAMED ? ' …' : ''}`;
  };
  const select = (rows: readonly number[], station = 'receive') => ({
    text: 'select them',
    go: () => {
      selection.pick(rows.map((row) => store.scene.nodes.key(row)));
      go(station);
    },
  });
  const showBoth = () => void changeSteps.add(sidesStep.kind, { by: 'all' }, sidesStep.defaults);

  return computed(() => {
    const out: Notice[] = [];
    const { scene, evaluation } = store;
    const { nodes } = scene;
    const { mesh, materials } = nodes.columns;
    const box = worldBox(scene);
    const impossible = box && impossibleSize(box);
    if (impossible) out.push({ id: 'size', text: impossible, tone: 'bad', way: { text: 'Arrange', go: () => go('arrange') } });
    for (const words of notInFull(scene)) out.push({ id: words, text: words, tone: 'bad', way: { text: 'see what', go: () => go('receive') } });
    for (const { id, name, settings } of on.value) {
      const writer = writerFor(settings.format);
      if (writer && (settings.mostTriangles ?? settings.mostOfPart) !== undefined) {
        const { parts, words } = overLimits(sentOf(scene, settings, writer), settings);
        const way = parts.length > 0 ? select(parts, 'lighten') : { text: 'Lighten', go: () => go('lighten') };
        if (words.length > 0) out.push({ id: `${id} limits`, text: `${name}: ${words.join(' ')}`, tone: 'warn', way });
      }
      // How much is in a piece, or left where something stays out, shows when it is sent.
      if (!writer || settings.split || settings.only || settings.without) continue;
      const problem = tooLarge(scene, settings, writer);
      if (problem) out.push({ id, text: `${name}: ${problem}`, tone: 'bad', way: { text: 'open the target', go: () => (open.value = id) } });
    }
    for (const step of store.steps) {
      const report = evaluation?.reports.find(({ id }) => id === step.id);
      const words = troublesOf(report, store.base.nodes.length === 0);
      if (words.length === 0) continue;
      const more = words.length > 1 ? ` (and ${words.length - 1} more)` : '';
      out.push({ id: step.id, text: `${titleOf(step)}: ${words[0]}${more}`, tone: 'warn', way: { text: 'open it', go: () => (openStep.value = step.id) } });
    }
    const waiting = evaluation?.missing ?? 0;
    const bare = partsWhere((row) => mesh[row] === 0);
    if (waiting > 0) out.push({ id: 'waiting', text: `${formatCount(waiting)} meshes are still being computed; sending waits for them.`, tone: 'quiet' });
    else if (bare.length > 0) out.push({ id: 'bare', text: `${counted(bare.length, 'part')} without triangles: empty rows, or left out where a format has no such: ${named(bare)}`, tone: 'warn', way: select(bare) });
    const said = new Set(store.applied.flatMap(({ kind, on, selector }) => (on && SAYS_UNIT.has(kind) && selector.by === 'source' ? selector.sources : [])));
    const assumed = store.applied.some(({ kind, on }) => on && kind === 'calibrate') ? [] : scene.sources.filter(({ id, unit }) => !unit.declared && !said.has(id));
    if (assumed.length > 0 && box) out.push({ id: 'unit', text: `Unit only assumed: ${assumed.slice(0, NAMED).map(({ name, unit }) => `${name} in ${unit.name}`).join(', ')}${assumed.length > NAMED ? ' …' : ''}. All is ${sizeWords(box)} large by that.`, tone: 'warn', way: { text: 'Receive', go: () => go('receive') } });
    const lying = scene.sources.filter((source) => source.up !== 'y').map((source) => source.name);
    if (lying.length > 0) out.push({ id: 'lying', text: `Still z up: ${lying.join(', ')}. In a file with y up it will lie on its back.`, tone: 'warn', way: { text: 'Arrange', go: () => go('arrange') } });
    const lost = Object.values(scene.textures).filter(({ state }) => state === 'missing');
    if (lost.length > 0) out.push({ id: 'pictures', text: `${counted(lost.length, 'picture')} missing: ${lost.slice(0, NAMED).map(({ name }) => name.split('/').at(-1)).join(', ')}`, tone: 'warn', way: { text: 'Texture sets', go: () => go('finishes') } });
    const behind = on.value.some(({ settings }) => writerFor(settings.format)?.carries.sides === true) ? seenFromBehind(scene) : [];
    if (behind.length > 0) out.push({ id: 'behind', text: `${counted(behind.length, 'part vanishes', 'parts vanish')} from behind, hatched in the view: ${named(behind)}`, tone: 'warn', way: { text: 'show both sides', go: showBoth } });
    const bareOf = waiting > 0 ? [] : withoutCoordinates(scene, store.applied);
    if (bareOf.length > 0) out.push({ id: 'coordinates', text: `${wordsOfBare(scene, bareOf)}: ${named(bareOf)}`, tone: 'warn', way: { text: 'Texture coordinates', go: () => layCoordinates(scene, bareOf, go) } });
    const none = ['none', 'none~both'].map((id) => nodes.tables.words.find(id)).filter((word) => word >= 0);
    const plain = none.length === 0 ? [] : partsWhere((row) => mesh[row] > 0 && nodes.tables.lists.get(materials[row]).some((word) => none.includes(word)) && scene.meshes[nodes.word('mesh', row)].triangles > 0);
    if (plain.length > 0) out.push({ id: 'plain', text: `${counted(plain.length, 'part')} with faces that have no material: ${named(plain)}`, tone: 'warn', way: select(plain, 'finishes') });
    return out;
  });
} // prettier-ignore
