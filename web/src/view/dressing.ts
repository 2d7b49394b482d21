/** What parts are drawn in, by the way of looking: their materials, or a colour for each. */
import { Color } from 'three';
import type { Scene } from '@noble-prism/core/scene/types';
import type { Look } from '../stores/looks.ts';
import type { BatchInput } from './batches.ts';
import { layerColour } from './materials.ts';
import type { MaterialStore } from './materials.ts';

/** Hues of the density look. */
export interface Hues {
  /** Number of its hue for each row, -1 for none. */
  of: Int32Array;
  colours: readonly Color[];
}

const GREY = new Color('#b9b6ad');

export function dressing(
  look: Look,
  scene: Scene,
  materials: MaterialStore,
  hues: Hues,
  uvSet: 0 | 1,
): Pick<BatchInput, 'materialFor' | 'tint'> {
  if (look === 'finished') return { materialFor: (id, geometry) => materials.finished(scene, id, geometry) };
  if (look === 'checker') return { materialFor: (id) => materials.checker(scene, id, uvSet) };
  return { materialFor: () => materials.tinted(true), tint: tintOf(look, scene, hues) };
}

function tintOf(look: Look, { nodes, layers }: Scene, hues: Hues): (row: number) => Color {
  if (look === 'density') return (row) => hues.colours[hues.of[row]] ?? GREY;
  if (look !== 'layers') return () => GREY;
  const names = [...new Set(layers.map((layer) => layer.name))];
  const { layer } = nodes.columns;
  const colours = new Map<number, Color>();
  return (row) => {
    let colour = colours.get(layer[row]);
    if (!colour) {
      colour = layerColour(layer[row] === 0 ? -1 : names.indexOf(nodes.word('layer', row)));
      colours.set(layer[row], colour);
    }
    return colour;
  };
}
