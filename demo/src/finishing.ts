/** Steps of the demo job for materials: the schedule with what prevails over a layer, five copies made one, a shared finish told apart, a painted face, shades seen from inside. */
import type { FinishRule } from '@noble-prism/core/steps/finishes';
import type { Step } from '@noble-prism/core/steps/kinds';
import { ALL } from '@noble-prism/core/select/select';

/** @param source id of a source by its file name */
export function finishingSteps(source: (file: string) => string): Step[] {
  const station = (path: string) => `${source('lower-station.ifc')}:/Tarn Gondola/Lower station/${path}`;
  const rules: FinishRule[] = [
    ...byLayer('A-SLAB', 'lib:concrete'),
    ...byLayer('S-COLS', 'lib:galvanised'),
    ...byLayer('A-RAIL', 'lib:stainless'),
    ...byLayer('STRUCTURE', 'lib:galvanised'),
    ...byLayer('MACHINE', 'lib:paint-sage'),
    ...byLayer('DRIVE', 'lib:paint-ochre'),
    ...byLayer('BEARINGS', 'lib:steel-machined'),
    ...byLayer('FASTENERS', 'lib:stainless'),
    ...byLayer('GUARDS', 'lib:paint-signal'),
    ...byLayer('ROPEWAY', 'lib:cast-iron'),
    { which: { by: 'material', materials: ['#1f2022'] }, material: 'lib:rubber' },
    { which: { by: 'material', materials: ['#45474a'] }, material: 'lib:cast-iron' },
    { which: { by: 'name', pattern: 'Oil sight glass' }, material: 'lib:glass' },
    { which: { by: 'name', pattern: 'End wall' }, material: 'lib:brick-red' },
    // Two columns that somebody once gave a paint of their own: half of a layer changes with it, and half does not.
    {
      which: { by: 'picked', keys: [station('Platform level/Column 1'), station('Platform level/Column 2')] },
      material: 'lib:paint-sage',
      note: 'tried for the entrance',
    },
  ];
  return [
    // The building came without texture coordinates: they are laid on as on boxes, so that bricks have their size.
    {
      id: 'building-uv',
      kind: 'uv',
      on: true,
      selector: { by: 'source', sources: [source('lower-station.ifc')] },
      parameters: { projection: 'box', frame: 'part', from: 'z', turn: 0, offsetU: 0, offsetV: 0, scale: 1 },
    },
    // Slabs get a second set, for light that is baked.
    {
      id: 'slab-sheets',
      kind: 'unwrap',
      on: true,
      selector: { by: 'layer', layers: ['A-SLAB'] },
      parameters: { set: 'second', pixels: '1024', padding: 4 },
    },
    { id: 'finishes', kind: 'finishes', on: true, selector: ALL, parameters: { rules }, format: 2 },
    // The furniture brings one iron under five names.
    { id: 'one-iron', kind: 'merge-materials', on: true, selector: ALL, parameters: { tolerance: 0.01 } },
    // All walls share their cladding: that of the platform can be changed without that of the machine level.
    {
      id: 'own-cladding',
      kind: 'own-materials',
      on: true,
      selector: { by: 'class', classes: ['IfcWall'] },
      parameters: { of: 'assembly' },
    },
    {
      id: 'inside-white',
      kind: 'faces',
      on: true,
      selector: ALL,
      parameters: {
        faces: [
          {
            on: station('Platform level/Back wall'),
            // On the inside, between the windows; metres in the frame of the wall.
            at: [0, -0.15, 2.5],
            normal: [0, -1, 0],
            angle: 0.35,
            material: 'lib:concrete-boards',
            what: 'the inside',
          },
        ],
      },
    },
    // The shades are open at the top.
    {
      id: 'shades-inside',
      kind: 'sides',
      on: true,
      selector: { by: 'name', pattern: 'Lamp * shade' },
      parameters: { sides: 'both', of: 'open' },
    },
  ];
}

function byLayer(layer: string, material: string): FinishRule[] {
  return [{ which: { by: 'layer', layers: [layer] }, material }];
}
