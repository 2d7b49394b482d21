/** What a kind of step is. Each kind is one file in this folder, entered in `kinds.ts`. */
import type { ObjectSchema } from 'yup';
import type { SceneChange } from '../scene/change.ts';
import { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import { GONE } from '../scene/nodes.ts';
import type { NodeTable } from '../scene/nodes.ts';
import type { RowSet } from '../scene/rowSet.ts';
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

/** What a step could not do (yet). What it did is in the editor. */
export interface Outcome {
  /** Rows still waiting for work. */
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
  work?(scene: Scene, rows: RowSet, parameters: P): Work[];
  /** Says in the editor what is to be different. Pure and immediate: what is not known yet stays as it is and counts as pending. */
  apply(edit: SceneEditor, rows: RowSet, parameters: P, lookup: Lookup): Outcome;
}

/** A remembered failure of a piece of work. */
export interface Failed {
  failed: string;
}

export function isFailed(result: unknown): result is Failed {
  return typeof result === 'object' && result !== null && 'failed' in result;
}

/** What a step made of a scene. */
export interface Applied extends Outcome {
  scene: Scene;
  change: SceneChange;
  /** Rows that it changed. */
  changed: number;
}

/** Applies a step to the rows that its rule names. */
export function applyStep<P extends object>(
  kind: StepKind<P>,
  scene: Scene,
  rows: RowSet,
  parameters: P,
  lookup: Lookup = () => undefined,
): Applied {
  const edit = new SceneEditor(scene);
  const outcome = kind.apply(edit, rows, parameters, lookup);
  const made = edit.finish();
  if (made.scene !== scene) factsOf(made.scene).inherit(factsOf(scene));
  return { ...outcome, ...made };
}

/** Name of the first part of each solid or mesh, for people who wait: a body inside a file is often called nothing, or `#12`. */
export function namesBy({ nodes }: Scene, of: 'solid' | 'mesh'): Map<string, string> {
  const out = new Map<string, string>();
  const { kind, [of]: column } = nodes.columns;
  const seen = new Uint8Array(nodes.tables.words.length);
  for (let row = 0; row < nodes.rows; row++) {
    if (column[row] === 0 || kind[row] === GONE || seen[column[row]] === 1) continue;
    seen[column[row]] = 1;
    out.set(nodes.word(of, row), nodes.text('name', row));
  }
  return out;
}

/** Calls with each row of the set that is there. */
export function eachRow({ nodes }: Scene, rows: RowSet, act: (row: number) => void): void {
  const { kind } = nodes.columns;
  for (let row = 0; row < nodes.rows; row++) if (kind[row] !== GONE && rows.has(row)) act(row);
}

/** The words that stand in a column of some rows, each once, in the order of the rows. */
export function wordsOf(nodes: NodeTable, column: 'mesh' | 'solid', rows: RowSet): string[] {
  const { kind, [column]: numbers } = nodes.columns;
  const seen = new Uint8Array(nodes.tables.words.length);
  const out: string[] = [];
  for (let row = 0; row < nodes.rows; row++) {
    const number = numbers[row];
    if (number === 0 || seen[number] === 1 || kind[row] === GONE || !rows.has(row)) continue;
    seen[number] = 1;
    out.push(nodes.tables.words.get(number));
  }
  return out;
}
