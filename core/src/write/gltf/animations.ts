/** Movements of a scene as glTF 2.0 has them: one animation for each, a channel for each value that moves. */
import type { Accessor, Animation, Buffer, Document, Node } from '@gltf-transform/core';
import { keysOf, PATHS } from '../../scene/motion.ts';
import { placedTrack } from '../../scene/placedTrack.ts';
import type { AnimationKeys, Channel, Path } from '../../scene/motion.ts';
import type { Motion, Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';

const TYPES = { translation: 'VEC3', rotation: 'VEC4', scale: 'VEC3' } as const;
const INTERPOLATIONS = { linear: 'LINEAR', step: 'STEP', cubic: 'CUBICSPLINE' } as const;

/** Quaternions of length one, as glTF 2.0 (3.11) asks for: files round theirs. Tangents of cubic keys are none. */
function unitTurns(values: number[], interpolation: Channel['interpolation']): number[] {
  if (interpolation === 'cubic') return values;
  const out = values.slice();
  for (let i = 0; i < out.length; i += 4) {
    const length = Math.hypot(out[i], out[i + 1], out[i + 2], out[i + 3]);
    if (length > 0) for (let k = i; k < i + 4; k++) out[k] /= length;
  }
  return out;
}

export class GltfAnimations {
  readonly #made = new Map<string, Animation>();
  readonly #accessors = new Map<string, Accessor>();

  private constructor(
    readonly document: Document,
    readonly buffer: Buffer,
    readonly scene: Scene,
    readonly keys: Map<string, AnimationKeys>,
  ) {}

  /** Fetches the keys of all movements of the scene. */
  static async open(document: Document, buffer: Buffer, scene: Scene, blobs: BlobStore): Promise<GltfAnimations> {
    return new GltfAnimations(document, buffer, scene, await keysOf(scene, blobs));
  }

  /** Enters what moves a node. */
  move(node: Node, motion: Motion): void {
    for (const [id, index] of Object.entries(motion.tracks)) {
      const track = this.keys.get(id)?.tracks[index];
      if (!track) continue;
      const placed = placedTrack(motion, track);
      for (const path of PATHS) if (placed[path]) this.#channel(this.#animation(id), node, path, placed[path]);
    }
  }

  #animation(id: string): Animation {
    let made = this.#made.get(id);
    if (!made) this.#made.set(id, (made = this.document.createAnimation(this.scene.animations[id].name)));
    return made;
  }

  #channel(animation: Animation, node: Node, path: Path, { times, values, interpolation }: Channel): void {
    const sampler = this.document
      .createAnimationSampler()
      .setInput(this.#accessor(times, 'SCALAR'))
      .setOutput(this.#accessor(path === 'rotation' ? unitTurns(values, interpolation) : values, TYPES[path]))
      .setInterpolation(INTERPOLATIONS[interpolation]);
    const channel = this.document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler);
    animation.addSampler(sampler).addChannel(channel);
  }

  /** Equal lists of numbers, such as times that all nodes share, are written once. */
  #accessor(values: number[], type: 'SCALAR' | 'VEC3' | 'VEC4'): Accessor {
    const key = `${type} ${values.join()}`;
    let made = this.#accessors.get(key);
    if (!made) {
      made = this.document.createAccessor().setArray(Float32Array.from(values)).setType(type).setBuffer(this.buffer);
      this.#accessors.set(key, made);
    }
    return made;
  }
}
