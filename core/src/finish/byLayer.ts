/** Back to by layer: every rule that prevails over the rule of a layer is told to leave that layer alone. */
import { factsOf } from '../scene/facts.ts';
import { PART } from '../scene/nodes.ts';
import { Rows } from '../scene/rowSet.ts';
import { withDescendants } from '../scene/tree.ts';
import type { Scene } from '../scene/types.ts';
import { select } from '../select/select.ts';
import type { Selector } from '../select/selector.ts';
import type { FinishRule } from './rule.ts';
import { Schedule } from './schedule.ts';

/** The rule that gives a layer its material: the last one that is on and says this layer and nothing more; -1 where there is none. */
export function ruleOfLayer(rules: readonly FinishRule[], layer: string): number {
  return rules.findLastIndex(({ on, which }) => on !== false && which.by === 'layer' && which.layers.includes(layer));
}

/** Parts on a layer on which another rule than that of the layer has won somewhere. @param winners rules that won, by row */
export function overridesOf(scene: Scene, rules: readonly FinishRule[], winners: Int16Array, layer: string): number[] {
  const own = ruleOfLayer(rules, layer);
  const { columns, tables, rows } = scene.nodes;
  const word = tables.words.find(layer);
  const out: number[] = [];
  if (own < 0 || word <= 0) return out;
  for (let row = 0; row < rows; row++)
    if (columns.kind[row] === PART && columns.layer[row] === word && winners[row] !== own) out.push(row);
  return out;
}

/**
 * The rules, of which those that prevail over the rule of a layer name it no more: picked parts of the layer are taken out of their rules,
 * and other rules say that they leave the layer out. A rule that then names nothing is dropped.
 * @param scene the one that the rules are about
 * @returns the same list where nothing prevails over the layer
 */
export function backToLayer(scene: Scene, rules: readonly FinishRule[], layer: string): readonly FinishRule[] {
  const own = ruleOfLayer(rules, layer);
  const onLayer = select(scene, { by: 'layer', layers: [layer] });
  // What names parts of the layer, and how many it names at all.
  const [there, everywhere] = [onLayer, select(scene, { by: 'all' })].map(
    (rows) => new Schedule(scene, rows, rules).lines,
  );
  const isOver = (i: number) => own >= 0 && i > own && there[i].parts > 0;
  if (!rules.some((_, i) => isOver(i))) return rules;
  return rules.flatMap((rule, i): FinishRule[] => {
    if (!isOver(i)) return [rule];
    return there[i].parts === everywhere[i].parts
      ? []
      : [{ ...rule, which: without(scene, rule.which, layer, onLayer) }];
  });
}

function without(scene: Scene, which: Selector, layer: string, onLayer: Rows): Selector {
  const not: Selector = { by: 'not', of: [{ by: 'layer', layers: [layer] }] };
  if (which.by === 'and') return { ...which, of: [...which.of, not] };
  if (which.by !== 'picked') return { by: 'and', of: [which, not] };
  const rowOf = (key: string) => factsOf(scene).rowOf(key);
  const { kind } = scene.nodes.columns;
  const keys = which.keys.filter((key) => {
    const row = rowOf(key);
    return row === undefined || kind[row] !== PART || !onLayer.has(row);
  });
  // What is picked as an assembly may have some of the layer below it.
  const left = withDescendants(scene, Rows.of(scene.nodes.rows, keys.flatMap((key) => rowOf(key) ?? []))); // prettier-ignore
  const rest: Selector = { by: 'picked', keys };
  return [...onLayer].some((row) => kind[row] === PART && left.has(row)) ? { by: 'and', of: [rest, not] } : rest;
}
