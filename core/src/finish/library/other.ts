/** Plastics, rubber, fabric, ground, water and light. Lightness of ground and snow as in `building.ts`. */
import { entry, made } from './entry.ts';

export const PLASTICS = [
  entry('Plastics', 'plastic-black', 'Plastic, black, grained', '#1c1d1e', 0, 0.55, { also: 'abs housing' }),
  entry('Plastics', 'plastic-grey', 'Plastic, light grey', '#b4b6b6', 0, 0.45, { also: 'pvc pipe' }),
  entry('Plastics', 'plastic-white', 'Plastic, white, gloss', '#e6e6e3', 0, 0.2),
  entry('Plastics', 'plastic-orange', 'Plastic, signal orange', '#d9621e', 0, 0.4),
  entry('Plastics', 'acrylic', 'Acrylic, clear', '#f4f6f6', 0, 0.04, { transmission: 0.92, ior: 1.49, also: 'pmma' }),
  entry('Plastics', 'polycarbonate', 'Polycarbonate, opal', '#eef0ee', 0, 0.55, { transmission: 0.6, ior: 1.585 }),
];

export const RUBBER = [
  entry('Rubber', 'rubber', 'Rubber, black', '#1f2022', 0, 0.88, { also: 'tyre seal' }),
  entry('Rubber', 'rubber-studs', 'Rubber floor, studded', '#2a2b2d', 0, 0.8, made('studs', 0.3)),
  entry('Rubber', 'rubber-grey', 'Rubber, grey', '#6a6b6c', 0, 0.85, { also: 'silicone' }),
];

export const FABRIC = [
  entry('Fabric', 'felt', 'Felt, grey', '#7c7d7e', 0, 0.97, { also: 'wool', ...made('felt', 0.3) }),
  entry('Fabric', 'canvas', 'Canvas, sand', '#b7a88c', 0, 0.95, { also: 'linen tarp', ...made('canvas', 0.1) }),
  entry('Fabric', 'carpet', 'Carpet, anthracite', '#3b3d40', 0, 1, made('carpet', 0.5)),
  entry('Fabric', 'leather', 'Leather, brown', '#5a3a26', 0, 0.5, made('leather', 0.2)),
];

export const GROUND = [
  entry('Ground', 'asphalt', 'Asphalt', '#3e3f40', 0, 0.92, { also: 'road tarmac', ...made('asphalt', 1) }),
  entry('Ground', 'gravel', 'Gravel', '#8e877c', 0, 0.95, { also: 'pebbles ballast', ...made('gravel', 1) }),
  entry('Ground', 'paving', 'Paving slabs, concrete', '#a09b92', 0, 0.9, { also: 'pavement', ...made('paving', 1.2) }),
  entry('Ground', 'grass', 'Grass, cut', '#4e6b2f', 0, 0.95, { also: 'lawn meadow', ...made('grass', 1) }),
  entry('Ground', 'soil', 'Soil, dry', '#6d5742', 0, 0.97, { also: 'earth' }),
  entry('Ground', 'sand', 'Sand, dry', '#c2ab80', 0, 0.95, { also: 'beach', ...made('sand', 1) }),
  entry('Ground', 'snow', 'Snow, fresh', '#eef2f5', 0, 0.7, made('snow', 2)),
];

export const WATER = [
  entry('Water', 'water', 'Water, clear', '#e8f2f4', 0, 0.02, { transmission: 0.96, ior: 1.333 }),
  entry('Water', 'water-lake', 'Water, mountain lake', '#3f6f74', 0, 0.05, {
    transmission: 0.5,
    ior: 1.333,
    ...made('ripples', 3),
  }),
  entry('Water', 'ice', 'Ice', '#dbeaf0', 0, 0.12, { transmission: 0.7, ior: 1.31 }),
];

/** Strengths are relative to what the view is lit with; in cd/m² they mean nothing. */
export const LIGHT = [
  entry('Light', 'light-warm', 'Light, warm white', '#ffffff', 0, 0.5, { emissive: [8, 5.6, 3.2], also: '2700 k lamp' }),
  entry('Light', 'light-neutral', 'Light, neutral white', '#ffffff', 0, 0.5, { emissive: [8, 7.3, 6.2], also: '4000 k lamp' }),
  entry('Light', 'light-cool', 'Light, daylight', '#ffffff', 0, 0.5, { emissive: [7.4, 7.8, 8], also: '6500 k lamp' }),
  entry('Light', 'light-red', 'Signal light, red', '#400806', 0, 0.4, { emissive: [4, 0.12, 0.08], also: 'led' }),
  entry('Light', 'light-green', 'Signal light, green', '#07320f', 0, 0.4, { emissive: [0.1, 3.4, 0.6], also: 'exit led' }),
]; // prettier-ignore
