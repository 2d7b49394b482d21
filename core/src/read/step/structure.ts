/**
 * The structure of a STEP file before any geometry: products, their usages and placements, solids, units, colours and
 * layers. Both ways of assembling are read: related representations with a transformation, and mapped items.
 */
import { PrismError } from '../../errors.ts';
import { IDENTITY, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { StatedFigures } from '../../scene/types.ts';
import { Ref } from './part21.ts';
import type { Part21, Value } from './part21.ts';
import { Entities } from './entities.ts';
import { externalDocuments } from './externalDocuments.ts';
import { carrying } from './placement.ts';
import { facesOf, referred } from './shell.ts';
import { colourId, readStyles } from './styles.ts';
import type { Colour, Styles } from './styles.ts';
import { TESSELLATED_TYPES, tessellatedFaces } from './tessellated.ts';
import { UNDECLARED } from './units.ts';
import type { LengthUnit } from './units.ts';
import { statedFigures } from './validation.ts';

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
const MAX_NODES = 500_000;
const MAX_LEVELS = 200;

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

/** One row of the tree. */
export interface StructureNode {
  parent: number | null;
  key: string;
  name: string;
  occurrence?: string;
  kind: 'assembly' | 'part';
  transform: Matrix;
  piece?: number;
  /** Colour per slot, where a placement overrides those of the piece. */
  colours?: (Colour | undefined)[];
  layer: string | null;
  entity: string;
  problem?: string;
  /** Name of the file that holds what belongs here. */
  external?: string;
}

export interface StepStructure {
  nodes: StructureNode[];
  pieces: Piece[];
  unit: LengthUnit;
  units: string[];
  layers: { name: string; description: string }[];
  colours: Map<string, Colour>;
  /** What is in the file and not carried, for people. */
  notRead: string[];
}

interface Usage {
  child: number;
  id: number;
  /** Entities by which a style may name this usage as its context. */
  contexts: number[];
  name: string;
  transform?: Matrix;
}

/** A solid in a product, in the product's own frame. */
interface Leaf {
  kind: PieceKind;
  solid: number;
  context: number;
  transform: Matrix;
  representation: number;
  /** Mapped items that it was reached through, outermost first. */
  through: number[];
}

/**
 * Reads the structure. Faults of single entities become warnings on the file, and the rest is kept.
 * @throws PrismError `no-geometry` where there is no product and no solid, `too-large` over {@link MAX_NODES} rows
 */
export function readStructure(file: Part21, fileName = ''): StepStructure {
  const styles = readStyles(file);
  const reader = new StructureReader(file, styles, fileName);
  return reader.read();
}

class StructureReader extends Entities {
  readonly nodes: StructureNode[] = [];
  readonly pieces: Piece[] = [];
  readonly #pieceOf = new Map<string, number>();
  readonly #representationsOf = new Map<number, number[]>();
  readonly #productOfRepresentation = new Map<number, number>();
  readonly #equivalent = new Map<number, number[]>();
  readonly #allRepresentations = new Map<number, number[]>();
  readonly #usages = new Map<number, Usage[]>();
  readonly #rows = new Map<number, number>();
  readonly #leaves = new Map<number, Leaf[]>();
  /** File that holds the shape of a product, by index of the product definition. */
  #externals = new Map<number, string>();
  #stated = new Map<number, StatedFigures>();
  /** Bodies whose triangles are not needed, as their exact shape is there. */
  #spare = 0;

  constructor(
    file: Part21,
    readonly styles: Styles,
    readonly fileName: string,
  ) {
    super(file);
  }

  read(): StepStructure {
    const { file } = this;
    const definitions = [
      ...file.ofType('PRODUCT_DEFINITION'),
      ...file.ofType('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS'),
    ];
    this.#readRepresentations();
    this.#externals = externalDocuments(this);
    this.#stated = statedFigures(this);
    const used = this.#readUsages();
    const roots = definitions.filter(
      (index) => !used.has(index) && (this.#usages.has(index) || this.#representationsOf.has(index)),
    );
    const siblings = new Map<string, number>();
    if (roots.reduce((sum, root) => sum + this.#countRows(root), 0) > MAX_NODES) this.#tooMany();
    for (const root of roots) this.#expand(root, null, IDENTITY, '', siblings, [], undefined, []);
    if (definitions.length > 0 && roots.length === 0 && used.size > 0) {
      this.warn(
        'cyclic',
        'Every product is a component of another: the assembly is a circle. Its solids are shown without it.',
        definitions[0],
      );
    }
    this.#looseSolids(siblings);
    if (this.nodes.length === 0) {
      throw new PrismError(
        'no-geometry',
        `${this.fileName || 'The file'} holds no product and no solid that can be read.`,
        {
          file: this.fileName,
          where: `${file.count} entities read`,
        },
      );
    }
    const colours = new Map<string, Colour>();
    for (const list of [
      ...this.pieces.map((piece) => piece.slotColours),
      ...this.nodes.map((node) => node.colours ?? []),
    ]) {
      for (const colour of list) if (colour) colours.set(colourId(colour), colour);
    }
    const units = [...new Set([...this.units.values()].map((unit) => unit.name))];
    return {
      nodes: this.nodes,
      pieces: this.pieces,
      unit: this.#unitOfMost(),
      units,
      layers: this.styles.layerNames,
      colours,
      notRead: this.#notRead(),
    };
  }

  #readRepresentations(): void {
    const { file } = this;
    this.each('SHAPE_DEFINITION_REPRESENTATION', (index, [shape, representation]) => {
      const shapeIndex = this.follow(shape, index);
      const representationIndex = this.follow(representation, index);
      if (shapeIndex < 0 || representationIndex < 0) return;
      const definition = this.follow(this.args(shapeIndex)[2], shapeIndex);
      if (definition < 0 || !file.typeOf(definition).startsWith('PRODUCT_DEFINITION')) return;
      push(this.#representationsOf, definition, representationIndex);
      if (!this.#productOfRepresentation.has(representationIndex))
        this.#productOfRepresentation.set(representationIndex, definition);
    });
    const link = (index: number, [, , a, b]: Value[]) => {
      if (file.is(index, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')) return;
      const first = this.follow(a, index);
      const second = this.follow(b, index);
      if (first < 0 || second < 0) return;
      push(this.#equivalent, first, second);
      push(this.#equivalent, second, first);
    };
    this.each('SHAPE_REPRESENTATION_RELATIONSHIP', link, 'REPRESENTATION_RELATIONSHIP');
  }

  /** All representations that show the same shape as those of a product, without passing into another product. */
  #representations(definition: number): number[] {
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

  #unitOfMost(): LengthUnit {
    const tally = new Map<string, { unit: LengthUnit; count: number }>();
    for (const piece of this.pieces) {
      const unit = this.unit(piece.context);
      const entry = tally.get(unit.name) ?? { unit, count: 0 };
      entry.count++;
      tally.set(unit.name, entry);
    }
    const most = [...tally.values()].sort((a, b) => b.count - a.count)[0];
    return most?.unit ?? [...this.units.values()][0] ?? UNDECLARED;
  }

  /** Reads usages of products in products. Returns the definitions that are used somewhere. */
  #readUsages(): Set<number> {
    const { file } = this;
    const used = new Set<number>();
    const byUsage = new Map<number, { parent: number; usage: Usage }>();
    this.each('NEXT_ASSEMBLY_USAGE_OCCURRENCE', (index, [id, name, , relating, related, designator]) => {
      const parent = this.follow(relating, index);
      const child = this.follow(related, index);
      if (parent < 0 || child < 0) return;
      const label = [designator, name, id].find((text) => typeof text === 'string' && text.trim() !== '');
      const usage: Usage = { child, id: index, contexts: [file.ids[index]], name: String(label ?? '') };
      push(this.#usages, parent, usage);
      byUsage.set(index, { parent, usage });
      used.add(child);
    });
    this.each('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION', (index, [relation, shape]) => {
      const relationIndex = this.follow(relation, index);
      const shapeIndex = this.follow(shape, index);
      if (relationIndex < 0 || shapeIndex < 0) return;
      const found = byUsage.get(this.follow(this.args(shapeIndex)[2], shapeIndex));
      if (!found) return;
      found.usage.contexts.push(file.ids[index], file.ids[relationIndex], file.ids[shapeIndex]);
      found.usage.transform = this.#relationMatrix(relationIndex, found.parent, found.usage.child);
    });
    for (const [parent, usages] of this.#usages) this.#placeByMappedItems(parent, usages);
    return used;
  }

  #relationMatrix(relation: number, parent: number, child: number): Matrix | undefined {
    const { file } = this;
    if (!file.is(relation, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')) return IDENTITY;
    const [, , a, b] = this.args(relation, 'REPRESENTATION_RELATIONSHIP');
    const operator = this.follow(this.args(relation, 'REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION')[0], relation);
    let from = this.follow(a, relation);
    let to = this.follow(b, relation);
    if (operator < 0 || from < 0 || to < 0) return undefined;
    // The component comes first by the recommended practice; some writers turn it round. Whose representation it is decides.
    const ofChild = this.#representations(child);
    const swapped = !ofChild.includes(from) && ofChild.includes(to) && this.#representations(parent).includes(from);
    if (swapped) [from, to] = [to, from];
    const fromMetres = this.unit(this.contextOf(from)).metres;
    const toMetres = this.unit(this.contextOf(to)).metres;
    if (!file.is(operator, 'ITEM_DEFINED_TRANSFORMATION')) return this.placement(file.ids[operator], toMetres);
    const items = this.args(operator).filter((arg) => arg instanceof Ref) as Ref[];
    const [first, second] = swapped ? [items[1], items[0]] : items;
    const source = first && this.placement(first.id, fromMetres);
    const target = second && this.placement(second.id, toMetres);
    if (!source || !target) {
      this.warn(
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
    for (const representation of this.#representations(parent)) {
      for (const item of this.#items(representation)) {
        if (!this.file.is(item, 'MAPPED_ITEM')) continue;
        const mapped = this.#mapped(item, representation);
        const usage =
          mapped && open.find((u) => !u.transform && this.#representations(u.child).includes(mapped.representation));
        if (!usage || !mapped) continue;
        usage.transform = mapped.matrix;
        usage.contexts.push(this.file.ids[item]);
        this.#consumed.add(item);
      }
    }
  }
  readonly #consumed = new Set<number>();

  #items(representation: number): number[] {
    const list = this.args(representation).find(Array.isArray) as Value[] | undefined;
    return (list ?? []).map((item) => this.follow(item, representation)).filter((index) => index >= 0);
  }

  #mapped(item: number, representation: number): { representation: number; matrix: Matrix } | undefined {
    const { file } = this;
    const [, source, target] = this.args(item, file.typeOf(item).includes('+') ? 'MAPPED_ITEM' : undefined);
    const map = this.follow(source, item);
    if (map < 0) return undefined;
    const [origin, shown] = this.args(map);
    const shownIndex = this.follow(shown, map);
    if (shownIndex < 0 || !(origin instanceof Ref) || !(target instanceof Ref)) return undefined;
    const from = this.placement(origin.id, this.unit(this.contextOf(shownIndex)).metres);
    const to = this.placement(target.id, this.unit(this.contextOf(representation)).metres);
    if (!from || !to)
      this.warn('placement', 'A mapped item has no readable placement; it is shown at the origin.', item);
    return { representation: shownIndex, matrix: from && to ? carrying(from, to) : IDENTITY };
  }

  /** Solids of a product in its own frame, mapped ones included at any depth. */
  #leavesOf(definition: number): Leaf[] {
    let leaves = this.#leaves.get(definition);
    if (!leaves) {
      leaves = [];
      const seen = new Set<number>();
      for (const representation of this.#representations(definition))
        this.#gather(representation, IDENTITY, [], [], leaves, seen);
      // Triangles beside an exact shape are its picture, made by somebody else's limits.
      const exact = leaves.filter(({ kind }) => kind !== 'triangles');
      if (exact.some(({ kind }) => kind === 'exact') && exact.length < leaves.length) {
        this.#spare += leaves.length - exact.length;
        leaves = exact;
      }
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
      this.warn(
        'cyclic',
        'A representation contains itself through its mapped items; the circle was cut here.',
        representation,
      );
      return;
    }
    if (out.length > MAX_NODES) this.#tooMany();
    let items: number[];
    try {
      items = this.#items(representation);
    } catch (error) {
      this.warn('malformed', `${(error as Error).message} Its shapes were left out.`, representation);
      return;
    }
    const context = this.contextOf(representation);
    for (const item of items) {
      const kind = this.#kindOf(item);
      if (kind) {
        // The same solid may be listed by two equivalent representations.
        if (path.length === 0 && seen.has(item)) continue;
        if (path.length === 0) seen.add(item);
        out.push({ kind, solid: item, context, transform, representation, through });
      } else if (this.file.is(item, 'MAPPED_ITEM') && !this.#consumed.has(item)) {
        const mapped = this.#mapped(item, representation);
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
    const isOneOf = (types: readonly string[]) => types.some((type) => this.file.is(item, type));
    if (isOneOf(SOLID_TYPES)) return 'exact';
    if (isOneOf(TESSELLATED_TYPES)) return 'triangles';
    return isOneOf(WIREFRAME_TYPES) ? 'lines' : undefined;
  }

  /** What the file has besides shapes, counted by the types of its entities. */
  #notRead(): string[] {
    const { file } = this;
    let construction = 0;
    for (const index of file.ofType('CONSTRUCTIVE_GEOMETRY_REPRESENTATION')) construction += this.#items(index).length;
    let annotations = 0;
    for (const type of file.typeNames)
      if (/(^|\+)(TESSELLATED_)?ANNOTATION_(CURVE_|TEXT_|SYMBOL_|PLANE_|FILL_AREA_)?OCCURRENCE/.test(type))
        annotations += file.ofType(type.split('+')[0]).length;
    const out: string[] = [];
    if (construction > 0)
      out.push(`Construction geometry (${construction} planes, axes, points or curves) is told apart and not carried.`);
    if (annotations > 0) out.push(`Annotations (${annotations}: dimensions, tolerances, notes) are not carried.`);
    if (this.#spare > 0)
      out.push(`Triangles of ${this.#spare} bodies are passed over, as their exact shapes are there too.`);
    return out;
  }

  #tooMany(): never {
    throw new PrismError(
      'too-large',
      `${this.fileName || 'The file'} unfolds to more than ${MAX_NODES.toLocaleString('en')} placements. Ask for a sub-assembly.`,
      {
        file: this.fileName,
      },
    );
  }

  /** Rows that a product unfolds to, counted without unfolding it; a circle counts once. */
  #countRows(definition: number, depth = 0): number {
    const known = this.#rows.get(definition);
    if (known !== undefined || depth > MAX_LEVELS) return known ?? 1;
    this.#rows.set(definition, 1);
    let rows = 1;
    for (const usage of this.#usages.get(definition) ?? []) rows += this.#countRows(usage.child, depth + 1);
    this.#rows.set(definition, rows);
    return rows;
  }

  #expand(
    definition: number,
    parent: number | null,
    transform: Matrix,
    parentKey: string,
    siblings: Map<string, number>,
    path: number[],
    usage: Usage | undefined,
    usages: Usage[],
  ): void {
    if (path.includes(definition) || path.length > MAX_LEVELS) {
      this.warn(
        'cyclic',
        `The assembly contains itself: product #${this.file.ids[definition]} is a component of its own component. The circle was cut here.`,
        usage?.id ?? definition,
      );
      return;
    }
    if (this.nodes.length > MAX_NODES) this.#tooMany();
    const name = this.#nameOf(definition);
    const key = uniqueKey(parentKey, name, siblings);
    let leaves: Leaf[] = [];
    try {
      leaves = this.#leavesOf(definition);
    } catch (error) {
      if (error instanceof PrismError && error.code === 'too-large') throw error;
      this.warn('malformed', `${(error as Error).message} The shapes of this product were left out.`, definition);
    }
    const children = this.#usages.get(definition) ?? [];
    const stated = leaves.length === 1 ? this.#stated.get(definition) : undefined;
    if (stated) this.#state(leaves[0], stated);
    const base = {
      parent,
      key,
      name,
      entity: `#${this.file.ids[definition]}`,
      ...(usage?.name ? { occurrence: usage.name } : {}),
    };
    const chain = usage ? [...usages, usage] : usages;
    if (children.length === 0 && leaves.length === 1) {
      this.#addLeaf({ ...base, transform: multiply(transform, leaves[0].transform) }, leaves[0], chain);
      return;
    }
    const id = this.nodes.length;
    const empty = children.length === 0 && leaves.length === 0;
    const external = empty ? this.#externals.get(definition) : undefined;
    this.nodes.push({
      ...base,
      kind: 'assembly',
      transform,
      layer: this.#layerOf(this.#representations(definition)),
      ...(external ? { external } : empty ? { problem: 'No solid or sheet is given for this product.' } : {}),
    });
    const own = new Map<string, number>();
    for (const leaf of leaves) {
      const leafName = this.text(this.args(leaf.solid)[0]) || name;
      this.#addLeaf(
        {
          parent: id,
          key: uniqueKey(key, leafName, own),
          name: leafName,
          entity: `#${this.file.ids[leaf.solid]}`,
          transform: leaf.transform,
        },
        leaf,
        chain,
      );
    }
    for (const child of children) {
      if (!child.transform)
        this.warn(
          'placement',
          'This usage has no placement; the component is shown at the origin of its assembly.',
          child.id,
        );
      this.#expand(child.child, id, child.transform ?? IDENTITY, key, own, [...path, definition], child, chain);
    }
  }

  #state(leaf: Leaf, stated: StatedFigures): void {
    this.pieces[this.#pieceFor(leaf)].stated ??= stated;
  }

  #addLeaf(base: Omit<StructureNode, 'kind' | 'layer' | 'piece' | 'colours'>, leaf: Leaf, usages: Usage[]): void {
    if (this.nodes.length > MAX_NODES) this.#tooMany();
    const piece = this.#pieceFor(leaf);
    const { solid } = leaf;
    const shells = this.#shells(solid);
    const layer = this.#layerOf([solid, ...shells, ...leaf.through, leaf.representation]);
    const colours = this.#placedColours(this.pieces[piece], leaf, shells, usages);
    this.nodes.push({ ...base, kind: 'part', piece, layer, ...(colours ? { colours } : {}) });
  }

  #layerOf(indices: number[]): string | null {
    for (const index of indices) {
      const layer = this.styles.layers.get(this.file.ids[index]);
      if (layer) return layer;
    }
    return null;
  }

  #shells(solid: number): number[] {
    return referred(this.file, solid);
  }

  #pieceFor(leaf: Leaf): number {
    const key = `${leaf.solid} ${leaf.context}`;
    let number = this.#pieceOf.get(key);
    if (number === undefined) {
      const { file, styles } = this;
      const { kind } = leaf;
      const faces =
        kind === 'exact'
          ? facesOf(this.file, leaf.solid)
          : kind === 'triangles'
            ? tessellatedFaces(this, leaf.solid)
            : [];
      const colourOf = (index: number) => styles.colours.get(file.ids[index]);
      const shells = kind === 'exact' ? this.#shells(leaf.solid) : [];
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
        this.pieces.push({
          kind,
          solid: leaf.solid,
          context: leaf.context,
          name: this.text(this.args(leaf.solid)[0]),
          faces: faces.length,
          slotColours,
          metres: this.unit(leaf.context).metres,
          ...(several ? { faceSlots } : {}),
        }) - 1;
      this.#pieceOf.set(key, number);
    }
    return number;
  }

  /** Colours of one placement, where it has its own: the outermost usage that names one prevails; styled faces keep theirs. */
  #placedColours(piece: Piece, leaf: Leaf, shells: number[], usages: Usage[]): (Colour | undefined)[] | undefined {
    const { file, styles } = this;
    const targets = new Set(
      [leaf.solid, ...shells, ...leaf.through, leaf.representation].map((index) => file.ids[index]),
    );
    for (const usage of usages) {
      for (const context of usage.contexts) {
        for (const placed of styles.placed.get(context) ?? []) {
          const styled = file.indexOf(placed.item);
          const target =
            styled >= 0 && file.is(styled, 'STYLED_ITEM') ? this.args(styled, 'STYLED_ITEM')[2] : undefined;
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

  /** Solids that no product shows: a file may hold bare geometry, or its products may be broken. */
  #looseSolids(siblings: Map<string, number>): void {
    const shown = new Set(this.pieces.map((piece) => piece.solid));
    const all = SOLID_TYPES.flatMap((type) => [...this.file.ofType(type)]);
    const loose = new Set(all.filter((index) => !shown.has(index)));
    if (loose.size === 0) return;
    const contexts = new Map<number, number>();
    const representations = this.file.typeNames.filter(
      (type) => type.endsWith('REPRESENTATION') || type.includes('SHAPE_REPRESENTATION+'),
    );
    for (const type of representations) {
      for (const index of this.file.ofType(type)) {
        try {
          for (const item of this.#items(index)) if (loose.has(item)) contexts.set(item, index);
        } catch {
          // Warned of where the representation is used.
        }
      }
    }
    for (const solid of loose) {
      const representation = contexts.get(solid) ?? -1;
      const context =
        representation >= 0
          ? this.contextOf(representation)
          : (this.file.ofType('GLOBAL_UNIT_ASSIGNED_CONTEXT')[0] ?? -1);
      const name = this.safely(() => this.text(this.args(solid)[0])) || 'Solid without a product';
      this.warn('loose', `${name} belongs to no product of the file. It is shown at the top of the tree.`, solid);
      try {
        this.#addLeaf(
          {
            parent: null,
            key: uniqueKey('', name, siblings),
            name,
            entity: `#${this.file.ids[solid]}`,
            transform: IDENTITY,
          },
          {
            kind: 'exact',
            solid,
            context,
            transform: IDENTITY,
            representation: representation < 0 ? solid : representation,
            through: [],
          },
          [],
        );
      } catch (error) {
        this.warn('malformed', `${(error as Error).message} It was left out.`, solid);
      }
    }
  }

  #nameOf(definition: number): string {
    const { file } = this;
    const fallback = `Product #${file.ids[definition]}`;
    try {
      const formation = this.follow(this.args(definition)[2], definition);
      const product =
        formation < 0
          ? -1
          : this.follow(
              this.args(formation).find((arg) => arg instanceof Ref),
              formation,
            );
      if (product < 0) return fallback;
      const [id, name] = this.args(product);
      return this.text(name, product) || this.text(id, product) || fallback;
    } catch {
      return fallback;
    }
  }
}

function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}

/** Path of names; equals among siblings are told apart by an ordinal (`Bolt`, `Bolt#2`). */
function uniqueKey(parentKey: string, name: string, siblings: Map<string, number>): string {
  const clean = name.replaceAll('/', '∕').slice(0, 200);
  const count = (siblings.get(clean) ?? 0) + 1;
  siblings.set(clean, count);
  return `${parentKey}/${clean}${count > 1 ? `#${count}` : ''}`;
}
