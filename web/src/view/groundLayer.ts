/** The ground as it lies under a model: laid anew where the box of everything is another. */
import { Group, LineBasicMaterial } from 'three';
import type { Box } from '@noble-prism/core/scene/types';
import { disposeGround, makeGround } from './ground.ts';
import type { Ground } from './ground.ts';
import { sheetColour } from './materials.ts';

export class GroundLayer {
  readonly group = new Group();
  #ground: Ground | undefined;
  #key = '';
  /** Kept for every ground: a new material links its shader anew, which takes seconds in software. */
  readonly #fine = new LineBasicMaterial({ toneMapped: false });
  readonly #strong = new LineBasicMaterial({ toneMapped: false });

  setSheet(): void {
    this.#fine.color = sheetColour('--ground-2');
    this.#strong.color = sheetColour('--ground');
  }

  /** Distance of the ruled lines, metres. */
  get pitch(): number {
    return this.#ground?.pitch ?? 1;
  }

  /** @returns whether it was another box before */
  lay(box: Box | undefined): boolean {
    const key = JSON.stringify(box ?? null);
    if (key === this.#key) return false;
    this.#key = key;
    if (this.#ground) {
      this.group.clear();
      disposeGround(this.#ground);
    }
    this.#ground = box && makeGround(box, this.#fine, this.#strong);
    if (this.#ground) this.group.add(this.#ground.group);
    return true;
  }
}
