/** Writes small STEP files for tests: only what a test is about needs to be said. */

/** A solid as text: a tetrahedron with the given corner, edge length and faces in one shell. */
export class StepText {
  readonly lines: string[] = [];
  #next = 1;
  context = 0;

  constructor(
    readonly unit = '(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))',
    readonly schema = 'AUTOMOTIVE_DESIGN',
  ) {
    this.context = this.newContext(unit);
  }

  add(text: string): number {
    this.lines.push(`#${this.#next}=${text};`);
    return this.#next++;
  }

  /** A representation context with a length unit. */
  newContext(unit: string): number {
    const length = unit.startsWith('#') ? Number(unit.slice(1)) : this.add(unit);
    const angle = this.add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))');
    return this.add(
      `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#${length},#${angle}))REPRESENTATION_CONTEXT('',''))`,
    );
  }

  inch(): string {
    const mm = this.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))');
    const dimensions = this.add('DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.)');
    const measure = this.add(`LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#${mm})`);
    return `(CONVERSION_BASED_UNIT('INCH',#${measure})LENGTH_UNIT()NAMED_UNIT(#${dimensions}))`;
  }

  point(x: number, y: number, z: number): number {
    return this.add(`CARTESIAN_POINT('',(${[x, y, z].map(real).join(',')}))`);
  }

  direction(x: number, y: number, z: number): number {
    return this.add(`DIRECTION('',(${[x, y, z].map(real).join(',')}))`);
  }

  /** An axis placement; z and x directions default to those of the axes. */
  axis(origin: number[] = [0, 0, 0], z?: number[], x?: number[]): number {
    const at = this.point(origin[0], origin[1], origin[2]);
    const along = z ? `#${this.direction(z[0], z[1], z[2])}` : '$';
    const ref = x ? `#${this.direction(x[0], x[1], x[2])}` : '$';
    return this.add(`AXIS2_PLACEMENT_3D('',#${at},${along},${ref})`);
  }

  /** A tetrahedron with its right angle at the origin and legs of a length. Returns the solid and its four faces. */
  tetrahedron(leg = 10, name = 'tetra'): { solid: number; shell: number; faces: number[] } {
    const corners = [
      [0, 0, 0],
      [leg, 0, 0],
      [0, leg, 0],
      [0, 0, leg],
    ];
    const points = corners.map(([x, y, z]) => this.point(x, y, z));
    const vertices = points.map((point) => this.add(`VERTEX_POINT('',#${point})`));
    const edges = new Map<string, number>();
    const edge = (a: number, b: number): string => {
      const [low, high] = a < b ? [a, b] : [b, a];
      const key = `${low} ${high}`;
      let id = edges.get(key);
      if (!id) {
        const d = corners[high].map((value, axis) => value - corners[low][axis]);
        const length = Math.hypot(...d);
        const vector = this.add(
          `VECTOR('',#${this.direction(d[0] / length, d[1] / length, d[2] / length)},${real(length)})`,
        );
        const line = this.add(`LINE('',#${points[low]},#${vector})`);
        id = this.add(`EDGE_CURVE('',#${vertices[low]},#${vertices[high]},#${line},.T.)`);
        edges.set(key, id);
      }
      return `#${this.add(`ORIENTED_EDGE('',*,*,#${id},${a < b ? '.T.' : '.F.'})`)}`;
    };
    const faces = [
      [0, 2, 1],
      [0, 1, 3],
      [0, 3, 2],
      [1, 2, 3],
    ].map((loop) => {
      const oriented = loop.map((corner, i) => edge(corner, loop[(i + 1) % 3]));
      const bound = this.add(`FACE_OUTER_BOUND('',#${this.add(`EDGE_LOOP('',(${oriented.join(',')}))`)},.T.)`);
      const [a, b, c] = loop.map((corner) => corners[corner]);
      const u = b.map((value, axis) => value - a[axis]);
      const v = c.map((value, axis) => value - a[axis]);
      const normal = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      const plane = this.add(`PLANE('',#${this.axis(a, normal, u)})`);
      return this.add(`ADVANCED_FACE('',(#${bound}),#${plane},.T.)`);
    });
    const shell = this.add(`CLOSED_SHELL('',(${faces.map((face) => `#${face}`).join(',')}))`);
    return { solid: this.add(`MANIFOLD_SOLID_BREP('${name}',#${shell})`), shell, faces };
  }

  /** A product with a representation of some type. Returns its ids. */
  product(name: string, items: number[] = [], options: { type?: string; context?: number } = {}): Product {
    const {
      type = items.length > 0 ? 'ADVANCED_BREP_SHAPE_REPRESENTATION' : 'SHAPE_REPRESENTATION',
      context = this.context,
    } = options;
    const product = this.add(`PRODUCT('id of ${name}','${name}','',())`);
    const formation = this.add(`PRODUCT_DEFINITION_FORMATION('','',#${product})`);
    const definition = this.add(`PRODUCT_DEFINITION('','',#${formation},$)`);
    const shape = this.add(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`);
    const origin = this.axis();
    const list = [origin, ...items].map((id) => `#${id}`).join(',');
    const representation = this.add(`${type}('${name}',(${list}),#${context})`);
    this.add(`SHAPE_DEFINITION_REPRESENTATION(#${shape},#${representation})`);
    return { definition, representation, origin };
  }

  /** Places a child by a related representation with a transformation. Returns the context entity of the usage. */
  place(parent: Product, child: Product, at: number, { name = '', swapped = false } = {}): number {
    const usage = this.add(
      `NEXT_ASSEMBLY_USAGE_OCCURRENCE('u','${name}','',#${parent.definition},#${child.definition},$)`,
    );
    const shape = this.add(`PRODUCT_DEFINITION_SHAPE('','',#${usage})`);
    const items = swapped ? `#${at},#${child.origin}` : `#${child.origin},#${at}`;
    const transformation = this.add(`ITEM_DEFINED_TRANSFORMATION('','',${items})`);
    const [a, b] = swapped ? [parent, child] : [child, parent];
    const relation = this.add(
      `(REPRESENTATION_RELATIONSHIP('','',#${a.representation},#${b.representation})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${transformation})SHAPE_REPRESENTATION_RELATIONSHIP())`,
    );
    return this.add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${relation},#${shape})`);
  }

  /** A mapped item that shows a representation at a placement. */
  mapped(source: Product, target: number): number {
    const map = this.add(`REPRESENTATION_MAP(#${source.origin},#${source.representation})`);
    return this.add(`MAPPED_ITEM('',#${map},#${target})`);
  }

  /** Says that the shape of a product is in another file, in one of the two ways in use. */
  external(
    product: Product,
    file: string,
    way: 'document reference' | 'associated documents' = 'document reference',
  ): void {
    const kind = this.add(`DOCUMENT_TYPE('geometry')`);
    const document = this.add(`DOCUMENT_FILE('${way === 'document reference' ? file : 'D-1'}','','',#${kind},'',$)`);
    if (way === 'document reference') {
      this.add(`APPLIED_DOCUMENT_REFERENCE(#${document},'',(#${product.definition}))`);
      return;
    }
    const role = this.add(`IDENTIFICATION_ROLE('external document id and location',$)`);
    const source = this.add(`EXTERNAL_SOURCE(IDENTIFIER(''))`);
    this.add(`APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT('${file}',#${role},#${source},(#${document}))`);
    const at = this.lines.findIndex((line) => line.startsWith(`#${product.definition}=`));
    this.lines[at] = this.lines[at]
      .replace('PRODUCT_DEFINITION(', 'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS(')
      .replace(/\);$/, `,(#${document}));`);
  }

  style(red: number, green: number, blue: number): number {
    const rgb = this.add(`COLOUR_RGB('',${real(red)},${real(green)},${real(blue)})`);
    const fill = this.add(`FILL_AREA_STYLE('',(#${this.add(`FILL_AREA_STYLE_COLOUR('',#${rgb})`)}))`);
    const side = this.add(`SURFACE_SIDE_STYLE('',(#${this.add(`SURFACE_STYLE_FILL_AREA(#${fill})`)}))`);
    return this.add(`PRESENTATION_STYLE_ASSIGNMENT((#${this.add(`SURFACE_STYLE_USAGE(.BOTH.,#${side})`)}))`);
  }

  styled(item: number, style: number): number {
    return this.add(`STYLED_ITEM('',(#${style}),#${item})`);
  }

  layer(name: string, ...items: number[]): void {
    this.add(`PRESENTATION_LAYER_ASSIGNMENT('${name}','',(${items.map((id) => `#${id}`).join(',')}))`);
  }

  toString(): string {
    return `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('test.stp','2026-01-01T00:00:00',(''),(''),'pre','sys','');\nFILE_SCHEMA(('${this.schema}'));\nENDSEC;\nDATA;\n${this.lines.join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`;
  }

  bytes(): Uint8Array {
    return new TextEncoder().encode(this.toString());
  }
}

export interface Product {
  definition: number;
  representation: number;
  origin: number;
}

function real(value: number): string {
  const text = String(value);
  return /[.e]/.test(text) ? text.replace('e', 'E').replace(/^(-?\d+)E/, '$1.E') : `${text}.`;
}
