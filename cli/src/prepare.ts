/** `prism prepare`: files in, a prepared and checked delivery out. */
import { stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setFlagsFromString } from 'node:v8';
import { MemoryContent } from '@noble-prism/core/content';
import { MemoryBlobs, MemoryMemo } from '@noble-prism/core/memoryStores';
import { stepsFor } from '@noble-prism/core/preparation/template';
import { evaluate } from '@noble-prism/core/preparation/evaluate';
import { hashData } from '@noble-prism/core/scene/hash';
import { mergeScenes } from '@noble-prism/core/scene/merge';
import { stepKind } from '@noble-prism/core/steps/kinds';
import type { Step } from '@noble-prism/core/steps/kinds';
import { safeFileName } from '@noble-prism/core/transmit/fileNames';
import { reportOf } from '@noble-prism/core/transmit/report';
import { deliver, filesOf, holds } from '@noble-prism/core/transmit/transmit';
import { treeOf } from '@noble-prism/core/transmit/tree';
import type { Scene } from '@noble-prism/core/scene/types';
import { formatCount } from '@noble-prism/core/units';
import { dataUri, drawnPicture } from '@noble-prism/node/drawnPicture';
import { FolderSpool } from '@noble-prism/node/folderSpool';
import { nodePacker } from '@noble-prism/node/packer';
import { nodePictures } from '@noble-prism/node/pictures';
import { ThreadWorkbench } from '@noble-prism/node/threads';
import type { Options } from './options.ts';
import { outputReport, outputText } from './outputs.ts';
import { open, sourceReport } from './survey.ts';
import type { FailedSource } from './survey.ts';
import { writeWhole } from './wholeFiles.ts';

/**
 * Prepares files as one scene.
 * @returns the report and its text, whether everything was written and reads back as it was sent, and which sources were not read in full
 * @throws PrismError where nothing can be made of a file
 */
export async function prepare(options: Prepared, on: Bench = {}) {
  const seconds = { survey: 0, build: 0, steps: 0, write: 0 };
  const clock = stopwatch();
  const size = await totalBytes(options.files);
  const workbench = on.workbench ?? benchFor(size);
  const spool = new FolderSpool(tmpdir());
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
    const quiet = options.json || !process.stderr.isTTY || on.progress !== undefined;
    const around = {
      blobs,
      memo: new MemoryMemo(),
      workbench,
      progress: ({ what, done, total }: { what: string; done: number; total: number }) => {
        if (on.progress) on.progress(`${done} of ${total}: ${what}`);
        else if (!quiet) process.stderr.write(`\r\u001b[K${done} of ${total}: ${what}`);
      },
    };
    // While the solids are computed on other threads.
    void import('@noble-prism/core/transmit/read/gltf/gltf');
    const baseKey = hashData(base);
    const steps = namedSources(options.steps, base.sources);
    const tessellation = steps.findLastIndex((step) => step.kind === 'tessellate') + 1;
    await evaluate(base, baseKey, steps.slice(0, tessellation), around);
    seconds.build = clock();
    const { scene, reports } = await evaluate(base, baseKey, steps, around);
    seconds.steps = clock();
    if (!quiet) process.stderr.write('\r\u001b[K');

    const name = options.name ?? scene.sources[0].name.replace(/\.[^.]*$/, '');
    const made = new Date().toISOString();
    const delivery = await deliver(scene, blobs, {
      targets: options.targets,
      name,
      title: options.title ?? name,
      steps: options.steps,
      measures: reports.flatMap(({ measured }) => measured ?? []),
      made,
      pictures: nodePictures,
      packer: nodePacker,
      spool,
      workbench,
    });
    const safe = safeFileName(name);
    const picture = await drawnPicture(scene, blobs);
    const manifest = { name: `${safe}.manifest.json`, format: 'manifest', content: new MemoryContent(Buffer.from(`${JSON.stringify(delivery.manifest, null, 2)}\n`)) }; // prettier-ignore
    const page = { name: `${safe}.report.html`, format: 'report', content: new MemoryContent(Buffer.from(reportOf(delivery.manifest, { name: safe, ...(picture ? { picture: dataUri(picture) } : {}) }))) }; // prettier-ignore
    const files = filesOf(delivery);
    const isApart = options.apart && (files.some((file) => file.name.includes('/')) || options.targets.some(({ settings }) => settings.split)); // prettier-ignore
    const out = isApart ? join(options.out, safe) : options.out;
    await writeWhole(out, [...files, manifest, page]);
    seconds.write = clock();

    const figures = delivery.manifest.scene;
    const report = {
      sources: scenes.map(sourceReport),
      failed,
      scene: figures,
      steps: reports.map((step, i) => ({ ...step, summary: stepKind(step.kind).summary(options.steps[i].parameters) })),
      outputs: [
        ...delivery.outputs.flatMap((output) => outputReport(output, out)),
        ...[manifest, page].map(({ name: path, format }) => ({ file: join(out, path), format })),
      ],
      seconds,
      ...(options.tree ? { tree: await treeOf(scene, blobs) } : {}),
    };
    const problems = reports.flatMap((step) => step.problems);
    const incomplete = [...new Set(delivery.outputs.flatMap((output) => output.notInFull ?? []))];
    const text = [
      ...report.steps.map(
        (step) => `${stepKind(step.kind).title}: ${step.summary}, ${formatCount(step.triangles)} triangles`,
      ),
      ...failed.map(({ file, error }) => `${file}: not read: ${error.message}`),
      ...incomplete,
      ...problems.map((problem) => `  problem: ${problem}`),
      ...delivery.outputs.map((output) => outputText(output, out)),
    ].join('\n');
    return { report, text, holds: holds(delivery), ...(incomplete.length > 0 ? { incomplete } : {}) };
  } finally {
    spool.close();
    if (!on.workbench) await workbench.close();
  }
}

/** Steps name sources by their files here, and rows by these; of files that are called the same, the first is meant. */
const namedSources = (steps: readonly Step[], sources: Scene['sources']): Step[] =>
  stepsFor(
    steps,
    sources.map(({ name }) => ({ id: name, name })),
    sources,
  );

/** What is made of which files. */
export interface Prepared extends Pick<Options, 'files' | 'out' | 'name' | 'steps' | 'targets' | 'json' | 'tree'> {
  /** What it is called in manifest and report; as its files where absent. */
  title?: string;
  /**
   * Others are written into the same folder: what has pictures beside it or is split goes into one of its own, where nothing takes the
   * place of a picture or a piece of another.
   */
  apart?: boolean;
}

/** What a run shares with others. */
export interface Bench {
  /** Kept for the next run; one of its own where absent. */
  workbench?: ThreadWorkbench;
  progress?: (what: string) => void;
}

/** The kernel's threads for so many bytes of source. */
export function benchFor(size: number, width = size < SHORT_RUN ? 1 : 2): ThreadWorkbench {
  // The optimizing compiler takes both cores from the work itself. It pays for itself in a long run only, and only for code that
  // is really hot.
  setFlagsFromString(size < LONG_RUN ? '--liftoff-only' : '--wasm-tiering-budget=20000000');
  return new ThreadWorkbench({ width });
}

/** Bytes of source up to which the kernel's code is left unoptimized; measured, see bench/src/prepare.ts. */
const LONG_RUN = 12_000_000;
/** Bytes up to which a second kernel takes longer to start than it helps. */
const SHORT_RUN = 400_000;

export async function totalBytes(files: readonly string[]): Promise<number> {
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
