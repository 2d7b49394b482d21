/** The distinct assets of a scene, each a shape with its materials and those of its variants, as scenes of their own that hold one part where it is modelled. */
import { factsOf } from '../scene/facts.ts';
import { NodeWriter } from '../scene/nodeWriter.ts';
import type { Scene, SceneNode } from '../scene/types.ts';
import { PrismError } from '../errors.ts';
import { formatCount } from '../units.ts';
import { safeFileName } from '../transmit/fileNames.ts';

export interface Asset {
  /** Of its folder and its files: that of the first part that shows it, numbered where others are called the same. */
  name: string;
  /** The first part that shows it. */
  node: SceneNode;
  /** One part, at no place. */
  scene: Scene;
}

/** Folder that theirs lie in. */
export const ASSETS = 'assets/';

/** More folders than anybody opens. */
const MOST = 5000;

/** Two parts show the same geometry where their meshes are the same and stand alike about their pivots. */
export function geometryKey({ mesh, offset }: SceneNode): string {
  return `${mesh} ${offset?.join(' ') ?? ''}`;
}

/** Two parts show the same asset where their materials are the same too. */
export function assetKey(node: SceneNode): string {
  return `${geometryKey(node)} ${node.materials.join(' ')} ${JSON.stringify(node.variants ?? '')}`;
}

/** @throws PrismError `too-large` for more than can be meant */
export function assetsOf(scene: Scene): Asset[] {
  const assets = new Map<string, Asset>();
  const taken = new Set<string>();
  for (const row of factsOf(scene).order) {
    const node = scene.nodes.row(row);
    if (!node.mesh) continue;
    const key = assetKey(node);
    if (assets.has(key)) continue;
    const name = unused(safeFileName(node.name), taken);
    assets.set(key, { name, node, scene: alone(scene, node) });
  }
  if (assets.size > MOST)
    throw new PrismError('too-large', `There would be ${formatCount(assets.size)} folders, one for each distinct asset; at most ${formatCount(MOST)} are written.`); // prettier-ignore
  return [...assets.values()];
}

/** Told apart without the case of letters, for file systems that do not tell it. */
function unused(name: string, taken: Set<string>): string {
  let own = name;
  for (let n = 2; taken.has(own.toLowerCase()); n++) own = `${name}_${n}`;
  taken.add(own.toLowerCase());
  return own;
}

function alone(scene: Scene, { name, mesh, offset, materials, variants, source }: SceneNode): Scene {
  const rows = new NodeWriter(source);
  rows.add({ name, kind: 'part', mesh, materials, ...(offset ? { offset } : {}), ...(variants ? { variants } : {}) }); // prettier-ignore
  return { ...scene, nodes: rows.table(), layers: [], animations: {} };
}
