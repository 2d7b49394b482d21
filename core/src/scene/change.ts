/**
 * What is different between two scenes of the same sources: which columns, which rows, which values, and what beside the nodes. It can be
 * applied, turned round, counted, and sent.
 */
import { COLUMN_NAMES, NodeTable } from './nodes.ts';
import type { ColumnName, Tables } from './nodes.ts';
import { Rows } from './rowSet.ts';
import type { Scene } from './types.ts';

/** The parts of a scene beside its nodes. */
export type SceneTables = Omit<Scene, 'nodes'>;

/** Values of the rows that are different, and where both have no such row -1. Numbers in the tables of either side. */
export interface ColumnChange {
  rows: Int32Array;
  before: Int32Array;
  after: Int32Array;
}

export interface SceneChange {
  columns: Partial<Record<ColumnName, ColumnChange>>;
  /** Rows that there are before and after: rows are added at the end only. */
  rows: { before: number; after: number };
  tables: { before: Tables; after: Tables };
  /** What is beside the nodes, where it is different. */
  beside: { before: Partial<SceneTables>; after: Partial<SceneTables> };
}

const BESIDE: readonly (keyof SceneTables)[] = [
  'sources',
  'meshes',
  'solids',
  'materials',
  'textures',
  'layers',
  'animations',
  'origin',
  'links',
];

/** @param written columns in which rows that both have may be different; any where nothing is said */
export function changeBetween(a: Scene, b: Scene, written?: ReadonlySet<ColumnName>): SceneChange {
  const columns: SceneChange['columns'] = {};
  for (const name of COLUMN_NAMES) {
    const first = !written || written.has(name) ? 0 : a.nodes.rows;
    const change = columnChange(a.nodes, b.nodes, name, first);
    if (change) columns[name] = change;
  }
  const before: Partial<SceneTables> = {};
  const after: Partial<SceneTables> = {};
  for (const name of BESIDE)
    if (a[name] !== b[name]) {
      Object.assign(before, { [name]: a[name] });
      Object.assign(after, { [name]: b[name] });
    }
  return {
    columns,
    rows: { before: a.nodes.rows, after: b.nodes.rows },
    tables: { before: a.nodes.tables, after: b.nodes.tables },
    beside: { before, after },
  };
}

function columnChange(a: NodeTable, b: NodeTable, name: ColumnName, first: number): ColumnChange | undefined {
  const [before, after] = [a.columns[name], b.columns[name]];
  if (before === after) return undefined;
  const length = Math.max(before.length, after.length);
  let count = 0;
  for (let row = first; row < length; row++) if (before[row] !== after[row]) count++;
  if (count === 0) return undefined;
  const out = { rows: new Int32Array(count), before: new Int32Array(count), after: new Int32Array(count) };
  for (let row = first, at = 0; row < length; row++) {
    if (before[row] === after[row]) continue;
    out.rows[at] = row;
    out.before[at] = before[row] ?? -1;
    out.after[at++] = after[row] ?? -1;
  }
  return out;
}

export function isNoChange({ columns, rows, beside }: SceneChange): boolean {
  return rows.before === rows.after && Object.keys(columns).length === 0 && Object.keys(beside.after).length === 0;
}

/** The change from the later scene back to the earlier one. */
export function inverse({ columns, rows, tables, beside }: SceneChange): SceneChange {
  const turned: SceneChange['columns'] = {};
  for (const [name, change] of Object.entries(columns))
    turned[name as ColumnName] = { rows: change.rows, before: change.after, after: change.before };
  return {
    columns: turned,
    rows: { before: rows.after, after: rows.before },
    tables: { before: tables.after, after: tables.before },
    beside: { before: beside.after, after: beside.before },
  };
}

/** The scene after a change. @param scene the one that the change begins with */
export function applyChange(scene: Scene, { columns, rows, tables, beside }: SceneChange): Scene {
  const next = { ...scene.nodes.columns };
  if (rows.after !== rows.before)
    for (const name of COLUMN_NAMES) {
      const resized = new Int32Array(rows.after);
      resized.set(next[name].subarray(0, rows.after));
      next[name] = resized;
    }
  for (const [name, { rows: changed, after }] of Object.entries(columns)) {
    const column = (next[name as ColumnName] = next[name as ColumnName].slice());
    for (let i = 0; i < changed.length; i++) if (changed[i] < column.length) column[changed[i]] = after[i];
  }
  const isSame = Object.keys(columns).length === 0 && rows.after === rows.before && tables.after === scene.nodes.tables;
  return { ...scene, ...beside.after, nodes: isSame ? scene.nodes : new NodeTable(next, tables.after) };
}

/** Rows of which something is different, added and removed ones too. */
export function changedRows({ columns, rows }: SceneChange): Rows {
  const mask = new Uint8Array(Math.max(rows.before, rows.after));
  for (const { rows: changed } of Object.values(columns)) for (const row of changed) mask[row] = 1;
  return new Rows(mask);
}
