/** Makes a delivery: its files, their read-back, and the manifest that goes with them. */
import { PrismError } from '../errors.ts';
import type { Measured } from '../measure/kept.ts';
import type { Coordinates } from '../scene/origin.ts';
import type { Scene } from '../scene/types.ts';
import type { Step } from '../steps/kinds.ts';
import type { BlobStore, PictureCodec, Progress } from '../surroundings.ts';
import { counted } from '../units.ts';
import { writerFor } from '../write/formats.ts';
import type { WrittenFile } from '../write/writer.ts';
import { safeFileName } from './fileNames.ts';
import { manifestOf } from './manifest.ts';
import type { TransmittalManifest } from './manifest.ts';
import { sceneIn } from './coordinates.ts';
import { readBack } from './readback.ts';

export interface Delivery {
  /** The first is what a receiving tool opens. */
  files: WrittenFile[];
  manifest: TransmittalManifest;
}

export interface DeliveryOptions {
  /** Writer to use, e.g. `glb`. */
  target: string;
  /** Name of the files without ending; made safe. */
  name: string;
  title: string;
  /** Those of the job where nothing is said. */
  coordinates?: Coordinates;
  steps: readonly Step[];
  /** What the steps measured. */
  measures?: readonly Measured[];
  /** Time of making, ISO 8601. */
  made: string;
  pictures?: PictureCodec;
  progress?: (progress: Progress) => void;
  signal?: AbortSignal;
}

/** @throws PrismError `bad-parameters` for an unknown target, `no-geometry` where nothing would be in the file */
export async function deliver(prepared: Scene, blobs: BlobStore, options: DeliveryOptions): Promise<Delivery> {
  const writer = writerFor(options.target);
  if (!writer) throw new PrismError('bad-parameters', `There is no target “${options.target}”.`);
  const scene = sceneIn(prepared, options.coordinates ?? 'local');
  if (!scene.nodes.some((node) => node.mesh)) {
    const waits = scene.nodes.some((node) => node.solid && !node.problem);
    throw new PrismError(
      'no-geometry',
      waits
        ? 'Nothing has been tessellated yet, so there is nothing to send. Add a Tessellate step first.'
        : `There is no geometry to send${onlyOptics(scene)}. Nothing was written.`,
    );
  }
  const stage = (what: string, done: number) => {
    options.signal?.throwIfAborted();
    options.progress?.({ what, done, total: 3 });
  };
  const { title, steps, made, coordinates = 'local', measures = [] } = options;
  stage(`Writing ${writer.title}`, 0);
  const files = await writer.write(scene, blobs, safeFileName(options.name), options);
  stage('Reading back', 1);
  const compared = await readBack(writer, files, scene, blobs, options.pictures);
  stage('Writing the manifest', 2);
  const manifest = await manifestOf(scene, blobs, writer, files, {
    title,
    made,
    steps,
    coordinates,
    measures,
    readBack: compared,
  });
  stage('Done', 3);
  return { files, manifest };
}

/** What there is instead of geometry. */
function onlyOptics({ nodes }: Scene): string {
  const cameras = nodes.filter(({ camera }) => camera).length;
  const lights = nodes.filter(({ light }) => light).length;
  const list = [
    ...(cameras > 0 ? [counted(cameras, 'camera')] : []),
    ...(lights > 0 ? [counted(lights, 'light')] : []),
  ];
  return list.length > 0 ? `: the scene holds ${list.join(' and ')} only` : ': the scene is empty';
}
