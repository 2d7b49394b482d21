/** Targets that are there to begin with, named by what the receiver does with the files. */
import { DEFAULT_TARGET } from './target.ts';
import type { Target, TargetSettings } from './target.ts';

export interface ReadyMadeTarget {
  name: string;
  /** What it is for, in a sentence. */
  purpose: string;
  settings: TargetSettings;
}

const made = (name: string, purpose: string, settings: Partial<TargetSettings>): ReadyMadeTarget => ({
  name,
  purpose,
  settings: { ...DEFAULT_TARGET, ...settings },
});

export const READY_MADE: readonly ReadyMadeTarget[] = [
  made('Whole scene', 'Everything that there is in one file: for whoever asks for no format.', {}),
  made('Rendering', 'Still pictures and films: everything, at full size.', { format: 'usda' }),
  made('Real time', 'Engines and headsets: shared shapes, pictures of 2,048 px at most.', { format: 'glb', most: '2048', lines: 'left' }), // prettier-ignore
  made('Web page', 'Shown in a browser: small pictures, nothing that is not seen.', { format: 'glb', most: '1024', kind: 'webp', lines: 'left', cameras: 'left', metadata: 'left', compression: 'meshopt' }), // prettier-ignore
  made('Augmented reality', 'Put into a room by a telephone: one package.', { format: 'usdz', most: '2048', kind: 'png', cameras: 'left', lights: 'left', lines: 'left' }), // prettier-ignore
  made('Modelling', 'Worked on further as meshes: names and materials, every part in its place.', { format: 'obj' }),
  made('Exchange', 'Between programs of modelling: hierarchy, places, movements.', { format: 'dae', up: 'z' }),
  made('Printing', 'A printer of models: millimetres, z up.', { format: '3mf', lines: 'left' }),
  made('Milling, simulation', 'One body of triangles, millimetres, z up.', { format: 'stl', unit: 'mm', up: 'z' }),
  made('Engineering', 'Worked on further as solids: exact as received, with the new names, places and colours.', {
    format: 'step',
  }),
  made('Building', 'Worked on further as a building: identities, classes, storeys, properties, with the new names.', { format: 'ifc' }), // prettier-ignore
  made('Library of assets', 'Each distinct asset once, in a folder with its pictures and a thumbnail, and a scene that places them.', { format: 'gltf', split: 'modular' }), // prettier-ignore
  made('Browser of models', 'A scene for the web in XML, with viewpoints and movements.', { format: 'x3d' }),
];

/** What a job sends to before somebody says otherwise. */
export const USUAL_TARGETS: readonly Target[] = [
  { id: 'usual', name: READY_MADE[0].name, on: true, settings: READY_MADE[0].settings },
];
