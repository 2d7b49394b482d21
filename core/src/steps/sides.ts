/** Step: surfaces are seen from both sides, or from one. */
import { withSides } from '../finish/sides.ts';
import type { Sides } from '../finish/sides.ts';
import { hasBack } from '../scene/fromBehind.ts';
import { PART } from '../scene/nodes.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Material } from '../scene/types.ts';
import { counted } from '../units.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export interface SidesParameters {
  sides: Sides;
  /** What is open alone, or closed bodies too. */
  of: 'open' | 'every';
}

/** What vertices with colours of their own show where they have no material: with one, it is multiplied with them. */
const OWN_COLOURS: Material = { ...NO_MATERIAL, id: 'own-colours', name: 'Own colours', baseColor: [1, 1, 1] };

export const sidesStep = defineStep<SidesParameters>({
  kind: 'sides',
  title: 'Sides',
  purpose: 'Has surfaces seen from both sides, so that sheets and open shells do not vanish from behind; or from one.',
  also: ['double sided', 'two-sided', 'backface', 'culling', 'behind', 'sheet', 'vanish', 'invisible'],
  act: 'Set the sides',
  station: 'finishes',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    sides: {
      type: 'choice',
      label: 'Seen from',
      called: 'sides',
      choices: [
        { value: 'both', label: 'both sides' },
        { value: 'one', label: 'one side' },
      ],
    },
    of: {
      type: 'choice',
      label: 'Of parts',
      called: 'parts',
      choices: [
        { value: 'open', label: 'that are open or inside out' },
        { value: 'every', label: 'of every kind' },
      ],
      help: 'The back of a closed body is never seen, and costs time where it is drawn.',
    },
  },
  defaults: { sides: 'both', of: 'open' },

  summary: ({ sides, of }) =>
    `${sides === 'both' ? 'both sides' : 'one side'} of ${of === 'open' ? 'open parts' : 'every part'}`,

  apply(edit, rows, { sides, of }) {
    const { scene } = edit;
    const { nodes } = scene;
    const { kind, mesh, materials: lists } = nodes.columns;
    const materials: Record<string, Material> = {};
    /** Lists with the variants in them, by the number of the list, on vertices with colours of their own or without; -1 where nothing is different. */
    const after = new Map<string, number>();
    let [parts, bare] = [0, 0];
    eachRow(scene, rows, (row) => {
      if (kind[row] !== PART) return;
      if (mesh[row] === 0) bare++;
      if (mesh[row] === 0 || (of === 'open' && !hasBack(scene.meshes[nodes.word('mesh', row)]))) return;
      const { colours = false } = scene.meshes[nodes.word('mesh', row)];
      const key = `${lists[row]} ${colours}`;
      let list = after.get(key);
      if (list === undefined) {
        const none = colours ? OWN_COLOURS : NO_MATERIAL;
        const { materials: had } = nodes.row(row);
        const now = (had.length > 0 ? had : [NO_MATERIAL.id]).map((id) => withSides(id === NO_MATERIAL.id ? none : (scene.materials[id] ?? none), sides)); // prettier-ignore
        const isSame = now.every((material, slot) => material === none || material.id === had[slot]);
        if (!isSame) for (const material of now) materials[material.id] = material;
        list = isSame ? -1 : edit.listOf(now.map(({ id }) => id));
        after.set(key, list);
      }
      if (list < 0) return;
      parts++;
      edit.setMaterialList(row, list);
    });
    delete materials[NO_MATERIAL.id];
    if (Object.keys(materials).length > 0) edit.setMaterialsOfScene(materials);
    const notes = parts === 0 ? ['Nothing is different: they are so already.'] : [`${counted(parts, 'part is', 'parts are')} seen from ${sides === 'both' ? 'both sides' : 'one side'} now.`]; // prettier-ignore
    return { pending: of === 'open' ? bare : 0, problems: [], notes };
  },
});
