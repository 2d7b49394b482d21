/** What of a scene a target sends: what it names, without what it leaves out and what its format has no place for. */
import { factsOf } from '../../scene/facts.ts';
import { CAMERA, LIGHT } from '../../scene/nodes.ts';
import { Rows } from '../../scene/rowSet.ts';
import type { RowSet } from '../../scene/rowSet.ts';
import type { MeshFigures, Scene } from '../../scene/types.ts';
import { select } from '../../select/select.ts';
import { applyStep } from '../../steps/kind.ts';
import { leaveOutStep } from '../../steps/leaveOut.ts';
import type { Carries } from '../../write/aspects.ts';
import type { Writer } from '../../write/writer.ts';
import type { TargetSettings } from './target.ts';

/** Without what is not to be sent, and without rows that would hold nothing, as the format has no place for what they hold. */
export function sentOf(scene: Scene, settings: TargetSettings, { carries }: Writer, piece?: RowSet): Scene {
  const { nodes } = scene;
  const { kind, mesh } = nodes.columns;
  const gone: number[] = [];
  for (let row = 0; row < nodes.rows; row++) {
    const isLeft =
      (kind[row] === CAMERA && (settings.cameras === 'left' || !carries.cameras)) ||
      (kind[row] === LIGHT && (settings.lights === 'left' || !carries.lights)) ||
      (mesh[row] > 0 && isLeftOut(scene.meshes[nodes.word('mesh', row)], settings, carries));
    if (isLeft && factsOf(scene).childrenOf(row).length === 0) gone.push(row);
  }
  const named = settings.without ? select(scene, settings.without) : [];
  const others = settings.only ? othersThan(scene, select(scene, settings.only)) : [];
  const elsewhere = piece ? othersThan(scene, piece, true) : [];
  const rows = Rows.of(nodes.rows, [...gone, ...named, ...others, ...elsewhere]);
  return rows.size > 0 ? applyStep(leaveOutStep, scene, rows, {}).scene : scene;
}

/** What of a scene a piece of it is about, with what the target leaves out of it. */
export function pieceOf(scene: Scene, piece: RowSet): Scene {
  const rows = Rows.of(scene.nodes.rows, othersThan(scene, piece, true));
  return rows.size > 0 ? applyStep(leaveOutStep, scene, rows, {}).scene : scene;
}

/** Rows that are neither among some, nor above any of them, nor, but where they stand for themselves, below. */
function othersThan(scene: Scene, some: RowSet, themselves = false): number[] {
  const { order } = factsOf(scene);
  const { parent } = scene.nodes.columns;
  const kept = new Uint8Array(scene.nodes.rows);
  for (const row of order)
    if (some.has(row) || (!themselves && parent[row] >= 0 && kept[parent[row]] === BELOW)) kept[row] = BELOW;
  for (let i = order.length - 1; i >= 0; i--) {
    const above = parent[order[i]];
    if (kept[order[i]] > 0 && above >= 0 && kept[above] === 0) kept[above] = ABOVE;
  }
  return [...order].filter((row) => kept[row] === 0);
}

const [BELOW, ABOVE] = [1, 2];

/** Lines and points that the target leaves out, or that the format has no place for. */
function isLeftOut({ triangles, vertices }: MeshFigures, { lines }: TargetSettings, carries: Carries): boolean {
  return triangles === 0 && (lines === 'left' || !carries[vertices > 0 ? 'points' : 'lines']);
}
