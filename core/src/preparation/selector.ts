/** Selectors: rules that say which parts a step concerns, so that it still works on the next revision. */
import { lazy, mixed, number, object, string, array } from 'yup';
import { withDescendants } from '../scene/tree.ts';
import type { Scene, SceneNode } from '../scene/types.ts';

export type Selector =
  | { by: 'all' }
  | { by: 'picked'; keys: string[] }
  | { by: 'layer'; layers: string[] }
  | {
      by: 'name';
      pattern: string;
      /** The name in the source, or (where absent) the name at this step. */ as?: 'received';
    }
  | { by: 'material'; materials: string[] }
  | { by: 'source'; sources: string[] }
  | { by: 'class'; classes: string[] }
  | { by: 'property'; /** Name and value, `*` and `?` as in name patterns. */ name: string; value: string }
  | { by: 'size'; /** Largest extent, metres. */ min?: number; max?: number }
  | { by: 'and' | 'or' | 'not'; of: Selector[] };

export const ALL: Selector = { by: 'all' };

const MAX_DEPTH = 12;
const texts = array(string().required().max(4000)).required().max(200_000);

/** Yup schema of a selector. */
export const selectorSchema: ReturnType<typeof lazy> = schemaAt(0);

function schemaAt(depth: number): ReturnType<typeof lazy> {
  return lazy((value: { by?: string } | undefined) => {
    const by = string().required();
    switch (value?.by) {
      case 'picked':
        return object({ by, keys: texts }).noUnknown();
      case 'layer':
        return object({ by, layers: texts }).noUnknown();
      case 'name':
        return object({
          by,
          pattern: string().required().max(300),
          as: string().oneOf(['received'] as const),
        }).noUnknown();
      case 'material':
        return object({ by, materials: texts }).noUnknown();
      case 'source':
        return object({ by, sources: texts }).noUnknown();
      case 'class':
        return object({ by, classes: texts }).noUnknown();
      case 'property':
        return object({ by, name: string().required().max(300), value: string().required().max(300) }).noUnknown();
      case 'size':
        return object({ by, min: number().min(0), max: number().min(0) }).noUnknown();
      case 'and':
      case 'or':
      case 'not':
        if (depth >= MAX_DEPTH) return mixed().test('depth', 'The rule is nested too deeply.', () => false);
        return object({
          by,
          of: array(schemaAt(depth + 1) as never)
            .required()
            .max(50),
        }).noUnknown();
      default:
        return object({ by: string().oneOf(['all']).required() }).noUnknown();
    }
  });
}

/**
 * Ids of the nodes that a selector names. Picked assemblies, and those named by a pattern, bring what is below them, unless only the
 * rows `themselves` are meant.
 */
export function select(scene: Scene, selector: Selector, themselves = false): Set<number> {
  const below = (ids: Set<number>) => (themselves ? ids : withDescendants(scene, ids));
  switch (selector.by) {
    case 'all':
      return new Set(scene.nodes.map((node) => node.id));
    case 'picked': {
      const keys = new Set(selector.keys);
      return below(matching(scene, (node) => keys.has(node.key)));
    }
    case 'layer':
      return matching(scene, (node) => node.layer !== null && selector.layers.includes(node.layer));
    case 'name': {
      const matches = nameMatcher(selector.pattern);
      const nameOf = ({ name, received = name }: SceneNode) => (selector.as === 'received' ? received : name);
      return below(matching(scene, (node) => matches(nameOf(node))));
    }
    case 'material':
      return matching(scene, (node) => node.materials.some((id) => selector.materials.includes(id)));
    case 'source':
      return matching(scene, (node) => selector.sources.includes(node.source));
    case 'class':
      return matching(scene, (node) => node.class !== undefined && selector.classes.includes(node.class));
    case 'property': {
      const [isName, isValue] = [nameMatcher(selector.name), nameMatcher(selector.value)];
      return matching(scene, ({ properties = {} }) =>
        Object.entries(properties).some(([name, value]) => isName(name) && isValue(value)),
      );
    }
    case 'size':
      return matching(scene, (node) => {
        const extent = extentOf(scene, node);
        return extent !== undefined && extent >= (selector.min ?? 0) && extent <= (selector.max ?? Infinity);
      });
    case 'and': {
      const sets = selector.of.map((inner) => select(scene, inner, themselves));
      return matching(scene, (node) => sets.every((set) => set.has(node.id)));
    }
    case 'or': {
      const sets = selector.of.map((inner) => select(scene, inner, themselves));
      return matching(scene, (node) => sets.some((set) => set.has(node.id)));
    }
    case 'not': {
      const sets = selector.of.map((inner) => select(scene, inner, themselves));
      return matching(scene, (node) => !sets.some((set) => set.has(node.id)));
    }
  }
}

function matching(scene: Scene, test: (node: SceneNode) => boolean): Set<number> {
  const out = new Set<number>();
  for (const node of scene.nodes) if (test(node)) out.add(node.id);
  return out;
}

/** Largest extent of a part in its own frame, metres: from its mesh, or roughly from its solid. */
export function extentOf(scene: Scene, node: SceneNode): number | undefined {
  const figures = node.mesh ? scene.meshes[node.mesh] : undefined;
  if (figures) return Math.max(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis]));
  return node.solid ? scene.solids[node.solid]?.extent : undefined;
}

/** `*` stands for anything, `?` for one character; letters match in either case. */
export function nameMatcher(pattern: string): (name: string) => boolean {
  const source = pattern
    .replace(/[.+^${}()|[\]\\]/g, '\\$&')
    .replace(/\*+/g, '.*')
    .replace(/\?/g, '.');
  const expression = new RegExp(`^${source}$`, 'iu');
  return (name) => expression.test(name);
}

/** Keys of `picked` selectors that no node has any more: a step says so instead of dropping them. */
export function lostKeys(scene: Scene, selector: Selector): string[] {
  if (selector.by === 'picked') {
    const keys = new Set(scene.nodes.map((node) => node.key));
    return selector.keys.filter((key) => !keys.has(key));
  }
  return 'of' in selector ? selector.of.flatMap((inner) => lostKeys(scene, inner)) : [];
}
