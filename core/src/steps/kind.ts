/** What a kind of step is. Each kind is one file in this folder, entered in `kinds.ts`. */
import type { ObjectSchema } from 'yup';
import { schemaOfFields } from '../fields/field.ts';
import type { Fields } from '../fields/field.ts';
import type { Measured } from '../measure/kept.ts';
import type { SceneChange } from '../scene/change.ts';
import { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import { GONE } from '../scene/nodes.ts';
import type { NodeTable } from '../scene/nodes.ts';
import { Rows } from '../scene/rowSet.ts';
import type { RowSet } from '../scene/rowSet.ts';
import type { Scene } from '../scene/types.ts';
import type { Selector } from '../select/selector.ts';
import type { TaskInputs, TaskName, TaskOutputs } from '../tasks.ts';
import type { BlobStore } from '../surroundings.ts';
import type { StepStation } from './stations.ts';

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
  /** What it found out, for people: nothing is wrong with it. */
  notes?: string[];
  /** What it measured. */
  measured?: Measured;
  /** Seconds that its heavy work took, each piece once. */
  worked?: number;
}

/** What of the rows that a rule names is counted, as the step concerns it. */
export type Counted = 'parts' | 'assemblies' | 'rows' | 'sources';

/** What a kind of step says of itself; see `defineStep`. */
export interface StepSpec<P extends object> {
  readonly kind: string;
  /** Name for people. */
  readonly title: string;
  /** What it does, in a sentence: for the finder of actions, help and the manual. */
  readonly purpose: string;
  /** Other words that people look for it by. */
  readonly also?: readonly string[];
  /** Words of the button that adds one; `Add step` where nothing is said. */
  readonly act?: string;
  /** True where a new one is begun at the thing that it concerns (a source), not by a form of its own. */
  readonly begunThere?: boolean;
  /** Where it is edited. */
  readonly station: StepStation;
  /** Heading that it stands under there, where the station has several. */
  readonly topic?: string;
  /**
   * Where it stands in the usual order. What is said of a source, and its tessellation, have a place below `WHEREVER`: a new step
   * goes behind those that have the same or a lower one.
   */
  readonly place: number;
  /** Kinds that a new one stands before, wherever it would go otherwise. */
  readonly before?: readonly string[];
  /** Raised when the same parameters begin to give another result. */
  readonly version: number;
  /**
   * Ways up for parameters that an older program saved: the first from format 1 to 2, and so on. The format of the parameters is one
   * more than there are ways.
   */
  readonly upgrades?: readonly ((parameters: Record<string, unknown>) => Record<string, unknown>)[];
  readonly needs: Needs;
  /** What can be set, in the order of the form. */
  readonly fields: Fields<P>;
  /** What is wrong with parameters that each are right; nothing where they are right together too. */
  check?(parameters: P): string | undefined;
  readonly defaults: P;
  /** One as it is used, for the manual, where the defaults and everything say too little. */
  readonly example?: { selector?: Selector; parameters?: P };
  /** The parameters in a few words with units, for the list of steps. */
  summary(parameters: P): string;
  /** The parameters with the rules that they hold replaced: of kinds that name rows in their parameters too. */
  mapRules?(parameters: P, replace: (rule: Selector) => Selector): P;
  /** The same for keys of rows that they hold, and that no field of a type of its own holds. */
  mapKeys?(parameters: P, replace: (key: string) => string): P;
  /** True where it concerns the job as a whole, or says itself what it concerns: no rule is asked for. */
  whole?(parameters: P): boolean;
  /** True where what it says stands beside the rows, of which it changes none. */
  readonly beside?: true;
  /** What the rule counts; parts where nothing is said. */
  counts?(parameters: P): Counted;
  /** What people have to know before they apply it, in sentences: what it gives up, and what it cannot do. */
  beforehand?(scene: Scene, rows: RowSet, parameters: P): string[];
  /** True where a step replaces all that an earlier one of the kind did to the same parts: its work for them is saved. */
  readonly replaces?: boolean;
  /** True where the rows that a rule names are meant themselves, without what is below them. */
  themselves?(parameters: P): boolean;
  /** False where these parameters need none of the heavy work that the kind may do; absent for kinds that always do it, or never. */
  needsWork?(parameters: P): boolean;
  /** Heavy work that `apply` will look up. Absent for steps that need the manifest only. */
  work?(scene: Scene, rows: RowSet, parameters: P): Work[];
  /** Says in the editor what is to be different. Pure and immediate: what is not known yet stays as it is and counts as pending. */
  apply(edit: SceneEditor, rows: RowSet, parameters: P, lookup: Lookup): Outcome;
}

/** A kind of step: what it says of itself, and what follows from that. */
export interface StepKind<P extends object = object> extends StepSpec<P> {
  /** The check of parameters that come in. */
  readonly schema: ObjectSchema<P>;
  /** Format of the parameters, from 1. */
  readonly format: number;
}

/** Most steps go behind all others; but what is measured is measured behind everything, so that it says how things are in the end. */
export const WHEREVER = 200;
export const AT_THE_END = 300;

export function defineStep<P extends object>(spec: StepSpec<P>): StepKind<P> {
  const schema = schemaOfFields(spec.fields, spec.check);
  return { ...spec, schema, format: (spec.upgrades?.length ?? 0) + 1 };
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
  if (rows instanceof Rows) {
    const { mask } = rows;
    for (let row = 0; row < mask.length; row++) if (mask[row] === 1 && kind[row] !== GONE) act(row);
  } else for (let row = 0; row < nodes.rows; row++) if (kind[row] !== GONE && rows.has(row)) act(row);
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
