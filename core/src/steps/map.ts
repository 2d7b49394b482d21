/** Step: says where a point of the job lies on the map: eastings, northings, height, and how the job is turned against the grid. */
import { conversionAt, onMap } from '../scene/origin.ts';
import { lostSpot, spotInWorld } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import { formatLength, formatNumber } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';

export interface MapParameters {
  /** The point whose coordinates are said; the origin of the job where nothing is. */
  spot?: Spot;
  /** Metres. */
  eastings: number;
  northings: number;
  height: number;
  /** Radians, counterclockwise seen from above. */
  rotation: number;
  scale: number;
  /** What the system of the map is called. */
  system?: string;
}

const metres = (label: string) => ({ type: 'quantity', of: 'length', unit: 'm', label, min: -1e9, max: 1e9 }) as const;

export const mapStep = defineStep<MapParameters>({
  kind: 'map',
  title: 'Map coordinates',
  purpose: 'Says where a point of the job lies on the map and how the job is turned against the grid; nothing moves.',
  also: ['georeference', 'eastings', 'northings', 'survey', 'grid north', 'map conversion', 'coordinates', 'CRS'],
  act: 'Set map coordinates',
  station: 'arrange',
  topic: 'Origin',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  whole: () => true,
  beside: true,
  fields: {
    spot: { type: 'spot', label: 'This point', optional: true, help: 'The origin of the job where nothing is picked or typed.' },
    eastings: { ...metres('Eastings'), help: 'As IfcMapConversion (ISO 16739-1) has them.' },
    northings: metres('Northings'),
    height: { ...metres('Height'), help: 'Orthogonal height of the point.' },
    rotation: {
      type: 'quantity',
      of: 'angle',
      unit: '°',
      label: 'Rotation to grid north',
      min: -2 * Math.PI,
      max: 2 * Math.PI,
      help: 'From grid north to the north of the job (against z), counterclockwise seen from above; x turns as much from grid east.',
    },
    scale: { type: 'quantity', of: 'factor', unit: '', label: 'Scale', min: 0.5, max: 2, help: 'Lengths on the map for those of the job.' },
    system: { type: 'text', label: 'System', most: 200, optional: true, help: 'What the system of the map is called, as EPSG:2056: files that have a place for it say so.' },
  },
  defaults: { eastings: 0, northings: 0, height: 0, rotation: 0, scale: 1 },
  example: { parameters: { eastings: 2_600_123.4, northings: 1_200_456.7, height: 1834.2, rotation: 0.21, scale: 1 } },

  summary: ({ eastings, northings, height, rotation }) =>
    `E ${formatLength(eastings, 'm', 10)}, N ${formatLength(northings, 'm', 10)}, height ${formatLength(height, 'm', 8)}, ${formatNumber((rotation * 180) / Math.PI, 8)}°`,
  counts: () => 'rows',

  apply(edit, _rows, { spot, ...there }) {
    const found = spot && spotInWorld(edit.scene, spot);
    if (spot && !found)
      return { pending: 0, problems: [lostSpot(spot)] };
    const map = conversionAt(found?.point ?? [0, 0, 0], there);
    edit.setOrigin({ ...edit.origin, map });
    const [east, north, up] = onMap(map, [0, 0, 0]);
    return {
      pending: 0,
      problems: [],
      notes: [`The origin of the job lies at E ${formatLength(east, 'm', 10)}, N ${formatLength(north, 'm', 10)}, height ${formatLength(up, 'm', 8)}.`],
    };
  },
}); // prettier-ignore
