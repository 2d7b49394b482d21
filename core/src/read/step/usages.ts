/** Usages of products in products, each with its place: by a transformation of its own, or by a mapped item of the parent. */
import { IDENTITY } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { Entities } from './entities.ts';
import { carrying } from './placement.ts';
import { push } from './push.ts';
import type { Representations } from './representations.ts';
import { Ref } from './values.ts';

export interface Usage {
  child: number;
  id: number;
  /** Entities by which a style may name this usage as its context. */
  contexts: number[];
  name: string;
  transform?: Matrix;
}

export class Usages {
  /** By the definition that contains them. */
  readonly all = new Map<number, Usage[]>();
  /** Definitions that are used somewhere. */
  readonly used: ReadonlySet<number>;
  /** Mapped items that place a usage, and show nothing by themselves. */
  readonly consumed = new Set<number>();

  constructor(
    readonly entities: Entities,
    readonly representations: Representations,
  ) {
    this.used = this.#read();
  }

  of(definition: number): readonly Usage[] {
    return this.all.get(definition) ?? [];
  }

  /** Reads usages of products in products. Returns the definitions that are used somewhere. */
  #read(): Set<number> {
    const { file } = this.entities;
    const used = new Set<number>();
    const byUsage = new Map<number, { parent: number; usage: Usage }>();
    this.entities.each('NEXT_ASSEMBLY_USAGE_OCCURRENCE', (index, [id, name, , relating, related, designator]) => {
      const parent = this.entities.follow(relating, index);
      const child = this.entities.follow(related, index);
      if (parent < 0 || child < 0) return;
      const label = [designator, name, id].find((text) => typeof text === 'string' && text.trim() !== '');
      const usage: Usage = { child, id: index, contexts: [file.ids[index]], name: String(label ?? '') };
      push(this.all, parent, usage);
      byUsage.set(index, { parent, usage });
      used.add(child);
    });
    this.entities.each('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', (index, [relation, shape]) => {
      const relationIndex = this.entities.follow(relation, index);
      const shapeIndex = this.entities.follow(shape, index);
      if (relationIndex < 0 || shapeIndex < 0) return;
      const found = byUsage.get(this.entities.follow(this.entities.args(shapeIndex)[2], shapeIndex));
      if (!found) return;
      found.usage.contexts.push(file.ids[index], file.ids[relationIndex], file.ids[shapeIndex]);
      found.usage.transform = this.#relationMatrix(relationIndex, found.parent, found.usage.child);
    });
    for (const [parent, usages] of this.all) this.#placeByMappedItems(parent, usages);
    return used;
  }

  #relationMatrix(relation: number, parent: number, child: number): Matrix | undefined {
    const { file } = this.entities;
    if (!file.is(relation, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')) return IDENTITY;
    const [, , a, b] = this.entities.args(relation, 'REPRESENTATION_RELATIONSHIP');
    const operator = this.entities.follow(
      this.entities.args(relation, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')[0],
      relation,
    );
    let from = this.entities.follow(a, relation);
    let to = this.entities.follow(b, relation);
    if (operator < 0 || from < 0 || to < 0) return undefined;
    // The component comes first by the recommended practice; some writers turn it round. Whose representation it is decides.
    const ofChild = this.representations.of(child);
    const swapped = !ofChild.includes(from) && ofChild.includes(to) && this.representations.of(parent).includes(from);
    if (swapped) [from, to] = [to, from];
    const fromMetres = this.entities.unit(this.entities.contextOf(from)).metres;
    const toMetres = this.entities.unit(this.entities.contextOf(to)).metres;
    if (!file.is(operator, 'ITEM_DEFINED_TRANSFORMATION')) return this.entities.placement(file.ids[operator], toMetres);
    const items = this.entities.args(operator).filter((arg) => arg instanceof Ref) as Ref[];
    const [first, second] = swapped ? [items[1], items[0]] : items;
    const source = first && this.entities.placement(first.id, fromMetres);
    const target = second && this.entities.placement(second.id, toMetres);
    if (!source || !target) {
      this.entities.warn(
        'placement',
        'A placement is missing or malformed; the component is shown at the origin of its assembly.',
        operator,
      );
      return IDENTITY;
    }
    return carrying(source, target);
  }

  /** Usages without a transformation of their own are placed by the mapped items of the parent that show the child. */
  #placeByMappedItems(parent: number, usages: Usage[]): void {
    const open = usages.filter((usage) => !usage.transform);
    if (open.length === 0) return;
    for (const representation of this.representations.of(parent)) {
      for (const item of this.representations.items(representation)) {
        if (!this.entities.file.is(item, 'MAPPED_ITEM')) continue;
        const mapped = this.representations.mapped(item, representation);
        const usage =
          mapped && open.find((u) => !u.transform && this.representations.of(u.child).includes(mapped.representation));
        if (!usage || !mapped) continue;
        usage.transform = mapped.matrix;
        usage.contexts.push(this.entities.file.ids[item]);
        this.consumed.add(item);
      }
    }
  }
}
