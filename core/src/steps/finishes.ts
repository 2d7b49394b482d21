/** Step: the finish schedule. Rules say which parts get which material; the last one that names a part wins. */
import { LIBRARY } from '../finish/library.ts';
import { AS_RECEIVED, finishRulesSchema, materialOfRule, MOST_RULES, wholeRule } from '../finish/rule.ts';
import type { FinishRule, ShortRule } from '../finish/rule.ts';
import { NO_RULE, scheduleOf } from '../finish/schedule.ts';
import type { Schedule } from '../finish/schedule.ts';
import { materialsAfter } from '../finish/why.ts';
import { describeSelector, mapRules } from '../select/select.ts';
import type { SceneEditor } from '../scene/editor.ts';
import type { Material, Scene } from '../scene/types.ts';
import { counted } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';

export type { FinishRule } from '../finish/rule.ts';

export interface FinishesParameters {
  rules: FinishRule[];
}

export const finishesStep = defineStep<FinishesParameters>({
  kind: 'finishes',
  title: 'Finishes',
  purpose: 'The finish schedule: rules say which parts get which material; the last one that names a part wins.',
  also: ['material', 'appearance', 'colour', 'schedule', 'assign', 'override'],
  station: 'finishes',
  place: WHEREVER,
  version: 3,
  // Rules were about one layer, colour or name each.
  upgrades: [({ rules }) => ({ rules: (rules as (FinishRule | ShortRule)[] | undefined)?.map(wholeRule) })],
  needs: 'manifest',
  fields: {
    rules: {
      type: 'own',
      label: 'Rules',
      schema: finishRulesSchema,
      written: `a list of \`{ "which": { "by": "layer", "layers": ["MACHINE"] }, "material": "lib:cast-iron" }\`, at most ${MOST_RULES}; \`which\` is a rule of the list below, \`material\` the id of a material of the library or the job, or \`${AS_RECEIVED}\`; \`"on": false\` switches a rule off; in short \`{ "by": "layer", "match": "MACHINE", "material": "lib:cast-iron" }\`, where \`by\` is \`layer\`, \`colour\`, \`name\` or \`received\``,
    },
  },
  defaults: { rules: [] },
  example: {
    parameters: {
      rules: [
        { which: { by: 'layer', layers: ['MACHINE'] }, material: LIBRARY[0].id },
        { which: { by: 'name', pattern: 'Motor *' }, material: LIBRARY[1].id },
      ],
    },
  },

  mapRules: ({ rules, ...rest }, replace) => ({
    ...rest,
    rules: rules.map((rule) => ({ ...rule, which: mapRules(rule.which, replace) })),
  }),

  summary: ({ rules }) => counted(rules.length, 'rule'),

  apply(edit, rows, { rules }) {
    const { scene } = edit;
    const problems: string[] = [];
    const materials: Record<string, Material> = {};
    const known = rules.filter((rule, i) => {
      if (rule.material === AS_RECEIVED) return true;
      const material = materialOfRule(scene, rule.material);
      if (material) materials[material.id] = material;
      else problems.push(`Rule ${i + 1} gives the material ${rule.material}, which neither library nor job has.`);
      return material !== undefined;
    });
    const schedule = scheduleOf(scene, rows, known.length === rules.length ? rules : known);
    give(edit, schedule);
    if (!edit.isIdle) edit.setMaterialsOfScene(materials);
    for (const [i, { on, which }] of rules.entries()) {
      const line = schedule.lines[schedule.rules.indexOf(rules[i])];
      if (line?.parts === 0 && on !== false) problems.push(`Rule ${i + 1}, ${wordsOf(which, scene)}, is on no part.`);
    }
    return { pending: 0, problems };
  },
});

/** Gives the parts the materials of the rules that won. Parts of a lot have the same list of materials. */
function give(edit: SceneEditor, schedule: Schedule): void {
  const { parts, lotOf, lots } = schedule;
  const lists = lots.map((lot, i) => {
    const owners = schedule.ownersIn(i);
    return lot.parts > 0 && owners.some((rule) => rule !== NO_RULE) ? edit.listOf(materialsAfter(schedule, i)) : -1;
  });
  for (let i = 0; i < parts.length; i++) if (lists[lotOf[i]] >= 0) edit.setMaterialList(parts[i], lists[lotOf[i]]);
}

/** A colour is called by its id in a rule, and by its name for people. */
function wordsOf(which: FinishRule['which'], { materials, sources }: Scene): string {
  return describeSelector(which, {
    material: (id) => materials[id]?.name ?? id,
    source: (id) => sources.find((source) => source.id === id)?.name ?? id,
  });
}
