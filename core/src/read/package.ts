/** Packages: a zip of any of the formats, with their material files and pictures. */
import { zipSync } from 'fflate';
import { PrismError } from '../errors.ts';
import type { Warning } from '../errors.ts';
import { EMPTY_SCENE } from '../scene/types.ts';
import type { Scene } from '../scene/types.ts';
import { belonging, isCompanion, namesOf, someNames } from './belonging.ts';
import type { Delivery } from './belonging.ts';
import type { Companions } from './companions.ts';
import { isPicture } from './pictureKinds.ts';
import { storePicture, unboundTextures } from './textures.ts';
import { baseName, endingOf } from './paths.ts';
import { readerFor } from './formats.ts';
import type { Reader, Reading, SourceFile } from './reader.ts';
import { counted } from '../units.ts';
import { referencesIn, sourceOfBytes } from './references.ts';
import { openPackage } from './zip.ts';

/** Files of a package that are never a model, whatever their text looks like. */
const NO_MODELS = ['txt', 'pdf', 'md'];

/** What of a package or a folder belongs together. */
export function deliveryOf(beside: Companions): Promise<Delivery> {
  return belonging(
    [...beside.files.keys()],
    (path) => !NO_MODELS.includes(endingOf(path)) && readerFor({ name: path, bytes: beside.bytes(path) }) !== undefined,
    (path) => referencesIn(path, sourceOfBytes(beside.bytes(path))),
  );
}

export interface SplitPackage {
  /** One for each model, named after it; packed again where other files belong to it. */
  sources: { name: string; bytes: Uint8Array }[];
  /** What is no model and of no use to one. */
  ignored: string[];
}

/**
 * A zip of several models, as the sources that it stands for, in the order of the zip: each has a unit, an up axis and a sheet of its
 * own. Undefined for everything else.
 * @throws PrismError `too-large`, `not-readable`
 */
export async function splitPackage(file: SourceFile): Promise<SplitPackage | undefined> {
  if (readerFor(file)) return undefined;
  const beside = openPackage(file);
  if (!beside) return undefined;
  const { models, pictures, ignored } = await deliveryOf(beside);
  if (models.length < 2) return undefined;
  const names = namesOf(models.map(({ model }) => model));
  const sources = models.map(({ files }, i) => ({
    name: names[i],
    bytes: files.length === 1 ? beside.bytes(files[0]) : repacked(beside, files),
  }));
  if (pictures.length > 0)
    sources.push({ name: `${baseName(file.name)}, pictures`, bytes: repacked(beside, pictures) });
  return { sources, ignored };
}

function repacked(beside: Companions, paths: readonly string[]): Uint8Array {
  // Pictures are packed already.
  return zipSync(
    Object.fromEntries(paths.map((path) => [path, [beside.bytes(path), { level: isPicture(path) ? 0 : 1 }]])),
  );
}

/** Says in the first source of a package what of it was left. */
export function ignoredWarning(name: string, ignored: readonly string[]): Warning[] {
  if (ignored.length === 0) return [];
  const files = counted(ignored.length, 'file that is no model was', 'files that are no models were');
  return [{ code: 'ignored', message: `${name}: ${files} left out: ${someNames(ignored)}.` }];
}

/** Reads the model of a package, with the files that belong to it beside it. */
export async function readPackage(file: SourceFile, beside: Companions, sourceId: string): Promise<Reading> {
  const { models, pictures, ignored } = await deliveryOf(beside);
  if (models.length === 0 && pictures.length > 0) return picturesOnly(file, beside, sourceId);
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
  if (models.length > 1) {
    const list = someNames(models.map(({ model }) => model));
    const message = `${file.name} holds ${models.length} models, each a source of its own: ${list}.`;
    throw new PrismError('not-readable', message, { file: file.name });
  }
  const [{ model, files }] = models;
  beside.use(model);
  const inner = { name: model, bytes: beside.bytes(model), beside };
  const reader = readerFor(inner) as Reader;
  const reading = await reader
    .read({ ...inner, ...(file.progress ? { progress: file.progress } : {}) }, sourceId, readerFor)
    .catch((error: unknown) => {
      throw error instanceof PrismError
        ? new PrismError(error.code, error.message, { file: file.name, where: model })
        : error;
    });
  const unbound = unboundTextures(beside, sourceId);
  const failures: Warning[] = [
    ...ignoredWarning(file.name, ignored),
    // Named, but not as a part that stands somewhere: a document about it, say.
    ...files
      .filter(
        (path) => path !== model && readerFor({ name: path, bytes: beside.bytes(path) }) && !beside.isPlaced(path),
      )
      .filter((path) => !isCompanion(path))
      .map((path) => ({
        code: 'not-placed' as const,
        message: `${model} names ${path} but puts it nowhere, so that it is not shown. Drop it by itself to have it as a source.`,
        where: path,
      })),
  ];
  const whole = (scene: Scene): Scene => {
    const [info] = scene.sources;
    return {
      ...scene,
      sources: [{ ...info, name: file.name, bytes: file.bytes.length, warnings: [...info.warnings, ...failures] }],
      textures: { ...scene.textures, ...Object.fromEntries(unbound.map(({ texture }) => [texture.id, texture])) },
    };
  };
  return {
    survey: whole(reading.survey),
    async build(blobs, options = {}) {
      const { begun } = options;
      const scene = await reading.build(blobs, {
        ...options,
        ...(begun ? { begun: (first: Scene) => begun(whole(first)) } : {}),
      });
      for (const { texture, bytes } of unbound) await storePicture(texture, bytes, blobs, failures, options, 'loose');
      return whole(scene);
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
      for (const { texture, bytes } of unbound) await storePicture(texture, bytes, blobs, warnings, options, 'loose');
      return scene();
    },
  };
}
