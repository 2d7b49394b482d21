/** The shapes of a product: solids, sheets, lines and triangles in its own frame, mapped ones included at any depth. */
import { IDENTITY, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { Entities } from './entities.ts';
import type { Representations } from './representations.ts';
import { TESSELLATED_TYPES } from './tessellated.ts';

/** Shapes that become parts: solids, and sheet bodies that hang on no solid. */
export const SOLID_TYPES = [
  'MANIFOLD_SOLID_BREP',
  'BREP_WITH_VOIDS',
  'FACETED_BREP',
  'SHELL_BASED_SURFACE_MODEL',
] as const;

/** Shapes that are lines only. */
export const WIREFRAME_TYPES = ['GEOMETRIC_CURVE_SET', 'GEOMETRIC_SET'] as const;

/** What there is of a part: an exact shape, lines only, or triangles already. */
export type PieceKind = 'exact' | 'lines' | 'triangles';

/** Most rows that one file may unfold to. An assembly of assemblies that doubles thirty times would fill any memory. */
export const MAX_NODES = 2_000_000;
export const MAX_LEVELS = 200;

/** A solid in a product, in the product's own frame. */
export interface Leaf {
  kind: PieceKind;
  solid: number;
  context: number;
  transform: Matrix;
  representation: number;
  /** Mapped items that it was reached through, outermost first. */
  through: number[];
  /** Lines beside an exact shape of the same product: its outline, or what it was constructed from. */
  spare?: true;
}

export class Leaves {
  /** Bodies whose triangles are not needed, as their exact shape is there. */
  spare = 0;
  readonly #leaves = new Map<number, Leaf[]>();

  constructor(
    readonly entities: Entities,
    readonly representations: Representations,
    /** Mapped items that place a usage, and show nothing by themselves. */
    readonly consumed: ReadonlySet<number>,
    readonly tooMany: () => never,
  ) {}

  /** Solids of a product in its own frame, mapped ones included at any depth. */
  of(definition: number): Leaf[] {
    let leaves = this.#leaves.get(definition);
    if (!leaves) {
      leaves = [];
      const seen = new Set<number>();
      for (const representation of this.representations.of(definition))
        this.#gather(representation, IDENTITY, [], [], leaves, seen);
      // Triangles beside an exact shape are its picture, made by somebody else's limits.
      const exact = leaves.filter(({ kind }) => kind !== 'triangles');
      if (exact.some(({ kind }) => kind === 'exact') && exact.length < leaves.length) {
        this.spare += leaves.length - exact.length;
        leaves = exact;
      }
      // Exact shapes come first, so that they keep the name of the product.
      if (leaves.some(({ kind }) => kind === 'exact'))
        leaves = [
          ...leaves.filter(({ kind }) => kind === 'exact'),
          ...leaves.filter(({ kind }) => kind === 'lines').map((leaf): Leaf => ({ ...leaf, spare: true })),
        ];
      this.#leaves.set(definition, leaves);
    }
    return leaves;
  }

  #gather(
    representation: number,
    transform: Matrix,
    path: number[],
    through: number[],
    out: Leaf[],
    seen: Set<number>,
  ): void {
    if (path.includes(representation) || path.length > MAX_LEVELS) {
      this.entities.warn(
        'cyclic',
        'A representation contains itself through its mapped items; the circle was cut here.',
        representation,
      );
      return;
    }
    if (out.length > MAX_NODES) this.tooMany();
    let items: number[];
    try {
      items = this.representations.items(representation);
    } catch (error) {
      this.entities.warn('malformed', `${(error as Error).message} Its shapes were left out.`, representation);
      return;
    }
    const context = this.entities.contextOf(representation);
    for (const item of items) {
      const kind = this.#kindOf(item);
      if (kind) {
        // The same solid may be listed by two equivalent representations.
        if (path.length === 0 && seen.has(item)) continue;
        if (path.length === 0) seen.add(item);
        out.push({ kind, solid: item, context, transform, representation, through });
      } else if (this.entities.file.is(item, 'MAPPED_ITEM') && !this.consumed.has(item)) {
        const mapped = this.representations.mapped(item, representation);
        if (!mapped) continue;
        this.#gather(
          mapped.representation,
          multiply(transform, mapped.matrix),
          [...path, representation],
          [...through, item],
          out,
          seen,
        );
      }
    }
  }

  #kindOf(item: number): PieceKind | undefined {
    const isOneOf = (types: readonly string[]) => types.some((type) => this.entities.file.is(item, type));
    if (isOneOf(SOLID_TYPES)) return 'exact';
    if (isOneOf(TESSELLATED_TYPES)) return 'triangles';
    return isOneOf(WIREFRAME_TYPES) ? 'lines' : undefined;
  }
}
