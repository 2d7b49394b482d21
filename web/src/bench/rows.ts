/** Rows of the ledger: the tree made flat, equal siblings gathered, filtered and sorted. */
import { nameMatcher, oncePerNumber } from '@noble-prism/core/select/patterns';
import { longestSide } from '@noble-prism/core/scene/tree';
import { factsOf } from '@noble-prism/core/scene/facts';
import type { SceneFacts } from '@noble-prism/core/scene/facts';
import type { Scene, SceneNode } from '@noble-prism/core/scene/types';

export interface Row {
  /** Key of the row: that of its first node. */
  key: string;
  node: SceneNode;
  /** Rows of the scene that it stands for: one, or equal siblings. */
  rows: Int32Array;
  depth: number;
  expandable: boolean;
  expanded: boolean;
  /** Gathered equal siblings. */
  gathered: boolean;
  /** Triangles drawn by all of them and below. */
  triangles: number;
}

export type SortBy = 'tree' | 'name' | 'layer' | 'material' | 'size' | 'triangles' | 'deviation';

export interface RowOptions {
  expanded: ReadonlySet<string>;
  filter: string;
  sort: SortBy;
  descending: boolean;
}

/** Marks the key of gathered siblings. */
const GATHERED = '×';

/** The rows that are shown: kept as numbers, and made when one is looked at. */
export class RowList {
  readonly #members: Int32Array[] = [];
  /** Depth, and how it stands: expandable 1, expanded 2, gathered 4. */
  readonly #depths: number[] = [];
  readonly #states: number[] = [];

  constructor(
    readonly facts: SceneFacts,
    readonly scene: Scene,
  ) {}

  get length(): number {
    return this.#members.length;
  }

  add(members: Int32Array, depth: number, expandable: boolean, expanded: boolean, gathered: boolean): void {
    this.#members.push(members);
    this.#depths.push(depth);
    this.#states.push((expandable ? 1 : 0) | (expanded ? 2 : 0) | (gathered ? 4 : 0));
  }

  at(index: number): Row | undefined {
    const rows = this.#members[index];
    if (!rows) return undefined;
    const { facts, scene } = this;
    const state = this.#states[index];
    const gathered = (state & 4) !== 0;
    return {
      key: scene.nodes.key(rows[0]) + (gathered ? GATHERED : ''),
      node: scene.nodes.row(rows[0]),
      rows,
      depth: this.#depths[index],
      expandable: (state & 1) !== 0,
      expanded: (state & 2) !== 0,
      gathered,
      get triangles() {
        return rows.reduce((sum, row) => sum + facts.triangles[row], 0);
      },
    };
  }

  depthAt(index: number): number {
    return this.#depths[index];
  }

  /** Rows of the scene that some shown ones stand for. */
  members(from: number, to = from): number[] {
    return this.#members.slice(from, to + 1).flatMap((rows) => [...rows]);
  }

  /** Number of the first shown row that stands for a row of the scene; -1 where none does. */
  indexOf(row: number): number {
    return this.#members.findIndex((rows) => rows.includes(row));
  }

  *[Symbol.iterator](): Generator<Row> {
    for (let index = 0; index < this.length; index++) yield this.at(index) as Row;
  }
}

/** What does not change while rows are opened and closed: children, figures, likeness. */
export class LedgerTree {
  readonly facts: SceneFacts;
  #deviations: Float64Array | undefined;

  constructor(readonly scene: Scene) {
    this.facts = factsOf(scene);
  }

  /** Largest measured deviation at and below a node, metres; undefined where nothing was reduced. */
  deviation({ id }: Pick<SceneNode, 'id'>): number | undefined {
    this.#deviations ??= this.#worst();
    return this.#deviations[id] < 0 ? undefined : this.#deviations[id];
  }

  /** The source of a row at the top whose name a row of another source has too. */
  sourceOf({ id, name, parent }: Pick<SceneNode, 'id' | 'name' | 'parent'>): string | undefined {
    if (parent !== null || this.scene.sources.length < 2) return undefined;
    const sources = (this.#namesakes ??= this.#byName()).get(name);
    const own = this.scene.nodes.word('source', id);
    return sources && sources.size > 1 ? this.scene.sources.find((source) => source.id === own)?.name : undefined;
  }

  #namesakes: Map<string, Set<string>> | undefined;

  /** Sources of the rows at the top, by their names. */
  #byName(): Map<string, Set<string>> {
    const { nodes } = this.scene;
    const out = new Map<string, Set<string>>();
    for (const row of this.facts.childrenOf(null)) {
      const name = nodes.text('name', row);
      out.set(name, (out.get(name) ?? new Set()).add(nodes.word('source', row)));
    }
    return out;
  }

  /** -1 where nothing is measured. */
  #worst(): Float64Array {
    const { nodes, meshes } = this.scene;
    const { mesh, parent } = nodes.columns;
    const out = new Float64Array(nodes.rows).fill(-1);
    const known: (number | undefined)[] = [];
    const { order, stretches } = this.facts;
    for (let i = order.length - 1; i >= 0; i--) {
      const row = order[i];
      if (mesh[row] > 0) {
        known[mesh[row]] ??= meshes[nodes.tables.words.get(mesh[row])]?.deviation?.max ?? -1;
        out[row] = Math.max(out[row], (known[mesh[row]] ?? -1) * stretches[row]);
      }
      if (parent[row] >= 0) out[parent[row]] = Math.max(out[parent[row]], out[row]);
    }
    return out;
  }

  rows({ expanded, filter, sort, descending }: RowOptions): RowList {
    const shown = filter.trim() ? this.#matching(filter.trim()) : undefined;
    const out = new RowList(this.facts, this.scene);
    const compare = this.#comparison(sort, descending);
    const { opened, openedGroups } = this.#opened(expanded);
    const holds = (row: number) => this.facts.childrenOf(row).length > 0;
    const one = (row: number, depth: number) => {
      const has = holds(row);
      const open = has && (shown !== undefined || opened.has(row));
      out.add(Int32Array.of(row), depth, has, open, false);
      if (open) level(this.facts.childrenOf(row), depth + 1);
    };
    const level = (all: Int32Array, depth: number) => {
      const gathered = this.#gathered(shown ? all.filter((row) => shown[row] === 1) : all);
      if (compare) gathered.sort(compare);
      for (const members of gathered) {
        if (members.length === 1) {
          one(members[0], depth);
          continue;
        }
        // What is found below equal assemblies is shown in each of them.
        const open = openedGroups.has(members[0]) || (shown !== undefined && holds(members[0]));
        out.add(members, depth, true, open, true);
        if (open) for (const row of members) one(row, depth + 1);
      }
    };
    level(this.facts.childrenOf(null), 0);
    return out;
  }

  /** Rows by the keys that are open. */
  #opened(keys: ReadonlySet<string>) {
    const opened = new Set<number>();
    const openedGroups = new Set<number>();
    for (const key of keys) {
      const isGroup = key.endsWith(GATHERED);
      const row = this.facts.rowOf(isGroup ? key.slice(0, -GATHERED.length) : key);
      if (row !== undefined) (isGroup ? openedGroups : opened).add(row);
    }
    return { opened, openedGroups };
  }

  /** Siblings in groups of equal ones, in the order of the first of each. */
  #gathered(level: Int32Array): Int32Array[] {
    const { a, b } = this.facts.likeness;
    const { nodes } = this.scene;
    const first = new Map<number, number[]>();
    const groups: number[][] = [];
    const isLike = (row: number, other: number) =>
      b[row] === b[other] && nodes.text('name', row) === nodes.text('name', other);
    for (const row of level) {
      const known = first.get(a[row]);
      const group = known && groups[known.find((number) => isLike(row, groups[number][0])) ?? -1];
      if (group) group.push(row);
      else {
        const number = groups.push([row]) - 1;
        if (known) known.push(number);
        else first.set(a[row], [number]);
      }
    }
    return groups.map((rows) => Int32Array.from(rows));
  }

  /**
   * Rows whose name, layer, class, material or properties match, with what is above and below them: 1 for each.
   * @param text as in rules: `*` and `?` stand for letters, an expression between slashes is one; otherwise it may stand anywhere
   */
  #matching(text: string): Uint8Array {
    const { nodes, materials } = this.scene;
    const { columns, tables } = nodes;
    const plain = text.toLowerCase();
    const isPattern = /[*?]|^\/.+\/$/u.test(text);
    const has = isPattern ? nameMatcher(text) : (field: string) => field.toLowerCase().includes(plain);
    const inText = oncePerNumber(tables.texts, has);
    const wordHas = new Uint8Array(tables.words.length);
    for (let word = 1; word < wordHas.length; word++) wordHas[word] = has(tables.words.get(word)) ? 1 : 0;
    const inList = new Uint8Array(tables.lists.length);
    const inProperties = new Uint8Array(tables.lists.length);
    for (let number = 1; number < inList.length; number++) {
      const list = tables.lists.get(number);
      if (list.some((word) => has(materials[tables.words.get(word)]?.name ?? ''))) inList[number] = 1;
      for (let i = 0; i + 1 < list.length; i += 2)
        if (has(`${tables.words.get(list[i])} ${tables.words.get(list[i + 1])}`)) inProperties[number] = 1;
    }
    const out = new Uint8Array(nodes.rows);
    const below = new Uint8Array(nodes.rows);
    for (const row of this.facts.order) {
      const parent = columns.parent[row];
      const hit =
        inText(columns.name[row]) ||
        wordHas[columns.layer[row]] === 1 ||
        wordHas[columns.class[row]] === 1 ||
        (columns.occurrence[row] > 0 && inText(columns.occurrence[row])) ||
        inList[columns.materials[row]] === 1 ||
        inProperties[columns.properties[row]] === 1;
      if (!hit && !(parent >= 0 && below[parent] === 1)) continue;
      // What is below a hit is shown with it.
      out[row] = below[row] = 1;
      for (let up = parent; up >= 0 && out[up] === 0; up = columns.parent[up]) out[up] = 1;
    }
    return out;
  }

  #comparison(sort: SortBy, descending: boolean): ((a: Int32Array, b: Int32Array) => number) | undefined {
    if (sort === 'tree') return undefined;
    const sign = descending ? -1 : 1;
    const { nodes } = this.scene;
    const texts: Partial<Record<SortBy, (row: number) => string>> = {
      name: (row) => nodes.text('name', row),
      layer: (row) => nodes.word('layer', row),
      material: (row) => this.scene.materials[nodes.row(row).materials[0] ?? '']?.name ?? '',
    };
    const textOf = texts[sort];
    if (textOf) {
      return (a, b) => sign * collator.compare(textOf(a[0]), textOf(b[0]));
    }
    const values: Partial<Record<SortBy, (rows: Int32Array) => number>> = {
      triangles: (rows) => rows.reduce((sum, row) => sum + this.facts.triangles[row], 0),
      size: (rows) => longestSide(this.scene, nodes.row(rows[0])) ?? -1,
      deviation: (rows) => this.deviation({ id: rows[0] }) ?? -1,
    };
    const value = values[sort] ?? (() => 0);
    return (a, b) => sign * (value(a) - value(b));
  }
}

/** Made once: comparing with a new one each time takes a hundred times as long. */
const collator = new Intl.Collator(undefined, { numeric: true });
