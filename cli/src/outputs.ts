/** What is said of the files of a delivery: entries of `outputs` in the report, and lines for people. */
import { join } from 'node:path';
import type { ErrorJson } from '@noble-prism/core/errors';
import type { CarryOver } from '@noble-prism/core/transmit/carryOver';
import type { ReadBack } from '@noble-prism/core/transmit/result';
import type { Output } from '@noble-prism/core/transmit/transmit';
import { formatBytes, formatCount } from '@noble-prism/core/units';

/** Entry of `outputs`: a file, or why a target has none. */
export interface OutputReport {
  /** Path of the file. */
  file?: string;
  /** As it is named to `--to`; also `manifest` and `report`. */
  format: string;
  bytes?: number;
  /** The layer, storey, assembly or part that it holds. */
  piece?: string;
  triangles?: number;
  readBack?: ReadBack;
  /** What is over the limits of the target, in sentences. */
  overLimits?: string[];
  /** Sources of what it holds that were not read in full, in sentences. */
  notInFull?: string[];
  carryOver?: CarryOver;
  /** The target that could not be written, and why. */
  target?: string;
  error?: ErrorJson;
}

/** The file that is opened with its figures, and what lies beside it; or why there is none. */
export function outputReport(
  { settings, name, piece, files, figures, readBack, overLimits, notInFull, carryOver, error }: Output,
  folder: string,
): OutputReport[] {
  const { format } = settings;
  if (error) return [{ target: name, format, error }];
  return files.map(({ name: path, content }, i) => ({
    file: join(folder, path),
    format,
    bytes: content.length,
    ...(piece === undefined ? {} : { piece }),
    ...(i === 0
      ? {
          triangles: figures?.triangles,
          readBack,
          ...(overLimits ? { overLimits } : {}),
          ...(notInFull ? { notInFull } : {}),
          carryOver,
        }
      : {}),
  }));
}

export function outputText(
  { settings, files, figures, readBack, overLimits = [], carryOver, error }: Output,
  folder: string,
): string {
  if (error) return `${settings.format}: not written: ${error.message}`;
  const bytes = files.reduce((sum, file) => sum + file.content.length, 0);
  const lost = carryOver?.lines.filter(({ state }) => state === 'lost') ?? [];
  return [
    `${join(folder, files[0].name)}: ${formatBytes(bytes)}, ${figures?.parts} parts, ${formatCount(figures?.triangles ?? 0)} triangles drawn`,
    ...overLimits.map((words) => `  over: ${words}`),
    ...lost.map(({ title, count, of, how }) => `  lost: ${title}, ${count} ${of}: ${how}`),
    readBack?.holds ? '  read back: holds' : `  read back: differs. ${readBack?.differences.join('; ')}`,
  ].join('\n');
}
