/** Step: the finish schedule. Layers, colours and names are assigned materials; the last matching rule wins. */
import { array, object, string } from 'yup';
import { LIBRARY, libraryMaterial } from '../finish/library.ts';
import { nameMatcher } from '../preparation/selector.ts';
import type { Material, Scene, SceneNode } from '../scene/types.ts';
import { changeNodes } from './kind.ts';
import type { StepKind } from './kind.ts';

export interface FinishRule {
  /** By `name` is the name at this step, by `received` the name in the source. */
  by: 'layer' | 'colour' | 'name' | 'received';
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
    .oneOf(['layer', 'colour', 'name', 'received'] as const)
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
  version: 2,
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
      const isName = rule.by === 'name' || rule.by === 'received';
      return [{ rule, caught: 0, matchesName: isName ? nameMatcher(rule.match) : undefined }];
    });
    const result = changeNodes(scene, nodes, (node) => {
      if (node.kind !== 'part') return node;
      const next = node.materials.slice();
      // A slot that no triangle has shows nothing: a rule about its colour finds nothing there.
      const shown = node.mesh ? scene.meshes[node.mesh].slots : undefined;
      const isShown = (slot: number) => !shown || shown.length === 0 || (shown[slot] ?? 0) > 0;
      for (const test of tests) {
        const { rule, matchesName } = test;
        const name = rule.by === 'received' ? (node.received ?? node.name) : node.name;
        if ((rule.by === 'layer' && node.layer === rule.match) || matchesName?.(name)) {
          next.fill(rule.material);
          test.caught++;
        } else if (rule.by === 'colour')
          node.materials.forEach((id, slot) => {
            if (id !== rule.match || !isShown(slot)) return;
            next[slot] = rule.material;
            test.caught++;
          });
      }
      return sameList(next, node) ? node : { ...node, materials: next };
    });
    const idle = tests
      .filter(({ caught }) => caught === 0)
      .map(({ rule }) => `${WORDS[rule.by]} ${labelOf(rule, scene)} is on no part.`);
    return {
      scene: result.changed > 0 ? { ...result.scene, materials } : scene,
      changed: result.changed,
      pending: 0,
      problems: [...problems, ...idle],
    };
  },
};

const WORDS = { layer: 'Layer', colour: 'Colour', name: 'The name', received: 'The name as received' };

/** A colour is called by its id in a rule, and by its name for people. */
function labelOf({ by, match }: FinishRule, { materials }: Scene): string {
  return by === 'colour' ? (materials[match]?.name.replace(/^Colour /, '') ?? match) : match;
}

function sameList(next: string[], node: SceneNode): boolean {
  return next.every((id, slot) => id === node.materials[slot]);
}
