/**
 * Points of steps that were picked on parts: whether what they were picked by is there still. A new revision may have the part under the
 * same name with another shape; what is placed by the point would go somewhere that nobody meant, and nobody would see it.
 */
import { factsOf } from '../scene/facts.ts';
import { hashData } from '../scene/hash.ts';
import { geometryPlace } from '../scene/spot.ts';
import type { Spot } from '../scene/spot.ts';
import type { Scene } from '../scene/types.ts';
import { unitOf } from '../scene/unitOf.ts';
import type { Landmark } from '../measure/landmark.ts';
import { stretchOf } from '../measure/stretch.ts';
import type { LandmarksOutput } from '../mesh/landmarks.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import { formatLength } from '../units.ts';
import { isFailed } from './kind.ts';
import type { Lookup, StepKind, Work } from './kind.ts';

const VERSION = 1;
/** Shares of the size that they may be off: corners stay where they are, faces come in other triangles. */
const OFF: Record<Landmark['of'], number> = { corner: 1e-4, edge: 2e-3, face: 5e-3 };

/** A spot whose part has another mesh than the one that it was picked on. */
interface Doubtful {
  label: string;
  spot: Spot;
  by: NonNullable<Spot['by']>;
  row: number;
  mesh: string;
}

/** The points of a step, as far as they are asked for, with their labels. */
function spotsOf({ fields }: StepKind, parameters: object): { label: string; spot: Spot }[] {
  return Object.entries(fields).flatMap(([name, field]) => {
    const spot = (parameters as Record<string, unknown>)[name] as Spot | undefined;
    return field.type === 'spot' && spot && field.when?.(parameters) !== false ? [{ label: field.label, spot }] : [];
  });
}

/** Whether it has to be looked at which shapes its parts have. */
export const hasLandmarks = (kind: StepKind, parameters: object): boolean =>
  spotsOf(kind, parameters).some(({ spot }) => spot.by);

function doubtful(scene: Scene, kind: StepKind, parameters: object): Doubtful[] {
  return spotsOf(kind, parameters).flatMap(({ label, spot }) => {
    const row = spot.on === undefined ? undefined : factsOf(scene).rowOf(spot.on);
    const mesh = row === undefined ? '' : scene.nodes.word('mesh', row);
    // What is not there is said by the step itself; what is not tessellated yet is looked at when it is.
    if (!spot.by || row === undefined || !mesh || mesh === spot.by.mesh) return [];
    return [{ label, spot, by: spot.by, row, mesh }];
  });
}

const keyOf = ({ mesh, by }: Doubtful) => hashData(['landmarks', VERSION, mesh, by.landmarks]);

/** Looking for the landmarks of a step on the meshes that its parts have now. */
export function landmarkWork(scene: Scene, kind: StepKind, parameters: object): Work[] {
  return doubtful(scene, kind, parameters).map((one): Work<'landmarks'> => ({
    key: keyOf(one),
    task: 'landmarks',
    label: scene.nodes.text('name', one.row),
    async input(blobs) {
      const { positions, indices, edges } = unpackMesh(await blobs.get(one.mesh));
      return { shape: { positions, indices, edges }, landmarks: one.by.landmarks };
    },
    keep: async (found) => found,
  }));
}

/** Which points of a step were picked by what is gone, in sentences; nothing of what is not known yet. */
export function lostLandmarks(scene: Scene, kind: StepKind, parameters: object, lookup: Lookup): string[] {
  return doubtful(scene, kind, parameters).flatMap((one) => {
    const found = lookup(keyOf(one)) as LandmarksOutput | undefined;
    if (!found || isFailed(found)) return [];
    const { exact, deviation } = scene.meshes[one.mesh];
    const { stretch } = stretchOf(geometryPlace(scene, one.row));
    const off = one.by.landmarks.map(({ of }, i) => {
      const allowed = found.size * OFF[of] + ((of === 'face' && exact?.max) || 0) + 2 * (deviation?.max ?? 0);
      return found.away[i] > allowed ? found.away[i] : 0;
    });
    const worst = Math.max(0, ...off) * stretch;
    if (worst === 0) return [];
    const name = scene.nodes.text('name', one.row);
    return `${one.label}: what was picked on ${name} (${one.spot.what ?? 'point'}) is no longer there; the nearest is ${formatLength(worst, unitOf(scene), 2)} away. Pick it anew.`;
  });
}
