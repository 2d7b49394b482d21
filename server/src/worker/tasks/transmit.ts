/** Task: sends a version of a job: writes the files of its targets, reads them back, and keeps all of it. */
import { randomUUID } from 'node:crypto';
import { PrismError } from '@noble-prism/core/errors';
import { deliver, filesOf } from '@noble-prism/core/transmit/transmit';
import type { Output } from '@noble-prism/core/transmit/transmit';
import { reportOf } from '@noble-prism/core/transmit/report';
import { safeFileName } from '@noble-prism/core/transmit/fileNames';
import { dataUri, drawnPicture } from '@noble-prism/node/drawnPicture';
import { FolderSpool } from '@noble-prism/node/folderSpool';
import { nodePacker } from '@noble-prism/node/packer';
import { nodePictures } from '@noble-prism/node/pictures';
import { WrittenFile } from '@noble-prism/core/write/writer';
import type { Scene } from '@noble-prism/core/scene/types';
import type { SentFile, SentOutput, TransmitOrder } from '@noble-prism/wire/job';
import type { Db } from '../../db/connect.ts';
import { findJob, pictureOf, setFirstPicture } from '../../db/jobs.ts';
import { pictureType } from '../../http/pictureType.ts';
import { listSources } from '../../db/sources.ts';
import { addTransmittal } from '../../db/transmittals.ts';
import { putInFolder } from '../../services/deliveries.ts';
import type { WorkContext } from '../../services/context.ts';
import { EvaluationService } from '../../services/evaluation.ts';
import type { Runner } from './task.ts';

const encoder = new TextEncoder();

export const transmit: Runner = async (task, context, progress, signal) => {
  const { version: number, targets, name, folder } = task.payload as unknown as TransmitOrder;
  const { evaluation, version } = await new EvaluationService(context, progress, signal).version(task.job, number);
  const job = await findJob(context.db, task.job);
  const spool = new FolderSpool(context.unfinished);
  try {
    const delivery = await deliver(evaluation.scene, context.blobs, {
      targets,
      name: `${safeFileName(name)}_v${version.number}`,
      title: name,
      steps: version.steps,
      measures: evaluation.reports.flatMap(({ measured }) => measured ?? []),
      made: new Date().toISOString(),
      revisions: await revisionsOf(context.db, task.job, version.sources),
      pictures: nodePictures,
      packer: nodePacker,
      spool,
      workbench: context.workbench,
      progress,
      signal,
    });
    const { outputs, manifest } = delivery;
    // Where nothing at all was written there is no transmittal.
    const [{ error }] = outputs;
    if (error && outputs.every((output) => output.error)) throw new PrismError(error.code, error.message);
    const files = filesOf(delivery);
    const sent: SentFile[] = [];
    for (const { name: path, mime, content } of files)
      sent.push({ name: path, mime, bytes: content.length, blob: await context.blobs.put(content) });
    signal.throwIfAborted();
    const id = String(task.payload.id ?? randomUUID());
    const manifestBytes = encoder.encode(`${JSON.stringify(manifest, null, 2)}\n`);
    const full = `${safeFileName(name)}_v${version.number}`;
    const picture =
      (await pictureOf(context.db, task.job)) ?? (await drawn(evaluation.scene, task.job, context, signal));
    const report = encoder.encode(
      reportOf(manifest, {
        name: full,
        ...(picture ? { picture: inPage(await context.blobs.get(picture)) } : {}),
      }),
    );
    const beside = [
      new WrittenFile(`${full}.manifest.json`, 'application/json', manifestBytes),
      new WrittenFile(`${full}.report.html`, 'text/html', report),
    ];
    const path = folder ? await putInFolder(context.deliveries, `${safeFileName(job.name)}/${full}`, [...files, ...beside]) : null; // prettier-ignore
    await addTransmittal(context.db, {
      id,
      job: task.job,
      version: version.number,
      name: full,
      files: JSON.stringify(sent),
      outputs: JSON.stringify(outputs.map(sentOutput)),
      manifest: await context.blobs.put(manifestBytes),
      report: await context.blobs.put(report),
      folder: path,
    });
    return { transmittal: id };
  } finally {
    spool.close();
  }
};

const inPage = (bytes: Uint8Array) => dataUri(bytes, pictureType(bytes) ?? 'image/jpeg');

/** Of a job that nobody has opened yet, as those of a batch: it has the picture from then on. */
async function drawn(scene: Scene, job: string, { db, blobs }: WorkContext, signal: AbortSignal): Promise<string | undefined> {
  const bytes = await drawnPicture(scene, blobs, signal);
  if (!bytes) return undefined;
  const picture = await blobs.put(bytes);
  await setFirstPicture(db, job, picture);
  return picture;
} // prettier-ignore

/** Numbers of the revisions that a version shows, by slot. */
async function revisionsOf(db: Db, job: string, shown: readonly string[]): Promise<Map<string, number>> {
  const sources = await listSources(db, job);
  return new Map(sources.filter(({ id }) => shown.includes(id)).map(({ slot, revision }) => [slot, revision]));
}

function sentOutput({ files, figures, ...output }: Output): SentOutput {
  const { name, piece, settings, way, readBack, overLimits, notInFull, carryOver, error } = output;
  return {
    name,
    ...(piece === undefined ? {} : { piece }),
    settings,
    way,
    files: files.map((file) => file.name),
    ...(figures ? { parts: figures.parts, triangles: figures.triangles } : {}),
    ...(readBack ? { readBack } : {}),
    ...(overLimits ? { overLimits } : {}),
    ...(notInFull ? { notInFull } : {}),
    ...(carryOver ? { carryOver } : {}),
    ...(error ? { error } : {}),
  };
}
