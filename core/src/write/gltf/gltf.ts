/**
 * Writes a scene as glTF 2.0 (ISO/IEC 12113), in one binary file, with its parts in files of their own, or as modules: metres, +Y up.
 */
import type { Writer } from '../writer.ts';
import { TOLERANCE } from './compress.ts';
import { writeGlb, writeGltf } from './files.ts';
import { writeModules } from './modules.ts';

const common: Omit<Writer, 'target' | 'title' | 'ending' | 'write' | 'rows'> = {
  units: ['m'],
  ups: ['y'],
  states: { unit: true, up: true },
  structure: 'tree',
  compressions: { meshopt: TOLERANCE, draco: TOLERANCE },
  places: 'own',
  skewless: true,
  precision: 'single',
  perTriangle: 18,
  modules: true,
  instancing: true,
  pictureKinds: ['webp', 'ktx2'],
  carries: { meshes: true,
    tree: true, names: true, instances: true, layers: 'as data of the node (extras)', pivots: true, empties: true, lines: true, points: true, normals: true, uvs: true,
    moreUvs: true, colours: true, materials: true, baseColor: true, opacity: true, metalRough: true, emission: true, glass: true, coat: true,
    unlit: true, cutoff: true, sides: true, colourPictures: true, surfacePictures: true, picturePlaces: true, variants: true, cameras: true, lights: true,
    movements: true, metadata: 'as data of the node (extras)',
  }, // prettier-ignore
};

export const glbWriter: Writer = {
  ...common,
  target: 'glb',
  title: 'Binary glTF 2.0',
  ending: 'glb',
  write: async (scene, blobs, name, options) =>
    options?.modular ? writeModules(scene, blobs, name, options, true) : writeGlb(scene, blobs, name, options),
  // Loaded when something is read back, as it is heavy.
  rows: async (files) => {
    const { openGlb, openGlbBeside, openGltf } = await import('../../transmit/read/gltf/gltf.ts');
    if (files[0].name.endsWith('.gltf')) return openGltf(files);
    return files.length > 1 ? openGlbBeside(files) : openGlb(files[0].bytes);
  },
};

export const gltfWriter: Writer = {
  ...common,
  target: 'gltf',
  title: 'glTF 2.0 (files apart)',
  ending: 'gltf',
  write: async (scene, blobs, name, options) =>
    options?.modular ? writeModules(scene, blobs, name, options, false) : writeGltf(scene, blobs, name, options),
  rows: async (files) => (await import('../../transmit/read/gltf/gltf.ts')).openGltf(files),
};
