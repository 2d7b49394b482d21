/** Writes small IFC 4 texts (ISO 16739-1): a spatial tree, extruded bodies with colours, layers and properties. Metres, z up. */

export type Point3 = readonly [number, number, number];

/** A body: an outline (x, y) around its place, pushed up along z. */
export interface Extrusion {
  outline: readonly (readonly [number, number])[];
  height: number;
  /** Where it begins above the place, metres. */
  from?: number;
}

export interface Element {
  /** `IFCWALL`, `IFCSLAB`: as the standard writes classes. */
  type: string;
  name: string;
  at: Point3;
  bodies: Extrusion[];
  /** Name of the style, see {@link IfcText.style}. */
  style: string;
  layer?: string;
  /** Name to value of the common property set. */
  properties?: Record<string, string | boolean>;
  /** Boxes cut out of it: place in the element, size. */
  openings?: { at: Point3; size: Point3 }[];
}

/** Attributes that follow the representation, by class. */
const TAIL: Record<string, string> = {
  IFCDOOR: ',$,2.1,0.9,.DOOR.,$,$',
  IFCWINDOW: ',$,1.2,1.8,.WINDOW.,$,$',
  IFCSTAIR: ',$,$',
};

export class IfcText {
  readonly #lines: string[] = [];
  #next = 1;
  #ids = 0;
  readonly #context: number;
  readonly #project: number;
  readonly #building: number;
  readonly #origin: number;
  readonly #buildingPlace: number;
  readonly #styles = new Map<string, number>();
  readonly #layers = new Map<string, number[]>();
  readonly #storeys: number[] = [];

  constructor(project: string, building: string) {
    this.#origin = this.#add(`IFCAXIS2PLACEMENT3D(${this.#point([0, 0, 0])},$,$)`);
    this.#context = this.#add(`IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-05,#${this.#origin},$)`);
    const units = ['.LENGTHUNIT.,$,.METRE.', '.AREAUNIT.,$,.SQUARE_METRE.', '.PLANEANGLEUNIT.,$,.RADIAN.'].map(
      (unit) => `#${this.#add(`IFCSIUNIT(*,${unit})`)}`,
    );
    const assignment = this.#add(`IFCUNITASSIGNMENT((${units.join(',')}))`);
    this.#project = this.#add(
      `IFCPROJECT('${this.#guid()}',$,'${project}',$,$,$,$,(#${this.#context}),#${assignment})`,
    );
    this.#buildingPlace = this.#add(`IFCLOCALPLACEMENT($,#${this.#origin})`);
    this.#building = this.#add(
      `IFCBUILDING('${this.#guid()}',$,'${building}',$,$,#${this.#buildingPlace},$,$,.ELEMENT.,$,$,$)`,
    );
    this.#relate('IFCRELAGGREGATES', this.#project, [this.#building]);
  }

  /** A style by name: colour 0 to 1, transparency 0 to 1. */
  style(name: string, [r, g, b]: Point3, transparency = 0): void {
    const colour = this.#add(`IFCCOLOURRGB($,${real(r)},${real(g)},${real(b)})`);
    const shading = this.#add(`IFCSURFACESTYLESHADING(#${colour},${real(transparency)})`);
    this.#styles.set(name, this.#add(`IFCSURFACESTYLE('${name}',.BOTH.,(#${shading}))`));
  }

  /** A storey with what stands in it; places of the elements are from its own level. */
  storey(name: string, elevation: number, elements: Element[]): void {
    const place = this.#place(this.#buildingPlace, [0, 0, elevation]);
    const storey = this.#add(
      `IFCBUILDINGSTOREY('${this.#guid()}',$,'${name}',$,$,#${place},$,$,.ELEMENT.,${real(elevation)})`,
    );
    this.#storeys.push(storey);
    const made = elements.map((element) => this.#element(element, place));
    this.#relate('IFCRELCONTAINEDINSPATIALSTRUCTURE', storey, made, true);
  }

  toString(): string {
    this.#relate('IFCRELAGGREGATES', this.#building, this.#storeys);
    for (const [layer, items] of this.#layers)
      this.#add(`IFCPRESENTATIONLAYERASSIGNMENT('${layer}',$,(${refs(items)}),$)`);
    return [
      'ISO-10303-21;',
      'HEADER;',
      "FILE_DESCRIPTION(('ViewDefinition [ReferenceView]'),'2;1');",
      // A fixed time: the file is the same each time that it is made.
      "FILE_NAME('lower-station.ifc','2026-03-02T08:00:00',('Architects'),('Tarn Gondola (invented)'),'Noble Prism demo script','Noble Prism demo script','');",
      "FILE_SCHEMA(('IFC4'));",
      'ENDSEC;',
      'DATA;',
      ...this.#lines,
      'ENDSEC;',
      'END-ISO-10303-21;',
      '',
    ].join('\n');
  }

  #element({ type, name, at, bodies, style, layer, properties, openings = [] }: Element, storey: number): number {
    const place = this.#place(storey, at);
    const items = bodies.map((body) => this.#body(body, style));
    const shape = this.#shape(items, layer);
    const id = this.#add(`${type}('${this.#guid()}',$,'${name}',$,$,#${place},#${shape},$${TAIL[type] ?? ',$'})`);
    for (const opening of openings) {
      const [x, y, z] = opening.size;
      const hole = this.#shape([this.#body({ outline: rectangle(x, y), height: z })]);
      const cut = this.#add(
        `IFCOPENINGELEMENT('${this.#guid()}',$,'${name} opening',$,$,#${this.#place(place, opening.at)},#${hole},$,.OPENING.)`,
      );
      this.#add(`IFCRELVOIDSELEMENT('${this.#guid()}',$,$,$,#${id},#${cut})`);
    }
    if (properties) {
      const values = Object.entries(properties).map(([key, value]) =>
        this.#add(
          `IFCPROPERTYSINGLEVALUE('${key}',$,${typeof value === 'boolean' ? `IFCBOOLEAN(.${value ? 'T' : 'F'}.)` : `IFCLABEL('${value}')`},$)`,
        ),
      );
      const set = this.#add(`IFCPROPERTYSET('${this.#guid()}',$,'Pset_Common',$,(${refs(values)}))`);
      this.#add(`IFCRELDEFINESBYPROPERTIES('${this.#guid()}',$,$,$,(#${id}),#${set})`);
    }
    return id;
  }

  #body({ outline, height, from = 0 }: Extrusion, style?: string): number {
    const points = [...outline, outline[0]].map(([x, y]) => this.#add(`IFCCARTESIANPOINT((${real(x)},${real(y)}))`));
    const line = this.#add(`IFCPOLYLINE((${refs(points)}))`);
    const profile = this.#add(`IFCARBITRARYCLOSEDPROFILEDEF(.AREA.,$,#${line})`);
    const base = from === 0 ? this.#origin : this.#add(`IFCAXIS2PLACEMENT3D(${this.#point([0, 0, from])},$,$)`);
    const up = this.#add('IFCDIRECTION((0.,0.,1.))');
    const solid = this.#add(`IFCEXTRUDEDAREASOLID(#${profile},#${base},#${up},${real(height)})`);
    const known = style === undefined ? undefined : this.#styles.get(style);
    if (known) this.#add(`IFCSTYLEDITEM(#${solid},(#${known}),$)`);
    return solid;
  }

  #shape(items: number[], layer?: string): number {
    const representation = this.#add(`IFCSHAPEREPRESENTATION(#${this.#context},'Body','SweptSolid',(${refs(items)}))`);
    if (layer) this.#layers.set(layer, [...(this.#layers.get(layer) ?? []), representation]);
    return this.#add(`IFCPRODUCTDEFINITIONSHAPE($,$,(#${representation}))`);
  }

  #place(parent: number, at: Point3): number {
    return this.#add(`IFCLOCALPLACEMENT(#${parent},#${this.#add(`IFCAXIS2PLACEMENT3D(${this.#point(at)},$,$)`)})`);
  }

  #point(at: Point3): string {
    return `#${this.#add(`IFCCARTESIANPOINT((${at.map(real).join(',')}))`)}`;
  }

  #relate(type: string, whole: number, parts: number[], partsFirst = false): void {
    const list = `(${refs(parts)})`;
    this.#add(`${type}('${this.#guid()}',$,$,$,${partsFirst ? `${list},#${whole}` : `#${whole},${list}`})`);
  }

  #add(text: string): number {
    const id = this.#next++;
    this.#lines.push(`#${id}=${text};`);
    return id;
  }

  /** Twenty-two characters that count up: unique in the file, and the same each time. */
  #guid(): string {
    return `0TarnGondola${String(++this.#ids).padStart(10, '0')}`;
  }
}

/** An outline around a middle, metres. */
export function rectangle(x: number, y: number): [number, number][] {
  return [
    [-x / 2, -y / 2],
    [x / 2, -y / 2],
    [x / 2, y / 2],
    [-x / 2, y / 2],
  ];
}

const refs = (ids: readonly number[]) => ids.map((id) => `#${id}`).join(',');

function real(value: number): string {
  const text = String(Number(value.toFixed(6)));
  return text.includes('.') ? text : `${text}.`;
}
