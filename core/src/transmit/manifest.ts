/** The manifest of a delivery: where it came from, what was done, what is in it. */
import type { ErrorJson } from '../errors.ts';
import { factsOf, takeOff } from '../scene/facts.ts';
import { roundedStretch } from '../scene/stretch.ts';
import { hashContent } from '../content.ts';
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
import { writerFor } from '../write/formats.ts';
import type { CarryOver } from './carryOver.ts';
import type { ReadBack } from './result.ts';
import type { TargetSettings } from './targets/target.ts';
import type { Output } from './transmit.ts';

/** Number of the form of a manifest: raised when a member is no longer what it was. Its schema is `docs/manifest.schema.json`. */
export const MANIFEST_FORMAT = 2;

/** What goes with the files: where it came from, what was done, what is in it. Lengths in metres. */
export interface TransmittalManifest {
  manifest: typeof MANIFEST_FORMAT;
  title: string;
  made: string;
  /** A target each, in the order in which they were written. */
  outputs: OutputManifest[];
  /** Where the origin of the job lies, where that was said; metres and radians. */
  origin?: SceneOrigin;
  sources: {
    name: string;
    /** Counted from 1, where the job counts them. */
    revision?: number;
    format: string;
    schema: string;
    unit: string;
  }[];
  steps: { kind: string; on: boolean; summary: string }[];
  /** Of the job, before targets left anything out. */
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
}

export interface OutputManifest {
  /** What the target is called. */
  target: string;
  /** The layer, storey, assembly or part that it holds, where the target is split. */
  piece?: string;
  format: string;
  /** Of the files. */
  unit: string;
  upAxis: 'y' | 'z';
  coordinates: Coordinates;
  settings: TargetSettings;
  files: { name: string; mime: string; bytes: number; sha256: string }[];
  parts?: number;
  triangles?: number;
  /** What is over the limits of the target, in sentences. */
  overLimits?: string[];
  /** Sources of what it holds that were not read in full, in sentences. */
  notInFull?: string[];
  carryOver?: CarryOver;
  readBack?: ReadBack;
  error?: ErrorJson;
}

/** @param made time, ISO 8601 */
export async function manifestOf(
  scene: Scene,
  blobs: BlobStore,
  outputs: readonly Output[],
  about: {
    title: string;
    made: string;
    steps: readonly Step[];
    measures: readonly Measured[];
    /** By id of the source. */
    revisions?: ReadonlyMap<string, number>;
  },
): Promise<TransmittalManifest> {
  const bounds = await exactBounds(scene, blobs);
  const movements = movingAnimations(scene).map(({ name, duration, nodes }) => ({ name, duration, nodes }));
  return {
    manifest: MANIFEST_FORMAT,
    title: about.title,
    made: about.made,
    outputs: outputs.map(outputManifest),
    ...(scene.origin ? { origin: scene.origin } : {}),
    sources: scene.sources.map(({ id, name, format, schema, unit }) => {
      const revision = about.revisions?.get(id);
      return { name, ...(revision === undefined ? {} : { revision }), format, schema, unit: unit.name };
    }),
    steps: about.steps.map((step) => ({ kind: step.kind, on: step.on, summary: summaryOf(step) })),
    scene: { ...takeOff(scene), ...(bounds ? { bounds } : {}) },
    parts: partsOf(scene),
    ...(movements.length > 0 ? { movements } : {}),
    ...(about.measures.length > 0 ? { measures: about.measures.map(({ points: _, ...measured }) => measured) } : {}),
  };
}

function outputManifest({ name, piece, settings, way, files, figures, overLimits, notInFull, carryOver, readBack, error }: Output): OutputManifest {
  return {
    target: name,
    ...(piece === undefined ? {} : { piece }),
    format: writerFor(settings.format)?.title ?? settings.format,
    unit: way.unit,
    upAxis: way.up,
    coordinates: settings.coordinates,
    settings,
    files: files.map(({ name: path, mime, content }) => ({ name: path, mime, bytes: content.length, sha256: hashContent(content) })),
    ...(figures ? { parts: figures.parts, triangles: figures.triangles } : {}),
    ...(overLimits ? { overLimits } : {}),
    ...(notInFull ? { notInFull } : {}),
    ...(carryOver ? { carryOver } : {}),
    ...(readBack ? { readBack } : {}),
    ...(error ? { error } : {}),
  };
} // prettier-ignore

function partsOf(scene: Scene): TransmittalManifest['parts'] {
  const paths = new Map<number, string>();
  const { order, stretches } = factsOf(scene);
  for (const row of order) {
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
        ...(figures.deviation ? { deviation: figures.deviation.max * roundedStretch(stretches[node.id]) } : {}),
      };
    });
}
