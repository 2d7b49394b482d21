/** One part at several settings of the tessellation, to be seen side by side before all parts are tessellated so. */
import { PrismError } from '../errors.ts';
import type { Hash, MeshFigures, Scene } from '../scene/types.ts';
import type { Step } from '../steps/kinds.ts';
import type { TessellateParameters } from '../steps/tessellate.ts';
import type { Surroundings } from '../surroundings.ts';
import { evaluate } from './evaluate.ts';
import type { SceneMemo } from './evaluate.ts';

export interface ComparedSetting {
  mesh?: Hash;
  figures?: MeshFigures;
  /** Why there is no mesh. */
  problem?: string;
}

/**
 * Tessellates the part with the given key once for each setting, after the steps given. What is computed is remembered as
 * that of a step: taking a setting afterwards does not compute the part again.
 * @throws PrismError `bad-parameters` where there is no such part with a solid
 */
export async function compareSettings(
  base: Scene,
  baseKey: string,
  steps: readonly Step[],
  part: string,
  settings: readonly TessellateParameters[],
  around: Surroundings,
  memo?: SceneMemo,
): Promise<ComparedSetting[]> {
  const out: ComparedSetting[] = [];
  for (const parameters of settings) {
    const step: Step = {
      id: 'compared',
      kind: 'tessellate',
      on: true,
      selector: { by: 'picked', keys: [part] },
      parameters,
    };
    const { scene } = await evaluate(base, baseKey, [...steps, step], around, memo);
    const node = scene.nodes.find(({ key }) => key === part);
    if (!node?.solid)
      throw new PrismError('bad-parameters', 'The part to compare is no longer there, or has no solid to tessellate.');
    out.push(
      node.mesh ? { mesh: node.mesh, figures: scene.meshes[node.mesh] } : { problem: node.problem ?? 'No triangles.' },
    );
  }
  return out;
}
