/** Makes of a prepared scene what a target asks for: what it leaves out, its structure, names, pivots, pictures, axis and unit. */
import { join } from '../../mesh/join.ts';
import type { JoinInput } from '../../mesh/join.ts';
import { baked, inUnit, rigid, turnedUp } from '../../scene/basis.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { factsOf } from '../../scene/facts.ts';
import { ASSEMBLY, CAMERA, GONE, LIGHT } from '../../scene/nodes.ts';
import { Rehanging } from '../../scene/rehang.ts';
import { Rows } from '../../scene/rowSet.ts';
import type { RowSet } from '../../scene/rowSet.ts';
import { timed } from '../../scene/timed.ts';
import type { MeshFigures, Scene } from '../../scene/types.ts';
import { select } from '../../select/select.ts';
import { joinStep } from '../../steps/join.ts';
import { applyStep } from '../../steps/kind.ts';
import { leaveOutStep } from '../../steps/leaveOut.ts';
import type { BlobStore, PictureCodec, Workbench } from '../../surroundings.ts';
import { LENGTH_UNITS } from '../../units.ts';
import { isEmpty } from '../../write/aspects.ts';
import type { Carries } from '../../write/aspects.ts';
import type { Writer } from '../../write/writer.ts';
import { sceneIn } from '../coordinates.ts';
import { namedFor } from './names.ts';
import { picturesFor } from './pictures.ts';
import type { TargetSettings } from './target.ts';
import { wayOf } from './target.ts';

export interface Arranged {
  /** As it is compared: in metres. */
  scene: Scene;
  /** As it is written: in the unit of the files. */
  written: Scene;
}

export interface ArrangeOptions {
  pictures?: PictureCodec;
  workbench?: Workbench;
  signal?: AbortSignal;
  /** Only these rows, with what is above them. */
  rows?: RowSet;
}

export async function arrange(
  prepared: Scene,
  blobs: BlobStore,
  settings: TargetSettings,
  writer: Writer,
  options: ArrangeOptions = {},
): Promise<Arranged> {
  const { unit, up } = wayOf(settings, writer);
  let scene = withoutOthers(prepared, settings, writer, options.rows);
  scene = await timed(sceneIn(scene, settings.coordinates), blobs, settings);
  if (settings.hierarchy === 'assembly' && writer.structure === 'tree') scene = await collapsed(scene, blobs, options);
  if (settings.hierarchy === 'flat' || writer.structure !== 'tree') scene = flattened(scene);
  if (settings.pivots === 'baked' || writer.places === 'baked') scene = baked(withoutMovements(scene, writer));
  if (writer.places === 'rigid') scene = rigid(withoutMovements(scene, writer));
  if (writer.exact) scene = withoutMeshes(scene);
  if (!writer.carries.empties) scene = withoutEmpties(scene);
  scene = namedFor(scene, settings.names, writer);
  scene = await picturesFor(scene, blobs, settings, options.pictures);
  if (!isZUp(prepared)) scene = turnedUp(scene, up);
  return { scene, written: inUnit(scene, LENGTH_UNITS[unit]) };
}

/** Nothing has turned it: all of it lies as programs with z up have it. */
export function isZUp({ sources }: Scene): boolean {
  return sources.length > 0 && sources.every((source) => source.up === 'z');
}

/** Without what is not to be sent, and without rows that would hold nothing, as the format has no place for what they hold. */
function withoutOthers(scene: Scene, settings: TargetSettings, { carries }: Writer, piece?: RowSet): Scene {
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
  const left = rows.size > 0 ? applyStep(leaveOutStep, scene, rows, {}).scene : scene;
  return settings.movements === 'left' ? withoutMovements(left) : left;
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

/** At rest, where the target wants no movements or the format has no places that could move. */
function withoutMovements(scene: Scene, writer?: Writer): Scene {
  if (writer && writer.places === 'own') return scene;
  const edit = new SceneEditor(scene);
  const { extras, kind } = scene.nodes.columns;
  for (let row = 0; row < scene.nodes.rows; row++)
    if (kind[row] !== GONE && scene.nodes.tables.extras[extras[row]].motion) edit.setExtras(row, { motion: undefined });
  return edit.finish().scene;
}

/** One part for each assembly that has several. */
async function collapsed(scene: Scene, blobs: BlobStore, { workbench, signal }: ArrangeOptions): Promise<Scene> {
  const all = Rows.of(
    scene.nodes.rows,
    scene.nodes.map(({ id }) => id),
  );
  const parameters = { name: '{parent}', each: 'assembly' } as const;
  const known = new Map<string, unknown>();
  for (const work of joinStep.work?.(scene, all, parameters) ?? []) {
    signal?.throwIfAborted();
    const input = (await work.input(blobs)) as JoinInput;
    const output = workbench ? await workbench.run('join', input, signal) : await join(input);
    known.set(work.key, await work.keep(output, blobs));
  }
  return applyStep(joinStep, scene, all, parameters, (key) => known.get(key)).scene;
}

/** Only what is an exact solid, and not what was made of it. */
function withoutMeshes(scene: Scene): Scene {
  const edit = new SceneEditor(scene);
  const { kind, mesh } = scene.nodes.columns;
  for (let row = 0; row < scene.nodes.rows; row++) if (kind[row] !== GONE && mesh[row] > 0) edit.setMesh(row, undefined);
  return edit.finish().scene;
} // prettier-ignore

/** Without rows that show nothing, and have nothing below them that does. */
function withoutEmpties(scene: Scene): Scene {
  const edit = new SceneEditor(scene);
  const { order } = factsOf(scene);
  const { parent } = scene.nodes.columns;
  const kept = new Uint8Array(scene.nodes.rows);
  for (let i = order.length - 1; i >= 0; i--) {
    const row = order[i];
    if (kept[row] === 0 && isEmpty(scene.nodes.row(row))) edit.remove(row);
    else if (parent[row] >= 0) kept[parent[row]] = 1;
  }
  return edit.finish().scene;
}

/** Parts, cameras and lights beside each other where they stand, without the assemblies. */
function flattened(scene: Scene): Scene {
  const edit = new SceneEditor(scene);
  const hanging = new Rehanging(edit);
  const { kind, parent } = scene.nodes.columns;
  const { order } = factsOf(scene);
  for (const row of order) {
    if (kind[row] === ASSEMBLY) edit.remove(row);
    else if (parent[row] >= 0) hanging.hang(row, -1);
  }
  const { scene: made } = edit.finish();
  return made;
}
