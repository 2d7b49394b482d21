/**
 * Metals, bare and painted. Reflectances at normal incidence of polished metals are linear values from the table of Akenine-Möller, Haines
 * and Hoffman, Real-Time Rendering (4th ed., table 9.2), from memory; worked and weathered surfaces are darker than that, by eye.
 */
import { entry, made } from './entry.ts';

export const METALS = [
  entry('Metals', 'aluminium', 'Aluminium, satin', '#d6d7d8', 1, 0.38, { also: 'aluminum' }),
  entry('Metals', 'aluminium-polished', 'Aluminium, polished', [0.913, 0.922, 0.924], 1, 0.1, { also: 'aluminum' }),
  entry('Metals', 'aluminium-dark', 'Aluminium, anodised dark', '#3a3836', 1, 0.42, { also: 'eloxal bronze' }),
  entry('Metals', 'brass', 'Brass, polished', [0.91, 0.778, 0.423], 1, 0.16),
  entry('Metals', 'bronze', 'Bearing bronze', '#b08450', 1, 0.34),
  entry('Metals', 'cast-iron', 'Cast iron, dark', '#45474a', 0.85, 0.62),
  entry('Metals', 'chrome', 'Chromium, polished', [0.549, 0.556, 0.554], 1, 0.06),
  entry('Metals', 'copper', 'Copper, polished', [0.955, 0.638, 0.538], 1, 0.18),
  entry('Metals', 'copper-patina', 'Copper, green patina', '#6f9c86', 0.1, 0.78, made('patina', 1)),
  entry('Metals', 'galvanised', 'Galvanised steel', '#a9adae', 1, 0.46, {
    also: 'zinc hot-dip',
    ...made('spangle', 0.4),
  }),
  entry('Metals', 'gold', 'Gold leaf', [1, 0.782, 0.344], 1, 0.22),
  entry('Metals', 'nickel', 'Nickel, satin', [0.66, 0.609, 0.526], 1, 0.3),
  entry('Metals', 'silver', 'Silver, polished', [0.972, 0.96, 0.915], 1, 0.1),
  entry('Metals', 'stainless', 'Stainless steel, brushed', '#c3c2be', 1, 0.32, {
    also: 'inox',
    ...made('brushed', 0.3),
  }),
  entry('Metals', 'stainless-polished', 'Stainless steel, polished', '#c6c5c1', 1, 0.08, { also: 'inox mirror' }),
  entry('Metals', 'steel-machined', 'Steel, machined', '#8c8d90', 1, 0.24),
  entry('Metals', 'iron', 'Iron, clean', [0.562, 0.565, 0.578], 1, 0.3),
  entry('Metals', 'steel-mill', 'Steel, mill scale', '#4b4e55', 0.9, 0.55, {
    also: 'black steel',
    ...made('scale', 1),
  }),
  entry('Metals', 'steel-weathering', 'Weathering steel', '#7a4a2f', 0.1, 0.85, {
    also: 'rust corroded',
    ...made('rust', 1.2),
  }),
  entry('Metals', 'titanium', 'Titanium', [0.542, 0.497, 0.449], 1, 0.36),
  entry('Metals', 'zinc-sheet', 'Zinc sheet, weathered', '#8f979c', 0.9, 0.52, { also: 'standing seam' }),
];

export const PAINTED = [
  entry('Painted metal', 'paint-sage', 'Paint, sage grey', '#9aa496', 0, 0.48),
  entry('Painted metal', 'paint-ochre', 'Paint, motor ochre', '#c89c3c', 0, 0.42),
  entry('Painted metal', 'paint-signal', 'Paint, guard yellow', '#e3b40c', 0, 0.4, { also: 'safety' }),
  entry('Painted metal', 'paint-red', 'Paint, signal red', '#a3211d', 0, 0.4, { also: 'fire' }),
  entry('Painted metal', 'paint-blue', 'Paint, machine blue', '#27508a', 0, 0.42),
  entry('Painted metal', 'paint-green', 'Paint, machine green', '#3d6b4a', 0, 0.42),
  entry('Painted metal', 'powder-white', 'Powder coat, white', '#e9e9e4', 0, 0.46),
  entry('Painted metal', 'powder-anthracite', 'Powder coat, anthracite', '#383c40', 0, 0.5),
  entry('Painted metal', 'powder-black', 'Powder coat, black, fine texture', '#1e1f20', 0, 0.62, made('grit', 0.1)),
  entry('Painted metal', 'lacquer-red', 'Lacquer, cabin red, clear coat', '#8f1612', 0, 0.5, { clearcoat: 1, clearcoatRoughness: 0.05, also: 'car' }),
  entry('Painted metal', 'lacquer-silver', 'Lacquer, silver metallic, clear coat', '#9fa3a8', 0.8, 0.42, { clearcoat: 1, clearcoatRoughness: 0.04, also: 'car' }),
  entry('Painted metal', 'enamel', 'Enamel, dark green', '#1f3b2c', 0, 0.14),
]; // prettier-ignore
