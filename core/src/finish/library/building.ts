/**
 * What buildings are made of. Lightness lies within the albedos that Oke (Boundary Layer Climates, table 1.1) and building physics give
 * for the group, from memory; hues are by eye. Indices of refraction are those of handbooks (water 1.33, ice 1.31, glass 1.52, acrylic 1.49,
 * polycarbonate 1.585).
 */
import { entry, made } from './entry.ts';

export const GLASS = [
  entry('Glass', 'glass', 'Glass, clear', '#f2f7f5', 0, 0.03, { transmission: 0.94, ior: 1.52, also: 'window float' }),
  entry('Glass', 'glass-green', 'Glass, float, green', '#cfe3d8', 0, 0.03, { transmission: 0.88, ior: 1.52 }),
  entry('Glass', 'glass-grey', 'Glass, grey tint', '#7d8488', 0, 0.03, { transmission: 0.7, ior: 1.52, also: 'solar' }),
  entry('Glass', 'glass-satin', 'Glass, satin etched', '#eef3f1', 0, 0.5, {
    transmission: 0.85,
    ior: 1.52,
    also: 'frosted opal',
  }),
  entry('Glass', 'glass-mirror', 'Mirror', [0.93, 0.94, 0.93], 1, 0.02),
  entry('Glass', 'glass-enamelled', 'Glass, enamelled black', '#191a1b', 0, 0.08, { clearcoat: 1, also: 'spandrel' }),
];

export const TIMBER = [
  entry('Timber', 'larch', 'Larch, planed', '#b98a5a', 0, 0.62, made('larch', 1.2)),
  entry('Timber', 'oak', 'Oak, oiled', '#a98255', 0, 0.5, made('oak', 1.2)),
  entry('Timber', 'walnut', 'Walnut, oiled', '#5d4030', 0, 0.46, made('walnut', 1.2)),
  entry('Timber', 'spruce', 'Spruce boards', '#d3b488', 0, 0.66, { also: 'fir pine', ...made('spruce', 1.2) }),
  entry('Timber', 'beech', 'Beech, steamed', '#c79b74', 0, 0.5),
  entry('Timber', 'decking', 'Decking, weathered grey', '#8c867c', 0, 0.82, {
    also: 'terrace',
    ...made('decking', 1.2),
  }),
  entry('Timber', 'plywood', 'Plywood, birch', '#d9bf97', 0, 0.55, made('plywood', 1.2)),
  entry('Timber', 'timber-white', 'Timber, painted white', '#e4e2da', 0, 0.45),
];

export const CONCRETE = [
  entry('Concrete', 'concrete', 'Concrete, fair-faced', '#b3aea4', 0, 0.9, {
    also: 'exposed',
    ...made('concrete', 2.4),
  }),
  entry('Concrete', 'concrete-boards', 'Concrete, board-marked', '#a7a29a', 0, 0.92, {
    also: 'shuttering',
    ...made('boardMarked', 1.2),
  }),
  entry('Concrete', 'concrete-dark', 'Concrete, dark', '#6f6d6a', 0, 0.88, made('darkConcrete', 2.4)),
  entry('Concrete', 'screed', 'Screed, sealed', '#9b978f', 0, 0.35, {
    clearcoat: 0.4,
    clearcoatRoughness: 0.2,
    also: 'floor',
  }),
  entry('Concrete', 'terrazzo', 'Terrazzo, polished', '#c0bbb2', 0, 0.22, made('terrazzo', 0.6)),
];

export const MASONRY = [
  entry('Masonry', 'brick-red', 'Brick, red, stretcher bond', '#8f4b38', 0, 0.88, {
    also: 'wall',
    ...made('redBrick', 1),
  }),
  entry('Masonry', 'brick-yellow', 'Brick, yellow, stretcher bond', '#b99a66', 0, 0.88, {
    also: 'wall',
    ...made('yellowBrick', 1),
  }),
  entry('Masonry', 'clinker', 'Clinker, dark', '#4a3b37', 0, 0.7, { also: 'brick', ...made('clinker', 1) }),
  entry('Masonry', 'block-lime', 'Sand-lime block', '#cfcabd', 0, 0.9, {
    also: 'calcium silicate',
    ...made('block', 1.5),
  }),
  entry('Masonry', 'tile-clay', 'Clay tile', '#97533a', 0, 0.8, { also: 'roof terracotta' }),
  entry('Masonry', 'tile-white', 'Wall tile, white glaze', '#e8e9e6', 0, 0.12, {
    also: 'ceramic bathroom',
    ...made('tile', 0.6),
  }),
];

export const STONE = [
  entry('Stone', 'granite', 'Granite, grey', '#8d8b88', 0, 0.5, made('granite', 0.6)),
  entry('Stone', 'limestone', 'Limestone', '#cbbfa6', 0, 0.75),
  entry('Stone', 'marble', 'Marble, white, polished', '#e2e0da', 0, 0.16, made('marble', 1.5)),
  entry('Stone', 'sandstone', 'Sandstone', '#bd9f75', 0, 0.86, made('sandstone', 1)),
  entry('Stone', 'slate', 'Slate, split', '#4a4f54', 0, 0.66, made('slate', 1)),
];

export const PLASTER = [
  entry('Plaster', 'plaster-white', 'Plaster, white, smooth', '#e6e4de', 0, 0.92, { also: 'wall paint gypsum' }),
  entry('Plaster', 'plaster-warm', 'Plaster, warm grey', '#b9b2a6', 0, 0.92),
  entry('Plaster', 'render', 'Render, rough cast', '#d2ccbf', 0, 0.95, { also: 'stucco facade', ...made('render', 0.6) }),
  entry('Plaster', 'ceiling-tile', 'Ceiling tile, mineral', '#e2e2dd', 0, 0.95, { also: 'acoustic' }),
]; // prettier-ignore
