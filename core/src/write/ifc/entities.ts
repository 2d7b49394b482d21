/** Which entities of IFC rows can be, and how many attributes each has: as the standard's schemas say, in the package that reads them. */

export type Schema = 'IFC2X3' | 'IFC4' | 'IFC4X3';

/** As `FILE_SCHEMA` names them. */
export const SCHEMA_NAMES: Readonly<Record<Schema, string>> = { IFC2X3: 'IFC2X3', IFC4: 'IFC4', IFC4X3: 'IFC4X3_ADD2' };

export interface Entity {
  /** In capitals, as files have it. */
  type: string;
  attributes: number;
  /** Part of the spatial tree: a site, a building, a storey, a space. */
  isSpatial: boolean;
}

/** Entities that only others are made of. */
const ABSTRACT =
  /^Ifc(Product|Element|BuildingElement|BuiltElement|SpatialElement|SpatialStructureElement|FeatureElement(Addition|Subtraction)?|ElementComponent|ReinforcingElement|Port|PositioningElement|LinearPositioningElement|Structural\w*|FacilityPart|ExternalSpatialStructureElement)$/;
/** Products that are no bodies of their own. */
const NOT_BUILT = /^Ifc(Opening|Annotation|Grid|VirtualElement|Proxy$|VoidingFeature|ProjectionElement)/;

type Made = (new (...given: never[]) => object) & { length: number };

export class Entities {
  private constructor(
    readonly schema: Schema,
    readonly known: ReadonlyMap<string, Entity>,
  ) {}

  /** Of one of some schemas: the first that has all classes of the rows, or as many as another. */
  static async for(classes: ReadonlySet<string>, schemas: readonly Schema[]): Promise<Entities> {
    const all = await import('web-ifc');
    const made = schemas.map((schema) => new Entities(schema, productsOf(all[schema] as never)));
    const missing = ({ known }: Entities) => [...classes].filter((name) => !known.has(name.toUpperCase())).length;
    return made.reduce((best, other) => (missing(other) < missing(best) ? other : best));
  }

  /** Undefined for what is no class of the schema, or none that stands by itself. */
  of(name: string | undefined): Entity | undefined {
    return name === undefined ? undefined : this.known.get(name.toUpperCase());
  }
}

function productsOf(all: Record<string, Made>): Map<string, Entity> {
  const { IfcProduct } = all;
  // The older schema has no others.
  const IfcSpatialElement = all.IfcSpatialElement ?? all.IfcSpatialStructureElement;
  const out = new Map<string, Entity>();
  for (const [name, made] of Object.entries(all)) {
    if (typeof made !== 'function' || !(made.prototype instanceof IfcProduct)) continue;
    if (ABSTRACT.test(name) || NOT_BUILT.test(name)) continue;
    const isSpatial = made.prototype instanceof IfcSpatialElement;
    out.set(name.toUpperCase(), { type: name.toUpperCase(), attributes: made.length, isSpatial });
  }
  return out;
}
