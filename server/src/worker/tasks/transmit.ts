/** Task: sends a version of a job: writes its files, reads them back, and keeps both. */
import { randomUUID } from 'node:crypto';
import { takeOff } from '@noble-prism/core/scene/facts';
import { safeFileName } from '@noble-prism/core/transmit/fileNames';
import { deliver } from '@noble-prism/core/transmit/transmit';
import { nodePictures } from '@noble-prism/node/pictures';
import type { SentFile, TransmitOrder } from '@noble-prism/wire/job';
import { addTransmittal } from '../../db/transmittals.ts';
import { EvaluationService } from '../../services/evaluation.ts';
import type { Runner } from './task.ts';

const encoder = new TextEncoder();

export const transmit: Runner = async (task, context, progress, signal) => {
  const { version: number, ...order } = task.payload as unknown as TransmitOrder;
  const { target, name, coordinates } = order;
  const { evaluation, version } = await new EvaluationService(context, progress, signal).version(task.job, number);
  const { files, manifest } = await deliver(evaluation.scene, context.blobs, {
    target,
    name,
    title: name,
    ...(coordinates ? { coordinates } : {}),
    steps: version.steps,
    measures: evaluation.reports.flatMap(({ measured }) => measured ?? []),
    made: new Date().toISOString(),
    pictures: nodePictures,
    progress,
    signal,
  });
  const figures = takeOff(evaluation.scene);
  const sent: SentFile[] = [];
  for (const { bytes, ...file } of files)
    sent.push({ ...file, bytes: bytes.length, blob: await context.blobs.put(bytes) });
  const id = String(task.payload.id ?? randomUUID());
  await addTransmittal(context.db, {
    id,
    job: task.job,
    version: version.number,
    target,
    name: safeFileName(name),
    files: JSON.stringify(sent),
    manifest: await context.blobs.put(encoder.encode(`${JSON.stringify(manifest, null, 2)}\n`)),
    read_back: JSON.stringify(manifest.readBack),
    parts: figures.parts,
    triangles: figures.triangles,
  });
  return { transmittal: id };
};
