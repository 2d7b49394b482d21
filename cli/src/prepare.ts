/** `prism prepare`: files in, a prepared and checked delivery out. */
import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { MemoryBlobs, MemoryMemo } from '@noble-prism/core/memoryStores';
import { evaluate } from '@noble-prism/core/preparation/evaluate';
import { hashData } from '@noble-prism/core/scene/hash';
import { mergeScenes } from '@noble-prism/core/scene/merge';
import { stepKind } from '@noble-prism/core/steps/kinds';
import { safeFileName } from '@noble-prism/core/transmit/fileNames';
import { reportOf } from '@noble-prism/core/transmit/report';
import { deliver, filesOf, holds } from '@noble-prism/core/transmit/transmit';
import type { Output } from '@noble-prism/core/transmit/transmit';
import { treeOf } from '@noble-prism/core/transmit/tree';
import type { Scene } from '@noble-prism/core/scene/types';
import { formatBytes, formatCount } from '@noble-prism/core/units';
import { nodePictures } from '@noble-prism/node/pictures';
import { ThreadWorkbench } from '@noble-prism/node/threads';
import type { Options } from './options.ts';
import { open, sourceReport } from './survey.ts';
import type { FailedSource } from './survey.ts';

export async function prepare(options: Options) {
  const seconds = { survey: 0, build: 0, steps: 0, write: 0 };
  const clock = stopwatch();
  const size = await totalBytes(options.files);
  // The optimizing compiler takes both cores from the work itself. It pays for itself in a long run only, and only for code that
  // is really hot.
  setFlagsFromString(size < LONG_RUN ? '--liftoff-only' : '--wasm-tiering-budget=20000000');
  const workbench = new ThreadWorkbench({ width: size < SHORT_RUN ? 1 : 2 });
  // The kernel takes half a second to load: let it, while the files are read. One will do until there is work for two.
  const warm = workbench.warm(1);
  warm.catch(() => {});
  try {
    const blobs = new MemoryBlobs();
    const readings = [];
    const failed: FailedSource[] = [];
    for (const [i, path] of options.files.entries()) {
      const opened = await open(path, `f${i + 1}`);
      readings.push(...opened.readings);
      failed.push(...opened.failed);
    }
    seconds.survey = clock();

    const scenes: Scene[] = [];
    for (const reading of readings) scenes.push(await reading.build(blobs, { pictures: nodePictures, workbench }));
    const base = mergeScenes(scenes);
    const quiet = options.json || !process.stderr.isTTY;
    const around = {
      blobs,
      memo: new MemoryMemo(),
      workbench,
      progress: ({ what, done, total }: { what: string; done: number; total: number }) => {
        if (!quiet) process.stderr.write(`\r\u001b[K${done} of ${total}: ${what}`);
      },
    };
    // While the solids are computed on other threads.
    void import('@noble-prism/core/transmit/read/gltf');
    const baseKey = hashData(base);
    const tessellation = options.steps.findLastIndex((step) => step.kind === 'tessellate') + 1;
    await evaluate(base, baseKey, options.steps.slice(0, tessellation), around);
    seconds.build = clock();
    const { scene, reports } = await evaluate(base, baseKey, options.steps, around);
    seconds.steps = clock();
    if (!quiet) process.stderr.write('\r\u001b[K');

    const name = options.name ?? scene.sources[0].name.replace(/\.[^.]*$/, '');
    const made = new Date().toISOString();
    const delivery = await deliver(scene, blobs, {
      targets: options.targets,
      name,
      title: name,
      steps: options.steps,
      measures: reports.flatMap(({ measured }) => measured ?? []),
      made,
      pictures: nodePictures,
      workbench,
    });
    await mkdir(options.out, { recursive: true });
    const written = filesOf(delivery);
    for (const { name: path, bytes } of written) await writeWhole(join(options.out, path), bytes);
    const manifestFile = join(options.out, `${safeFileName(name)}.manifest.json`);
    await writeWhole(manifestFile, Buffer.from(`${JSON.stringify(delivery.manifest, null, 2)}\n`));
    const reportFile = join(options.out, `${safeFileName(name)}.report.html`);
    await writeWhole(reportFile, Buffer.from(reportOf(delivery.manifest, { name: safeFileName(name) })));
    seconds.write = clock();

    const figures = delivery.manifest.scene;
    const report = {
      sources: scenes.map(sourceReport),
      failed,
      scene: figures,
      steps: reports.map((step, i) => ({ ...step, summary: stepKind(step.kind).summary(options.steps[i].parameters) })),
      outputs: [
        ...delivery.outputs.flatMap((output) => outputReport(output, options.out)),
        { file: manifestFile, format: 'manifest' },
        { file: reportFile, format: 'report' },
      ],
      seconds,
      ...(options.tree ? { tree: await treeOf(scene, blobs) } : {}),
    };
    const problems = reports.flatMap((step) => step.problems);
    const text = [
      ...report.steps.map(
        (step) => `${stepKind(step.kind).title}: ${step.summary}, ${formatCount(step.triangles)} triangles`,
      ),
      ...failed.map(({ file, error }) => `${file}: not read: ${error.message}`),
      ...problems.map((problem) => `  problem: ${problem}`),
      ...delivery.outputs.map((output) => outputText(output, options.out)),
    ].join('\n');
    process.exitCode = holds(delivery) ? 0 : 1;
    return { report, text };
  } finally {
    await workbench.close();
  }
}

/** Bytes of source up to which the kernel's code is left unoptimized; measured, see bench/src/prepare.ts. */
const LONG_RUN = 12_000_000;
/** Bytes up to which a second kernel takes longer to start than it helps. */
const SHORT_RUN = 400_000;

/** Entries of the report: the file that is opened with its figures, and what lies beside it; or why there is none. */
function outputReport(
  { settings, name, piece, files, figures, readBack, carryOver, error }: Output,
  folder: string,
): object[] {
  const { format } = settings;
  if (error) return [{ target: name, format, error }];
  return files.map(({ name: path, bytes }, i) => ({
    file: join(folder, path),
    format,
    bytes: bytes.length,
    ...(piece === undefined ? {} : { piece }),
    ...(i === 0 ? { triangles: figures?.triangles, readBack, carryOver } : {}),
  }));
}

function outputText({ settings, files, figures, readBack, carryOver, error }: Output, folder: string): string {
  if (error) return `${settings.format}: not written: ${error.message}`;
  const bytes = files.reduce((sum, file) => sum + file.bytes.length, 0);
  const lost = carryOver?.lines.filter(({ state }) => state === 'lost') ?? [];
  return [
    `${join(folder, files[0].name)}: ${formatBytes(bytes)}, ${figures?.parts} parts, ${formatCount(figures?.triangles ?? 0)} triangles drawn`,
    ...lost.map(({ title, count, of, how }) => `  lost: ${title}, ${count} ${of}: ${how}`),
    readBack?.holds ? '  read back: holds' : `  read back: differs. ${readBack?.differences.join('; ')}`,
  ].join('\n');
}

/** Under its name when it is whole, and not before. */
async function writeWhole(path: string, bytes: Uint8Array): Promise<void> {
  await mkdir(dirname(path), { recursive: true });
  const temporary = `${path}.part`;
  try {
    await writeFile(temporary, bytes);
    await rename(temporary, path);
  } catch (error) {
    await rm(temporary, { force: true });
    throw error;
  }
}

async function totalBytes(files: string[]): Promise<number> {
  const sizes = await Promise.all(
    files.map((file) =>
      stat(file).then(
        (info) => info.size,
        () => 0,
      ),
    ),
  );
  return sizes.reduce((sum, size) => sum + size, 0);
}

/** Seconds since the last call. */
function stopwatch(): () => number {
  let last = performance.now();
  return () => {
    const now = performance.now();
    const passed = (now - last) / 1000;
    last = now;
    return passed;
  };
}
