/**
 * What can be done on the bench: one list, from which the keys, the finder of actions, the menu of the right click and the sheet of keys
 * are drawn. Each says what it is called, its key, and whether it can be done now.
 */
import { inject, provide } from 'vue';
import type { InjectionKey } from 'vue';
import { LOCKED } from '@noble-prism/core/scene/nodes';
import type { Scene } from '@noble-prism/core/scene/types';
import { STEP_KINDS } from '@noble-prism/core/steps/kinds';
import { LOOKS, useLooks } from '../stores/looks.ts';
import { useFaces } from '../stores/faces.ts';
import { useJob } from '../stores/job.ts';
import { useMeasure } from '../stores/measure.ts';
import { usePointing } from '../stores/pointing.ts';
import { useSelection } from '../stores/selection.ts';
import { dark, turnSheet } from '../theme/sheetMode.ts';
import type { BenchAction } from './benchAction.ts';
import { alike } from './alike.ts';
import type { Likeness } from './alike.ts';
import { openAction } from './openAction.ts';
import { STATIONS } from './stations.ts';
import { changeSteps, openStep } from './stepEdits.ts';

/** What the page lends to actions. */
export interface Around {
  go(station: string): void;
  open(what: 'keys' | 'finder' | 'sheet' | 'templates'): void;
  ledger(): { focusSearch(): void; renameSelected(): void } | undefined;
  view(): { toggleSection(): void; drawRectangle(): void } | undefined;
}

const KEY: InjectionKey<() => BenchAction[]> = Symbol('actions');
export const useActions = (): (() => BenchAction[]) => inject(KEY, () => []);

const SAME: readonly { of: Likeness; title: string; also: readonly string[] }[] = [
  { of: 'mesh', title: 'Select all of the same shape', also: ['instances', 'copies', 'similar'] },
  { of: 'layer', title: 'Select all on the same layer', also: ['similar'] },
  { of: 'materials', title: 'Select all of the same material', also: ['similar', 'colour'] },
  { of: 'class', title: 'Select all of the same class', also: ['similar'] },
  { of: 'parent', title: 'Select the assembly above', also: ['parent', 'group', 'up'] },
];

/** All actions as they stand now; made anew each time that they are asked for. */
export function provideActions(around: Around): () => BenchAction[] {
  const store = useJob();
  const selection = useSelection();
  const looks = useLooks();
  const measure = useMeasure();
  const faces = useFaces();
  const pointing = usePointing();

  function actions(): BenchAction[] {
    const picked = selection.nodes.length > 0;
    const some = { onSelection: true, enabled: picked };
    return [
      { id: 'frame', group: 'Selection', title: 'Frame', purpose: 'Brings the selection, or everything, into sight.', also: ['zoom', 'fit', 'centre'], keys: 'F', press: 'f', onSelection: true, run: selection.frame },
      { id: 'isolate', group: 'Selection', title: 'Isolate', purpose: 'Hides all but the selection.', keys: 'I', press: 'i', ...some, run: selection.isolate },
      { id: 'hide', group: 'Selection', title: 'Hide', keys: 'H', press: 'h', ...some, run: selection.hide },
      { id: 'show-all', group: 'Selection', title: 'Show all', also: ['unhide'], keys: 'A', press: 'a', enabled: selection.hiddenKeys.size > 0, run: selection.showAll },
      { id: 'clear', group: 'Selection', title: 'Select nothing', keys: 'Esc', press: 'escape', run: () => (pointing.wanted ? pointing.want() : selection.wanted ? selection.want() : measure.active ? measure.stop() : faces.active ? faces.stop() : store.comparing !== undefined ? store.compare() : store.trial ? store.tryOut() : selection.clear()) },
      ...SAME.map(({ of, title, also }): BenchAction => ({ id: `same-${of}`, group: 'Selection', title, also, ...some, enabled: picked && alike(store.scene, selection.ids, of, true).length > 0, run: () => selection.pick(alike(store.scene, selection.ids, of)) })),
      { id: 'rectangle', group: 'Selection', title: 'Select by rectangle', purpose: 'The next drag in the view draws it: to the right takes what is wholly inside, to the left also what it touches. A drag with Shift does the same.', also: ['window', 'box', 'lasso'], keys: 'R', press: 'r', run: () => around.view()?.drawRectangle() },
      { id: 'leave-out-now', group: 'Selection', title: 'Leave out what is selected', also: ['delete', 'remove'], keys: 'Del', ...some, run: leaveOutSelection },
      { id: 'lock-now', group: 'Selection', title: isLocked(store.scene, selection.ids) ? 'Free what is selected' : 'Lock what is selected', purpose: 'What is locked is not moved by later steps.', also: ['lock', 'unlock', 'freeze', 'pin'], keys: 'K', press: 'k', ...some, run: () => lockSelection(store.scene) },
      { id: 'rename-now', group: 'Selection', title: 'Rename in place', keys: 'F2', ...some, enabled: selection.nodes.length === 1, run: () => around.ledger()?.renameSelected() },
      ...[...STEP_KINDS.values()].filter(({ begunThere }) => !begunThere).map(({ kind, title, purpose, also, station, counts, defaults }): BenchAction => ({
        id: `kind-${kind}`, group: 'Prepare', title: `${title}…`, purpose, also, onSelection: counts?.(defaults) !== 'sources',
        run: () => { openStep.value = undefined; openAction(station, kind); around.go(station); },
      })),
      ...[...STEP_KINDS.values()].filter(({ begunThere }) => begunThere).map(({ kind, title, purpose, also, station }): BenchAction => ({
        id: `kind-${kind}`, group: 'Prepare', title: `${title}, at its source`, purpose, also, run: () => around.go(station),
      })),
      { id: 'edges', group: 'View', title: 'Feature edges on or off', keys: 'E', press: 'e', run: () => (looks.edges = !looks.edges) },
      { id: 'next-look', group: 'View', title: 'Next way of looking', keys: 'L', press: 'l', run: () => (looks.look = LOOKS[(LOOKS.findIndex(({ look }) => look === looks.look) + 1) % LOOKS.length].look) },
      ...LOOKS.map(({ look, title, hint }): BenchAction => ({ id: `look-${look}`, group: 'View', title: `Look: ${title}`, purpose: hint, run: () => (looks.look = look) })),
      { id: 'measure', group: 'View', title: 'Measure a distance', also: ['length', 'dimension', 'ruler'], keys: 'D', press: 'd', run: () => { faces.stop(); measure.toggle(); } },
      { id: 'faces', group: 'Selection', title: 'Select faces', purpose: 'Clicks in the view take faces instead of parts: of a solid as it has them, of a mesh up to an angle.', also: ['surface', 'area', 'plane', 'hole', 'axis'], keys: 'G', press: 'g', run: () => { measure.stop(); faces.toggle(); } },
      { id: 'section', group: 'View', title: 'Section box on or off', purpose: 'Draws only what is inside a box around the selection, or around everything.', also: ['clip', 'cut', 'slice'], keys: 'X', press: 'x', run: () => around.view()?.toggleSection() },
      { id: 'wipe', group: 'View', title: 'Before | after of the open step', purpose: 'The view without the step on the left, with it on the right; the line between is dragged.', also: ['compare', 'wipe', 'difference'], keys: 'W', press: 'w', enabled: store.comparing !== undefined || openStep.value !== undefined, run: () => store.compare(store.comparing === undefined ? openStep.value : undefined) },
      { id: 'find', group: 'View', title: 'Find in the ledger', also: ['search', 'filter'], keys: '/', press: '/', run: () => around.ledger()?.focusSearch() },
      { id: 'sheet', group: 'Steps', title: 'All steps', purpose: 'Lists every step with its rule, figures and problems.', also: ['preparation', 'list', 'order'], keys: 'S', press: 's', run: () => around.open('sheet') },
      { id: 'templates', group: 'Steps', title: 'Templates', purpose: 'Preparations kept for other jobs.', also: ['reuse', 'copy'], run: () => around.open('templates') },
      { id: 'undo', group: 'Steps', title: 'Undo', keys: 'Ctrl Z', enabled: store.canUndo, run: () => void store.move('undo') },
      { id: 'redo', group: 'Steps', title: 'Redo', keys: 'Ctrl Shift Z', enabled: store.canRedo, run: () => void store.move('redo') },
      ...STATIONS.map(({ id, key, title, lead }): BenchAction => ({ id: `station-${id}`, group: 'Stations', title, purpose: lead, keys: key, press: key, run: () => around.go(id) })),
      { id: 'finder', group: 'Bench', title: 'Find an action', keys: 'Ctrl K', run: () => around.open('finder') },
      { id: 'send-again', group: 'Bench', title: 'Send again', purpose: 'Sends the job as it is now to the targets of the last transmittal.', also: ['transmit', 'deliver', 'export', 'refresh'], keys: 'T', press: 't', enabled: (store.job?.transmittals.length ?? 0) > 0, run: () => { around.go('transmit'); void store.sendAgain(); } },
      { id: 'keys', group: 'Bench', title: 'Keyboard', also: ['shortcuts', 'help'], keys: '?', press: '?', run: () => around.open('keys') },
      { id: 'dark', group: 'Bench', title: dark.value ? 'Light sheet' : 'Dark sheet', also: ['theme', 'mode'], run: turnSheet },
    ]; // prettier-ignore
  }
  provide(KEY, actions);
  return actions;
}

/** True where all of some rows are locked. */
function isLocked({ nodes }: Scene, rows: readonly number[]): boolean {
  return rows.length > 0 && rows.every((row) => (nodes.columns.flags[row] & LOCKED) !== 0);
}

/** Locks what is selected by a step, or frees it where all of it is locked. */
function lockSelection(scene: Scene): void {
  const selection = useSelection();
  const keys = [...selection.keys];
  if (keys.length === 0) return;
  const lock = isLocked(scene, selection.ids) ? 'free' : 'locked';
  changeSteps.add('lock', { by: 'picked', keys }, { lock });
}

/** What is selected is left out by a step, which can be edited, switched off and undone like any other. */
export function leaveOutSelection(): void {
  const selection = useSelection();
  const keys = [...selection.keys];
  if (keys.length === 0) return;
  changeSteps.add('leave-out', { by: 'picked', keys }, {});
  selection.clear();
}
