/** Step: materials that are the same within a tolerance become one. */
import { array, string } from 'yup';
import { alikeGroups } from '../finish/alike.ts';
import type { AlikeGroup } from '../finish/alike.ts';
import { PART } from '../scene/nodes.ts';
import { partsByMaterial } from '../scene/parts.ts';
import type { Scene } from '../scene/types.ts';
import { counted, formatNumber } from '../units.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export interface MergeMaterialsParameters {
  /** Largest difference of a factor or of a colour as it is seen, of one. */
  tolerance: number;
  /** Ids of kept materials whose groups are left as they are. */
  apart?: string[];
}

/** The groups of a scene, as the step would find them. */
export function groupsIn(scene: Scene, tolerance: number): (AlikeGroup & { parts: number })[] {
  const rows = partsByMaterial(scene);
  const users = new Map([...rows].map(([id, list]) => [id, list.length]));
  const used = [...users.keys()].flatMap((id) => (id !== 'none' && scene.materials[id] ? [scene.materials[id]] : []));
  return alikeGroups(used, users, tolerance).map((group) => ({
    ...group,
    parts: new Set([group.kept, ...group.others].flatMap(({ id }) => rows.get(id) ?? [])).size,
  }));
}

export const mergeMaterialsStep = defineStep<MergeMaterialsParameters>({
  kind: 'merge-materials',
  title: 'Merge materials',
  purpose: 'Makes one of materials that are the same within a tolerance: that of most parts stays.',
  also: ['duplicates', 'copies', 'clean up', 'same', 'consolidate'],
  act: 'Merge',
  station: 'finishes',
  place: WHEREVER,
  version: 1,
  needs: 'manifest',
  fields: {
    tolerance: {
      type: 'quantity',
      of: 'share',
      unit: '%',
      label: 'Tolerance',
      min: 0,
      max: 0.5,
      offers: [0, 0.01, 0.03],
      help: 'Largest difference of colour as it is seen, opacity, metalness or roughness.',
    },
    apart: {
      type: 'own',
      label: 'Apart',
      schema: array(string().required().max(200)).max(5000),
      written: 'ids of materials that stay whose groups are left as they are, or nothing',
    },
  },
  defaults: { tolerance: 0.01 },

  summary: ({ tolerance, apart = [] }) =>
    `within ${formatNumber(tolerance * 100)}\u00a0%${apart.length > 0 ? `, but for ${counted(apart.length, 'group')}` : ''}`,
  whole: () => true,

  apply(edit, rows, { tolerance, apart = [] }) {
    const { scene } = edit;
    const { nodes } = scene;
    const groups = groupsIn(scene, tolerance).filter(({ kept }) => !apart.includes(kept.id));
    const keptFor = new Map(groups.flatMap(({ kept, others }) => others.map(({ id }) => [id, kept.id] as const)));
    const { kind, materials } = nodes.columns;
    /** Lists of materials with the kept ones in them, by the number of the list; -1 where nothing is different. */
    const lists: (number | undefined)[] = [];
    if (keptFor.size > 0)
      eachRow(scene, rows, (row) => {
        if (kind[row] !== PART) return;
        let list = lists[materials[row]];
        if (list === undefined) {
          const before = nodes.row(row).materials;
          list = before.some((id) => keptFor.has(id)) ? edit.listOf(before.map((id) => keptFor.get(id) ?? id)) : -1;
          lists[materials[row]] = list;
        }
        if (list >= 0) edit.setMaterialList(row, list);
      });
    const notes = groups.map(({ kept, others }) => `${kept.name}: ${counted(others.length + 1, 'material')} are one.`);
    return { pending: 0, problems: [], notes };
  },
});
