/** An exact solid as the read-back compares it: its text, where it stands, and the colour of each of its faces. */
import { hexFromLinear } from '../finish/colour.ts';
import { factsOf } from '../scene/facts.ts';
import { multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Scene, SceneNode } from '../scene/types.ts';

export interface ExactBody {
  /** Hash of the text. */
  text: string;
  /** Where it stands in the world, metres. */
  world: Matrix;
  /** Of its faces in their order, runs of the same colour as one; `none` where it has none. */
  colours: string;
  layer: string;
}

export function exactOf(scene: Scene, node: SceneNode, offset: Matrix): ExactBody | undefined {
  const info = node.solid ? scene.solids[node.solid] : undefined;
  if (!info) return undefined;
  const colourOf = (slot: number) => {
    const id = node.materials[slot] ?? node.materials[0] ?? NO_MATERIAL.id;
    const material = id === NO_MATERIAL.id ? undefined : scene.materials[id];
    if (!material) return 'none';
    const opacity = material.opacity * (1 - (material.transmission ?? 0));
    return `${hexFromLinear(material.baseColor)}${opacity < 1 ? ` ${opacity.toFixed(2)}` : ''}`;
  };
  const faces = (info.faceSlots ?? [0]).map(colourOf);
  return {
    text: info.text,
    world: multiply(factsOf(scene).world(node.id), offset),
    colours: faces.filter((colour, i) => colour !== faces[i - 1]).join(' '),
    layer: node.layer ?? '',
  };
}
