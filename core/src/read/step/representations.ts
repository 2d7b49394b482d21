/** Representations of shapes: which show the same shape of one product, and what each of them shows. */
import { IDENTITY } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { Entities } from './entities.ts';
import { carrying } from './placement.ts';
import { push } from './push.ts';
import { Ref } from './values.ts';
import type { Value } from './values.ts';

export class Representations {
  readonly #representationsOf = new Map<number, number[]>();
  readonly #productOfRepresentation = new Map<number, number>();
  readonly #equivalent = new Map<number, number[]>();
  readonly #allRepresentations = new Map<number, number[]>();

  constructor(readonly entities: Entities) {
    this.#read();
  }

  /** True for a product that shows a shape of its own. */
  has(definition: number): boolean {
    return this.#representationsOf.has(definition);
  }

  #read(): void {
    const { file } = this.entities;
    this.entities.each('SHAPE_DEFINITION_REPRESENTATION', (index, [shape, representation]) => {
      const shapeIndex = this.entities.follow(shape, index);
      const representationIndex = this.entities.follow(representation, index);
      if (shapeIndex < 0 || representationIndex < 0) return;
      const definition = this.entities.follow(this.entities.args(shapeIndex)[2], shapeIndex);
      if (definition < 0 || !file.typeOf(definition).startsWith('PRODUCT_DEFINITION')) return;
      push(this.#representationsOf, definition, representationIndex);
      if (!this.#productOfRepresentation.has(representationIndex))
        this.#productOfRepresentation.set(representationIndex, definition);
    });
    const link = (index: number, [, , a, b]: Value[]) => {
      if (file.is(index, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')) return;
      const first = this.entities.follow(a, index);
      const second = this.entities.follow(b, index);
      if (first < 0 || second < 0) return;
      push(this.#equivalent, first, second);
      push(this.#equivalent, second, first);
    };
    this.entities.each('SHAPE_REPRESENTATION_RELATIONSHIP', link, 'REPRESENTATION_RELATIONSHIP');
  }

  /** All representations that show the same shape as those of a product, without passing into another product. */
  of(definition: number): number[] {
    const known = this.#allRepresentations.get(definition);
    if (known) return known;
    const out = [...(this.#representationsOf.get(definition) ?? [])];
    this.#allRepresentations.set(definition, out);
    for (let i = 0; i < out.length; i++) {
      for (const next of this.#equivalent.get(out[i]) ?? []) {
        const owner = this.#productOfRepresentation.get(next);
        if (!out.includes(next) && (owner === undefined || owner === definition)) out.push(next);
      }
    }
    return out;
  }

  /** Indices of what a representation shows. */
  items(representation: number): number[] {
    const list = this.entities.args(representation).find(Array.isArray) as Value[] | undefined;
    return (list ?? []).map((item) => this.entities.follow(item, representation)).filter((index) => index >= 0);
  }

  /** What a mapped item shows, and where. */
  mapped(item: number, representation: number): { representation: number; matrix: Matrix } | undefined {
    const { file } = this.entities;
    const [, source, target] = this.entities.args(item, file.typeOf(item).includes('+') ? 'MAPPED_ITEM' : undefined);
    const map = this.entities.follow(source, item);
    if (map < 0) return undefined;
    const [origin, shown] = this.entities.args(map);
    const shownIndex = this.entities.follow(shown, map);
    if (shownIndex < 0 || !(origin instanceof Ref) || !(target instanceof Ref)) return undefined;
    const from = this.entities.placement(origin.id, this.entities.unit(this.entities.contextOf(shownIndex)).metres);
    const to = this.entities.placement(target.id, this.entities.unit(this.entities.contextOf(representation)).metres);
    if (!from || !to)
      this.entities.warn('placement', 'A mapped item has no readable placement; it is shown at the origin.', item);
    return { representation: shownIndex, matrix: from && to ? carrying(from, to) : IDENTITY };
  }
}
