/** Words for selectors and lengths, as the interface shows them. */
import type { Selector } from '@noble-prism/core/preparation/selector';
import type { Scene } from '@noble-prism/core/scene/types';
import { formatLength, formatNumber, metresPer } from '@noble-prism/core/units';

/** `everything`, `layer FASTENERS`, `named Motor*`, `3 picked`. @param sourceName what a source is called, by its id */
export function describeSelector(selector: Selector, sourceName = (id: string) => `source ${id}`): string {
  const describe = (inner: Selector) => describeSelector(inner, sourceName);
  switch (selector.by) {
    case 'all':
      return 'everything';
    case 'picked':
      return selector.keys.length === 1 ? lastName(selector.keys[0]) : `${selector.keys.length} picked`;
    case 'layer':
      return `layer ${selector.layers.join(', ')}`;
    case 'name':
      return `${selector.as === 'received' ? 'received as' : 'named'} ${selector.pattern}`;
    case 'material':
      return `material ${selector.materials.join(', ')}`;
    case 'source':
      return selector.sources.map(sourceName).join(', ');
    case 'class':
      return `class ${selector.classes.join(', ')}`;
    case 'property':
      return `${selector.name} = ${selector.value}`;
    case 'size':
      return `${selector.min === undefined ? '' : `≥ ${formatLength(selector.min, 'mm')}`} ${selector.max === undefined ? '' : `≤ ${formatLength(selector.max, 'mm')}`}`.trim();
    case 'not':
      return `not (${selector.of.map(describe).join(', ')})`;
    case 'and': {
      // Which source is meant is plain from the rest.
      const rest = selector.of.filter(({ by }) => by !== 'source');
      return (rest.length > 0 ? rest : selector.of).map(describe).join(' and ');
    }
    default:
      return selector.of.map(describe).join(' or ');
  }
}

function lastName(key: string): string {
  return key.split('/').at(-1) ?? key;
}

/** The unit in which a scene is read: that of its first source, where it is one that we can name. */
export function unitOf(scene: Scene): string {
  const name = scene.sources[0]?.unit.name ?? 'mm';
  const metres = metresPer(name);
  // Files spell them out: `centimeter`.
  return SHORT_UNITS.find((unit) => metresPer(unit) === metres) ?? 'mm';
}

const SHORT_UNITS = ['m', 'cm', 'mm', 'µm', 'km', 'inch', 'foot'];

/** `1 050 × 684 × 700 mm`. */
export function describeSize(size: readonly number[], unit: string): string {
  const factor = metresPer(unit) ?? 1;
  // Thousands must not be parted at the end of a line.
  const sides = size.map((side) => formatNumber(side / factor, 4).replaceAll('\u2009', '\u202f'));
  return `${sides.join(' × ')}\u00a0${unit}`;
}
