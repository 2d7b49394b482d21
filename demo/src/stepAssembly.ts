/**
 * Writes assemblies as STEP text (ISO 10303-21, AP214): products, usages with placements, colours and layers around solids
 * that the kernel made. The text is the same each time.
 */
import { cutMarks, cutPiece } from '@noble-prism/core/read/step/cut';
import { scanPart21 } from '@noble-prism/core/read/step/scan';

/** A place in the parent, millimetres: origin, direction of z, direction of x. */
export interface Place {
  origin: [number, number, number];
  z: [number, number, number];
  x: [number, number, number];
}

export interface PartDefinition {
  name: string;
  layer: string;
  /** `#rrggbb`. */
  colour: string;
  /** 0 to 1; 0 is opaque. */
  transparency?: number;
  /** STEP text with one solid, as the kernel writes it. */
  step: string;
  /** Colour of single faces, by their number in the shell. */
  faceColours?: Record<number, string>;
  /** Lines that came with it: axes, outlines. Points in the unit of the file. */
  lines?: [number, number, number][][];
}

export interface AssemblyDefinition {
  name: string;
  children: Child[];
}

export interface Child {
  of: PartDefinition | AssemblyDefinition;
  place: Place;
  /** Name of this occurrence. */
  tag?: string;
  /** Colour of this placement only. */
  colour?: string;
}

const isPart = (definition: PartDefinition | AssemblyDefinition): definition is PartDefinition => 'step' in definition;

interface Written {
  definition: number;
  representation: number;
  /** Styled item of the solid, for a placement to override. */
  styled?: number;
}

export interface FileFacts {
  fileName: string;
  description: string;
  /** What the numbers of all shapes and places mean; millimetres where absent. */
  unit?: 'mm' | 'inch';
}

/** @returns the whole file */
export function writeAssembly(root: AssemblyDefinition, { fileName, description, unit = 'mm' }: FileFacts): string {
  return new AssemblyWriter().write(root, fileName, description, unit);
}

class AssemblyWriter {
  readonly #lines: string[] = [];
  #next = 1;
  readonly #written = new Map<PartDefinition | AssemblyDefinition, Written>();
  readonly #layers = new Map<string, number[]>();
  readonly #styles: number[] = [];
  readonly #colours = new Map<string, number>();
  #context = 0;
  #productContext = 0;
  #definitionContext = 0;

  #add(text: string): number {
    const id = this.#next++;
    this.#lines.push(`#${id}=${text};`);
    return id;
  }

  write(root: AssemblyDefinition, fileName: string, description: string, unit: 'mm' | 'inch'): string {
    const application = this.#add("APPLICATION_CONTEXT('automotive design')");
    this.#add(`APPLICATION_PROTOCOL_DEFINITION('international standard','automotive_design',2001,#${application})`);
    this.#productContext = this.#add(`PRODUCT_CONTEXT('',#${application},'mechanical')`);
    this.#definitionContext = this.#add(`PRODUCT_DEFINITION_CONTEXT('part definition',#${application},'design')`);
    const millimetre = this.#add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))');
    const length = unit === 'inch' ? this.#inch(millimetre) : millimetre;
    const angle = this.#add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))');
    const solidAngle = this.#add('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())');
    const accuracy = this.#add(
      `UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-06),#${length},'distance_accuracy_value','')`,
    );
    this.#context = this.#add(
      `(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((#${accuracy}))GLOBAL_UNIT_ASSIGNED_CONTEXT((#${length},#${angle},#${solidAngle}))REPRESENTATION_CONTEXT('',''))`,
    );
    this.#define(root);
    for (const [layer, items] of this.#layers)
      this.#add(`PRESENTATION_LAYER_ASSIGNMENT('${quote(layer)}','',(${refs(items)}))`);
    this.#add(`MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',(${refs(this.#styles)}),#${this.#context})`);
    return [
      'ISO-10303-21;',
      'HEADER;',
      `FILE_DESCRIPTION(('${quote(description)}'),'2;1');`,
      // A fixed time: the file is the same each time that it is made.
      `FILE_NAME('${quote(fileName)}','2026-03-02T08:00:00',('Ropeway workshop'),('Tarn Gondola (invented)'),'Noble Prism demo script','Noble Prism demo script','');`,
      "FILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 3 1 1 }'));",
      'ENDSEC;',
      'DATA;',
      ...this.#lines,
      'ENDSEC;',
      'END-ISO-10303-21;',
      '',
    ].join('\n');
  }

  #inch(millimetre: number): number {
    const dimensions = this.#add('DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.)');
    const measure = this.#add(`LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#${millimetre})`);
    return this.#add(`(CONVERSION_BASED_UNIT('INCH',#${measure})LENGTH_UNIT()NAMED_UNIT(#${dimensions}))`);
  }

  #define(definition: PartDefinition | AssemblyDefinition): Written {
    const known = this.#written.get(definition);
    if (known) return known;
    const written = isPart(definition) ? this.#part(definition) : this.#assembly(definition);
    this.#written.set(definition, written);
    return written;
  }

  #product(name: string): { definition: number; shape: number } {
    const product = this.#add(`PRODUCT('${quote(name)}','${quote(name)}','',(#${this.#productContext}))`);
    const formation = this.#add(`PRODUCT_DEFINITION_FORMATION('A','',#${product})`);
    const definition = this.#add(`PRODUCT_DEFINITION('design','',#${formation},#${this.#definitionContext})`);
    return { definition, shape: this.#add(`PRODUCT_DEFINITION_SHAPE('','',#${definition})`) };
  }

  #placement({ origin, z, x }: Place): number {
    const point = this.#add(`CARTESIAN_POINT('',(${origin.map(real).join(',')}))`);
    const axis = this.#add(`DIRECTION('',(${z.map(real).join(',')}))`);
    const ref = this.#add(`DIRECTION('',(${x.map(real).join(',')}))`);
    return this.#add(`AXIS2_PLACEMENT_3D('',#${point},#${axis},#${ref})`);
  }

  #part(part: PartDefinition): Written {
    const { solid, faces } = this.#solid(part);
    const { definition, shape } = this.#product(part.name);
    const origin = this.#placement(ORIGIN);
    const representation = this.#add(
      `ADVANCED_BREP_SHAPE_REPRESENTATION('${quote(part.name)}',(#${origin},#${solid}),#${this.#context})`,
    );
    this.#add(`SHAPE_DEFINITION_REPRESENTATION(#${shape},#${representation})`);
    if (part.lines) this.#wires(part.lines, representation);
    const styled = this.#add(`STYLED_ITEM('',(#${this.#style(part.colour, part.transparency ?? 0)}),#${solid})`);
    this.#styles.push(styled);
    for (const [face, colour] of Object.entries(part.faceColours ?? {})) {
      this.#styles.push(
        this.#add(`OVER_RIDING_STYLED_ITEM('',(#${this.#style(colour, 0)}),#${faces[Number(face)]},#${styled})`),
      );
    }
    const onLayer = this.#layers.get(part.layer) ?? [];
    this.#layers.set(part.layer, [...onLayer, solid]);
    return { definition, representation, styled };
  }

  /** Lines in a representation of their own, which shows the same product. */
  #wires(lines: [number, number, number][][], beside: number): void {
    const curves = lines.map((line) => {
      const points = line.map((point) => this.#add(`CARTESIAN_POINT('',(${point.map(real).join(',')}))`));
      return this.#add(`POLYLINE('',(${refs(points)}))`);
    });
    const set = this.#add(`GEOMETRIC_CURVE_SET('',(${refs(curves)}))`);
    const wires = this.#add(`GEOMETRICALLY_BOUNDED_WIREFRAME_SHAPE_REPRESENTATION('',(#${set}),#${this.#context})`);
    this.#add(`SHAPE_REPRESENTATION_RELATIONSHIP('','',#${beside},#${wires})`);
  }

  #assembly(assembly: AssemblyDefinition): Written {
    const children = assembly.children.map((child) => ({ child, written: this.#define(child.of) }));
    const { definition, shape } = this.#product(assembly.name);
    const origin = this.#placement(ORIGIN);
    const places = children.map(({ child }) => this.#placement(child.place));
    const representation = this.#add(
      `SHAPE_REPRESENTATION('${quote(assembly.name)}',(${refs([origin, ...places])}),#${this.#context})`,
    );
    this.#add(`SHAPE_DEFINITION_REPRESENTATION(#${shape},#${representation})`);
    children.forEach(({ child, written }, i) => {
      const usage = this.#add(
        `NEXT_ASSEMBLY_USAGE_OCCURRENCE('${i + 1}','${quote(child.tag ?? '')}','',#${definition},#${written.definition},$)`,
      );
      const usageShape = this.#add(`PRODUCT_DEFINITION_SHAPE('','',#${usage})`);
      const transformation = this.#add(`ITEM_DEFINED_TRANSFORMATION('','',#${origin},#${places[i]})`);
      const relation = this.#add(
        `(REPRESENTATION_RELATIONSHIP('','',#${written.representation},#${representation})REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#${transformation})SHAPE_REPRESENTATION_RELATIONSHIP())`,
      );
      const placed = this.#add(`CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#${relation},#${usageShape})`);
      if (child.colour && written.styled) {
        const style = this.#style(child.colour, 0);
        this.#styles.push(
          this.#add(
            `CONTEXT_DEPENDENT_OVER_RIDING_STYLED_ITEM('',(#${style}),#${written.styled},#${written.styled},(#${placed}))`,
          ),
        );
      }
    });
    return { definition, representation };
  }

  /** Entities of the solid, renumbered to follow what is there. */
  #solid(part: PartDefinition): { solid: number; faces: number[] } {
    const file = scanPart21(new TextEncoder().encode(part.step), part.name);
    const solid = file.ofType('MANIFOLD_SOLID_BREP')[0];
    if (solid === undefined) throw new Error(`${part.name}: the kernel wrote no solid.`);
    const piece = { solid, context: -1 };
    const text = new TextDecoder().decode(cutPiece(file, piece, cutMarks(file)).bytes);
    const entities = text
      .split('\n')
      .filter((line) => /^#\d+=/.test(line) && !line.includes('APPLICATION_CONTEXT') && !line.includes('GLOBAL_UNIT'));
    const shift = this.#next - 1;
    let faces: number[] = [];
    for (const line of entities) {
      const moved = line
        .replace(/#(\d+)/g, (_, id: string) => `#${Number(id) + shift}`)
        .replace(/-?\d+\.\d*(E[+-]?\d+)?/g, shorter);
      const shell = /=CLOSED_SHELL\('[^']*',\(([^)]*)\)\)/.exec(moved);
      if (shell) faces = shell[1].split(',').map((ref) => Number(ref.slice(1)));
      this.#lines.push(moved.replace(/^(#\d+=MANIFOLD_SOLID_BREP\()'[^']*'/, `$1'${quote(part.name)}'`));
      this.#next++;
    }
    return { solid: shift + 1, faces };
  }

  #style(colour: string, transparency: number): number {
    const key = `${colour} ${transparency}`;
    let id = this.#colours.get(key);
    if (id === undefined) {
      const parts = [1, 3, 5].map((at) => real(Number.parseInt(colour.slice(at, at + 2), 16) / 255));
      const rgb = this.#add(`COLOUR_RGB('',${parts.join(',')})`);
      const fill = this.#add(`FILL_AREA_STYLE_COLOUR('',#${rgb})`);
      const area = this.#add(`FILL_AREA_STYLE('',(#${fill}))`);
      const sides = [this.#add(`SURFACE_STYLE_FILL_AREA(#${area})`)];
      if (transparency > 0) {
        const clear = this.#add(`SURFACE_STYLE_TRANSPARENT(${real(transparency)})`);
        sides.push(this.#add(`SURFACE_STYLE_RENDERING_WITH_PROPERTIES(.NORMAL_SHADING.,#${rgb},(#${clear}))`));
      }
      const side = this.#add(`SURFACE_SIDE_STYLE('',(${refs(sides)}))`);
      const usage = this.#add(`SURFACE_STYLE_USAGE(.BOTH.,#${side})`);
      id = this.#add(`PRESENTATION_STYLE_ASSIGNMENT((#${usage}))`);
      this.#colours.set(key, id);
    }
    return id;
  }
}

const ORIGIN: Place = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] };

const refs = (ids: number[]) => ids.map((id) => `#${id}`).join(',');

/** A real number as Part 21 wants it: with a point, without noise in the last digits. */
function real(value: number): string {
  const text = String(Number(value.toFixed(9)) + 0);
  if (text.includes('e'))
    return Number(value)
      .toExponential()
      .toUpperCase()
      .replace(/^(-?\d+)E/, '$1.E');
  return text.includes('.') ? text : `${text}.`;
}

/** Figures of the kernel with eleven digits: far below its tolerance, and half the bytes. */
function shorter(figure: string): string {
  const value = Number(figure);
  const text = String(Number(value.toPrecision(11))).toUpperCase();
  if (Math.abs(value) < 1e-13) return '0.';
  if (text.includes('E')) return text.includes('.') ? text : text.replace('E', '.E');
  return text.includes('.') ? text : `${text}.`;
}

/** Text between quotes: quotes doubled, characters beyond ASCII as \X2\ escapes. */
function quote(text: string): string {
  return text
    .replaceAll('\\', '\\\\')
    .replaceAll("'", "''")
    .replace(
      /[^\u0020-\u007e]+/g,
      (run) =>
        `\\X2\\${[...run].map((c) => c.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')).join('')}\\X0\\`,
    );
}
