/**
 * Writes a scene as IFC (ISO 16739-1): z up. What came as IFC keeps identity, class, storey, properties and type, with its names, places
 * and materials as they are now; everything else stands as proxies and assemblies. Shapes are triangulated face sets.
 */
import type { Content, Spool } from '../../content.ts';
import { factsOf } from '../../scene/facts.ts';
import { IDENTITY, invert, isIdentity, multiply } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { LENGTH_UNITS } from '../../units.ts';
import { list, real, reals, StepFile, string } from '../step/text.ts';
import { WrittenFile } from '../writer.ts';
import type { FileUnit, WriteOptions, Writer } from '../writer.ts';
import { Entities, SCHEMA_NAMES } from './entities.ts';
import type { Entity, Schema } from './entities.ts';
import { IfcShapes, LEAST_AREA } from './geometry.ts';
import { GlobalIds } from './globalId.ts';
import { BESIDE_PROJECT, IN_PROJECT, MADE_PROJECT } from './marks.ts';
import { push } from './lists.ts';
import { IfcRelations } from './properties.ts';

/** The system that a source of IFC names. */
const systemIn = ({ nodes }: Scene): string | undefined =>
  nodes.find(({ properties }) => properties?.[MAP_SYSTEM])?.properties?.[MAP_SYSTEM];
const MAP_SYSTEM = 'Map conversion.System';

const common: Omit<Writer, 'target' | 'title' | 'perTriangle' | 'write'> = {
  ending: 'ifc',
  units: ['m', 'cm', 'mm', 'in', 'ft'],
  ups: ['z'],
  states: { unit: true, up: true },
  structure: 'tree',
  places: 'rigid',
  precision: 'single',
  leastArea: LEAST_AREA,
  joinsSlots: true,
  carries: { meshes: true,
    tree: true, names: true, instances: true, layers: true, pivots: true, empties: true, normals: 'computed by the receiving tool',
    materials: 'by name, colour and opacity', baseColor: true, opacity: true, metalRough: 'roughness of the highlight', glass: 'what goes through is opacity',
    sides: 'all are seen from both sides', metadata: true,
  }, // prettier-ignore
  mapped: true,
  notes: {
    instances: 'as mapped items',
    metadata: 'identity, class, type, property sets; what came otherwise as proxies',
  },
  rows: async (files) => (await import('../../transmit/read/ifc.ts')).openIfc(files),
};

export const ifcWriter: Writer = {
  ...common,
  target: 'ifc',
  title: 'IFC 4',
  perTriangle: 35,
  write: (scene, blobs, name, options) => writeIfc(scene, blobs, name, options, ['IFC4', 'IFC4X3']),
};

/** For older tools: each triangle is a face of its own, which takes several times the room. */
export const ifc2x3Writer: Writer = {
  ...common,
  mapped: false,
  target: 'ifc2x3',
  title: 'IFC 2x3',
  perTriangle: 130,
  write: (scene, blobs, name, options) => writeIfc(scene, blobs, name, options, ['IFC2X3']),
};

/** @param schemas that it may be in */
async function writeIfc(
  scene: Scene,
  blobs: BlobStore,
  name: string,
  { title = name, unit = 'm', spool }: WriteOptions = {},
  schemas: readonly Schema[],
): Promise<WrittenFile[]> {
  const classes = new Set([...scene.nodes].flatMap((node) => (node.class ? [node.class] : [])));
  const document = new IfcDocument(scene, title, unit, await Entities.for(classes, schemas), spool);
  return [new WrittenFile(`${name}.ifc`, 'application/x-step', await document.write(blobs))];
}

/** What a row is in the file. */
interface Made {
  id: number;
  /** Part of the spatial tree; the project is its head. */
  isSpatial: boolean;
  /** Its placement; none of the project. */
  placement?: number;
}

class IfcDocument {
  readonly #file: StepFile;
  readonly #ids = new GlobalIds();
  readonly #made = new Map<number, Made>();
  /** Rows below each that is decomposed, and elements in each place. */
  readonly #parts = new Map<number, number[]>();
  readonly #held = new Map<number, number[]>();

  constructor(
    readonly scene: Scene,
    readonly title: string,
    readonly unit: FileUnit,
    readonly entities: Entities,
    spool?: Spool,
  ) {
    this.#file = new StepFile(title, SCHEMA_NAMES[entities.schema], spool);
  }

  async write(blobs: BlobStore): Promise<Content> {
    const { scene } = this;
    const file = this.#file;
    const facts = factsOf(scene);
    const rows = [...facts.order].map((row) => scene.nodes.row(row));
    const zero = file.add('IFCCARTESIANPOINT((0.,0.,0.))');
    const axes = file.add(`IFCAXIS2PLACEMENT3D(#${zero},$,$)`);
    const context = file.add(`IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#${axes},$)`);
    const units = this.#units();
    this.#owner();
    const shapes = new IfcShapes(file, scene, blobs, context, LENGTH_UNITS[this.unit], rows, this.entities.schema);
    const relations = new IfcRelations(file, scene, this.#ids, this.#history, this.entities.schema);

    // Identities that came along have the first say.
    this.#map(context);
    const project = rows.find((node) => node.parent === null && isProject(node));
    const globalIds = new Map(rows.map((node) => [node.id, this.#ids.next(node.key, node.properties?.GlobalId)]));
    const head = this.#project(project, project && (globalIds.get(project.id) as string), context, units);
    for (const node of rows) {
      if (node === project) {
        this.#made.set(node.id, { id: head, isSpatial: true });
        relations.take(node, head);
        continue;
      }
      const above = node.parent === null ? undefined : this.#made.get(node.parent);
      const placement = this.#placement(this.#localOf(node, above), above?.placement);
      const shape = node.mesh ? await shapes.shapeOf(node) : undefined;
      const entity = this.#entityOf(node, facts.childrenOf(node.id).length > 0);
      const id = this.#product(node, entity, globalIds.get(node.id) as string, placement, shape?.shape);
      this.#made.set(node.id, { id, isSpatial: entity.isSpatial, placement });
      this.#hang(id, entity.isSpatial, above ?? this.#beside(head, project !== undefined), head);
      relations.take(node, id, shape?.representation);
    }
    for (const [whole, parts] of this.#parts) this.#relate('IFCRELAGGREGATES', whole, (id) => `#${id},${list(parts)}`);
    for (const [place, held] of this.#held) this.#relate('IFCRELCONTAINEDINSPATIALSTRUCTURE', place, (id) => `${list(held)},#${id}`); // prettier-ignore
    relations.finish();
    return file.content();
  }

  /** Where the file lies on the map (IfcMapConversion): in metres there, so that the scale is also that from the unit of the file. */
  #map(context: number): void {
    const { map } = this.scene.origin ?? {};
    if (!map || this.entities.schema === 'IFC2X3') return;
    const file = this.#file;
    const { eastings, northings, height, rotation, scale, system } = map;
    const metre = file.add('IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)');
    const name = system ?? systemIn(this.scene) ?? 'not stated';
    const there = file.add(`IFCPROJECTEDCRS(${string(name)},$,$,$,$,$,#${metre})`);
    const numbers = [eastings, northings, height, Math.cos(rotation), Math.sin(rotation), scale * LENGTH_UNITS[this.unit]]; // prettier-ignore
    file.add(`IFCMAPCONVERSION(#${context},#${there},${numbers.map(real).join(',')})`);
  }

  /** Who made the file: older readers look for it in everything that has an identity. */
  #owner(): void {
    const file = this.#file;
    const person = file.add("IFCPERSON($,'','',$,$,$,$,$)");
    const organization = file.add("IFCORGANIZATION($,'Noble Prism',$,$,$)");
    const both = file.add(`IFCPERSONANDORGANIZATION(#${person},#${organization},$)`);
    const program = file.add(`IFCAPPLICATION(#${organization},'1','Noble Prism','Noble Prism')`);
    // The same content is the same file: no time of making stands in it.
    this.#history = file.add(`IFCOWNERHISTORY(#${both},#${program},$,.NOCHANGE.,$,$,$,0)`);
  }

  #history = 0;

  #relate(relation: string, of: number, members: (of: number) => string): void {
    this.#file.add(`${relation}('${this.#ids.next(`${relation} ${of}`)}',#${this.#history},$,$,${members(of)})`);
  }

  /** The project of the scene, or one that is made for the delivery. */
  #project(node: SceneNode | undefined, globalId: string | undefined, context: number, units: number): number {
    const id = globalId ?? this.#ids.next('project');
    const description = node ? descriptionOf(node) : string(MADE_PROJECT);
    return this.#file.add(`IFCPROJECT('${id}',#${this.#history},${string(node?.name ?? this.title)},${description},$,$,$,(#${context}),#${units})`); // prettier-ignore
  }

  /** Where rows at the top hang that are not the project: at a project that was made for them, or beside that of the scene. */
  #beside(head: number, hasOwn: boolean): Made {
    return hasOwn ? this.#container(BESIDE_PROJECT, head) : { id: head, isSpatial: true };
  }

  readonly #containers = new Map<string, Made>();

  /** A building that is no row of the scene. */
  #container(description: string, head: number): Made {
    let made = this.#containers.get(description);
    if (made) return made;
    const id = this.#file.add(`IFCBUILDING('${this.#ids.next(description)}',#${this.#history},$,${string(description)},$,#${this.#placement(IDENTITY)},$,$,.ELEMENT.,$,$,$)`); // prettier-ignore
    made = { id, isSpatial: true };
    this.#containers.set(description, made);
    push(this.#parts, head, id);
    return made;
  }

  /** Elements in a place are contained in it; all else is part of what is above it. Nothing but places hangs at the project itself. */
  #hang(id: number, isSpatial: boolean, above: Made, head: number): void {
    if (isSpatial || !above.isSpatial) return push(this.#parts, above.id, id);
    push(this.#held, above.id === head ? this.#container(IN_PROJECT, head).id : above.id, id);
  }

  /** As it stands to the placement that it is relative to: the project has none. */
  #localOf(node: SceneNode, above: Made | undefined): Matrix {
    const facts = factsOf(this.scene);
    if (above?.placement === undefined) return facts.world(node.id);
    return node.parent === null ? node.transform : multiply(invert(facts.world(node.parent)), facts.world(node.id));
  }

  #placement(m: Matrix, relativeTo?: number): number {
    const file = this.#file;
    const point = file.add(`IFCCARTESIANPOINT(${reals([m[12], m[13], m[14]])})`);
    const axes = isIdentity([...m.slice(0, 12), 0, 0, 0, 1], 0)
      ? '$,$'
      : [m.slice(8, 11), m.slice(0, 3)].map((axis) => `#${file.add(`IFCDIRECTION(${reals(axis)})`)}`).join(',');
    const place = file.add(`IFCAXIS2PLACEMENT3D(#${point},${axes})`);
    return file.add(`IFCLOCALPLACEMENT(${relativeTo === undefined ? '$' : `#${relativeTo}`},#${place})`);
  }

  #entityOf(node: SceneNode, hasRowsBelow: boolean): Entity {
    const known = isProject(node) ? this.entities.of('IfcBuilding') : this.entities.of(node.class);
    return known ?? (this.entities.of(hasRowsBelow || !node.mesh ? 'IfcElementAssembly' : 'IfcBuildingElementProxy') as Entity); // prettier-ignore
  }

  #product(node: SceneNode, { type, attributes, isSpatial }: Entity, globalId: string, placement: number, shape?: number): number {
    const given = new Array<string>(attributes).fill('$');
    given[0] = `'${globalId}'`;
    given[1] = `#${this.#history}`;
    given[2] = string(node.name);
    given[3] = descriptionOf(node);
    // A class of another world is kept as what the object is.
    if (node.class && !this.entities.of(node.class)) given[4] = string(node.class);
    given[5] = `#${placement}`;
    if (shape !== undefined) given[6] = `#${shape}`;
    if (isSpatial) given[8] = '.ELEMENT.';
    const needed = this.entities.schema === 'IFC2X3' ? NEEDED[type] : undefined;
    if (needed) given[needed[0]] = needed[1];
    if (type === 'IFCBUILDINGSTOREY') given[9] = real(factsOf(this.scene).world(node.id)[14]);
    return this.#file.add(`${type}(${given.join(',')})`);
  } // prettier-ignore

  #units(): number {
    const file = this.#file;
    const others = ['AREAUNIT.,$,.SQUARE_METRE', 'VOLUMEUNIT.,$,.CUBIC_METRE', 'PLANEANGLEUNIT.,$,.RADIAN'].map((unit) => file.add(`IFCSIUNIT(*,.${unit}.)`)); // prettier-ignore
    return file.add(`IFCUNITASSIGNMENT(${list([this.#length(), ...others])})`);
  }

  #length(): number {
    const file = this.#file;
    const prefix = { m: '$', cm: '.CENTI.', mm: '.MILLI.', in: undefined, ft: undefined }[this.unit];
    if (prefix !== undefined) return file.add(`IFCSIUNIT(*,.LENGTHUNIT.,${prefix},.METRE.)`);
    const [name, metres] = this.unit === 'in' ? ['INCH', 0.0254] : ['FOOT', 0.3048];
    const metre = file.add('IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)');
    const measure = file.add(`IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(${real(metres as number)}),#${metre})`);
    const dimensions = file.add('IFCDIMENSIONALEXPONENTS(1,0,0,0,0,0,0)');
    return file.add(`IFCCONVERSIONBASEDUNIT(#${dimensions},.LENGTHUNIT.,'${name}',#${measure})`);
  }
}

/** What the older schema wants to be told, though nothing is known of it: number and value of the attribute. */
const NEEDED: Readonly<Record<string, [number, string]>> = {
  IFCSPACE: [9, '.INTERNAL.'],
  IFCELEMENTASSEMBLY: [9, '.NOTDEFINED.'],
  ...Object.fromEntries(
    ['STAIR', 'RAMP', 'ROOF', 'FOOTING', 'PILE'].map((name) => [`IFC${name}`, [8, '.NOTDEFINED.']]),
  ),
};

const isProject = (node: SceneNode) => node.class === 'IfcProject';
const descriptionOf = ({ properties }: SceneNode) => (properties?.Description ? string(properties.Description) : '$');
