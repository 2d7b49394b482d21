/**
 * The structure of a STEP file before any geometry: products, their usages and placements, solids, units, colours and
 * layers. Both ways of assembling are read: related representations with a transformation, and mapped items.
 */
import { PrismError } from '../../errors.ts';
import { NumberList } from '../../mesh/numberList.ts';
import { IDENTITY, invert, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { NodeTable } from '../../scene/nodes.ts';
import { NodeWriter } from '../../scene/nodeWriter.ts';
import type { NewRow } from '../../scene/nodeWriter.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { StatedFigures } from '../../scene/types.ts';
import type { RowProgress } from '../rowProgress.ts';
import { Entities } from './entities.ts';
import { externalDocuments } from './externalDocuments.ts';
import { Leaves, MAX_LEVELS, MAX_NODES, SOLID_TYPES } from './leaves.ts';
import type { Leaf } from './leaves.ts';
import type { Part21 } from './part21.ts';
import { Pieces } from './pieces.ts';
import type { Piece } from './pieces.ts';
import { Representations } from './representations.ts';
import { colourId, readStyles } from './styles.ts';
import type { Colour, Styles } from './styles.ts';
import { UNDECLARED } from './units.ts';
import type { LengthUnit } from './units.ts';
import { Usages } from './usages.ts';
import type { Usage } from './usages.ts';
import { statedFigures } from './validation.ts';
import { Ref } from './values.ts';

export interface StepStructure {
  /** The tree, without the shapes. */
  nodes: NodeTable;
  /** Number of the piece that each row shows; -1 for none. */
  pieceOf: Int32Array;
  /** Rows whose content another file holds, and its name. */
  externals: Map<number, string>;
  pieces: Piece[];
  unit: LengthUnit;
  units: string[];
  layers: { name: string; description: string }[];
  colours: Map<string, Colour>;
  /** What is in the file and not carried, for people. */
  notRead: string[];
}

/**
 * Reads the structure. Faults of single entities become warnings on the file, and the rest is kept.
 * @param progress told of the rows, as soon as it is known how many there will be
 * @throws PrismError `no-geometry` where there is no product and no solid, `too-large` over {@link MAX_NODES} rows
 */
export function readStructure(
  file: Part21,
  source: string,
  fileName = '',
  progress?: (total: number) => RowProgress,
): StepStructure {
  const styles = readStyles(file);
  const reader = new StructureReader(file, styles, source, fileName);
  return reader.read(progress);
}

/** What is the same of a shape wherever it is placed. */
interface Shown {
  piece: number;
  shells: number[];
  layer: string | null;
  /** Of its own colours. */
  materials: string[];
}

class StructureReader extends Entities {
  readonly #writer: NodeWriter;
  readonly #pieceOf = new NumberList(Int32Array);
  /** Rows whose content another file holds. */
  readonly #elsewhere = new Map<number, string>();
  /** Colours that placements give to what they place. */
  readonly #placed = new Map<string, Colour>();
  readonly #representations: Representations;
  readonly #usages: Usages;
  readonly #leaves: Leaves;
  readonly #pieces: Pieces;
  readonly #rows = new Map<number, number>();
  #told: RowProgress | undefined;
  /** What is the same wherever a product is placed. */
  readonly #names = new Map<number, string>();
  readonly #layers = new Map<number, string | null>();
  readonly #shown = new Map<Leaf, Shown>();
  /** File that holds the shape of a product, by index of the product definition. */
  #externals = new Map<number, string>();
  #stated = new Map<number, StatedFigures>();

  constructor(
    file: Part21,
    readonly styles: Styles,
    source: string,
    readonly fileName: string,
  ) {
    super(file);
    this.#writer = new NodeWriter(source);
    this.#representations = new Representations(this);
    this.#usages = new Usages(this, this.#representations);
    this.#leaves = new Leaves(this, this.#representations, this.#usages.consumed, () => this.#tooMany());
    this.#pieces = new Pieces(this, styles);
  }

  read(progress?: (total: number) => RowProgress): StepStructure {
    const { file } = this;
    const definitions = [
      ...file.ofType('PRODUCT_DEFINITION'),
      ...file.ofType('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS'),
    ];
    this.#externals = externalDocuments(this);
    this.#stated = statedFigures(this);
    const { used } = this.#usages;
    const roots = definitions.filter(
      (index) => !used.has(index) && (this.#usages.all.has(index) || this.#representations.has(index)),
    );
    const total = roots.reduce((sum, root) => sum + this.#countRows(root), 0);
    if (total > MAX_NODES) this.#tooMany();
    this.#told = progress?.(total);
    for (const root of roots) this.#expand(root, null, IDENTITY, [], undefined, []);
    if (definitions.length > 0 && roots.length === 0 && used.size > 0) {
      this.warn(
        'cyclic',
        'Every product is a component of another: the assembly is a circle. Its solids are shown without it.',
        definitions[0],
      );
    }
    this.#looseSolids();
    if (this.#writer.rows === 0) {
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
    for (const { slotColours } of this.#pieces.all)
      for (const colour of slotColours) if (colour) colours.set(colourId(colour), colour);
    for (const [id, colour] of this.#placed) colours.set(id, colour);
    const units = [...new Set([...this.units.values()].map((unit) => unit.name))];
    return {
      nodes: this.#writer.table(),
      pieceOf: this.#pieceOf.copy(),
      externals: this.#elsewhere,
      pieces: this.#pieces.all,
      unit: this.#unitOfMost(),
      units,
      layers: this.styles.layerNames,
      colours,
      notRead: this.#notRead(),
    };
  }

  #unitOfMost(): LengthUnit {
    const tally = new Map<string, { unit: LengthUnit; count: number }>();
    for (const piece of this.#pieces.all) {
      const unit = this.unit(piece.context);
      const entry = tally.get(unit.name) ?? { unit, count: 0 };
      entry.count++;
      tally.set(unit.name, entry);
    }
    const most = [...tally.values()].sort((a, b) => b.count - a.count)[0];
    return most?.unit ?? [...this.units.values()][0] ?? UNDECLARED;
  }

  /** What the file has besides shapes, counted by the types of its entities. */
  #notRead(): string[] {
    const { file } = this;
    let construction = 0;
    for (const index of file.ofType('CONSTRUCTIVE_GEOMETRY_REPRESENTATION'))
      construction += this.#representations.items(index).length;
    let annotations = 0;
    for (const type of file.typeNames)
      if (/(^|\+)(TESSELLATED_)?ANNOTATION_(CURVE_|TEXT_|SYMBOL_|PLANE_|FILL_AREA_)?OCCURRENCE/.test(type))
        annotations += file.ofType(type.split('+')[0]).length;
    const out: string[] = [];
    if (construction > 0)
      out.push(`Construction geometry (${construction} planes, axes, points or curves) is told apart and not carried.`);
    if (annotations > 0) out.push(`Annotations (${annotations}: dimensions, tolerances, notes) are not carried.`);
    if (this.#leaves.spare > 0)
      out.push(`Triangles of ${this.#leaves.spare} bodies are passed over, as their exact shapes are there too.`);
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
    for (const usage of this.#usages.of(definition)) rows += this.#countRows(usage.child, depth + 1);
    this.#rows.set(definition, rows);
    return rows;
  }

  #expand(
    definition: number,
    parent: number | null,
    transform: Matrix,
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
    if (this.#writer.rows > MAX_NODES) this.#tooMany();
    const name = this.#nameOf(definition);
    this.#told?.row(name);
    let leaves: Leaf[] = [];
    try {
      leaves = this.#leaves.of(definition);
    } catch (error) {
      if (error instanceof PrismError && error.code === 'too-large') throw error;
      this.warn('malformed', `${(error as Error).message} The shapes of this product were left out.`, definition);
    }
    const children = this.#usages.of(definition);
    const bodies = leaves.filter(({ spare }) => !spare);
    const stated = bodies.length === 1 ? this.#stated.get(definition) : undefined;
    if (stated) this.#state(bodies[0], stated);
    // One object and no copies of it: there may be a million rows.
    const row: NewRow = { parent, name, kind: 'assembly', transform, entity: `#${this.file.ids[definition]}`, occurrence: usage?.name || undefined }; // prettier-ignore
    const chain = usage ? [...usages, usage] : usages;
    if (children.length === 0 && bodies.length === 1) {
      const [body] = bodies;
      if (body.transform !== IDENTITY) row.transform = multiply(transform, body.transform);
      const id = this.#addLeaf(row, body, chain);
      const wires = leaves.filter(({ spare }) => spare);
      if (wires.length === 0) return;
      const toBody = invert(body.transform);
      this.#addLeaves(
        wires.map((leaf) => ({ ...leaf, transform: multiply(toBody, leaf.transform) })),
        id,
        `${name} wires`,
        chain,
      );
      return;
    }
    const empty = children.length === 0 && leaves.length === 0;
    const external = empty ? this.#externals.get(definition) : undefined;
    row.layer = this.#layerOfProduct(definition);
    if (empty && !external) row.problem = 'No solid or sheet is given for this product.';
    const id = this.#writer.add(row);
    this.#pieceOf.push(-1);
    if (external) this.#elsewhere.set(id, external);
    this.#addLeaves(leaves, id, name, chain);
    for (const child of children) {
      if (!child.transform)
        this.warn(
          'placement',
          'This usage has no placement; the component is shown at the origin of its assembly.',
          child.id,
        );
      this.#expand(child.child, id, child.transform ?? IDENTITY, [...path, definition], child, chain);
    }
  }

  /** Shapes as rows under that of their product, named after themselves where they have a name. */
  #addLeaves(leaves: Leaf[], parent: number, unnamed: string, usages: Usage[]): void {
    for (const leaf of leaves) {
      const name = this.text(this.args(leaf.solid)[0]) || unnamed;
      this.#addLeaf(
        {
          parent,
          name,
          entity: `#${this.file.ids[leaf.solid]}`,
          kind: 'part',
          transform: leaf.transform,
          spare: leaf.spare,
        },
        leaf,
        usages,
      );
    }
  }

  #state(leaf: Leaf, stated: StatedFigures): void {
    this.#pieces.all[this.#pieces.numberOf(leaf)].stated ??= stated;
  }

  /** @param row what is known of it; the rest is said in it. @returns its number */
  #addLeaf(row: NewRow, leaf: Leaf, usages: Usage[]): number {
    if (this.#writer.rows > MAX_NODES) this.#tooMany();
    const { piece, shells, layer, materials } = this.#shownOf(leaf);
    const placed = this.#pieces.placedColours(this.#pieces.all[piece], leaf, shells, usages);
    for (const colour of placed ?? []) if (colour) this.#placed.set(colourId(colour), colour);
    this.#pieceOf.push(piece);
    row.kind = 'part';
    row.layer = layer;
    row.materials = placed ? materialsOf(placed) : materials;
    return this.#writer.add(row);
  }

  #shownOf(leaf: Leaf): Shown {
    let shown = this.#shown.get(leaf);
    if (!shown) {
      const piece = this.#pieces.numberOf(leaf);
      const shells = this.#pieces.shells(leaf.solid);
      const layer = this.#layerOf([leaf.solid, ...shells, ...leaf.through, leaf.representation]);
      shown = { piece, shells, layer, materials: materialsOf(this.#pieces.all[piece].slotColours) };
      this.#shown.set(leaf, shown);
    }
    return shown;
  }

  #layerOfProduct(definition: number): string | null {
    let layer = this.#layers.get(definition);
    if (layer === undefined) {
      layer = this.#layerOf(this.#representations.of(definition));
      this.#layers.set(definition, layer);
    }
    return layer;
  }

  #layerOf(indices: number[]): string | null {
    for (const index of indices) {
      const layer = this.styles.layers.get(this.file.ids[index]);
      if (layer) return layer;
    }
    return null;
  }

  /** Solids that no product shows: a file may hold bare geometry, or its products may be broken. */
  #looseSolids(): void {
    const shown = new Set(this.#pieces.all.map((piece) => piece.solid));
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
          for (const item of this.#representations.items(index)) if (loose.has(item)) contexts.set(item, index);
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
            name,
            kind: 'part',
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
    let name = this.#names.get(definition);
    if (name === undefined) this.#names.set(definition, (name = this.#readName(definition)));
    return name;
  }

  #readName(definition: number): string {
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

const materialsOf = (colours: readonly (Colour | undefined)[]): string[] =>
  colours.map((colour) => (colour ? colourId(colour) : NO_MATERIAL.id));
