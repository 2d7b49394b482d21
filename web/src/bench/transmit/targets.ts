/** The targets of the job that is open: changed at once here, kept on the server one change after the other. */
import { computed, ref, watch } from 'vue';
import { READY_MADE } from '@noble-prism/core/transmit/targets/readyMade';
import type { Target, TargetSettings } from '@noble-prism/core/transmit/targets/target';
import { writerFor } from '@noble-prism/core/write/formats';
import { useJob } from '../../stores/job.ts';
import { newId } from '../stepEdits.ts';

export function useTargets() {
  const store = useJob();
  const targets = ref<Target[]>([]);
  /** Target whose form is open. */
  const open = ref<string>();
  let keeping = Promise.resolve();
  let waiting = 0;

  watch(
    () => store.job?.targets,
    (kept) => {
      // What the server says of an older change must not undo a newer one.
      if (waiting === 0) targets.value = kept ?? [];
    },
    { immediate: true },
  );
  watch(
    () => store.job?.id,
    () => (open.value = undefined),
  );

  function keep(next: Target[]): void {
    targets.value = next;
    waiting++;
    keeping = keeping.then(async () => {
      waiting--;
      // Only the last of several is worth keeping.
      if (waiting === 0 && !(await store.keepTargets(next))) targets.value = store.job?.targets ?? [];
    });
  }

  const change = (id: string, what: Partial<Omit<Target, 'id'>>) =>
    keep(targets.value.map((target) => (target.id === id ? { ...target, ...what } : target)));

  return {
    targets,
    open,
    /** Opens the form of a target, or closes it. */
    toggle(id: string): void {
      open.value = open.value === id ? undefined : id;
    },
    on: computed(() => targets.value.filter((target) => target.on)),
    change,
    /** Sets one thing; what the format cannot do goes back to what is usual in it. */
    set(id: string, name: keyof TargetSettings, value: unknown): void {
      const target = targets.value.find((one) => one.id === id);
      if (!target) return;
      const settings: TargetSettings = { ...target.settings, [name]: value };
      if (value === undefined) delete settings[name];
      const writer = writerFor(settings.format);
      if (settings.unit && !writer?.units.includes(settings.unit)) delete settings.unit;
      if (settings.up && !writer?.ups.includes(settings.up)) delete settings.up;
      if (settings.compression && !writer?.compressions?.[settings.compression]) delete settings.compression;
      if (settings.instances && !writer?.instancing) delete settings.instances;
      if ((settings.kind === 'webp' || settings.kind === 'ktx2') && !writer?.pictureKinds?.includes(settings.kind))
        delete settings.kind;
      if (settings.split === 'modular' && (!writer?.modules || settings.compression)) delete settings.split;
      change(id, { settings });
    },
    /** @param name of a ready-made one */
    add(name: string): void {
      const made = READY_MADE.find((ready) => ready.name === name);
      if (!made) return;
      const id = newId();
      keep([
        ...targets.value,
        { id, name: unused(made.name, targets.value), on: true, settings: { ...made.settings } },
      ]);
      open.value = id;
    },
    /** Takes targets over from another job, behind those that are there. */
    take(others: readonly Target[]): void {
      let next = targets.value;
      for (const other of others) next = [...next, { ...other, id: newId(), name: unused(other.name, next) }];
      keep(next);
    },
    copy(id: string): void {
      const target = targets.value.find((one) => one.id === id);
      if (!target) return;
      const made = { ...target, id: newId(), name: unused(target.name, targets.value) };
      keep(targets.value.toSpliced(targets.value.indexOf(target) + 1, 0, made));
      open.value = made.id;
    },
    remove(id: string): void {
      keep(targets.value.filter((target) => target.id !== id));
      if (open.value === id) open.value = undefined;
    },
  };
}

export type Targets = ReturnType<typeof useTargets>;

/** A name that no target has: it gets a number where one does. */
export function unused(name: string, targets: readonly Pick<Target, 'name'>[]): string {
  const taken = new Set(targets.map((target) => target.name));
  if (!taken.has(name)) return name;
  const [, base = name] = /^(.*?)(?: \d+)?$/.exec(name) ?? [];
  let n = 2;
  while (taken.has(`${base} ${n}`)) n++;
  return `${base} ${n}`;
}
