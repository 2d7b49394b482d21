/** Makes of a prepared scene what a target asks for: what it leaves out, its structure, names, pivots, pictures, axis and unit. */
import { join } from '../../mesh/join.ts';
import type { JoinInput } from '../../mesh/join.ts';
import { baked, inUnit, rigid, turnedUp, unskewed } from '../../scene/basis.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { factsOf } from '../../scene/facts.ts';
import { GONE } from '../../scene/nodes.ts';
import { Rows } from '../../scene/rowSet.ts';
import type { RowSet } from '../../scene/rowSet.ts';
import { timed } from '../../scene/timed.ts';
import type { Scene } from '../../scene/types.ts';
import { joinStep } from '../../steps/join.ts';
import { applyStep } from '../../steps/kind.ts';
import type { BlobStore, PictureCodec, Workbench } from '../../surroundings.ts';
import { LENGTH_UNITS } from '../../units.ts';
import { isEmpty } from '../../write/aspects.ts';
import type { Writer } from '../../write/writer.ts';
import { sceneIn } from '../coordinates.ts';
import { flattened } from './flattened.ts';
import { sentOf } from './leftOut.ts';
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
  const sent = sentOf(prepared, settings, writer, options.rows);
  let scene = settings.movements === 'left' ? withoutMovements(sent) : sent;
  scene = await timed(sceneIn(scene, settings.coordinates), blobs, settings);
  if (settings.hierarchy === 'assembly' && writer.structure === 'tree') scene = await collapsed(scene, blobs, options);
  if (settings.hierarchy === 'flat' || writer.structure !== 'tree') scene = await flattened(scene, blobs);
  if (settings.pivots === 'baked' || writer.places === 'baked') scene = baked(withoutMovements(scene, writer));
  if (writer.places === 'rigid') scene = rigid(withoutMovements(scene, writer));
  if (writer.skewless) scene = unskewed(scene);
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
