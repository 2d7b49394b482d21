/** Step: the finish schedule. Layers, colours and names are assigned materials; the last matching rule wins. */
import { array, object, string } from 'yup';
import { LIBRARY, libraryMaterial } from '../finish/library.ts';
import { nameMatcher } from '../preparation/selector.ts';
import type { Material, SceneNode } from '../scene/types.ts';
import { changeNodes } from './kind.ts';
import type { StepKind } from './kind.ts';

export interface FinishRule {
  by: 'layer' | 'colour' | 'name';
  /** Name of the layer, id of the colour as received, or a pattern for names. */
  match: string;
  /** Id of a library material. */
  material: string;
}

export interface FinishesParameters {
  rules: FinishRule[];
}

export const finishRuleSchema = object({
  by: string()
    .oneOf(['layer', 'colour', 'name'] as const)
    .required(),
  match: string().required().max(1100),
  material: string()
    .required()
    .oneOf(
      LIBRARY.map((material) => material.id),
      'There is no such material in the library.',
    ),
});

export const finishesStep: StepKind<FinishesParameters> = {
  kind: 'finishes',
  title: 'Finishes',
  version: 1,
  needs: 'manifest',
  schema: object({ rules: array(finishRuleSchema).required().max(5000) }),
  defaults: { rules: [] },

  summary: ({ rules }) => `${rules.length} ${rules.length === 1 ? 'rule' : 'rules'}`,

  apply(scene, nodes, { rules }) {
    const materials: Record<string, Material> = { ...scene.materials };
    const problems: string[] = [];
    const tests = rules.flatMap((rule) => {
      const material = libraryMaterial(rule.material);
      if (!material) {
        problems.push(`${rule.match}: material ${rule.material} is not in the library.`);
        return [];
      }
      materials[material.id] = material;
      return [{ rule, matchesName: rule.by === 'name' ? nameMatcher(rule.match) : undefined }];
    });
    const result = changeNodes(scene, nodes, (node) => {
      if (node.kind !== 'part') return node;
      const next = node.materials.slice();
      for (const { rule, matchesName } of tests) {
        if (rule.by === 'layer' && node.layer === rule.match) next.fill(rule.material);
        else if (matchesName?.(node.name)) next.fill(rule.material);
        else if (rule.by === 'colour')
          node.materials.forEach((id, slot) => id === rule.match && (next[slot] = rule.material));
      }
      return sameList(next, node) ? node : { ...node, materials: next };
    });
    return { scene: { ...result.scene, materials }, changed: result.changed, pending: 0, problems };
  },
};

function sameList(next: string[], node: SceneNode): boolean {
  return next.every((id, slot) => id === node.materials[slot]);
}
