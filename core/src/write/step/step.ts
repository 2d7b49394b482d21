/**
 * Writes the exact solids of a scene as STEP (ISO 10303-214): the text as it was received, with the names, places, colours and layers as
 * they are now, and only the parts that are left. What is no exact solid has no place in it.
 */
import type { Content, Spool } from '../../content.ts';
import { PrismError } from '../../errors.ts';
import { factsOf } from '../../scene/facts.ts';
import { determinant, IDENTITY, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { counted, formatNumber } from '../../units.ts';
import { WrittenFile } from '../writer.ts';
import type { WriteOptions, Writer } from '../writer.ts';
import { contextOf, StepSolids } from './solids.ts';
import { list, reals, StepFile, string } from './text.ts';

export const stepWriter: Writer = {
  target: 'step',
  title: 'STEP (exact solids)',
  ending: 'step',
  units: ['mm'],
  ups: ['z', 'y'],
  states: { unit: true, up: false },
  structure: 'tree',
  places: 'own',
  precision: 'double',
  levels: 255,
  exact: true,
  carries: {
    normals: 'of the surfaces themselves',
    uvs: 'of the surfaces themselves',
    tree: true, names: true, instances: true, layers: true, pivots: 'where the solid has its origin', solids: true,
    materials: 'by their colours', baseColor: true, opacity: true, glass: 'what goes through is opacity',
  }, // prettier-ignore
  notes: { solids: 'as received, entity by entity' },
  write: writeStep,
  rows: async (files) => (await import('../../transmit/read/step.ts')).openStep(files),
};

/** @throws PrismError `bad-parameters` where a solid is no text of STEP, or something stands mirrored or stretched */
async function writeStep(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, spool }: WriteOptions = {},
): Promise<WrittenFile[]> {
  const document = new StepDocument(scene, blobs, title, spool);
  return [new WrittenFile(`${name}.step`, 'model/step', await document.write())];
}

/** A product and the representation of its shape. */
interface Product {
  definition: number;
  representation: number;
  /** Placement at the origin of the representation. */
  origin: number;
}

class StepDocument {
  readonly #file: StepFile;
  readonly #solids: StepSolids;
  readonly #application: { product: number; definition: number };
  /** Context of what only groups others: millimetres. */
  readonly #context: number;
  /** Products of solids, by what they show and what they are called. */
  readonly #products = new Map<string, Product>();

  constructor(
    readonly scene: Scene,
    readonly blobs: BlobStore,
    title: string,
    spool?: Spool,
  ) {
    this.#file = new StepFile(title, 'AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }', spool);
    this.#solids = new StepSolids(this.#file, scene, blobs);
    const file = this.#file;
    const application = file.add("APPLICATION_CONTEXT('core data for automotive mechanical design processes')");
    file.add(`APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2000,#${application})`);
    this.#application = {
      product: file.add(`PRODUCT_CONTEXT('',#${application},'mechanical')`),
      definition: file.add(`PRODUCT_DEFINITION_CONTEXT('part definition',#${application},'design')`),
    };
    this.#context = contextOf(file, file.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))'));
  }

  async write(): Promise<Content> {
    const { scene } = this;
    const facts = factsOf(scene);
    const nodes = [...facts.order].map((row) => scene.nodes.row(row));
    this.#check(nodes);
    const made = new Map<number, Product>();
    const users = new Map<string, number>();
    for (const node of nodes) if (node.solid) users.set(keyOf(node), (users.get(keyOf(node)) ?? 0) + 1);
    // Below before above, and what stands at the top in its order.
    for (const node of topByTop(nodes)) {
      const below = [...facts.childrenOf(node.id)].flatMap((row) => {
        const product = made.get(row);
        return product ? [{ product, node: scene.nodes.row(row) }] : [];
      });
      const shape = node.solid ? await this.#shapeOf(node) : undefined;
      // What stands at the top has nothing that places it: all that is in it is placed as it stands.
      const around = node.parent === null ? node.transform : IDENTITY;
      const offset = rigid(node.offset ?? IDENTITY);
      if (below.length === 0) {
        if (!shape) continue;
        // What others use too would stand below these alone.
        const isPlaced = node.parent !== null || (isRest(multiply(around, offset)) && users.get(keyOf(node)) === 1);
        if (isPlaced) made.set(node.id, shape);
        else this.#place(this.#group(node, made), shape, node.name, multiply(around, offset));
        continue;
      }
      const product = this.#group(node, made);
      if (shape) this.#place(product, shape, node.name, multiply(around, offset));
      for (const { product: child, node: row } of below) this.#place(product, child, occurrenceOf(row), multiply(around, this.#placeOf(row, made))); // prettier-ignore
    }
    this.#solids.finish();
    return this.#file.content();
  }

  /** A product that only holds others. */
  #group({ id, name }: SceneNode, made: Map<number, Product>): Product {
    const product = this.#product(name, 'SHAPE_REPRESENTATION', [], this.#context);
    made.set(id, product);
    return product;
  }

  /** A solid that is a product itself sits where its geometry sits from the pivot. */
  #placeOf(node: SceneNode, made: ReadonlyMap<number, Product>): Matrix {
    const isShape = node.solid !== undefined && this.#products.get(keyOf(node)) === made.get(node.id);
    return isShape ? multiply(node.transform, rigid(node.offset ?? IDENTITY)) : node.transform;
  }

  #check(nodes: readonly SceneNode[]): void {
    const skewed = nodes.filter((node) => !isRigid(node.transform) || (node.solid !== undefined && !isRigid(rigid(node.offset ?? IDENTITY)))); // prettier-ignore
    const ways = new Set(skewed.map(({ transform }) => howSkewed(transform)));
    if (skewed.length > 0)
      throw new PrismError('bad-parameters', `STEP has no place for what is ${[...ways].join(', or ')}: ${skewed.slice(0, 3).map((node) => node.name).join(', ')}${skewed.length > 3 ? ' …' : ''} (${counted(skewed.length, 'row')}). Leave it out of this target, or take off the step that made it so; a whole source that is too small is read in another unit instead.`); // prettier-ignore
  }

  async #shapeOf(node: SceneNode): Promise<Product> {
    const key = keyOf(node);
    let product = this.#products.get(key);
    if (!product) {
      const { solid, context, representation } = await this.#solids.of(node);
      product = this.#product(node.name, representation, [solid], context);
      this.#products.set(key, product);
    }
    return product;
  }

  #product(name: string, type: string, items: readonly number[], context: number): Product {
    const file = this.#file;
    const product = file.add(`PRODUCT(${string(name)},${string(name)},'',(#${this.#application.product}))`);
    file.add(`PRODUCT_RELATED_PRODUCT_CATEGORY('part',$,(#${product}))`);
    const formation = file.add(`PRODUCT_DEFINITION_FORMATION('','',#${product})`);
    const definition = file.add(`PRODUCT_DEFINITION('design','',#${formation},#${this.#application.definition})`);
    const shape = file.add(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`);
    const origin = this.#axis(IDENTITY);
    const representation = file.add(`${type}(${string(name)},${list([origin, ...items])},#${context})`);
    file.add(`SHAPE_DEFINITION_REPRESENTATION(#${shape},#${representation})`);
    return { definition, representation, origin };
  }

  #place(parent: Product, child: Product, name: string, place: Matrix): void {
    const file = this.#file;
    const usage = file.add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('',${string(name)},'',#${parent.definition},#${child.definition},$)`); // prettier-ignore
    const shape = file.add(`PRODUCT_DEFINITION_SHAPE('','',#${usage})`);
    const at = this.#axis(place);
    const way = file.add(`ITEM_DEFINED_TRANSFORMATION('','',#${child.origin},#${at})`);
    const relation = file.add(
      `(REPRESENTATION_RELATIONSHIP('','',#${child.representation},#${parent.representation})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${way})SHAPE_REPRESENTATION_RELATIONSHIP())`,
    );
    file.add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${relation},#${shape})`);
  }

  #axis(m: Matrix): number {
    const file = this.#file;
    const at = file.add(`CARTESIAN_POINT('',${reals([m[12], m[13], m[14]])})`);
    const z = file.add(`DIRECTION('',${reals([m[8], m[9], m[10]])})`);
    const x = file.add(`DIRECTION('',${reals([m[0], m[1], m[2]])})`);
    return file.add(`AXIS2_PLACEMENT_3D('',#${at},#${z},#${x})`);
  }
}

/** Rows in their order, each with all below it turned round. */
function topByTop(nodes: readonly SceneNode[]): SceneNode[] {
  const tops: SceneNode[][] = [];
  for (const node of nodes) {
    if (node.parent === null) tops.push([]);
    tops.at(-1)?.push(node);
  }
  return tops.flatMap((rows) => rows.reverse());
}

/** The name of the usage as it came, as long as nobody gave the row another name. */
const occurrenceOf = ({ occurrence, received, name }: SceneNode) =>
  occurrence === undefined || (received !== undefined && received !== name) ? name : occurrence;

const keyOf = ({ solid, materials, layer, name }: SceneNode) =>
  `${solid} ${materials.join(' ')} ${layer ?? ''} ${name}`;

/** Largest difference of an axis from one of length one, at a right angle to the others. */
const EXACT = 1e-6;

/** In words: mirrored, scaled evenly, or more to one side than to another. */
function howSkewed(m: Matrix): string {
  if (determinant(m) < 0) return 'mirrored';
  const lengths = [0, 4, 8].map((at) => Math.hypot(m[at], m[at + 1], m[at + 2]));
  const isEven = lengths.every((length) => Math.abs(length / lengths[0] - 1) < EXACT);
  return isEven && Math.abs(lengths[0] - 1) > EXACT ? `scaled (× ${formatNumber(lengths[0])})` : 'stretched';
}

function isRigid(m: Matrix): boolean {
  const column = (k: number) => [m[k * 4], m[k * 4 + 1], m[k * 4 + 2]];
  const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const [x, y, z] = [column(0), column(1), column(2)];
  const lengths = [x, y, z].every((axis) => Math.abs(dot(axis, axis) - 1) < EXACT);
  return lengths && Math.abs(dot(x, y)) < EXACT && Math.abs(dot(y, z)) < EXACT && Math.abs(dot(x, z)) < EXACT && determinant(m) > 0;
} // prettier-ignore

/** Without the scale that brings meshes into the unit of the file: the text of a solid has its own unit. */
function rigid(m: Matrix): Matrix {
  const scale = Math.cbrt(determinant(m));
  return Math.abs(scale) < 1e-300 ? m : m.map((value, i) => (i < 12 ? value / scale : value));
}

const isRest = (m: Matrix) => m.every((value, i) => Math.abs(value - IDENTITY[i]) < 1e-12);
