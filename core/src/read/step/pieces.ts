/** The distinct shapes of a file, still as text, with the colours of their faces; and the colours that a placement gives them instead. */
import type { StatedFigures } from '../../scene/types.ts';
import type { Entities } from './entities.ts';
import type { Leaf, PieceKind } from './leaves.ts';
import { facesOf, referred } from './shell.ts';
import { colourId } from './styles.ts';
import type { Colour, Styles } from './styles.ts';
import { tessellatedFaces } from './tessellated.ts';
import type { Usage } from './usages.ts';
import { Ref } from './values.ts';

/** A distinct solid of the file, still as text. */
export interface Piece {
  kind: PieceKind;
  /** Index of the solid in the file. */
  solid: number;
  /** Index of its representation context, or -1. */
  context: number;
  name: string;
  faces: number;
  /** Slot per face; absent where all faces are slot 0. */
  faceSlots?: number[];
  /** Colour per slot; slot 0 is that of the whole solid. */
  slotColours: (Colour | undefined)[];
  metres: number;
  /** Volume, area and centre as the file states them. */
  stated?: StatedFigures;
}

export class Pieces {
  readonly all: Piece[] = [];
  readonly #pieceOf = new Map<string, number>();

  constructor(
    readonly entities: Entities,
    readonly styles: Styles,
  ) {}

  shells(solid: number): number[] {
    return referred(this.entities.file, solid);
  }

  /** Number of the piece that a leaf shows. */
  numberOf(leaf: Leaf): number {
    const key = `${leaf.solid} ${leaf.context}`;
    let number = this.#pieceOf.get(key);
    if (number === undefined) {
      const { styles } = this;
      const { file } = this.entities;
      const { kind } = leaf;
      const faces =
        kind === 'exact'
          ? facesOf(this.entities.file, leaf.solid)
          : kind === 'triangles'
            ? tessellatedFaces(this.entities, leaf.solid)
            : [];
      const colourOf = (index: number) => styles.colours.get(file.ids[index]);
      const shells = kind === 'exact' ? this.shells(leaf.solid) : [];
      const representation = colourOf(leaf.representation);
      // Closest to the geometry wins: face, then shell, then solid, then representation.
      const slotColours: (Colour | undefined)[] = [
        shells.map(colourOf).find(Boolean) ?? colourOf(leaf.solid) ?? representation,
      ];
      const slotOf = new Map<string, number>();
      let several = false;
      const faceSlots = faces.map((face) => {
        const colour = colourOf(face);
        if (!colour) return 0;
        const id = colourId(colour);
        if (slotColours[0] && id === colourId(slotColours[0])) return 0;
        let slot = slotOf.get(id);
        if (slot === undefined) {
          slot = slotColours.push(colour) - 1;
          slotOf.set(id, slot);
        }
        several = true;
        return slot;
      });
      number =
        this.all.push({
          kind,
          solid: leaf.solid,
          context: leaf.context,
          name: this.entities.text(this.entities.args(leaf.solid)[0]),
          faces: faces.length,
          slotColours,
          metres: this.entities.unit(leaf.context).metres,
          ...(several ? { faceSlots } : {}),
        }) - 1;
      this.#pieceOf.set(key, number);
    }
    return number;
  }

  /** Colours of one placement, where it has its own: the outermost usage that names one prevails; styled faces keep theirs. */
  placedColours(piece: Piece, leaf: Leaf, shells: number[], usages: Usage[]): (Colour | undefined)[] | undefined {
    const { styles } = this;
    const { file } = this.entities;
    let targets: Set<number> | undefined;
    for (const usage of usages) {
      for (const context of usage.contexts) {
        for (const placed of styles.placed.get(context) ?? []) {
          targets ??= new Set(
            [leaf.solid, ...shells, ...leaf.through, leaf.representation].map((index) => file.ids[index]),
          );
          const styled = file.indexOf(placed.item);
          const target =
            styled >= 0 && file.is(styled, 'STYLED_ITEM') ? this.entities.args(styled, 'STYLED_ITEM')[2] : undefined;
          if (targets.has(placed.item) || (target instanceof Ref && targets.has(target.id)))
            return [placed.colour, ...piece.slotColours.slice(1)];
        }
        const whole = styles.colours.get(context);
        if (whole) return [whole, ...piece.slotColours.slice(1)];
      }
    }
    for (const item of leaf.through) {
      const colour = styles.colours.get(file.ids[item]);
      if (colour) return [colour, ...piece.slotColours.slice(1)];
    }
    return undefined;
  }
}
