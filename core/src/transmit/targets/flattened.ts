/** Parts, cameras and lights beside each other where they stand, without the assemblies; what moved above them moves them. */
import { SceneEditor } from '../../scene/editor.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { keysOf, placeAt, trackOfPlaces } from '../../scene/motion.ts';
import type { AnimationKeys, Track } from '../../scene/motion.ts';
import { ASSEMBLY, GONE } from '../../scene/nodes.ts';
import { Rehanging } from '../../scene/rehang.ts';
import { breaksOf, byParts, timesWithin } from '../../scene/sampling.ts';
import type { AnimationInfo, Motion, Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';

export async function flattened(scene: Scene, blobs: BlobStore): Promise<Scene> {
  const carried = await carriedBy(scene, blobs);
  const edit = new SceneEditor(scene);
  const hanging = new Rehanging(edit);
  const { kind, parent } = scene.nodes.columns;
  for (const row of factsOf(scene).order) {
    if (kind[row] === ASSEMBLY) edit.remove(row);
    else if (carried.motions.has(row)) {
      edit.setParent(row, null);
      edit.setTransform(row, factsOf(scene).world(row));
      edit.setExtras(row, { motion: carried.motions.get(row) });
    } else if (parent[row] >= 0) hanging.hang(row, -1);
  }
  edit.setAnimations(carried.animations);
  return edit.finish().scene;
}

interface Carried {
  /** Of rows that stay, below others that move: how they move in the world. */
  motions: Map<number, Motion>;
  /** With their movements among those that were there. */
  animations: Record<string, AnimationInfo>;
}

/** Rows that something above them moves. Their way is no more a movement by keys, so it is sampled as near as others are. */
async function carriedBy(scene: Scene, blobs: BlobStore): Promise<Carried> {
  const facts = factsOf(scene);
  const motions = new Map<number, Motion>();
  const animations: Record<string, AnimationInfo> = {};
  const chains = chainsIn(scene);
  for (const row of chains.keys()) motions.set(row, { tracks: {}, rest: facts.world(row) });
  if (motions.size === 0) return { motions, animations };
  for (const [id, keys] of await keysOf(scene, blobs)) {
    const tracks = [...keys.tracks];
    for (const [row, chain] of chains) {
      const moving = chain.filter(({ motion }) => motion?.tracks[id] !== undefined);
      if (moving.length > 0) motions.get(row)!.tracks[id] = tracks.push(wayOf(chain, id, keys)) - 1;
    }
    if (tracks.length === keys.tracks.length) continue;
    const blob = await blobs.put(new TextEncoder().encode(JSON.stringify({ tracks } satisfies AnimationKeys)));
    animations[id] = { ...scene.animations[id], keys: blob };
  }
  return { motions, animations };
}

/** One after the other from the top: what stands still, gathered, and what moves. */
interface Link {
  place: Matrix;
  motion?: Motion;
}

/** Of each row that stays and has something above it that moves: all from the top down to the row itself. */
function chainsIn({ nodes }: Scene): Map<number, Link[]> {
  const { kind, parent, extras } = nodes.columns;
  const motionOf = (row: number) => nodes.tables.extras[extras[row]].motion;
  const out = new Map<number, Link[]>();
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === ASSEMBLY || kind[row] === GONE) continue;
    let isCarried = false;
    for (let above = parent[row]; above >= 0; above = parent[above]) isCarried ||= motionOf(above) !== undefined;
    if (!isCarried) continue;
    const chain: Link[] = [];
    for (let at = row; at >= 0; at = parent[at]) {
      const motion = motionOf(at);
      const [next] = chain;
      if (motion) chain.unshift({ place: nodes.place(at), motion });
      else if (next && !next.motion) next.place = multiply(nodes.place(at), next.place);
      else chain.unshift({ place: nodes.place(at) });
    }
    out.set(row, chain);
  }
  return out;
}

function wayOf(chain: readonly Link[], id: string, { tracks }: AnimationKeys): Track {
  const trackOf = ({ motion }: Link) => (motion?.tracks[id] === undefined ? undefined : tracks[motion.tracks[id]]);
  const at = (time: number) =>
    chain.reduce((world, link) => {
      const track = trackOf(link);
      return multiply(world, track ? placeAt(link.motion as Motion, track, time) : link.place);
    }, IDENTITY);
  const breaks = [...new Set(chain.flatMap((link) => breaksOf(trackOf(link) ?? {})))].sort((a, b) => a - b);
  const times = timesWithin(breaks, at, byParts);
  return trackOfPlaces(times, times.map(at));
}
