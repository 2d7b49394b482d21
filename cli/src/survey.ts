/** `prism survey`: what each file says of itself. */
import { readFile, stat } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import { asPrismError, PrismError } from '@noble-prism/core/errors';
import { someNames } from '@noble-prism/core/read/belonging';
import { splitPackage } from '@noble-prism/core/read/package';
import { checkFileSize } from '@noble-prism/core/read/fileSize';
import { readSource } from '@noble-prism/core/read/readSource';
import type { Reading } from '@noble-prism/core/read/reader';
import { surveyCounts } from '@noble-prism/core/scene/counts';
import type { Scene } from '@noble-prism/core/scene/types';
import { companionsIn } from '@noble-prism/node/folderFiles';
import { counted } from '@noble-prism/core/units';
import type { Options } from './options.ts';

/** A model of a zip that cannot be read. */
export interface FailedSource {
  file: string;
  error: ReturnType<PrismError['toJSON']>;
}

export interface Opened {
  readings: Reading[];
  /** Files of a zip that are no models. */
  ignored: string[];
  failed: FailedSource[];
}

/**
 * Reads a file from disk and makes its survey; what it refers to is looked for in its folder. A zip of several models is a reading
 * for each. @throws PrismError naming the file
 */
export async function open(path: string, id: string): Promise<Opened> {
  const name = basename(path);
  const info = await stat(path).catch(() => undefined);
  if (!info?.isFile()) throw new PrismError('not-found', `${path} cannot be read.`, { file: path });
  checkFileSize(name, info.size);
  const file = { name, bytes: await readFile(path), beside: companionsIn(dirname(path)) };
  const split = await splitPackage(file);
  if (!split) return { readings: [await readSource(file, id)], ignored: [], failed: [] };
  const readings: Reading[] = [];
  const failed: FailedSource[] = [];
  // One damaged model costs itself, not the others of the zip.
  for (const [i, part] of split.sources.entries())
    try {
      readings.push(await readSource(part, i === 0 ? id : `${id}.${i + 1}`));
    } catch (error) {
      failed.push({ file: part.name, error: asPrismError(error, { file: part.name }).toJSON() });
    }
  if (readings.length === 0)
    throw new PrismError('not-readable', failed[0].error.message, { file: name, where: failed[0].file });
  return { readings, ignored: split.ignored, failed };
}

/** One entry of `sources` in the report. */
export function sourceReport(scene: Scene) {
  const [info] = scene.sources;
  const counts = surveyCounts(scene);
  return {
    file: info.name,
    format: info.format,
    schema: info.schema,
    producer: info.producer,
    unit: info.unit,
    upAxis: info.upAxis,
    parts: counts.parts,
    assemblies: counts.assemblies,
    ...(counts.wires ? { wires: counts.wires } : {}),
    pieces: counts.pieces,
    layers: counts.layers,
    materials: counts.materials,
    textures: Object.values(scene.textures).map(({ name, state, bytes }) => ({ name, state, bytes })),
    ...(info.holds ? { holds: info.holds } : {}),
    notRead: info.notRead ?? [],
    warnings: info.warnings,
  };
}

export async function survey(options: Options) {
  const started = performance.now();
  const sources = [];
  const ignored = [];
  const failed: FailedSource[] = [];
  let unread = 0;
  for (const [i, path] of options.files.entries()) {
    // One that cannot be read costs itself, not what the others say.
    const opened = await open(path, `f${i + 1}`).catch((error: unknown) => {
      const known = asPrismError(error, { file: path });
      if (options.files.length === 1 || known.code === 'internal') throw known;
      failed.push({ file: path, error: known.toJSON() });
      unread++;
    });
    if (!opened) continue;
    sources.push(...opened.readings.map(({ survey: scene }) => sourceReport(scene)));
    failed.push(...opened.failed);
    if (opened.ignored.length > 0) ignored.push({ file: basename(path), names: opened.ignored });
  }
  const report = { sources, ignored, failed, seconds: { survey: (performance.now() - started) / 1000 } };
  const text = sources
    .map((source) =>
      [
        `${source.file}: ${[source.format, source.schema].filter(Boolean).join(', ')}`,
        `  from ${source.producer || 'an unnamed program'}`,
        `  unit ${source.unit.name}${source.unit.declared ? '' : ' (assumed, none is declared)'}, ${source.upAxis.axis} up (by ${source.upAxis.by})`,
        `  ${counted(source.parts, 'part')} in ${counted(source.assemblies, 'assembly', 'assemblies')}${source.pieces ? `, ${counted(source.pieces, 'distinct solid')}` : ''}${source.holds?.triangles ? `, ${counted(source.holds.triangles, 'triangle')} as placed` : ''}`,
        ...(source.wires ? [`  ${source.wires} bodies of lines repeat solids and are left out`] : []),
        `  layers: ${source.layers.map(({ name, parts }) => `${name} (${parts})`).join(', ') || 'none'}`,
        `  materials: ${source.materials.map(({ name, parts }) => `${name} (${parts})`).join(', ') || 'none'}`,
        ...source.textures.map(({ name, state }) => `  picture: ${name} (${state})`),
        ...source.notRead.map((note) => `  not carried: ${note}`),
        ...source.warnings.map(
          (warning) => `  warning: ${warning.message}${warning.where ? ` (${warning.where})` : ''}`,
        ),
      ].join('\n'),
    )
    .concat(failed.map(({ file, error }) => `${file}: not read: ${error.message}`))
    .concat(ignored.map(({ file, names }) => `${file}: left out, no models: ${someNames(names)}`))
    .join('\n');
  return { report, text, holds: unread === 0 };
}
