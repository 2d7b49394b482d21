/** Step: the finish schedule. Layers, colours and names are assigned materials; the last matching rule wins. */
import { array, object, string } from 'yup';
import { LIBRARY, libraryMaterial } from '../finish/library.ts';
import { nameTest } from '../select/patterns.ts';
import { PART } from '../scene/nodes.ts';
import { counted } from '../units.ts';
import type { Material, Scene } from '../scene/types.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

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

export const finishesStep = defineStep<FinishesParameters>({
  kind: 'finishes',
  title: 'Finishes',
  purpose: 'The finish schedule: gives layers, colours and names their materials; the last rule that matches wins.',
  also: ['material', 'appearance', 'colour', 'schedule', 'assign'],
  station: 'finishes',
  place: WHEREVER,
  version: 2,
  needs: 'manifest',
  fields: {
    rules: {
      type: 'own',
      label: 'Rules',
      schema: array(finishRuleSchema).required('The rules are missing.').max(5000),
      written:
        'a list of `{ "by": "layer", "match": "MACHINE", "material": "lib:cast-iron" }`, at most 5000; `by` is `layer`, `colour`, `name` or `received`',
    },
  },
  defaults: { rules: [] },

  summary: ({ rules }) => counted(rules.length, 'rule'),

  apply(edit, rows, { rules }) {
    const { scene } = edit;
    const { nodes } = scene;
    const { kind, name, received, layer, materials, mesh } = nodes.columns;
    const { texts, words, lists } = nodes.tables;
    const assigned: Record<string, Material> = {};
    const problems: string[] = [];
    const tests = rules.flatMap((rule): Test[] => {
      const material = libraryMaterial(rule.material);
      if (!material) {
        problems.push(`${rule.match}: material ${rule.material} is not in the library.`);
        return [];
      }
      assigned[material.id] = material;
      const isName = rule.by === 'name' || rule.by === 'received';
      return [
        {
          rule,
          caught: 0,
          // A word that is nowhere in the scene matches nothing; 0 would match what has none.
          word: isName ? -1 : words.find(rule.match),
          matches: isName ? nameTest(texts, rule.match) : undefined,
        },
      ];
    });
    // Slots that no triangle has show nothing: a rule about their colour finds nothing there.
    const shownOf: (readonly number[] | undefined)[] = [];
    const isShown = (row: number, slot: number) => {
      if (mesh[row] === 0) return true;
      const shown = (shownOf[mesh[row]] ??= scene.meshes[words.get(mesh[row])].slots);
      return shown.length === 0 || (shown[slot] ?? 0) > 0;
    };
    const filled = new Map<string, number>();
    eachRow(scene, rows, (row) => {
      if (kind[row] !== PART) return;
      const list = lists.get(materials[row]);
      /** The rule that won everywhere, as long as no colour of a single slot won after it. */
      let whole: FinishRule | undefined;
      let single: string[] | undefined;
      for (const test of tests) {
        const { rule, matches, word } = test;
        if (rule.by === 'colour') {
          for (let slot = 0; slot < list.length; slot++) {
            if (list[slot] !== word || !isShown(row, slot)) continue;
            single ??= list.map((id) => (whole ? whole.material : words.get(id)));
            single[slot] = rule.material;
            test.caught++;
          }
        } else if (
          rule.by === 'layer'
            ? word > 0 && layer[row] === word
            : matches?.(rule.by === 'name' ? name[row] : received[row])
        ) {
          whole = rule;
          single = undefined;
          test.caught++;
        }
      }
      if (single) edit.setMaterials(row, single);
      else if (whole && list.length > 0) {
        const key = `${whole.material} ${list.length}`;
        let made = filled.get(key);
        if (made === undefined) filled.set(key, (made = edit.listOf(list.map(() => (whole as FinishRule).material))));
        edit.setMaterialList(row, made);
      }
    });
    if (!edit.isIdle) edit.setMaterialsOfScene(assigned);
    const idle = tests
      .filter(({ caught }) => caught === 0)
      .map(({ rule }) => `${WORDS[rule.by]} ${labelOf(rule, scene)} is on no part.`);
    return { pending: 0, problems: [...problems, ...idle] };
  },
});

/** A rule, ready to be tried on many rows. */
interface Test {
  rule: FinishRule;
  /** Rows or slots that it took hold of. */
  caught: number;
  word: number;
  /** By the number of a name. */
  matches: ((name: number) => boolean) | undefined;
}

const WORDS = { layer: 'Layer', colour: 'Colour', name: 'The name', received: 'The name as received' };

/** A colour is called by its id in a rule, and by its name for people. */
function labelOf({ by, match }: FinishRule, { materials }: Scene): string {
  return by === 'colour' ? (materials[match]?.name.replace(/^Colour /, '') ?? match) : match;
}
