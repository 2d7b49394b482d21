/** The texture sets of the job: loose pictures that belong together by their names, with the steps that bind them. */
import { computed } from 'vue';
import type { ComputedRef } from 'vue';
import { textureSets } from '@noble-prism/core/finish/sets/textureSets';
import type { TextureSet } from '@noble-prism/core/finish/sets/textureSets';
import type { Texture } from '@noble-prism/core/scene/types';
import type { Step } from '@noble-prism/core/steps/kinds';
import type { TexturesParameters } from '@noble-prism/core/steps/textures';
import { useJob } from '../../stores/job.ts';

export interface ShownSet extends TextureSet {
  /** Tells it from others: names may be the same. */
  key: string;
  /** Steps that bind some of its pictures. */
  steps: Step[];
}

/** Sets as they came, whatever steps have bound since. @param source those of one source only */
export function useTextureSets(source?: () => string): ComputedRef<ShownSet[]> {
  const store = useJob();
  return computed(() => {
    const binding = store.steps.filter(({ kind }) => kind === 'textures');
    const loose = Object.values(store.base.textures).filter(
      (texture) => texture.state === 'unbound' && (!source || texture.source === source()),
    );
    return textureSets(loose).map((set) => {
      const ids = new Set(set.members.map(({ texture }) => texture.id));
      const steps = binding.filter((step) =>
        (step.parameters as TexturesParameters).pictures.some(({ texture }) => ids.has(texture)),
      );
      return { ...set, key: set.members[0].texture.id, steps };
    });
  });
}

/** Address of a picture that the page can show; nothing for kinds that no browser draws. */
export function addressOf({ blob, png, mime }: Texture): string | undefined {
  const hash = png ?? (/png|jpeg|webp/.test(mime) ? blob : undefined);
  return hash && `/api/blobs/${hash}`;
}
