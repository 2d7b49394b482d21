/** Rows of the ledger: the tree made flat, equal siblings gathered, filtered and sorted. */
import { trianglesByNode } from '@noble-prism/core/scene/takeoff';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';

export interface Row {
  /** Key of the row: that of its first node. */
  key: string;
  node: SceneNode;
  /** All nodes that the row stands for: one, or equal siblings. */
  nodes: SceneNode[];
  depth: number;
  expandable: boolean;
  expanded: boolean;
  /** Gathered equal siblings. */
  gathered: boolean;
  /** Triangles drawn by all of them and below. */
  triangles: number;
}

export type SortBy = 'tree' | 'name' | 'layer' | 'triangles' | 'deviation';

export interface RowOptions {
  expanded: ReadonlySet<string>;
  filter: string;
  sort: SortBy;
  descending: boolean;
}

/** What does not change while rows are opened and closed: children, figures, likeness. */
export class LedgerTree {
  readonly children = new Map<number | null, SceneNode[]>();
  readonly triangles: Map<number, number>;
  /** Equal numbers stand for equal subtrees: same name, geometry, layer, materials, and the same below. */
  readonly #likeness = new Map<number, number>();

  constructor(readonly scene: Scene) {
    this.triangles = trianglesByNode(scene);
    for (const node of scene.nodes) {
      const list = this.children.get(node.parent);
      if (list) list.push(node);
      else this.children.set(node.parent, [node]);
    }
    const numbers = new Map<string, number>();
    for (let i = scene.nodes.length - 1; i >= 0; i--) {
      const node = scene.nodes[i];
      const below = (this.children.get(node.id) ?? []).map((child) => this.#likeness.get(child.id)).join();
      const text = `${node.name}|${node.mesh ?? node.solid ?? ''}|${node.layer ?? ''}|${node.materials.join()}|${below}`;
      let number = numbers.get(text);
      if (number === undefined) numbers.set(text, (number = numbers.size));
      this.#likeness.set(node.id, number);
    }
  }

  /** Largest measured deviation at and below a node, metres; undefined where nothing was reduced. */
  deviation(node: SceneNode): number | undefined {
    let worst = node.mesh ? this.scene.meshes[node.mesh].deviation?.max : undefined;
    for (const child of this.children.get(node.id) ?? []) {
      const below = this.deviation(child);
      if (below !== undefined && (worst === undefined || below > worst)) worst = below;
    }
    return worst;
  }

  rows({ expanded, filter, sort, descending }: RowOptions): Row[] {
    const shown = filter.trim() ? this.#matching(filter.trim().toLowerCase()) : undefined;
    const out: Row[] = [];
    const compare = this.#comparison(sort, descending);
    const visit = (parent: number | null, depth: number) => {
      const list = (this.children.get(parent) ?? []).filter((node) => !shown || shown.has(node.id));
      const groups = new Map<number, SceneNode[]>();
      for (const node of list) {
        const like = this.#likeness.get(node.id) as number;
        const group = groups.get(like);
        if (group) group.push(node);
        else groups.set(like, [node]);
      }
      const gathered = [...groups.values()];
      if (compare) gathered.sort((a, b) => compare(a, b));
      for (const group of gathered) {
        if (group.length > 1) {
          const key = `${group[0].key}×`;
          // What is found below equal assemblies is shown in each of them.
          const open = expanded.has(key) || (shown !== undefined && this.children.has(group[0].id));
          out.push(this.#row(key, group, depth, true, open, true));
          if (open) for (const node of group) this.#node(node, depth + 1, expanded, shown !== undefined, out, visit);
        } else this.#node(group[0], depth, expanded, shown !== undefined, out, visit);
      }
    };
    visit(null, 0);
    return out;
  }

  #node(
    node: SceneNode,
    depth: number,
    expanded: ReadonlySet<string>,
    filtered: boolean,
    out: Row[],
    visit: (parent: number, depth: number) => void,
  ): void {
    const has = (this.children.get(node.id)?.length ?? 0) > 0;
    const open = has && (filtered || expanded.has(node.key));
    out.push(this.#row(node.key, [node], depth, has, open, false));
    if (open) visit(node.id, depth + 1);
  }

  #row(key: string, nodes: SceneNode[], depth: number, expandable: boolean, expanded: boolean, gathered: boolean): Row {
    const triangles = nodes.reduce((sum, node) => sum + (this.triangles.get(node.id) ?? 0), 0);
    return { key, node: nodes[0], nodes, depth, expandable, expanded, gathered, triangles };
  }

  /** Nodes whose name, layer, class, material or properties match, with what is above and below them. */
  #matching(text: string): Set<number> {
    const out = new Set<number>();
    const byId = new Map(this.scene.nodes.map((node) => [node.id, node]));
    for (const node of this.scene.nodes) {
      const materials = node.materials.map((id) => this.scene.materials[id]?.name ?? '');
      const properties = Object.entries(node.properties ?? {}).map(([name, value]) => `${name} ${value}`);
      const fields = [
        node.name,
        node.layer ?? '',
        node.class ?? '',
        node.occurrence ?? '',
        ...materials,
        ...properties,
      ];
      const hit = fields.some((field) => field.toLowerCase().includes(text));
      if (hit || (node.parent !== null && out.has(-1 - node.parent))) {
        out.add(node.id);
        // Marked so that what is below a hit is shown with it.
        out.add(-1 - node.id);
        for (let up = node.parent; up !== null && !out.has(up); up = byId.get(up)?.parent ?? null) out.add(up);
      }
    }
    return out;
  }

  #comparison(sort: SortBy, descending: boolean): ((a: SceneNode[], b: SceneNode[]) => number) | undefined {
    if (sort === 'tree') return undefined;
    const sign = descending ? -1 : 1;
    if (sort === 'name') return (a, b) => sign * a[0].name.localeCompare(b[0].name, undefined, { numeric: true });
    if (sort === 'layer') return (a, b) => sign * (a[0].layer ?? '').localeCompare(b[0].layer ?? '');
    const value =
      sort === 'triangles'
        ? (list: SceneNode[]) => list.reduce((sum, node) => sum + (this.triangles.get(node.id) ?? 0), 0)
        : (list: SceneNode[]) => this.deviation(list[0]) ?? -1;
    return (a, b) => sign * (value(a) - value(b));
  }
}
