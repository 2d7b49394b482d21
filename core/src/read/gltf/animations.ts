/** Movements of glTF: channels of translation, rotation and scale by node. */
import type { Accessor, Animation, Node } from '@gltf-transform/core';
import type { Channel, Path, Track } from '../../scene/motion.ts';
import type { SceneBuilder } from '../builder.ts';

const INTERPOLATIONS: Record<string, Channel['interpolation']> = {
  LINEAR: 'linear',
  STEP: 'step',
  CUBICSPLINE: 'cubic',
};

/** @param ids of the builder by node */
export function enterAnimations(
  animations: readonly Animation[],
  ids: ReadonlyMap<Node, number>,
  builder: SceneBuilder,
): void {
  for (const animation of animations) {
    const number = builder.animation(animation.getName());
    for (const [node, track] of channelsByNode(animation)) {
      const id = ids.get(node);
      if (id !== undefined) builder.moves(id, number, track);
    }
  }
}

/** What moves of each node; weights of morph targets are named where the targets are. */
export function channelsByNode(animation: Animation): Map<Node, Track> {
  const tracks = new Map<Node, Track>();
  for (const channel of animation.listChannels()) {
    const node = channel.getTargetNode();
    const path = channel.getTargetPath();
    const sampler = channel.getSampler();
    const [input, output] = [sampler?.getInput(), sampler?.getOutput()];
    if (!node || !path || path === 'weights' || !sampler || !input || !output) continue;
    const track = tracks.get(node) ?? {};
    track[path satisfies Path] = {
      times: numbersIn(input),
      values: numbersIn(output),
      interpolation: INTERPOLATIONS[sampler.getInterpolation()] ?? 'linear',
    };
    tracks.set(node, track);
  }
  return tracks;
}

/** Numbers of an accessor, those that are packed as whole ones as the shares that they stand for. */
function numbersIn(accessor: Accessor): number[] {
  const out: number[] = [];
  const element: number[] = [];
  for (let i = 0; i < accessor.getCount(); i++) out.push(...accessor.getElement(i, element));
  return out;
}
