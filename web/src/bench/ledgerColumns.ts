/** Columns of the ledger by station, and what stands in their cells. */
import { shownName } from '@noble-prism/core/finish/plainColour';
import { longestSide } from '@noble-prism/core/scene/tree';
import { materialOfSlot } from '@noble-prism/core/scene/takeoff';
import type { Material, Scene, SceneNode } from '@noble-prism/core/scene/types';
import { formatCount, formatDeviation, formatNumber } from '@noble-prism/core/units';
import type { LedgerTree, Row, SortBy } from './rows.ts';

export interface Column {
  id: SortBy;
  title: string;
  unit?: string;
  /** Figures stand at the right. */
  isFigure: boolean;
  /** Can be sorted by, and which way first. */
  sort?: 'ascending' | 'descending';
}

const LAYER: Column = { id: 'layer', title: 'Layer', isFigure: false, sort: 'ascending' };
const MATERIAL: Column = { id: 'material', title: 'Material', isFigure: false, sort: 'ascending' };
const SIZE: Column = { id: 'size', title: 'Longest', unit: 'mm', isFigure: true, sort: 'descending' };
const TRIANGLES: Column = { id: 'triangles', title: 'Triangles', isFigure: true, sort: 'descending' };
const OFF_BY: Column = { id: 'deviation', title: 'Off by', unit: 'mm', isFigure: true, sort: 'descending' };
export const NAME: Column = { id: 'name', title: 'Part', isFigure: false, sort: 'ascending' };

export function columnsOf(station: string): Column[] {
  switch (station) {
    case 'finishes':
      return [LAYER, MATERIAL];
    case 'arrange':
      return [LAYER, SIZE];
    case 'lighten':
      return [TRIANGLES, OFF_BY];
    default:
      return [LAYER, TRIANGLES];
  }
}

/** What is sorted by after a click on the head of a column: first its own way, then the other, then the tree again. */
export function sortAfter(
  column: Column,
  now: { sort: SortBy; descending: boolean },
): { sort: SortBy; descending: boolean } {
  const { id, sort } = column;
  if (!sort) return now;
  const first = sort === 'descending';
  if (now.sort !== id) return { sort: id, descending: first };
  return now.descending === first ? { sort: id, descending: !first } : { sort: 'tree', descending: false };
}

/** Text of a cell. */
export function cellText(scene: Scene, tree: LedgerTree, row: Row, { id }: Column): string {
  const { node } = row;
  switch (id) {
    case 'layer':
      return node.layer ?? '';
    case 'triangles':
      return row.triangles ? formatCount(row.triangles) : node.problem ? 'failed' : '–';
    case 'deviation': {
      const off = tree.deviation(node);
      return off === undefined ? '' : formatDeviation(off);
    }
    case 'material':
      return node.kind === 'part'
        ? materialsOf(scene, node)
            .map(({ name }) => shownName(name))
            .join(', ')
        : '';
    case 'size': {
      const longest = node.mesh ? longestSide(scene, node) : undefined;
      return longest === undefined ? '' : formatNumber(longest * 1000, 4);
    }
    default:
      return '';
  }
}

/** Materials that a part shows, each once. */
export function materialsOf(scene: Scene, node: SceneNode): Pick<Material, 'id' | 'name' | 'baseColor'>[] {
  const slots = node.mesh ? scene.meshes[node.mesh].slots : node.materials.map(() => 1);
  const ids = new Set(slots.flatMap((count, slot) => (count ? [materialOfSlot(node, slot)] : [])));
  return [...ids].map((id) => scene.materials[id] ?? { id, name: 'none', baseColor: [0.4, 0.4, 0.4] });
}
