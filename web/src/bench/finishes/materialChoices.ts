/** Materials that a rule can give: of the library, and those that the job has. */
import { computed } from 'vue';
import { shownName } from '@noble-prism/core/finish/plainColour';
import { hexFromLinear } from '@noble-prism/core/finish/colour';
import { shownAlone } from '@noble-prism/core/finish/library/own';
import type { Material } from '@noble-prism/core/scene/types';
import { LIBRARY, libraryMaterial } from '@noble-prism/core/finish/library/library';
import { AS_RECEIVED } from '@noble-prism/core/finish/rule';
import { useLibrary } from '../../stores/library.ts';
import { useJob } from '../../stores/job.ts';

export interface MaterialChoice {
  value: string;
  label: string;
  colour: string;
  note?: string;
  also?: string;
}

const ofLibrary: MaterialChoice[] = LIBRARY.map(({ id, name, baseColor, family, also }) => ({
  value: id,
  label: name,
  colour: hexFromLinear(baseColor),
  also: `${family} ${also}`,
}));

export function useMaterialChoices() {
  const store = useJob();
  const library = useLibrary();
  void library.load();
  const ownOf = (id: string): Material | undefined => {
    const own = library.own.find(({ material }) => material.id === id);
    return own && shownAlone(own);
  };
  const ofJob = computed(() =>
    Object.values(store.base.materials)
      .filter(({ id }) => id !== 'none')
      .map(({ id, name, baseColor }): MaterialChoice => ({
        value: id,
        label: shownName(name),
        colour: hexFromLinear(baseColor),
        note: 'of the job',
      })) // prettier-ignore
      .sort((a, b) => a.label.localeCompare(b.label, 'en', { numeric: true })),
  );
  const choices = computed<MaterialChoice[]>(() => [
    { value: AS_RECEIVED, label: 'as received', colour: '' },
    ...library.own.map(({ material: { id, name, baseColor } }) => ({ value: id, label: name, colour: hexFromLinear(baseColor), note: 'own' })), // prettier-ignore
    ...ofLibrary,
    ...ofJob.value,
  ]);
  const byId = computed(() => new Map(choices.value.map((choice) => [choice.value, choice])));
  return {
    choices,
    /** What a material is called, also one that is no longer there. */
    nameOf: (id: string) => byId.value.get(id)?.label ?? shownName(store.scene.materials[id]?.name ?? id),
    materialOf: (id: string | undefined): Material | undefined =>
      id === undefined
        ? undefined
        : (libraryMaterial(id) ?? ownOf(id) ?? store.base.materials[id] ?? store.scene.materials[id]),
    colourOf: (id: string) => byId.value.get(id)?.colour ?? '',
  };
}
