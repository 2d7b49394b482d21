/** The preparation of the demo job: every kind of step once, with rules that a practitioner would write. */
import { defaultSteps } from '@noble-prism/core/preparation/defaults';
import { looseTextureId } from '@noble-prism/core/read/textures';
import type { Step } from '@noble-prism/core/steps/kinds';
import { arrangingSteps, measureSteps } from './arranging.ts';
import { finishingSteps } from './finishing.ts';

/** From in front of the machine level, over the platform: the drive large, the train and the cabin behind it. Metres, y up. */
export const DEMO_VIEW: { from: [number, number, number]; to: [number, number, number]; lens: number } = {
  from: [16.6, 3.7, 10.2],
  to: [5.9, -1.4, -0.6],
  lens: 39,
};

/** @param source id of a source by its file name */
export function demoSteps(source: (file: string) => string): Step[] {
  return [
    {
      id: 'rope-axis',
      kind: 'wires',
      // It is there to be switched on: the axis helps to fit the rope, and is nothing to show.
      on: false,
      selector: { by: 'source', sources: [source('cabin.stp')] },
      parameters: {},
    },
    {
      id: 'no-roof',
      kind: 'leave-out',
      on: true,
      selector: {
        by: 'and',
        of: [
          { by: 'source', sources: [source('lower-station.ifc')] },
          { by: 'or', of: [{ by: 'class', classes: ['IfcRoof'] }] },
        ],
      },
      parameters: {},
    },
    {
      id: 'furniture-unit',
      kind: 'unit',
      on: true,
      selector: { by: 'source', sources: [source('furniture.zip')] },
      parameters: { factor: 0.01, reason: 'read in cm' },
    },
    {
      id: 'furniture-up',
      kind: 'up',
      on: true,
      selector: { by: 'source', sources: [source('furniture.zip')] },
      parameters: { axis: 'y' },
    },
    {
      id: 'winter',
      kind: 'variant',
      on: true,
      selector: { by: 'source', sources: [source('boarding-gates.glb')] },
      parameters: { variant: 'Winter' },
    },
    ...defaultSteps(),
    ...finishingSteps(source),
    {
      id: 'larch',
      kind: 'textures',
      on: true,
      selector: { by: 'name', pattern: 'Bench * slats' },
      parameters: {
        set: 'larch',
        pictures: [
          {
            texture: looseTextureId(source('furniture.zip'), 'furniture/pictures/larch_normal.png'),
            holds: 'normals-down',
          },
          {
            texture: looseTextureId(source('furniture.zip'), 'furniture/pictures/larch_gloss.png'),
            holds: 'gloss',
          },
        ],
        material: '',
        tile: 1,
      },
    },
    {
      id: 'pivot',
      kind: 'pivot',
      on: true,
      selector: { by: 'name', pattern: 'Motor group' },
      parameters: { place: 'base-centre', of: 'assemblies' },
    },
    {
      id: 'rename',
      kind: 'rename',
      on: true,
      selector: { by: 'picked', keys: [`${source('sheave-train.stp')}:/Sheave train`] },
      parameters: { name: '{name}, uphill side', of: 'picked' },
    },
    ...arrangingSteps(source),
    {
      id: 'reduce-fasteners',
      kind: 'reduce',
      on: true,
      selector: { by: 'layer', layers: ['FASTENERS'] },
      parameters: { until: 'share', share: 0.5, deviation: 0.0005 },
    },
    {
      id: 'reduce-turned',
      kind: 'reduce',
      on: true,
      selector: { by: 'name', pattern: 'Motor housing' },
      parameters: { until: 'deviation', share: 0.5, deviation: 0.0004 },
    },
    ...measureSteps(source),
  ];
}
