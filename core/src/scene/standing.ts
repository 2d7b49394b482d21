/** Puts rows elsewhere in the world. What is locked stays, and so does what holds something that is locked. */
import type { SceneEditor } from './editor.ts';
import { factsOf } from './facts.ts';
import { IDENTITY, invert, isIdentity, isSingular, multiply, transformPoint, translation } from './matrix.ts';
import type { Matrix, Vector } from './matrix.ts';
import { putElsewhere } from './motion.ts';
import { GONE, LOCKED } from './nodes.ts';
import { topmost } from './rehang.ts';
import type { RowSet } from './rowSet.ts';
import { counted } from '../units.ts';

export class Standing {
  /** Rows that move, none below another. */
  readonly rows: number[] = [];
  readonly #locked: number[] = [];
  #stuck = 0;

  constructor(
    readonly edit: SceneEditor,
    rows: RowSet,
  ) {
    const { scene } = edit;
    const holds = locksBelow(edit);
    for (const row of topmost(factsOf(scene), rows)) (holds?.[row] === 1 ? this.#locked : this.rows).push(row);
  }

  /** Moves a row by what is done to the world around it. */
  put(row: number, around: Matrix): void {
    if (isIdentity(around, 0)) return;
    const { parent } = this.edit.scene.nodes.columns;
    const above = parent[row] < 0 ? IDENTITY : factsOf(this.edit.scene).world(parent[row]);
    if (isSingular(above)) {
      this.#stuck++;
      return;
    }
    const before = parent[row] < 0 ? around : multiply(invert(above), multiply(around, above));
    putElsewhere(this.edit, row, { before });
  }

  get problems(): string[] {
    const { nodes } = this.edit.scene;
    const named = this.#locked.slice(0, 2).map((row) => nodes.text('name', row));
    return [
      ...(this.#locked.length > 0 ? [`${counted(this.#locked.length, 'row is locked and stays', 'rows are locked and stay')}: ${named.join(', ')}${this.#locked.length > 2 ? ' …' : ''}.`] : []),
      ...(this.#stuck > 0 ? [`${counted(this.#stuck, 'row stays', 'rows stay')}: something above has a scale of zero.`] : []),
    ]; // prettier-ignore
  }
}

/** 1 for each row that is locked, or holds something that is; nothing where nothing is locked. */
function locksBelow({ scene }: SceneEditor): Uint8Array | undefined {
  const { flags, parent, kind } = scene.nodes.columns;
  let out: Uint8Array | undefined;
  for (let row = 0; row < flags.length; row++) {
    if ((flags[row] & LOCKED) === 0 || kind[row] === GONE) continue;
    out ??= new Uint8Array(flags.length);
    for (let at = row; at >= 0 && out[at] === 0; at = parent[at]) out[at] = 1;
  }
  return out;
}

/** What is done about a point instead of the origin. */
export function about(point: Vector, done: Matrix): Matrix {
  const moved = transformPoint(done, point);
  return multiply(translation([point[0] - moved[0], point[1] - moved[1], point[2] - moved[2]]), done);
}
