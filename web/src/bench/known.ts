/** What people call the things that rules hold by an id. */
import { libraryMaterial } from '@noble-prism/core/finish/library/library';
import { describeSelector } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/select';
import type { Known } from '@noble-prism/core/select/rule';
import { useJob } from '../stores/job.ts';

export function useKnown(): Known & { rule(selector: Selector): string } {
  const store = useJob();
  const known: Known = {
    source: (id) => store.sources.find((source) => source.id === id)?.name ?? id,
    material: (id) => (store.scene.materials[id] ?? store.base.materials[id] ?? libraryMaterial(id))?.name ?? id,
  };
  return { ...known, rule: (selector) => describeSelector(selector, known) };
}
