/** Names as receiving tools take them: without signs that they refuse, and no two alike. */
import { SceneEditor } from '../../scene/editor.ts';
import { factsOf } from '../../scene/facts.ts';
import { GONE } from '../../scene/nodes.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Material, Scene } from '../../scene/types.ts';
import type { Writer } from '../../write/writer.ts';

/** Longest name that is written, letters. */
const MOST = 120;

/** A to Z, digits and underscores, beginning with a letter; accents are taken off, other writings have no letters here. */
export function safeName(name: string): string {
  const plain = name
    .normalize('NFKD')
    .replace(/ß/g, 'ss')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .slice(0, MOST);
  if (plain === '') return 'Part';
  return /^\d/.test(plain) ? `N${plain}` : plain;
}

/** Rows, and where the format asks for it materials and movements, named as the target and its format want them. */
export function namedFor(scene: Scene, names: 'kept' | 'safe' | 'unique', writer: Pick<Writer, 'uniqueNames' | 'cleanName'>): Scene {
  const { uniqueNames, cleanName } = writer;
  if (names === 'kept' && !uniqueNames && !cleanName) return withOwnOptics(scene);
  const edit = new SceneEditor(scene);
  const clean = (name: string) => cleanName?.(name) ?? name;
  const make = names === 'safe' ? safeName : clean;
  const isUnique = names !== 'kept' || uniqueNames === true;
  const own = new UniqueNames(names === 'safe' ? '_' : ' ');
  for (const row of factsOf(scene).order) {
    const name = make(scene.nodes.text('name', row));
    edit.rename(row, isUnique ? own.next(name) : name);
  }
  if (names !== 'safe' && !uniqueNames && !cleanName) return edit.finish().scene;
  edit.setMaterialsOfScene(materialsNamed(scene, make, isUnique));
  const clips = Object.entries(scene.animations).map(([id, info]) => [id, { ...info, name: make(info.name) }] as const);
  edit.setAnimations(Object.fromEntries(clips));
  return edit.finish().scene;
} // prettier-ignore

/** Cameras and lights are looked up by their names in many tools: one that is called like another row gets a number. */
function withOwnOptics(scene: Scene): Scene {
  const { nodes } = scene;
  const { extras, kind } = nodes.columns;
  const isOptics = (row: number) => {
    const { camera, light } = nodes.tables.extras[extras[row]];
    return camera !== undefined || light !== undefined;
  };
  const optics: number[] = [];
  const counts = new Map<number, number>();
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE) continue;
    counts.set(nodes.columns.name[row], (counts.get(nodes.columns.name[row]) ?? 0) + 1);
    if (isOptics(row)) optics.push(row);
  }
  if (!optics.some((row) => (counts.get(nodes.columns.name[row]) ?? 0) > 1)) return scene;
  const edit = new SceneEditor(scene);
  const own = new UniqueNames(' ');
  for (let row = 0; row < nodes.rows; row++)
    if (kind[row] !== GONE && !isOptics(row)) own.next(nodes.text('name', row));
  for (const row of optics) edit.rename(row, own.next(nodes.text('name', row)));
  return edit.finish().scene;
}

function materialsNamed(scene: Scene, make: (name: string) => string, isUnique: boolean): Scene['materials'] {
  const names = new UniqueNames('_');
  const named = (material: Material) => (isUnique ? names.next(make(material.name)) : make(material.name));
  // What has no material keeps that for a name.
  const list = usedMaterials(scene).filter(({ id }) => id !== NO_MATERIAL.id);
  return Object.fromEntries(list.map((material) => [material.id, { ...material, name: named(material) }]));
}

/** Materials that something shows, or does in a variant, in the order in which they are met. */
function usedMaterials({ nodes, materials }: Scene): Material[] {
  const ids = new Set<string>();
  const lists = new Set<number>();
  const { kind, materials: column, extras } = nodes.columns;
  for (let row = 0; row < nodes.rows; row++) {
    if (kind[row] === GONE) continue;
    for (const list of Object.values(nodes.tables.extras[extras[row]].variants ?? {}))
      for (const id of list) ids.add(id);
    if (lists.has(column[row])) continue;
    lists.add(column[row]);
    for (const id of nodes.row(row).materials) ids.add(id);
  }
  return [...ids].flatMap((id) => materials[id] ?? []);
}

/** Gives each name once; a name that was given already gets a number. */
export class UniqueNames {
  readonly #taken = new Set<string>();
  readonly #last = new Map<string, number>();

  constructor(readonly between: string) {}

  next(name: string): string {
    const key = name.toLowerCase();
    let own = name;
    for (let n = (this.#last.get(key) ?? 1) + 1; this.#taken.has(own.toLowerCase()); n++) {
      own = `${name}${this.between}${n}`;
      this.#last.set(key, n);
    }
    this.#taken.add(own.toLowerCase());
    return own;
  }
}
