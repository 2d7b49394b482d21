import { describe, expect, it } from 'vitest';
import { transformPoint } from '../../scene/matrix.ts';
import type { Matrix } from '../../scene/matrix.ts';
import { worldTransforms } from '../../scene/tree.ts';
import { StepText } from '../../testing/stepText.ts';
import { surveyCounts } from '../../scene/counts.ts';
import { readStep } from './step.ts';
import { plainNode } from '../../scene/nodes.ts';

const read = (text: StepText | string) =>
  readStep({ name: 'test.stp', bytes: new TextEncoder().encode(String(text)) }, 's').survey;

/** World positions of the origins of all parts, millimetres, rounded. */
function origins(scene: ReturnType<typeof read>): number[][] {
  const worlds = worldTransforms(scene);
  return scene.nodes
    .filter((node) => node.kind === 'part')
    .map((node) => transformPoint(worlds.get(node.id) as Matrix, [0, 0, 0]).map((v) => Math.round(v * 1e6) / 1e3 + 0));
}

describe('the structure of a STEP file', () => {
  it('reads a single part', () => {
    const step = new StepText();
    step.product('Spoke', [step.tetrahedron().solid]);
    const scene = read(step);
    expect([...scene.nodes].map(plainNode)).toEqual([
      expect.objectContaining({ name: 'Spoke', kind: 'part', key: '/Spoke', parent: null, materials: ['none'] }),
    ]);
    expect(scene.sources[0]).toMatchObject({
      format: 'STEP',
      schema: 'AUTOMOTIVE_DESIGN',
      unit: { name: 'mm', metres: 0.001, declared: true },
    });
  });

  it('places shared components by transformed representations, nested', () => {
    const step = new StepText();
    const bolt = step.product('Bolt', [step.tetrahedron().solid]);
    const flange = step.product('Flange');
    const unit = step.product('Unit');
    step.place(flange, bolt, step.axis([10, 0, 0]));
    step.place(flange, bolt, step.axis([0, 20, 0]));
    step.place(unit, flange, step.axis([100, 0, 0]));
    // Turned so that the flange's x points along y: its bolt at (10,0,0) lands at (0,10,0) from the flange.
    step.place(unit, flange, step.axis([0, 0, 5], [0, 0, 1], [0, 1, 0]));
    const scene = read(step);
    expect(scene.nodes.map((node) => node.key)).toEqual([
      '/Unit', '/Unit/Flange', '/Unit/Flange/Bolt', '/Unit/Flange/Bolt#2', '/Unit/Flange#2', '/Unit/Flange#2/Bolt', '/Unit/Flange#2/Bolt#2',
    ]); // prettier-ignore
    expect(origins(scene)).toEqual([[110, 0, 0], [100, 20, 0], [0, 10, 5], [-20, 0, 5]]); // prettier-ignore
    expect(surveyCounts(scene)).toMatchObject({ parts: 4, assemblies: 3, pieces: 1 });
  });

  it('understands the relationship written the other way round', () => {
    const step = new StepText();
    const part = step.product('Part', [step.tetrahedron().solid]);
    const unit = step.product('Unit');
    step.place(unit, part, step.axis([7, 8, 9]), { swapped: true });
    expect(origins(read(step))).toEqual([[7, 8, 9]]);
  });

  it('places components by mapped items', () => {
    const step = new StepText();
    const part = step.product('Sheave', [step.tetrahedron().solid]);
    const first = step.mapped(part, step.axis([1, 0, 0]));
    const second = step.mapped(part, step.axis([2, 0, 0]));
    const unit = step.product('Train', [first, second], { type: 'SHAPE_REPRESENTATION' });
    for (const name of ['a', 'b'])
      step.add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('${name}','','',#${unit.definition},#${part.definition},$)`);
    const scene = read(step);
    expect(scene.nodes.map((node) => node.name)).toEqual(['Train', 'Sheave', 'Sheave']);
    expect(origins(scene)).toEqual([[1, 0, 0], [2, 0, 0]]); // prettier-ignore
  });

  it('shows mapped geometry that belongs to no component as parts of its product', () => {
    const step = new StepText();
    const { solid } = step.tetrahedron();
    const origin = step.axis();
    const shared = step.add(`SHAPE_REPRESENTATION('',(#${origin},#${solid}),#${step.context})`);
    const source = { definition: 0, representation: shared, origin };
    step.product('Pair', [step.mapped(source, step.axis([5, 0, 0])), step.mapped(source, step.axis([9, 0, 0]))], {
      type: 'SHAPE_REPRESENTATION',
    });
    const scene = read(step);
    expect(surveyCounts(scene)).toMatchObject({ parts: 2, pieces: 1, assemblies: 1 });
    expect(origins(scene)).toEqual([[5, 0, 0], [9, 0, 0]]); // prettier-ignore
  });

  it('scales and mirrors by a transformation operator', () => {
    const step = new StepText();
    const { solid } = step.tetrahedron();
    const origin = step.axis();
    const shared = step.add(`SHAPE_REPRESENTATION('',(#${origin},#${solid}),#${step.context})`);
    const at = step.point(1, 2, 3);
    const x = step.direction(1, 0, 0);
    const mirrored = step.direction(0, -1, 0);
    const z = step.direction(0, 0, 1);
    const operator = step.add(`CARTESIAN_TRANSFORMATION_OPERATOR_3D('','','',#${x},#${mirrored},#${at},2.,#${z})`);
    step.product('P', [step.mapped({ definition: 0, representation: shared, origin }, operator)], {
      type: 'SHAPE_REPRESENTATION',
    });
    const [node] = read(step).nodes;
    expect(transformPoint(node.transform, [0.01, 0.01, 0.01]).map((v) => Math.round(v * 1e6) / 1e3)).toEqual([
      21, -18, 23,
    ]);
  });

  it('follows a plain relationship from a product to its solid', () => {
    const step = new StepText();
    const { solid } = step.tetrahedron();
    const product = step.product('P');
    const brep = step.add(`ADVANCED_BREP_SHAPE_REPRESENTATION('',(#${solid}),#${step.context})`);
    step.add(`SHAPE_REPRESENTATION_RELATIONSHIP('','',#${product.representation},#${brep})`);
    expect(read(step).nodes.map(plainNode)).toEqual([expect.objectContaining({ name: 'P', kind: 'part' })]);
  });

  it('makes a product with several solids an assembly of them', () => {
    const step = new StepText();
    step.product('Weldment', [step.tetrahedron(10, 'plate').solid, step.tetrahedron(5, 'rib').solid]);
    expect(read(step).nodes.map(({ name, kind, parent }) => [name, kind, parent])).toEqual([
      ['Weldment', 'assembly', null],
      ['plate', 'part', 0],
      ['rib', 'part', 0],
    ]);
  });

  it('keeps names of occurrences and escapes', () => {
    const step = new StepText();
    const part = step.product("Tr\\X2\\00E4\\X0\\ger 5''", [step.tetrahedron().solid]);
    const unit = step.product('U');
    step.place(unit, part, step.axis(), { name: 'left' });
    expect(read(step).nodes.at(1)).toMatchObject({ name: "Träger 5'", occurrence: 'left' });
  });
});

describe('units', () => {
  // Exact by the international yard and pound agreement of 1959: 1 in = 25.4 mm, 1 ft = 0.3048 m.
  it('reads inches as defined in the file', () => {
    const step = new StepText();
    const inch = step.newContext(step.inch());
    const part = step.product('P', [step.tetrahedron().solid], { context: inch });
    const unit = step.product('U', [], { context: inch });
    step.place(unit, part, step.axis([1, 0, 0]));
    const scene = read(step);
    expect(origins(scene)).toEqual([[25.4, 0, 0]]);
    expect(scene.sources[0].unit).toEqual({ name: 'inch', metres: 0.0254, declared: true });
  });

  it.each([
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.))', 'm', 1],
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.CENTI.,.METRE.))', 'cm', 0.01],
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MICRO.,.METRE.))', 'µm', 1e-6],
    ['(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.KILO.,.METRE.))', 'km', 1000],
  ])('reads %s', (text, name, metres) => {
    const step = new StepText(text);
    step.product('P', [step.tetrahedron().solid]);
    expect(read(step).sources[0].unit).toEqual({ name, metres, declared: true });
  });

  it('keeps parts in different units of one file at their true places', () => {
    const step = new StepText('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.))');
    const inch = step.newContext(step.inch());
    const part = step.product('P', [step.tetrahedron().solid], { context: inch });
    const unit = step.product('U');
    step.place(unit, part, step.axis([2, 0, 0]));
    const scene = read(step);
    expect(origins(scene)).toEqual([[2000, 0, 0]]);
    expect(scene.sources[0].units.toSorted()).toEqual(['inch', 'm']);
  });

  it('assumes millimetres and says so where none is declared', () => {
    const step = new StepText();
    const bare = step.add("(GEOMETRIC_REPRESENTATION_CONTEXT(3)REPRESENTATION_CONTEXT('',''))");
    step.product('P', [step.tetrahedron().solid], { context: bare });
    const [info] = read(step).sources;
    expect(info.unit).toMatchObject({ name: 'mm', declared: false });
    expect(info.warnings.map((warning) => warning.code)).toContain('unit');
  });

  it('does not hang on a unit that is defined by itself', () => {
    const step = new StepText();
    const next = step.lines.length + 2;
    step.add(`LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(2.),#${next})`);
    const self = step.add(`(CONVERSION_BASED_UNIT('SELF',#${next - 1})LENGTH_UNIT()NAMED_UNIT(*))`);
    step.product('P', [step.tetrahedron().solid], { context: step.newContext(`#${self}`) });
    expect(read(step).sources[0].unit.declared).toBe(false);
  });
});

describe('colours and layers', () => {
  const materialsOf = (step: StepText) =>
    read(step)
      .nodes.filter((node) => node.kind === 'part')
      .map((node) => node.materials);

  it('gives a solid its colour, and faces theirs before it', () => {
    const step = new StepText();
    const { solid, faces } = step.tetrahedron();
    step.product('P', [solid]);
    step.styled(solid, step.style(1, 0, 0));
    const blue = step.style(0, 0, 1);
    step.styled(faces[1], blue);
    step.styled(faces[3], blue);
    expect(materialsOf(step)).toEqual([['#ff0000', '#0000ff']]);
  });

  it('prefers the shell to the solid, and the solid to the representation', () => {
    const step = new StepText();
    const one = step.tetrahedron();
    const two = step.tetrahedron();
    const product = step.product('P', [one.solid, two.solid]);
    step.styled(product.representation, step.style(0, 1, 0));
    step.styled(one.solid, step.style(1, 0, 0));
    step.styled(one.shell, step.style(1, 1, 0));
    expect(materialsOf(step)).toEqual([['#ffff00'], ['#00ff00']]);
  });

  it('lets an overriding style prevail, whichever comes first', () => {
    const step = new StepText();
    const { solid } = step.tetrahedron();
    step.product('P', [solid]);
    step.add(`OVER_RIDING_STYLED_ITEM('',(#${step.style(0, 0, 1)}),#${solid},$)`);
    step.styled(solid, step.style(1, 0, 0));
    expect(materialsOf(step)).toEqual([['#0000ff']]);
  });

  it('colours one placement only, and leaves styled faces alone', () => {
    const step = new StepText();
    const { solid, faces } = step.tetrahedron();
    const part = step.product('P', [solid]);
    const styled = step.styled(solid, step.style(1, 0, 0));
    step.styled(faces[0], step.style(0, 1, 0));
    const unit = step.product('U');
    step.place(unit, part, step.axis());
    const second = step.place(unit, part, step.axis([1, 0, 0]));
    step.add(
      `CONTEXT_DEPENDENT_OVER_RIDING_STYLED_ITEM('',(#${step.style(0, 0, 1)}),#${styled},#${styled},(#${second}))`,
    );
    expect(materialsOf(step)).toEqual([['#ff0000', '#00ff00'], ['#0000ff', '#00ff00']]); // prettier-ignore
    expect(surveyCounts(read(step)).pieces).toBe(1);
  });

  it('reads transparency and named colours', () => {
    const step = new StepText();
    const { solid } = step.tetrahedron();
    step.product('P', [solid]);
    const colour = step.add("DRAUGHTING_PRE_DEFINED_COLOUR('cyan')");
    const clear = step.add('SURFACE_STYLE_TRANSPARENT(0.6)');
    const rendering = step.add(`SURFACE_STYLE_RENDERING_WITH_PROPERTIES(.NORMAL_SHADING.,#${colour},(#${clear}))`);
    const side = step.add(`SURFACE_SIDE_STYLE('',(#${rendering}))`);
    const style = step.add(`PRESENTATION_STYLE_ASSIGNMENT((#${step.add(`SURFACE_STYLE_USAGE(.BOTH.,#${side})`)}))`);
    step.styled(solid, style);
    const scene = read(step);
    const [id] = scene.nodes.at(0)!.materials;
    expect(scene.materials[id]).toMatchObject({ baseColor: [0, 1, 1], opacity: expect.closeTo(0.4) });
  });

  it('is not caught in styles that refer to themselves', () => {
    const step = new StepText();
    const { solid } = step.tetrahedron();
    step.product('P', [solid]);
    const at = step.lines.length + 1;
    step.add(`PRESENTATION_STYLE_ASSIGNMENT((#${at}))`);
    step.styled(solid, at);
    expect(materialsOf(step)).toEqual([['none']]);
  });

  it.each(['solid', 'shell', 'representation', 'styled'] as const)('finds the layer of a part by its %s', (what) => {
    const step = new StepText();
    const { solid, shell } = step.tetrahedron();
    const { representation } = step.product('P', [solid]);
    const styled = step.styled(solid, step.style(1, 0, 0));
    step.layer('FASTENERS', { solid, shell, representation, styled }[what]);
    const scene = read(step);
    expect(scene.nodes.at(0)!.layer).toBe('FASTENERS');
    expect(surveyCounts(scene).layers).toEqual([{ name: 'FASTENERS', parts: 1 }]);
  });
});

describe('bad structure', () => {
  const codes = (scene: ReturnType<typeof read>) => scene.sources[0].warnings.map((warning) => warning.code);

  it('cuts an assembly that contains itself, and keeps the rest', () => {
    const step = new StepText();
    const part = step.product('Part', [step.tetrahedron().solid]);
    const a = step.product('A');
    const b = step.product('B');
    const root = step.product('Root');
    step.place(root, a, step.axis());
    step.place(a, b, step.axis());
    step.place(b, a, step.axis());
    step.place(b, part, step.axis());
    const scene = read(step);
    expect(codes(scene)).toContain('cyclic');
    expect(scene.nodes.map((node) => node.name)).toEqual(['Root', 'A', 'B', 'Part']);
  });

  it('shows the solids of an assembly that is nothing but a circle', () => {
    const step = new StepText();
    const a = step.product('A', [step.tetrahedron().solid]);
    const b = step.product('B');
    step.place(a, b, step.axis());
    step.place(b, a, step.axis());
    const scene = read(step);
    expect(codes(scene)).toEqual(expect.arrayContaining(['cyclic', 'loose']));
    expect(surveyCounts(scene).parts).toBe(1);
  });

  it('cuts a representation that maps itself', () => {
    const step = new StepText();
    const { solid } = step.tetrahedron();
    const origin = step.axis();
    const self = step.lines.length + 3;
    const map = step.add(`REPRESENTATION_MAP(#${origin},#${self})`);
    const item = step.add(`MAPPED_ITEM('',#${map},#${origin})`);
    step.add(`SHAPE_REPRESENTATION('',(#${item},#${solid}),#${step.context})`);
    const product = step.product('P');
    step.add(`SHAPE_REPRESENTATION_RELATIONSHIP('','',#${product.representation},#${self})`);
    const scene = read(step);
    expect(codes(scene)).toContain('cyclic');
    expect(surveyCounts(scene).parts).toBe(1);
  });

  it('refuses assemblies that double until they fill the memory', () => {
    const step = new StepText();
    let level = step.product('Leaf', [step.tetrahedron().solid]);
    for (let i = 0; i < 25; i++) {
      const next = step.product(`Level ${i}`);
      step.place(next, level, step.axis());
      step.place(next, level, step.axis([1, 0, 0]));
      level = next;
    }
    expect(() => read(step)).toThrow(expect.objectContaining({ code: 'too-large' }));
  });

  it('warns of a reference to an entity that is not there, naming both', () => {
    const step = new StepText();
    const part = step.product('P', [step.tetrahedron().solid]);
    step.add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('u','','',#${part.definition},#99999,$)`);
    const scene = read(step);
    expect(scene.nodes).toHaveLength(1);
    expect(scene.sources[0].warnings).toEqual([
      expect.objectContaining({ code: 'dangling', message: expect.stringContaining('#99999') }),
    ]);
  });

  it('leaves out a malformed usage and keeps the others', () => {
    const step = new StepText();
    const part = step.product('P', [step.tetrahedron().solid]);
    const unit = step.product('U');
    step.place(unit, part, step.axis());
    step.add('NEXT_ASSEMBLY_USAGE_OCCURRENCE(%%%)');
    const scene = read(step);
    expect(scene.nodes).toHaveLength(2);
    expect(codes(scene)).toEqual(['malformed']);
  });

  it('cuts a name of 10,000 characters and says so', () => {
    const step = new StepText();
    step.product('N'.repeat(10_000), [step.tetrahedron().solid]);
    const scene = read(step);
    expect(scene.nodes.at(0)!.name).toHaveLength(1001);
    expect(codes(scene)).toEqual(['long-name']);
  });

  it('says what is missing where a file holds no shape at all', () => {
    const step = new StepText();
    step.add("PRODUCT('','','',())");
    expect(() => read(step)).toThrow(expect.objectContaining({ code: 'no-geometry', file: 'test.stp' }));
  });

  it('shows a component without a placement at the origin, with a warning', () => {
    const step = new StepText();
    const part = step.product('P', [step.tetrahedron().solid]);
    const unit = step.product('U');
    step.add(`NEXT_ASSEMBLY_USAGE_OCCURRENCE('u','','',#${unit.definition},#${part.definition},$)`);
    const scene = read(step);
    expect(origins(scene)).toEqual([[0, 0, 0]]);
    expect(codes(scene)).toEqual(['placement']);
  });

  it('never hangs or crashes on a file with bytes flipped at random', () => {
    const step = new StepText();
    const part = step.product('P', [step.tetrahedron().solid]);
    const unit = step.product('U');
    step.place(unit, part, step.axis([1, 2, 3]));
    step.layer('L', part.representation);
    const sound = step.bytes();
    // A seeded generator (Numerical Recipes' constants), so that a failure can be repeated.
    let seed = 12345;
    const random = (below: number) => (seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0) % below;
    for (let run = 0; run < 500; run++) {
      const bytes = sound.slice();
      for (let flips = 1 + random(6); flips > 0; flips--) bytes[random(bytes.length)] = 32 + random(95);
      try {
        const scene = readStep({ name: 'fuzz.stp', bytes }, 's').survey;
        expect(scene.nodes.length).toBeLessThan(50);
      } catch (error) {
        expect(error).toMatchObject({ name: 'PrismError', file: 'fuzz.stp' });
      }
    }
  });
});
