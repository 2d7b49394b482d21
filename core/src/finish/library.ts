/** The material library: twelve physically based materials of our own, for machines and the buildings around them. */
import type { Material } from '../scene/types.ts';
import { linearFromHex } from './colour.ts';

function entry(id: string, name: string, hex: string, metallic: number, roughness: number, opacity = 1): Material {
  return { id: `lib:${id}`, name, baseColor: linearFromHex(hex), opacity, metallic, roughness, origin: 'library' };
}

export const LIBRARY: readonly Material[] = [
  entry('galvanised', 'Galvanised steel', '#a9adae', 1, 0.46),
  entry('stainless', 'Stainless steel, brushed', '#c3c2be', 1, 0.32),
  entry('steel-machined', 'Steel, machined', '#8c8d90', 1, 0.24),
  entry('cast-iron', 'Cast iron, dark', '#45474a', 0.85, 0.62),
  entry('aluminium', 'Aluminium, satin', '#d6d7d8', 1, 0.38),
  entry('bronze', 'Bearing bronze', '#b08450', 1, 0.34),
  entry('paint-sage', 'Paint, sage grey', '#9aa496', 0, 0.48),
  entry('paint-ochre', 'Paint, motor ochre', '#c89c3c', 0, 0.42),
  entry('paint-signal', 'Paint, guard yellow', '#e3b40c', 0, 0.4),
  entry('rubber', 'Rubber, black', '#1f2022', 0, 0.88),
  entry('concrete', 'Concrete, fair-faced', '#b3aea4', 0, 0.9),
  entry('glass', 'Glass, clear', '#dfe9e6', 0, 0.06, 0.28),
];

export function libraryMaterial(id: string): Material | undefined {
  return LIBRARY.find((material) => material.id === id);
}
