/**
 * Packages: a zip of any of the formats, with their material files and pictures. Sizes, counts and ratios are checked before
 * anything is unpacked.
 */
import { unzipSync } from 'fflate';
import { PrismError } from '../errors.ts';
import type { Warning } from '../errors.ts';
import { nestScenes } from '../scene/merge.ts';
import { EMPTY_SCENE } from '../scene/types.ts';
import type { Scene } from '../scene/types.ts';
import { Companions } from './companions.ts';
import { isPicture, storePicture, unboundTextures } from './textures.ts';
import { endingOf } from './paths.ts';
import { readerFor } from './reader.ts';
import type { Reading, SourceFile } from './reader.ts';

const MAX_FILES = 20_000;
const MAX_UNPACKED = 2_000_000_000;
/** Text packs to a twentieth, rarely to a hundredth; beyond this it is a bomb. */
const MAX_RATIO = 400;

/** True for the signature of a zip with something in it. */
export function isZip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4;
}

/**
 * Files of a zip, or undefined where it is none.
 * @throws PrismError `too-large`, `not-readable`
 */
export function openPackage({ name, bytes }: SourceFile): Companions | undefined {
  if (!isZip(bytes)) return undefined;
  let count = 0;
  let unpacked = 0;
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipSync(bytes, {
      filter: ({ name: path, originalSize, size }) => {
        if (path.endsWith('/') || path.startsWith('__MACOSX/')) return false;
        count++;
        unpacked += originalSize;
        const bomb = originalSize > 1_000_000 && originalSize > size * MAX_RATIO;
        if (count > MAX_FILES || unpacked > MAX_UNPACKED || bomb)
          throw new PrismError(
            'too-large',
            `${name} unpacks to more than can be taken (${MAX_FILES} files, ${MAX_UNPACKED / 1e9} GB, packed by at most ${MAX_RATIO}). It stops at ${path}.`,
            { file: name, where: path },
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof PrismError) throw error;
    throw new PrismError('not-readable', `${name} is a damaged zip: ${(error as Error).message}. Pack it again.`, {
      file: name,
    });
  }
  return new Companions(new Map(Object.entries(entries)));
}

/** Reads every model of a package, each with all the other files beside it. */
export async function readPackage(file: SourceFile, beside: Companions, sourceId: string): Promise<Reading> {
  const models = [...beside.files.keys()].filter((path) => {
    if (isPicture(path) || ['mtl', 'bin', 'txt', 'pdf', 'md'].includes(endingOf(path))) return false;
    return readerFor({ name: path, bytes: beside.bytes(path) }) !== undefined;
  });
  if (models.length === 0 && [...beside.files.keys()].some(isPicture)) return picturesOnly(file, beside, sourceId);
  if (models.length === 0) {
    const inside = [...new Set([...beside.files.keys()].map(endingOf))].slice(0, 8).join(', ');
    throw new PrismError(
      'not-readable',
      `${file.name} holds no model that can be read; it holds files of: ${inside}.`,
      {
        file: file.name,
      },
    );
  }
  let readings: { path: string; reading: Reading }[] = [];
  const failures: Warning[] = [];
  for (const path of models) {
    const bytes = beside.bytes(path);
    beside.use(path);
    try {
      const reader = readerFor({ name: path, bytes });
      if (reader) readings.push({ path, reading: await reader.read({ name: path, bytes, beside }, sourceId) });
    } catch (error) {
      failures.push({ code: 'not-readable', message: (error as Error).message, where: path });
    }
  }
  if (readings.length === 0)
    throw new PrismError('not-readable', failures[0].message, {
      file: file.name,
      ...(failures[0].where ? { where: failures[0].where } : {}),
    });
  // Parts of an assembly stand in it, and not beside it as well.
  const tops = readings.filter(({ path }) => !beside.isPlaced(path));
  if (tops.length > 0) readings = tops;
  const unbound = unboundTextures(beside, sourceId);
  const put = (scenes: { path: string; scene: Reading['survey'] }[]) => {
    const nested = nestScenes(scenes.map(({ path, scene }) => ({ name: path.split('/').at(-1) ?? path, scene })));
    const [info] = nested.sources;
    return {
      ...nested,
      sources: [{ ...info, name: file.name, bytes: file.bytes.length, warnings: [...info.warnings, ...failures] }],
      textures: { ...nested.textures, ...Object.fromEntries(unbound.map(({ texture }) => [texture.id, texture])) },
    };
  };
  return {
    survey: put(readings.map(({ path, reading }) => ({ path, scene: reading.survey }))),
    // The first shapes of one model are no beginning of the package.
    async build(blobs, { begun: _, ...options } = {}) {
      const scenes = [];
      for (const { path, reading } of readings) scenes.push({ path, scene: await reading.build(blobs, options) });
      for (const { texture, bytes } of unbound) await storePicture(texture, bytes, blobs, failures, options);
      return put(scenes);
    },
  };
}

/** A texture set that came by itself: nothing to place, pictures to bind later. */
function picturesOnly(file: SourceFile, beside: Companions, sourceId: string): Reading {
  const unbound = unboundTextures(beside, sourceId);
  const warnings: Warning[] = [];
  const scene = (): Scene => ({
    ...EMPTY_SCENE,
    sources: [
      {
        id: sourceId,
        name: file.name,
        format: 'Pictures',
        schema: '',
        producer: '',
        unit: { name: 'm', metres: 1, declared: true },
        units: ['m'],
        upAxis: { axis: 'y', by: 'file' },
        up: 'y',
        bytes: file.bytes.length,
        holds: { cameras: 0, lights: 0, animations: 0 },
        warnings,
      },
    ],
    textures: Object.fromEntries(unbound.map(({ texture }) => [texture.id, texture])),
  });
  return {
    survey: scene(),
    async build(blobs, options = {}) {
      for (const { texture, bytes } of unbound) await storePicture(texture, bytes, blobs, warnings, options);
      return scene();
    },
  };
}
