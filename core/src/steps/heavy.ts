/**
 * Heavy work of a step, one piece for each distinct solid or mesh: which pieces there are, under which key each is remembered, and what
 * of them is known. A kind says only what is special about its own.
 */
import type { SceneEditor } from '../scene/editor.ts';
import { factsOf } from '../scene/facts.ts';
import { hashData } from '../scene/hash.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { roundedStretch, stretchOfShapes } from '../scene/stretch.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import type { TaskInputs, TaskName, TaskOutputs } from '../tasks.ts';
import { eachRow, isFailed, namesBy, wordsOf } from './kind.ts';
import type { Lookup, Work } from './kind.ts';

export interface HeavySpec<P extends object, K extends TaskName, R> {
  /** Name of the kind, its version, and the task: parts of the key. */
  kind: string;
  version: number;
  task: K;
  /** What a piece is about. */
  of: 'solid' | 'mesh';
  /** False where nothing is to be done, at these parameters or for this shape. */
  concerns?(scene: Scene, shape: string, parameters: P): boolean;
  /** False where it cannot be done yet, and waits. */
  ready?(scene: Scene, shape: string): boolean;
  /** What the result depends on besides the shape and the limits: other shapes, by hash. */
  against?(scene: Scene, shape: string, parameters: P): string;
  /** True where limits are lengths of the job: they are made smaller by as much as the shape stands larger than it is, at most. */
  stretched?: true;
  /** What of the parameters matters for a shape. @param stretch 1 where it is not `stretched` */
  limits(parameters: P, scene: Scene, shape: string, stretch: number): unknown;
  /** What a row is called in problems; its name where nothing is said. */
  called?(scene: Scene, row: number): string;
  /** Which come first. Higher before lower. */
  weight(scene: Scene, shape: string): number;
  input(scene: Scene, shape: string, parameters: P, blobs: BlobStore, stretch: number): Promise<TaskInputs[K]>;
  /** Stores the blobs of the output and gives what is remembered. */
  keep(output: TaskOutputs[K], blobs: BlobStore, scene: Scene, shape: string): Promise<R>;
}

/** What is remembered of a piece says what it took, seconds. */
interface Timed {
  took?: number;
}

/** What becomes of the rows: of each that has a result, waits for one, or failed. */
export interface Rowwise<R> {
  made(row: number, result: R): void;
  waiting?(row: number): void;
  failed?(row: number, why: string): void;
  /** A row without such a shape; true where it will have one, and waits. */
  without?(row: number): boolean;
}

/** Keys are asked for again with each result that arrives: by parameters, which do not change, and shape. */
const keys = new WeakMap<object, Map<string, string>>();

export class Heavy<P extends object, K extends TaskName, R> {
  constructor(readonly spec: HeavySpec<P, K, R>) {}

  /** @param stretch how much larger the shape stands than it is, of the rows that the step concerns */
  key(scene: Scene, shape: string, parameters: P, stretch = 1): string {
    const { kind, version, against, limits } = this.spec;
    let known = keys.get(parameters);
    if (!known) keys.set(parameters, (known = new Map()));
    const other = against?.(scene, shape, parameters) ?? '';
    const which = `${kind} ${shape} ${other} ${stretch}`;
    let key = known.get(which);
    if (!key)
      known.set(which, (key = hashData([kind, version, shape, other, limits(parameters, scene, shape, stretch)])));
    return key;
  }

  /** All pieces for some rows, each shape once. */
  work(scene: Scene, rows: RowSet, parameters: P): Work<K>[] {
    const { spec } = this;
    const names = namesBy(scene, spec.of);
    const stretchOf = this.#stretches(scene, rows);
    // Large before small: they show most, and the last ones to finish are then the short ones.
    return wordsOf(scene.nodes, spec.of, rows)
      .filter((shape) => this.#concerns(scene, shape, parameters) && (spec.ready?.(scene, shape) ?? true))
      .map((shape) => ({ shape, weight: spec.weight(scene, shape) }))
      .sort((a, b) => b.weight - a.weight || (a.shape < b.shape ? -1 : 1))
      .map(({ shape }) => ({ shape, stretch: stretchOf(scene.nodes.tables.words.find(shape)) }))
      .map(({ shape, stretch }) => ({
        key: this.key(scene, shape, parameters, stretch),
        task: spec.task,
        label: names.get(shape) ?? spec.of,
        input: (blobs) => spec.input(scene, shape, parameters, blobs, stretch),
        keep: (output, blobs) => spec.keep(output, blobs, scene, shape),
      }));
  }

  /** Goes through rows with what is known of their shapes. Returns how many wait, and the failures in words. */
  each(
    { scene }: SceneEditor,
    rows: RowSet,
    parameters: P,
    lookup: Lookup,
    act: Rowwise<R>,
  ): { pending: number; problems: Set<string>; worked: number } {
    const { nodes } = scene;
    const { [this.spec.of]: column } = nodes.columns;
    const stretchOf = this.#stretches(scene, rows);
    const problems = new Set<string>();
    /** By the number of the shape. */
    const results = new Map<number, { concerns: boolean; result?: unknown }>();
    let pending = 0;
    let worked = 0;
    eachRow(scene, rows, (row) => {
      const number = column[row];
      if (number === 0) {
        if (act.without?.(row)) pending++;
        return;
      }
      let known = results.get(number);
      if (!known) {
        const shape = nodes.word(this.spec.of, row);
        const concerns = this.#concerns(scene, shape, parameters);
        known = {
          concerns,
          ...(concerns ? { result: lookup(this.key(scene, shape, parameters, stretchOf(number))) } : {}),
        };
        results.set(number, known);
        worked += (known.result as Timed | undefined)?.took ?? 0;
      }
      const { result } = known;
      if (!known.concerns) return;
      if (result === undefined) {
        pending++;
        act.waiting?.(row);
      } else if (isFailed(result)) {
        problems.add(`${this.called(scene, row)}: ${result.failed}`);
        act.failed?.(row, result.failed);
      } else act.made(row, result as R);
    });
    return { pending, problems, worked };
  }

  called(scene: Scene, row: number): string {
    return this.spec.called?.(scene, row) ?? scene.nodes.text('name', row);
  }

  /** By the number of a shape: how much larger it stands than it is, at most, among these rows. */
  #stretches(scene: Scene, rows: RowSet): (shape: number) => number {
    if (!this.spec.stretched) return () => 1;
    const all = stretchOfShapes(scene.nodes, this.spec.of, factsOf(scene).stretches, rows);
    return (shape) => roundedStretch(all[shape]);
  }

  #concerns(scene: Scene, shape: string, parameters: P): boolean {
    return this.spec.concerns?.(scene, shape, parameters) ?? true;
  }
}
