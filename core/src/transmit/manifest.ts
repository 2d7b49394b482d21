/** The manifest of a delivery: where it came from, what was done, what is in it. */
import { factsOf, takeOff } from '../scene/facts.ts';
import { hashBytes } from '../scene/hash.ts';
import { movingAnimations } from '../scene/motion.ts';
import { exactBounds } from '../scene/exactBounds.ts';
import type { Measured } from '../measure/kept.ts';
import type { Coordinates, SceneOrigin } from '../scene/origin.ts';
import { materialOfSlot } from '../scene/takeoff.ts';
import type { TakeOff } from '../scene/takeoff.ts';
import type { Box, Scene } from '../scene/types.ts';
import { summaryOf } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';
import type { BlobStore } from '../surroundings.ts';
import type { Writer, WrittenFile } from '../write/writer.ts';
import type { ReadBack } from './result.ts';

/** What goes with the files: where it came from, what was done, what is in it. Lengths in metres. */
export interface TransmittalManifest {
  title: string;
  made: string;
  files: { name: string; format: string; bytes: number; sha256: string }[];
  /** Of the files. */
  unit: string;
  upAxis: 'y' | 'z';
  /** Which coordinates the files are in, and where the origin of the job lies, where that was said; metres and radians. */
  coordinates: Coordinates;
  origin?: SceneOrigin;
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
  /** Measures that were kept, in metres, radians, square and cubic metres, kilograms; absent where none are. */
  measures?: Omit<Measured, 'points'>[];
  readBack: ReadBack;
}

/** @param made time, ISO 8601 */
export async function manifestOf(
  scene: Scene,
  blobs: BlobStore,
  writer: Writer,
  files: readonly WrittenFile[],
  about: {
    title: string;
    made: string;
    steps: readonly Step[];
    coordinates: Coordinates;
    measures: readonly Measured[];
    readBack: ReadBack;
  },
): Promise<TransmittalManifest> {
  const bounds = await exactBounds(scene, blobs);
  const movements = movingAnimations(scene).map(({ name, duration, nodes }) => ({ name, duration, nodes }));
  return {
    title: about.title,
    made: about.made,
    files: files.map(({ name, bytes }) => ({
      name,
      format: writer.title,
      bytes: bytes.length,
      sha256: hashBytes(bytes),
    })),
    unit: writer.unit.name,
    upAxis: writer.upAxis,
    coordinates: about.coordinates,
    ...(scene.origin ? { origin: scene.origin } : {}),
    sources: scene.sources.map(({ name, format, schema, unit }) => ({ name, format, schema, unit: unit.name })),
    steps: about.steps.map((step) => ({ kind: step.kind, on: step.on, summary: summaryOf(step) })),
    scene: { ...takeOff(scene), ...(bounds ? { bounds } : {}) },
    parts: partsOf(scene),
    ...(movements.length > 0 ? { movements } : {}),
    ...(about.measures.length > 0 ? { measures: about.measures.map(({ points: _, ...measured }) => measured) } : {}),
    readBack: about.readBack,
  };
}

function partsOf(scene: Scene): TransmittalManifest['parts'] {
  const paths = new Map<number, string>();
  for (const row of factsOf(scene).order) {
    const node = scene.nodes.row(row);
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
