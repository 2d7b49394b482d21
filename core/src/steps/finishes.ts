/** Step: the finish schedule. Rules say which parts get which material; the last one that names a part wins. */
import { given, surfaceWork } from '../finish/library/given.ts';
import { LIBRARY } from '../finish/library/library.ts';
import { ownMaterialsField } from '../finish/library/own.ts';
import type { OwnMaterial } from '../finish/library/own.ts';
import { keepingSides } from '../finish/sides.ts';
import { AS_RECEIVED, finishRulesSchema, materialOfRule, MOST_RULES, wholeRule } from '../finish/rule.ts';
import type { FinishRule, ShortRule } from '../finish/rule.ts';
import { NO_RULE, scheduleOf } from '../finish/schedule.ts';
import type { Schedule } from '../finish/schedule.ts';
import { materialsAfter } from '../finish/why.ts';
import { describeSelector, mapRules } from '../select/select.ts';
import type { SceneEditor } from '../scene/editor.ts';
import type { Material, Scene, Texture } from '../scene/types.ts';
import { counted } from '../units.ts';
import { defineStep, WHEREVER } from './kind.ts';
import type { Lookup } from './kind.ts';

export type { FinishRule } from '../finish/rule.ts';

export interface FinishesParameters {
  rules: FinishRule[];
  /** Copies of the own materials that rules give, as they were in the library. */
  own?: OwnMaterial[];
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
  upgrades: [
    ({ rules, ...rest }) => ({ ...rest, rules: (rules as (FinishRule | ShortRule)[] | undefined)?.map(wholeRule) }),
  ],
  needs: 'manifest',
  fields: {
    rules: {
      type: 'own',
      label: 'Rules',
      schema: finishRulesSchema,
      written: `a list of \`{ "which": { "by": "layer", "layers": ["MACHINE"] }, "material": "lib:cast-iron" }\`, at most ${MOST_RULES}; \`which\` is a rule of the list below, \`material\` the id of a material of the library or the job, or \`${AS_RECEIVED}\`; \`"on": false\` switches a rule off; in short \`{ "by": "layer", "match": "MACHINE", "material": "lib:cast-iron" }\`, where \`by\` is \`layer\`, \`colour\`, \`name\` or \`received\``,
    },
    own: ownMaterialsField,
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

  needsWork: ({ rules, own }) =>
    surfaceWork(
      rules.map(({ material }) => material),
      own,
    ).length > 0,
  // Pictures of materials that are nowhere, or only where they cannot lie, are not made.
  work(scene, rows, { rules, own }) {
    const schedule = scheduleOf(scene, rows, rules);
    const wanted = new Set<string>();
    for (const [i, lot] of schedule.lots.entries())
      if (lot.parts > 0 && schedule.slots.coordinates(lot.row) !== 'none')
        for (const rule of schedule.ownersIn(i)) if (rule >= 0) wanted.add(rules[rule].material);
    return surfaceWork(wanted, own);
  },

  apply(edit, rows, { rules, own = [] }, lookup) {
    const { scene } = edit;
    const schedule = scheduleOf(scene, rows, rules);
    const { pending } = give(edit, schedule, lookup, own);
    const problems = rules.flatMap(({ material }, i) =>
      material === AS_RECEIVED || materialOfRule(scene, material, own)
        ? []
        : [`Rule ${i + 1} gives the material ${material}, which neither library nor job has.`],
    );
    for (const [i, { on, which }] of rules.entries())
      if (schedule.lines[i].parts === 0 && on !== false)
        problems.push(`Rule ${i + 1}, ${wordsOf(which, scene)}, is on no part.`);
    return { pending, problems };
  },
});

/** Gives the parts the materials of the rules that won. Parts of a lot have the same list of materials. */
function give(edit: SceneEditor, schedule: Schedule, lookup: Lookup, own: readonly OwnMaterial[]): { pending: number } {
  const { scene } = edit;
  const { parts, lotOf, lots, slots } = schedule;
  const { materials: listOf } = scene.nodes.columns;
  const { lists: kept, words } = scene.nodes.tables;
  const materials: Record<string, Material> = {};
  const textures: Record<string, Texture> = {};
  let pending = 0;
  const lists = lots.map((lot, i) => {
    const owners = schedule.ownersIn(i);
    if (lot.parts === 0 || owners.every((rule) => rule === NO_RULE)) return -1;
    const coordinates = slots.coordinates(lot.row);
    let waits = false;
    const before = kept.get(listOf[lot.row]);
    const list = materialsAfter(schedule, i, own).map((id, slot) => {
      const rule = owners[slot];
      if (rule === NO_RULE) return id;
      const made = given(id, coordinates, lookup, own);
      const found = made?.material ?? materialOfRule(scene, id, own);
      if (!found) return id;
      const had = before[slot] === undefined ? undefined : scene.materials[words.get(before[slot])];
      const material = keepingSides(found, had);
      waits ||= made?.waits ?? false;
      materials[material.id] = material;
      for (const texture of made?.textures ?? []) textures[texture.id] = texture;
      return material.id;
    });
    if (waits) pending += lot.parts;
    return edit.listOf(list);
  });
  for (let i = 0; i < parts.length; i++) if (lists[lotOf[i]] >= 0) edit.setMaterialList(parts[i], lists[lotOf[i]]);
  if (!edit.isIdle) {
    edit.setMaterialsOfScene(materials);
    edit.setTextures(textures);
  }
  return { pending };
}

/** A colour is called by its id in a rule, and by its name for people. */
function wordsOf(which: FinishRule['which'], { materials, sources }: Scene): string {
  return describeSelector(which, {
    material: (id) => materials[id]?.name ?? id,
    source: (id) => sources.find((source) => source.id === id)?.name ?? id,
  });
}
