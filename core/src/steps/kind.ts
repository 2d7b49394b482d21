/** What a kind of step is. Each kind is one file in this folder, entered in `kinds.ts`. */
import type { ObjectSchema } from 'yup';
import type { Scene } from '../scene/types.ts';
import type { TaskInputs, TaskName, TaskOutputs } from '../tasks.ts';
import type { BlobStore } from '../surroundings.ts';

/** What a step has to have before it can be applied: results of heavy work, or nothing. */
export type Needs = 'manifest' | 'geometry' | 'solids';

/** One piece of heavy work, remembered under its key: the same key always means the same result. */
export interface Work<K extends TaskName = TaskName> {
  key: string;
  task: K;
  /** What it concerns, for people. */
  label: string;
  /** Fetches what the task needs; called only where the result is not known yet. */
  input(blobs: BlobStore): Promise<TaskInputs[K]>;
  /** Stores the blobs of the output and returns what is remembered: small, plain data. */
  keep(output: TaskOutputs[K], blobs: BlobStore): Promise<unknown>;
}

/** Remembered result of a piece of work, or undefined where it is not known (yet). */
export type Lookup = (key: string) => unknown;

/** What a step did, for the list of steps. */
export interface Outcome {
  scene: Scene;
  /** Nodes changed. */
  changed: number;
  /** Nodes still waiting for work. */
  pending: number;
  /** What went wrong and where, for people. */
  problems: string[];
}

export interface StepKind<P extends object = object> {
  readonly kind: string;
  /** Name for people. */
  readonly title: string;
  /** Raised when the same parameters begin to give another result. */
  readonly version: number;
  readonly needs: Needs;
  readonly schema: ObjectSchema<P>;
  readonly defaults: P;
  /** The parameters in a few words with units, for the list of steps. */
  summary(parameters: P): string;
  /** True where a step replaces all that an earlier one of the kind did to the same parts: its work for them is saved. */
  readonly replaces?: boolean;
  /** True where the rows that a rule names are meant themselves, without what is below them. */
  themselves?(parameters: P): boolean;
  /** Heavy work that `apply` will look up. Absent for steps that need the manifest only. */
  work?(scene: Scene, nodes: ReadonlySet<number>, parameters: P): Work[];
  /** Pure and immediate: what is not known yet stays as it is and counts as pending. */
  apply(scene: Scene, nodes: ReadonlySet<number>, parameters: P, lookup: Lookup): Outcome;
}

/** A remembered failure of a piece of work. */
export interface Failed {
  failed: string;
}

export function isFailed(result: unknown): result is Failed {
  return typeof result === 'object' && result !== null && 'failed' in result;
}

/** Name of the first part of each solid or mesh, for people who wait: a body inside a file is often called nothing, or `#12`. */
export function namesBy(scene: Scene, of: 'solid' | 'mesh'): Map<string, string> {
  const out = new Map<string, string>();
  for (const node of scene.nodes) {
    const key = node[of];
    if (key !== undefined && !out.has(key)) out.set(key, node.name);
  }
  return out;
}

/** Replaces the nodes given by what `change` makes of them; the others stay the same objects. */
export function changeNodes(
  scene: Scene,
  nodes: ReadonlySet<number>,
  change: (node: Scene['nodes'][number]) => Scene['nodes'][number],
): { scene: Scene; changed: number } {
  let changed = 0;
  const next = scene.nodes.map((node) => {
    if (!nodes.has(node.id)) return node;
    const made = change(node);
    if (made !== node) changed++;
    return made;
  });
  return { scene: changed ? { ...scene, nodes: next } : scene, changed };
}
