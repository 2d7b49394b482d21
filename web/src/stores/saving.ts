/**
 * Saves of the open job, one after the other: changes that are made while one is being saved wait for it, so that nobody is in conflict
 * with themselves. What somebody else saved first is never overwritten.
 */
import { computed, ref, shallowRef } from 'vue';
import type { ComputedRef, Ref, ShallowRef } from 'vue';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { Job } from '@noble-prism/wire/job';
import { api, Conflict } from '../api/client.ts';

export type ChangeSteps = (steps: Step[]) => Step[];

/** A change that was refused because somebody else saved first. */
export interface OpenConflict {
  note: string;
  change: ChangeSteps;
  current: number;
}

export interface Saving {
  /** Saves under way or waiting. */
  saving: Ref<number>;
  conflict: ShallowRef<OpenConflict | undefined>;
  canUndo: ComputedRef<boolean>;
  canRedo: ComputedRef<boolean>;
  save(note: string, make: ChangeSteps, sourcesAfter?: (ids: string[]) => string[]): void;
  move(way: 'undo' | 'redo'): Promise<void>;
  /** When all is saved that was changed until now. */
  saved(): Promise<unknown>;
}

export function useSaving({
  job,
  take,
  refresh,
  fail,
}: {
  job: ShallowRef<Job | undefined>;
  /** The server answered with the job as it is now. */
  take(next: Job): Promise<void>;
  refresh(): Promise<void>;
  fail(thrown: unknown): void;
}): Saving {
  const saving = ref(0);
  const conflict = shallowRef<OpenConflict>();
  const canUndo = computed(() => job.value?.version.parent != null);
  const canRedo = computed(() => job.value !== undefined && job.value.newest !== job.value.version.number);
  let saves: Promise<unknown> = Promise.resolve();

  function save(note: string, make: ChangeSteps, sourcesAfter?: (ids: string[]) => string[]): void {
    saving.value++;
    saves = saves.then(async () => {
      const current = job.value;
      try {
        if (!current) return;
        const { version } = current;
        const next = await api.save(current.id, {
          base: version.number,
          note,
          steps: make(version.steps),
          sources: sourcesAfter ? sourcesAfter(version.sources) : version.sources,
        });
        saving.value--;
        await take(next);
      } catch (thrown) {
        saving.value--;
        if (thrown instanceof Conflict && thrown.current) {
          conflict.value = { note, change: make, current: thrown.current.number };
        } else fail(thrown);
        await refresh();
      }
    });
  }

  /** Undo and redo wait in the same line as changes: two quick strokes are two versions back. */
  function move(way: 'undo' | 'redo'): Promise<void> {
    saving.value++;
    const moved = saves.then(async () => {
      const current = job.value;
      let next: Job | undefined;
      try {
        if (current && (way === 'undo' ? canUndo : canRedo).value)
          next = await api[way](current.id, current.version.number);
      } catch (thrown) {
        fail(thrown);
      }
      saving.value--;
      if (next) await take(next);
      else await refresh();
    });
    saves = moved;
    return moved;
  }

  return { saving, conflict, canUndo, canRedo, save, move, saved: () => saves };
}
