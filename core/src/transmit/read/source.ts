/**
 * What stands in files, by the readers with which sources are received: they share nothing with the writers. What a format does not say,
 * its unit, is taken as a receiving tool would be told it.
 */
import { MemoryBlobs } from '../../memoryStores.ts';
import { Companions } from '../../read/companions.ts';
import { readSource } from '../../read/readSource.ts';
import { factsOf } from '../../scene/facts.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { LENGTH_UNITS } from '../../units.ts';
import type { FileWay, WrittenFile } from '../../write/writer.ts';
import { expectedRows } from '../expected.ts';
import type { ExpectedMaterial, ExpectedRow } from '../expected.ts';
import type { FoundMaterial, FoundRow, PictureSlot } from '../found.ts';

export interface ReadScene {
  scene: Scene;
  blobs: MemoryBlobs;
}

/** @throws Error where the files cannot be read */
export async function readFiles(files: readonly WrittenFile[]): Promise<ReadScene> {
  const [first] = files;
  const beside = new Companions(new Map(files.map(({ name, bytes }) => [name, bytes])));
  const reading = await readSource({ name: first.name, bytes: first.bytes, beside }, 'file');
  const blobs = new MemoryBlobs();
  return { scene: await reading.build(blobs, {}), blobs };
}

/** @throws Error where the files cannot be read */
export async function openSource(files: readonly WrittenFile[], told?: FileWay): Promise<FoundRow[]> {
  const { scene, blobs } = await readFiles(files);
  const rows = await foundRows(await expectedRows(scene, blobs), scene, blobs);
  const [{ unit }] = scene.sources;
  return unit.declared || !told ? rows : grownRows(rows, LENGTH_UNITS[told.unit] / unit.metres);
}

/** A scene that was read, and its rows as they were found, number by number of its order. */
export async function readRows(files: readonly WrittenFile[]): Promise<{ scene: Scene; rows: FoundRow[] }> {
  const { scene, blobs } = await readFiles(files);
  return { scene, rows: await foundRows(await expectedRows(scene, blobs), scene, blobs) };
}

/** Rows without those that only hold what the row above them shows: its geometry, its camera, its light. */
export function folded(scene: Scene, rows: readonly FoundRow[], isOwn: (node: SceneNode, parent: number) => boolean): FoundRow[] {
  const out: FoundRow[] = [];
  const rowOf: number[] = [];
  for (const [i, row] of rows.entries()) {
    const parent = row.parent === null ? null : rowOf[row.parent];
    const node = scene.nodes.row(factsOf(scene).order[i]);
    if (parent === null || !isOwn(node, parent)) {
      rowOf.push(out.length);
      out.push({ ...row, parent, bodies: [...row.bodies] });
      continue;
    }
    const own = out[parent];
    own.bodies.push(...row.bodies);
    Object.assign(own, row.camera ? { camera: row.camera } : {}, row.light ? { light: row.light } : {});
    rowOf.push(parent);
  }
  return out;
} // prettier-ignore

/** What was read, in the terms of what was found. */
export async function foundRows(rows: readonly ExpectedRow[], scene: Scene, blobs: BlobStore): Promise<FoundRow[]> {
  const known = new Map<ExpectedMaterial, FoundMaterial>();
  const out: FoundRow[] = [];
  for (const { bodies, ...row } of rows) {
    const found: FoundRow = { ...row, bodies: [] };
    for (const { geometry, material } of bodies) {
      let made = material && known.get(material);
      if (material && !made) known.set(material, (made = await foundMaterial(material, scene, blobs)));
      found.bodies.push({ geometry, ...(made ? { material: made } : {}) });
    }
    out.push(found);
  }
  return out;
}

export async function foundMaterial(given: ExpectedMaterial, scene: Scene, blobs: BlobStore): Promise<FoundMaterial> {
  const { pictures, lost: _, ...values } = given;
  const found: FoundMaterial = { ...values, pictures: {} };
  for (const [slot, { use, files }] of Object.entries(pictures)) {
    if (files.length === 0) continue;
    found.pictures[slot as PictureSlot] = {
      bytes: await blobs.get(files[0]),
      mime: scene.textures[use.texture]?.mime ?? '',
      uv: use.uv,
      offset: use.offset ?? [0, 0],
      scale: use.scale ?? [1, 1],
      rotation: use.rotation ?? 0,
      wrap: use.wrap ?? 'repeat',
      strength: use.strength ?? 1,
    };
  }
  return found;
}

function grownRows(rows: readonly FoundRow[], factor: number): FoundRow[] {
  if (factor === 1) return [...rows];
  const known = new Map<ArrayLike<number>, Float64Array>();
  const grown = (values: ArrayLike<number>) => {
    let made = known.get(values);
    if (!made) known.set(values, (made = Float64Array.from(values, (value) => value * factor)));
    return made;
  };
  return rows.map((row) => ({
    ...row,
    world: row.world.map((value, i) => (i > 11 && i < 15 ? value * factor : value)),
    bodies: row.bodies.map((body) => ({
      ...body,
      geometry: { ...body.geometry, positions: grown(body.geometry.positions) },
    })),
  }));
}
