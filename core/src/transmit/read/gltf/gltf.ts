/** What stands in glTF files, by the loader of three.js: a reader that shares nothing with our writer. */
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import type { WrittenFile } from '../../../write/writer.ts';
import type { FoundRow } from '../../found.ts';
import { dracoLoader } from '../draco.ts';
import { apart, together } from './beside.ts';
import { OPENED, unopened } from './pictures.ts';
import { GlbRows } from './rows.ts';
import { sharing } from './sharing.ts';

/** @throws Error where the file cannot be read */
export async function openGlb(bytes: Uint8Array): Promise<FoundRow[]> {
  const loader = new GLTFLoader();
  loader.register((parser) => sharing(parser) as never);
  for (const name of OPENED)
    loader.register((parser) => ({ name, loadTexture: (index: number) => unopened(parser, index, name) }) as never);
  const { MeshoptDecoder } = await import('meshoptimizer');
  loader.setMeshoptDecoder(MeshoptDecoder as never);
  loader.setDRACOLoader((await dracoLoader()) as never);
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
  const gltf = await loader.parseAsync(buffer, '');
  const { rows } = new GlbRows(gltf);
  const { extensionsUsed = [] } = gltf.parser.json as { extensionsUsed?: string[] };
  return extensionsUsed.includes('KHR_draco_mesh_compression') ? rows.map(asOneGeometry) : rows;
}

/** Draco packs what each material of a mesh shows by itself: together they are the one geometry that they were. */
function asOneGeometry(row: FoundRow): FoundRow {
  const points = row.bodies[0]?.geometry.points;
  return { ...row, bodies: row.bodies.map((body) => ({ ...body, geometry: { ...body.geometry, points } })) };
}

/**
 * A text with its files beside it.
 * @throws Error where it cannot be read, or where a file that it names is not there
 */
export const openGltf = async (files: readonly WrittenFile[]): Promise<FoundRow[]> => openGlb(together(files));

/** A binary file whose pictures lie beside it. @throws Error as {@link openGltf} */
export const openGlbBeside = async (files: readonly WrittenFile[]): Promise<FoundRow[]> => openGltf(apart(files));
