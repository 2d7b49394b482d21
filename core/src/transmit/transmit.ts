/** Makes a delivery: the file, its read-back, and the manifest that goes with it. */
import { PrismError } from '../errors.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import { hashBytes } from '../scene/hash.ts';
import { movingAnimations } from '../scene/motion.ts';
import { worldBox } from '../scene/tree.ts';
import { takeOff } from '../scene/facts.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import type { TakeOff } from '../scene/takeoff.ts';
import type { Box, Scene } from '../scene/types.ts';
import { stepKind } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';
import type { BlobStore, PictureCodec, Progress } from '../surroundings.ts';
import { writerFor } from '../write/formats.ts';
import type { ReadBack } from './readback.ts';

/** What goes with the file: where it came from, what was done, what is in it. Lengths in metres. */
export interface TransmittalManifest {
  title: string;
  made: string;
  files: { name: string; format: string; bytes: number; sha256: string }[];
  unit: 'm';
  upAxis: 'y';
  sources: { name: string; format: string; schema: string; unit: string }[];
  steps: { kind: string; on: boolean; summary: string }[];
  scene: TakeOff & { bounds?: Box };
  parts: {
    path: string;
    layer: string | null;
    materials: string[];
    triangles: number;
    /** Largest measured deviation of a reduction, metres. */
    deviation?: number;
  }[];
  /** What moves, seconds; absent where nothing does. */
  movements?: { name: string; duration: number; nodes: number }[];
  readBack: ReadBack;
}

export interface Delivery {
  file: { name: string; mime: string; bytes: Uint8Array };
  manifest: TransmittalManifest;
}

export interface DeliveryOptions {
  /** Writer to use, e.g. `glb`. */
  target: string;
  /** File name without ending; made safe. */
  name: string;
  title: string;
  steps: readonly Step[];
  /** Time of making, ISO 8601. */
  made: string;
  pictures?: PictureCodec;
  progress?: (progress: Progress) => void;
  signal?: AbortSignal;
}

/** The reader of what was written: loaded while others compute, where somebody says so early. */
export const readBackModule = () => import('./readback.ts');

/** @throws PrismError `bad-parameters` for an unknown target, `no-geometry` where nothing would be in the file */
export async function deliver(scene: Scene, blobs: BlobStore, options: DeliveryOptions): Promise<Delivery> {
  const writer = writerFor(options.target);
  if (!writer) throw new PrismError('bad-parameters', `There is no target “${options.target}”.`);
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
  stage(`Writing ${writer.title}`, 0);
  const bytes = await writer.write(scene, blobs, options.title, options);
  stage('Reading back', 1);
  const { readBackGlb } = await readBackModule();
  const readBack = await readBackGlb(bytes, scene, blobs, options.pictures);
  stage('Writing the manifest', 2);
  const name = `${safeFileName(options.name)}.${writer.ending}`;
  const bounds = await exactBounds(scene, blobs);
  const movements = movingAnimations(scene).map(({ name, duration, nodes }) => ({ name, duration, nodes }));
  const manifest: TransmittalManifest = {
    title: options.title,
    made: options.made,
    files: [{ name, format: writer.title, bytes: bytes.length, sha256: hashBytes(bytes) }],
    unit: 'm',
    upAxis: 'y',
    sources: scene.sources.map(({ name, format, schema, unit }) => ({ name, format, schema, unit: unit.name })),
    steps: options.steps.map((step) => ({
      kind: step.kind,
      on: step.on,
      summary: stepKind(step.kind).summary(step.parameters),
    })),
    scene: { ...takeOff(scene), ...(bounds ? { bounds } : {}) },
    parts: partsOf(scene),
    ...(movements.length > 0 ? { movements } : {}),
    readBack,
  };
  stage('Done', 3);
  return { file: { name, mime: writer.mime, bytes }, manifest };
}

/** What there is instead of geometry. */
function onlyOptics({ nodes }: Scene): string {
  const cameras = nodes.filter(({ camera }) => camera).length;
  const lights = nodes.filter(({ light }) => light).length;
  const list = [
    ...(cameras > 0 ? [`${cameras} ${cameras === 1 ? 'camera' : 'cameras'}`] : []),
    ...(lights > 0 ? [`${lights} ${lights === 1 ? 'light' : 'lights'}`] : []),
  ];
  return list.length > 0 ? `: the scene holds ${list.join(' and ')} only` : ': the scene is empty';
}

function partsOf(scene: Scene): TransmittalManifest['parts'] {
  const paths = new Map<number, string>();
  for (const node of scene.nodes) {
    paths.set(node.id, node.parent === null ? node.name : `${paths.get(node.parent) ?? ''} › ${node.name}`);
  }
  return scene.nodes
    .filter((node) => node.mesh)
    .map((node) => {
      const figures = scene.meshes[node.mesh as string];
      return {
        path: paths.get(node.id) as string,
        layer: node.layer,
        materials: figures.slots.flatMap((count, slot) =>
          count > 0 ? [scene.materials[materialOfSlot(node, slot)]?.name ?? 'none'] : [],
        ),
        triangles: figures.triangles,
        ...(figures.deviation ? { deviation: figures.deviation.max } : {}),
      };
    });
}

/** World box from the vertices themselves, metres. */
export async function exactBounds(scene: Scene, blobs: BlobStore): Promise<Box | undefined> {
  const positions = new Map<string, Float32Array>();
  for (const node of scene.nodes) {
    if (node.mesh && !positions.has(node.mesh))
      positions.set(node.mesh, unpackMesh(await blobs.get(node.mesh)).positions);
  }
  return worldBox(scene, undefined, (mesh) => positions.get(mesh));
}

/** A file name that stays in its folder on every system: letters, digits, points, hyphens; never empty, never long. */
export function safeFileName(name: string): string {
  const clean = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9._-]+/g, '-')
    .replace(/^[.-]+|[.-]+$/g, '')
    .slice(0, 80);
  return clean || 'scene';
}
