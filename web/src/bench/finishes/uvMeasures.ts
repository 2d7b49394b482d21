/** How pictures lie on the shapes of some parts, measured by a worker; figures are kept, since a mesh does not change. */
import { computed, onScopeDispose, shallowReactive, watch } from 'vue';
import type { ComputedRef } from 'vue';
import { texelsOf } from '@noble-prism/core/finish/texels';
import { factsOf } from '@noble-prism/core/scene/facts';
import { PART } from '@noble-prism/core/scene/nodes';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import type { Scene } from '@noble-prism/core/scene/types';
import type { UvAnswer, UvRequest } from '../../workers/uv.worker.ts';

/** A shape with its parts, as it is measured. */
export interface MeasuredShape {
  mesh: string;
  name: string;
  rows: number[];
  /** Absent until it is measured. */
  known?: Known;
  /** Pixels a metre; absent where it has no coordinates. */
  density?: { mean: number; least: number; most: number };
  /** No picture is there whose size is known. */
  assumed: boolean;
}
type Known = Pick<UvAnswer, 'figures' | 'failed'>;

/** More are not measured by themselves. */
export const MOST_SHAPES = 200;

const known = shallowReactive(new Map<string, Known>());
let worker: Worker | undefined;
let number = 0;

function measure(meshes: string[], set: number): void {
  if (!worker) {
    worker = new Worker(new URL('../../workers/uv.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data: { mesh, figures, failed, number: of } }: MessageEvent<UvAnswer>) => {
      if (asked.get(of) === undefined) return;
      known.set(`${asked.get(of)} ${mesh}`, { ...(figures ? { figures } : {}), ...(failed ? { failed } : {}) });
    };
  }
  const request: UvRequest = { number: ++number, meshes, set };
  asked.set(number, set);
  worker.postMessage(request);
}
/** Set by the number of the request. */
const asked = new Map<number, number>();

/** @param of scene, rows and set; shapes with most triangles first */
export function useUvMeasures(of: () => { scene: Scene; rows: RowSet; set: 0 | 1 }): ComputedRef<{ shapes: MeasuredShape[]; more: number }> {
  const shapes = computed(() => {
    const { scene, rows, set } = of();
    return { set, all: shapesOf(scene, rows, set) };
  });
  watch(
    shapes,
    ({ all, set }) => {
      const open = all.slice(0, MOST_SHAPES).filter(({ mesh }) => !known.has(`${set} ${mesh}`));
      // In tests there are no workers.
      if (open.length > 0 && typeof Worker !== 'undefined') measure(open.map(({ mesh }) => mesh), set); // prettier-ignore
    },
    { immediate: true },
  );
  // What nobody looks at any more is not measured.
  onScopeDispose(() => worker?.postMessage({ number: ++number, meshes: [], set: 0 } satisfies UvRequest));
  return computed(() => {
    const { all, set } = shapes.value;
    const shown = all.slice(0, MOST_SHAPES).map(({ perStep, ...shape }): MeasuredShape => {
      const found = known.get(`${set} ${shape.mesh}`);
      const { perMetre } = found?.figures ?? {};
      const density = perMetre && { mean: perMetre.mean * perStep, least: perMetre.least * perStep, most: perMetre.most * perStep }; // prettier-ignore
      return { ...shape, ...(found ? { known: found } : {}), ...(density ? { density } : {}) };
    });
    return { shapes: shown, more: Math.max(0, all.length - MOST_SHAPES) };
  });
} // prettier-ignore

/** Shapes of the parts among some rows, each once, with how many pixels lie on one step of its coordinates for each metre in the world. */
function shapesOf(scene: Scene, rows: RowSet, set: number): (MeasuredShape & { perStep: number })[] {
  const { nodes } = scene;
  const { kind, mesh } = nodes.columns;
  const { enlargements } = factsOf(scene);
  /** By mesh and size: the same shape at another size has its pixels otherwise. */
  const out = new Map<string, MeasuredShape & { perStep: number }>();
  for (const row of rows) {
    if (kind[row] !== PART || mesh[row] === 0) continue;
    const enlarged = enlargements[row];
    const key = `${mesh[row]} ${enlarged}`;
    const shape = out.get(key);
    if (shape) {
      shape.rows.push(row);
      continue;
    }
    const hash = nodes.word('mesh', row);
    if (!scene.meshes[hash] || scene.meshes[hash].triangles === 0) continue;
    const [material] = nodes.row(row).materials;
    const { u, v, assumed } = texelsOf(scene.materials[material] ?? {}, scene.textures, set);
    out.set(key, {
      mesh: hash,
      name: nodes.text('name', row),
      rows: [row],
      assumed,
      perStep: Math.sqrt(u * v) / enlarged,
    });
  }
  return [...out.values()].sort((a, b) => scene.meshes[b.mesh].triangles - scene.meshes[a.mesh].triangles);
}
