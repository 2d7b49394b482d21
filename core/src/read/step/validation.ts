/** Validation properties: volume, area and centre of volume that the writer of the file computed (recommended practices for geometric validation properties). */
import type { Vector } from '../../scene/matrix.ts';
import type { StatedFigures } from '../../scene/types.ts';
import type { Entities } from './entities.ts';
import { Ref, Typed } from './values.ts';
import type { Value } from './values.ts';
import { resolve } from './units.ts';

/** Most shape aspects that one property is followed through. */
const MAX_HOPS = 8;

/** What is stated of each product, by index of its definition; metres. */
export function statedFigures(entities: Entities): Map<number, StatedFigures> {
  const { file } = entities;
  const ofProduct = new Map<number, StatedFigures>();
  const ofAspect = new Map<number, StatedFigures>();
  const doubtful = new Set<number>();
  entities.each('PROPERTY_DEFINITION_REPRESENTATION', (index, [property, representation]) => {
    const what = entities.follow(property, index);
    const shown = entities.follow(representation, index);
    if (what < 0 || shown < 0 || !file.is(what, 'PROPERTY_DEFINITION')) return;
    const [name, , of] = entities.args(what);
    if (entities.text(name).toLowerCase() !== 'geometric validation property') return;
    const { product, isAspect } = productOf(entities, entities.follow(of, what));
    if (product < 0) return;
    const figures = readFigures(entities, shown);
    const list = isAspect ? ofAspect : ofProduct;
    const known = list.get(product) ?? {};
    // Aspects with figures of their own are several solids: which is which is not said.
    if (isAspect) for (const key of Object.keys(figures)) if (key in known) doubtful.add(product);
    list.set(product, { ...known, ...figures });
  });
  for (const [product, figures] of ofAspect)
    if (!doubtful.has(product) && !ofProduct.has(product)) ofProduct.set(product, figures);
  return ofProduct;
}

/** The product that a property is about, directly or through an aspect of its shape; -1 for anything else. */
function productOf(entities: Entities, from: number): { product: number; isAspect: boolean } {
  let index = from;
  let isAspect = false;
  for (let hop = 0; index >= 0 && hop < MAX_HOPS; hop++) {
    const type = entities.file.typeOf(index);
    if (type.startsWith('SHAPE_ASPECT')) isAspect = true;
    else if (!type.startsWith('PRODUCT_DEFINITION_SHAPE'))
      return { product: /^PRODUCT_DEFINITION(_WITH_ASSOCIATED_DOCUMENTS)?$/.test(type) ? index : -1, isAspect };
    index = entities.follow(entities.args(index)[2], index);
  }
  return { product: -1, isAspect };
}

function readFigures(entities: Entities, representation: number): StatedFigures {
  const { file } = entities;
  const { metres } = entities.unit(entities.contextOf(representation));
  const out: StatedFigures = {};
  const items = entities.args(representation).find(Array.isArray) as Value[] | undefined;
  for (const item of items ?? []) {
    if (!(item instanceof Ref)) continue;
    const index = file.indexOf(item.id);
    if (index < 0) continue;
    if (file.is(index, 'CARTESIAN_POINT')) {
      const [, at] = entities.args(index);
      if (Array.isArray(at) && at.length === 3 && at.every((value) => typeof value === 'number'))
        out.centroid = at.map((value) => (value as number) * metres) as unknown as Vector;
    } else if (file.is(index, 'MEASURE_REPRESENTATION_ITEM')) {
      const [, measure, unit] = entities.args(index, 'MEASURE_REPRESENTATION_ITEM');
      const value = measure instanceof Typed ? measure.args[0] : undefined;
      if (!(measure instanceof Typed) || typeof value !== 'number') continue;
      const own = lengthOfDerived(entities, entities.follow(unit, index)) ?? metres;
      if (measure.type === 'VOLUME_MEASURE') out.volume = value * own ** 3;
      else if (measure.type === 'AREA_MEASURE') out.area = value * own ** 2;
    }
  }
  return out;
}

/** Metres per unit of length in a unit of area or volume; undefined where it is not derived from one. */
function lengthOfDerived(entities: Entities, unit: number): number | undefined {
  const { file } = entities;
  if (unit < 0 || !file.is(unit, 'DERIVED_UNIT')) return undefined;
  const [elements] = entities.args(unit, 'DERIVED_UNIT');
  const [first] = Array.isArray(elements) ? elements : [];
  const element = entities.follow(first, unit);
  const length = element < 0 ? -1 : entities.follow(entities.args(element)[0], element);
  return length < 0 ? undefined : resolve(file, length)?.metres;
}
