/** Own materials of the library, for all jobs. */
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import { api } from '../api/client.ts';

export const useLibrary = defineStore('library', () => {
  const own = shallowRef<readonly OwnMaterial[]>([]);
  const error = ref('');
  let asked = false;

  /** Fetches them once; again after it failed. */
  async function load(): Promise<void> {
    if (asked) return;
    asked = true;
    await guarded(api.materials());
  }

  async function guarded(answer: Promise<OwnMaterial[]>): Promise<boolean> {
    error.value = '';
    try {
      own.value = await answer;
      return true;
    } catch (thrown) {
      asked = false;
      error.value = (thrown as Error).message;
      return false;
    }
  }

  return {
    own,
    error,
    load,
    /** @returns false where it was refused; `error` says why */
    keep: (material: OwnMaterial) => guarded(api.keepMaterial(material)),
    remove: (id: string) => guarded(api.deleteMaterial(id)),
  };
});
