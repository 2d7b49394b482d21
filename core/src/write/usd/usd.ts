/**
 * Writes a scene as USD: metres, y up, as text (usda) with its pictures beside it, as modules, or as a package (usdz). Names are kept as
 * display names, hierarchy and pivots as transforms, parts that show the same geometry as instances of one prototype, materials as preview
 * surfaces, movements on the timeline.
 */
import { WrittenFile } from '../writer.ts';
import type { Writer } from '../writer.ts';
import { zipOf } from '../zip.ts';
import { writeUsd } from './layer.ts';
import { writeModules } from './modules.ts';

const common: Omit<Writer, 'target' | 'title' | 'ending' | 'write'> = {
  units: ['m', 'cm', 'mm', 'in', 'ft'],
  ups: ['y', 'z'],
  states: { unit: true, up: true },
  structure: 'tree',
  places: 'own',
  precision: 'single',
  perTriangle: 60,
  carries: { meshes: true,
    tree: true, names: true, instances: true, layers: 'as data of the prim (customData)', pivots: true, empties: true, lines: true, points: true, normals: true,
    uvs: true, moreUvs: true, colours: true, materials: true, baseColor: true, opacity: true, metalRough: true, emission: true,
    glass: 'what goes through is opacity', coat: true, cutoff: true, sides: 'said of the part as a whole',
    colourPictures: true, surfacePictures: true, picturePlaces: true, cameras: true, lights: true,
    movements: true, metadata: 'class and key as data of the prim (customData)',
  }, // prettier-ignore
  notes: { movements: 'one after the other on the one timeline', instances: 'as instances of prototypes' },
  // Loaded when something is read back, as it is heavy.
  rows: async (files: readonly WrittenFile[]) => (await import('../../transmit/read/usd.ts')).openUsd(files),
};

export const usdaWriter: Writer = {
  ...common,
  target: 'usda',
  title: 'USD (text)',
  ending: 'usda',
  modules: true,
  write: (scene, blobs, name, options = {}) => (options.modular ? writeModules : writeUsd)(scene, blobs, name, options),
};

/** Entries of a package begin at multiples of so many bytes (usdz specification 1.3, "Layout"). */
const ALIGNMENT = 64;

export const usdzWriter: Writer = {
  ...common,
  target: 'usdz',
  title: 'USD (package)',
  ending: 'usdz',
  write: async (scene, blobs, name, options) => {
    const files = await writeUsd(scene, blobs, name, options);
    return [
      new WrittenFile(
        `${name}.usdz`,
        'model/vnd.usdz+zip',
        zipOf(files, { alignment: ALIGNMENT, spool: options?.spool }),
      ),
    ];
  },
};
