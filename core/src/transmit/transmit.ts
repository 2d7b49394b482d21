/** Makes a delivery: the files of each target, their read-back and carry-over sheet, and the manifest that goes with them. */
import type { Spool } from '../content.ts';
import { asPrismError, PrismError } from '../errors.ts';
import type { ErrorJson } from '../errors.ts';
import type { Measured } from '../measure/kept.ts';
import { takeOff } from '../scene/facts.ts';
import type { TakeOff } from '../scene/takeoff.ts';
import type { Scene } from '../scene/types.ts';
import type { Step } from '../steps/kinds.ts';
import type { BlobStore, Packer, PictureCodec, Progress, Workbench } from '../surroundings.ts';
import { counted } from '../units.ts';
import { writerFor } from '../write/formats.ts';
import { countAspects } from '../write/aspects.ts';
import type { FileWay, Writer, WrittenFile } from '../write/writer.ts';
import { carryOver } from './carryOver.ts';
import type { CarryOver } from './carryOver.ts';
import { FilePlaces } from './filePlaces.ts';
import { safeFileName } from './fileNames.ts';
import { notInFull } from '../scene/inFull.ts';
import { overLimits } from './limits.ts';
import { manifestOf } from './manifest.ts';
import type { TransmittalManifest } from './manifest.ts';
import { readBack } from './readback.ts';
import { withModules } from './readModules.ts';
import type { ReadBack } from './result.ts';
import { arrange } from './targets/arrange.ts';
import { piecesOf } from './targets/pieces.ts';
import type { Piece } from './targets/pieces.ts';
import { problemOf, wayOf } from './targets/target.ts';
import { pieceOf } from './targets/leftOut.ts';
import type { TargetSettings } from './targets/target.ts';
import { checkSize } from './tooLarge.ts';

/** What one target became. */
export interface Output {
  /** What the target is called. */
  name: string;
  /** The layer, storey, assembly or part that it holds, where the target is split. */
  piece?: string;
  settings: TargetSettings;
  /** Unit and axis of the files. */
  way: FileWay;
  /** The first is what a receiving tool opens; none where it failed. */
  files: WrittenFile[];
  /** Of what was written. */
  figures?: TakeOff;
  readBack?: ReadBack;
  /** What is over the limits of the target, in sentences. */
  overLimits?: string[];
  /** Sources of what it holds that were not read in full, in sentences. */
  notInFull?: string[];
  carryOver?: CarryOver;
  /** Why nothing was written. */
  error?: ErrorJson;
}

export interface Delivery {
  outputs: Output[];
  manifest: TransmittalManifest;
}

export interface DeliveryOptions {
  targets: readonly { name: string; settings: TargetSettings }[];
  /** Name of the files without ending; made safe. */
  name: string;
  title: string;
  steps: readonly Step[];
  /** What the steps measured. */
  measures?: readonly Measured[];
  /** Time of making, ISO 8601. */
  made: string;
  /** Numbers of the revisions of the sources, by their ids. */
  revisions?: ReadonlyMap<string, number>;
  pictures?: PictureCodec;
  packer?: Packer;
  /** Where files grow; in memory where nothing is said. */
  spool?: Spool;
  workbench?: Workbench;
  progress?: (progress: Progress) => void;
  signal?: AbortSignal;
}

/** Strokes of one target that are told: arranged, written, read back. */
const STROKES = 3;

/** A target that fails costs itself alone. @throws whatever aborted it */
export async function deliver(prepared: Scene, blobs: BlobStore, options: DeliveryOptions): Promise<Delivery> {
  const { targets, title, steps, made, measures = [], signal } = options;
  const total = targets.length * STROKES + 1;
  const places = new FilePlaces(safeFileName(options.name));
  const outputs: Output[] = [];
  for (const [i, target] of targets.entries()) {
    const pieces = split(prepared, target.settings);
    for (const [k, piece] of pieces.entries()) {
      const tell = (what: string, stroke: number) => {
        signal?.throwIfAborted();
        const prefix = [
          ...(targets.length > 1 ? [target.name] : []),
          ...(piece && !('error' in piece) ? [piece.name] : []),
        ];
        // Pieces of one target share its strokes.
        const done = i * STROKES + ((k * STROKES + stroke) / (pieces.length * STROKES)) * STROKES;
        options.progress?.({ what: [...prefix, what].join(': '), done: Math.floor(done), total });
      };
      outputs.push(await outputOf(prepared, blobs, target, piece, places, options, tell));
    }
  }
  options.progress?.({ what: 'Writing the manifest', done: total - 1, total });
  const manifest = await manifestOf(prepared, blobs, outputs, {
    title,
    made,
    steps,
    measures,
    ...(options.revisions ? { revisions: options.revisions } : {}),
  });
  options.progress?.({ what: 'Done', done: total, total });
  return { outputs, manifest };
}

/** The pieces of a target, or the whole; or why it cannot be split. */
function split(prepared: Scene, settings: TargetSettings): (Piece | undefined | { error: unknown })[] {
  if (!settings.split || settings.split === 'modular') return [undefined];
  try {
    const pieces = piecesOf(prepared, settings.split);
    return pieces.length > 0 ? pieces : [undefined];
  } catch (error) {
    return [{ error }];
  }
}

async function outputOf(
  prepared: Scene,
  blobs: BlobStore,
  { name, settings }: { name: string; settings: TargetSettings },
  piece: Piece | undefined | { error: unknown },
  places: FilePlaces,
  options: DeliveryOptions,
  tell: (what: string, stroke: number) => void,
): Promise<Output> {
  const { pictures, packer, spool, signal, title } = options;
  const writer = writerFor(settings.format);
  const way: FileWay = writer ? wayOf(settings, writer) : { unit: 'm', up: 'y' };
  const part = piece && 'rows' in piece ? piece : undefined;
  const output: Output = { name, ...(part ? { piece: part.name } : {}), settings, way, files: [] };
  try {
    if (piece && 'error' in piece) throw piece.error;
    if (!writer) throw new PrismError('bad-parameters', `There is no format “${settings.format}”.`);
    const problem = problemOf(settings);
    if (problem !== undefined) throw new PrismError('bad-parameters', problem);
    tell('Arranging', 0);
    // Before anything is written out for it, where all of it goes there.
    if (!part && !settings.only && !settings.without) checkSize(prepared, settings, writer);
    const arranged = await arrange(prepared, blobs, settings, writer, {
      ...options,
      ...(part ? { rows: part.rows } : {}),
    });
    checkGeometry(arranged.scene, prepared, writer);
    checkSize(arranged.written, settings, writer);
    tell(`Writing ${writer.title}`, 1);
    const { compression, kind, instances, split } = settings;
    const from = {
      ...way,
      title,
      ...(compression ? { compression } : {}),
      ...(kind ? { pictureKind: kind } : {}),
      ...(instances === 'lists' ? { instancing: true } : {}),
      ...(split === 'modular' ? { modular: true } : {}),
      ...(pictures ? { pictures } : {}),
      ...(packer ? { packer } : {}),
      ...(spool ? { spool } : {}),
    };
    const tolerance = compression && writer.compressions?.[compression];
    const write = (base: string) => writer.write(arranged.written, blobs, base, from);
    const written = await write(places.nameFor(writer.ending, name, way, part?.name));
    signal?.throwIfAborted();
    output.files = places.put(written, name);
    output.figures = takeOff(arranged.scene);
    const { words } = overLimits(arranged.scene, settings);
    if (words.length > 0) output.overLimits = words;
    const incomplete = notInFull(arranged.scene);
    if (incomplete.length > 0) output.notInFull = incomplete;
    // What a piece loses is said of the piece.
    output.carryOver = carryOver(part ? pieceOf(prepared, part.rows) : prepared, settings);
    tell('Reading back', 2);
    // As the files refer to each other, not as they lie in the delivery.
    const compared = await readBack({ ...writer, ...(tolerance ? { tolerance } : {}) }, written, arranged.scene, blobs, { told: way, ...(pictures ? { pictures } : {}) }); // prettier-ignore
    output.readBack = split === 'modular' ? await withModules(compared, writer, written, arranged.scene, blobs, pictures) : compared; // prettier-ignore
  } catch (error) {
    signal?.throwIfAborted();
    output.error = asPrismError(error).toJSON();
    output.files = [];
  }
  return output;
}

/** @throws PrismError `no-geometry` where nothing would be in the file */
function checkGeometry(scene: Scene, prepared: Scene, writer: Writer): void {
  const { title } = writer;
  if (scene.nodes.some((node) => (writer.exact ? node.solid : node.mesh))) return;
  if (writer.exact && !prepared.nodes.some((node) => node.solid))
    throw new PrismError('bad-parameters', `${title}: nothing of it is an exact solid, it came as meshes. Send it in a format that holds meshes.`); // prettier-ignore
  const waits = prepared.nodes.some((node) => node.solid && !node.problem && !node.mesh);
  const { cameras, lights, lines, points } = countAspects(prepared);
  const there = [
    ...(cameras > 0 ? [counted(cameras, 'camera')] : []),
    ...(lights > 0 ? [counted(lights, 'light')] : []),
    ...(lines > 0 ? [counted(lines, 'part of lines', 'parts of lines')] : []),
    ...(points > 0 ? [counted(points, 'cloud of points', 'clouds of points')] : []),
  ];
  const only = there.length > 0 ? `the scene holds ${there.join(' and ')} only` : 'the scene is empty';
  throw new PrismError(
    'no-geometry',
    waits
      ? 'Nothing has been tessellated yet, so there is nothing to send. Add a Tessellate step first.'
      : prepared.nodes.some((node) => node.mesh)
        ? `Nothing is left to send as ${title}: ${there.length > 0 ? only : 'this target leaves everything out'}. Nothing was written.`
        : `There is no geometry to send: ${only}. Nothing was written.`,
  );
}

/** All files of a delivery, each once. */
export function filesOf({ outputs }: Pick<Delivery, 'outputs'>): WrittenFile[] {
  const known = new Map(outputs.flatMap(({ files }) => files).map((file) => [file.name, file]));
  return [...known.values()];
}

/** True where every target was written and reads back as it was sent. */
export function holds({ outputs }: Pick<Delivery, 'outputs'>): boolean {
  return outputs.every(({ error, readBack: compared }) => !error && compared?.holds === true);
}
