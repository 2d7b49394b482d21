// Bodies that are no exact solids (ISO 10303-42: tessellated geometry, curve sets), and validation properties, of which the open
// file as1-tu-203.stp (Debian's gmsh-doc) carries volume, area and centroid of each of its parts.
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { MemoryBlobs, memorySurroundings } from '../../memoryStores.ts';
import { massProperties } from '../../mesh/mesh.ts';
import { evaluate } from '../../preparation/evaluate.ts';
import { surveyCounts } from '../../scene/counts.ts';
import { checkStated } from '../../scene/stated.ts';
import type { Scene } from '../../scene/types.ts';
import type { Step } from '../../steps/kinds.ts';
import { fileOf, modelOf, readAll, warningsOf } from '../../testing/reading.ts';
import { startKernel } from '../../testing/solids.ts';
import { sentTo } from '../../testing/sent.ts';
import { StepText } from '../../testing/stepText.ts';
import { readStep } from './step.ts';
import { plainScene } from '../../scene/plain.ts';

beforeAll(() => startKernel(loadKernel));

const TESSELLATE: Step = {
  id: 't',
  kind: 'tessellate',
  on: true,
  selector: { by: 'all' },
  parameters: { chord: 0.0001, angle: 0.3, preset: 'own' },
};

async function prepared(name: string, bytes: Uint8Array) {
  const blobs = new MemoryBlobs();
  const scene = await readStep({ name, bytes }, 's').build(blobs);
  return evaluate(scene, 'k', [TESSELLATE], memorySurroundings({ blobs }));
}

/** Points of a cube of edge 10 and its six sides, counter-clockwise seen from outside, numbered from 1. */
const CUBE = '((0.,0.,0.),(10.,0.,0.),(10.,10.,0.),(0.,10.,0.),(0.,0.,10.),(10.,0.,10.),(10.,10.,10.),(0.,10.,10.))';
const SIDES = [
  [4, 3, 2, 1],
  [5, 6, 7, 8],
  [1, 2, 6, 5],
  [2, 3, 7, 6],
  [3, 4, 8, 7],
  [4, 1, 5, 8],
];

describe('tessellated bodies', () => {
  function cube(kind: 'triangles' | 'strips' | 'fans', numbered = false) {
    const step = new StepText(undefined, 'AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF');
    const points = step.add(`COORDINATES_LIST('',8,${CUBE})`);
    const faces = SIDES.map((side) => {
      // With numbers of its own, a face counts its points from 1.
      const [a, b, c, d] = numbered ? [1, 2, 3, 4] : side;
      const numbers = numbered ? `(${side.join(',')})` : '()';
      const head = `'',#${points},${numbered ? 4 : 8},(),$,${numbers}`;
      if (kind === 'triangles') return step.add(`TRIANGULATED_FACE(${head},((${a},${b},${c}),(${a},${c},${d})))`);
      return kind === 'strips'
        ? step.add(`COMPLEX_TRIANGULATED_FACE(${head},((${a},${b},${d},${c})),())`)
        : step.add(`COMPLEX_TRIANGULATED_FACE(${head},(),((${a},${b},${c},${d})))`);
    });
    const solid = step.add(`TESSELLATED_SOLID('cube',(${faces.map((face) => `#${face}`).join(',')}),$)`);
    step.product('Cube', [solid], { type: 'TESSELLATED_SHAPE_REPRESENTATION' });
    return { step, faces, solid };
  }

  it.each([
    ['triangles', false],
    ['strips', false],
    ['fans', false],
    ['triangles', true],
    ['strips', true],
  ] as const)('as %s, numbered by face: %s, enclose the volume of the cube', async (kind, numbered) => {
    const { step } = cube(kind, numbered);
    const read = await readAll(fileOf('cube.stp', step.bytes()));
    const { volume, area } = massProperties(await read.meshOf('Cube'));
    expect(volume).toBeCloseTo(1e-6, 12);
    expect(area).toBeCloseTo(6e-4, 9);
    expect(warningsOf(read.scene)).toEqual([]);
    expect(Object.keys(read.scene.solids)).toEqual([]);
  });

  it('have colours for single faces', async () => {
    const { step, faces } = cube('triangles');
    step.styled(faces[2], step.style(1, 0, 0));
    const read = await readAll(fileOf('cube.stp', step.bytes()));
    const mesh = await read.meshOf('Cube');
    expect(mesh.groups.map(({ slot, count }) => [slot, count])).toEqual([
      [0, 30],
      [1, 6],
    ]);
    expect(read.scene.materials[read.node('Cube').materials[1]].baseColor).toEqual([1, 0, 0]);
  });

  it('keep what is sound where points are missing', async () => {
    const step = new StepText();
    const points = step.add(`COORDINATES_LIST('',3,((0.,0.,0.),(10.,0.,0.),(0.,10.,0.)))`);
    const set = step.add(`TRIANGULATED_SURFACE_SET('',#${points},3,(),(),((1,2,3),(1,2,9)))`);
    step.product('Plate', [set], { type: 'TESSELLATED_SHAPE_REPRESENTATION' });
    const { scene } = await readAll(fileOf('plate.stp', step.bytes()));
    expect(Object.values(scene.meshes)[0].triangles).toBe(1);
  });

  it('give way to an exact shape of the same product, and say so', async () => {
    const { step, solid } = cube('triangles');
    step.product('Both', [step.tetrahedron(10).solid, solid]);
    const { scene } = await readAll(fileOf('both.stp', step.bytes()));
    const both = scene.nodes.filter(({ name }) => name === 'Both');
    expect(both).toHaveLength(1);
    expect(both[0].solid).toBeDefined();
    expect(scene.sources[0].notRead?.join()).toMatch(/Triangles of 1 bodies are passed over/);
  });
});

describe('lines beside a solid of the same product', () => {
  /** A plate with its outline, placed twice in an assembly. */
  function plates(): Uint8Array {
    const step = new StepText();
    const { solid } = step.tetrahedron(20);
    const line = step.add(`POLYLINE('',(#${step.point(0, 0, 0)},#${step.point(10, 0, 0)},#${step.point(10, 10, 0)}))`);
    const outline = step.add(`GEOMETRIC_CURVE_SET('',(#${line}))`);
    const assembly = step.product('Assembly');
    const plate = step.product('PLATE', [outline, solid]);
    step.place(assembly, plate, step.axis());
    step.place(assembly, plate, step.axis([50, 0, 0]));
    return step.bytes();
  }
  const TAKE: Step = { id: 'w', kind: 'wires', on: true, selector: { by: 'all' }, parameters: {} };

  it('are counted in the survey and left out: as many parts as placements', async () => {
    const blobs = new MemoryBlobs();
    const source = await readStep({ name: 'plates.stp', bytes: plates() }, 's').build(blobs);
    expect(surveyCounts(source)).toMatchObject({ parts: 2, assemblies: 1, wires: 2, pieces: 1 });
    const { scene } = await evaluate(source, 'k', [TESSELLATE], memorySurroundings({ blobs }));
    expect(scene.nodes.map(({ name, kind }) => `${kind} ${name}`)).toEqual([
      'assembly Assembly',
      'part PLATE',
      'part PLATE',
    ]);
    expect(scene.nodes.at(1)!.key).toBe('/Assembly/PLATE');
  });

  it('are taken where they are asked for, and then are sent and read back', async () => {
    const blobs = new MemoryBlobs();
    const source = await readStep({ name: 'plates.stp', bytes: plates() }, 's').build(blobs);
    const steps = [TESSELLATE, TAKE];
    const { scene, key } = await evaluate(source, 'k', steps, memorySurroundings({ blobs }));
    expect(scene.nodes.map(({ name }) => name)).toEqual(['Assembly', 'PLATE', 'PLATE wires', 'PLATE', 'PLATE wires']);
    expect(key).not.toBe((await evaluate(source, 'k', [TESSELLATE], memorySurroundings({ blobs }))).key);
    const { readBack } = await sentTo(scene, blobs);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
  });
});

describe('wireframes', () => {
  it('become lines of their true length', async () => {
    const step = new StepText();
    const corners = [step.point(0, 0, 0), step.point(30, 0, 0), step.point(30, 40, 0)];
    const line = step.add(`POLYLINE('',(${corners.map((id) => `#${id}`).join(',')}))`);
    const set = step.add(`GEOMETRIC_CURVE_SET('',(#${line}))`);
    step.product('Axis of the rope', [set], { type: 'GEOMETRICALLY_BOUNDED_WIREFRAME_SHAPE_REPRESENTATION' });
    const { scene, reports } = await prepared('wire.stp', step.bytes());
    expect(reports[0].problems).toEqual([]);
    const figures = scene.meshes[scene.nodes.at(0)!.mesh ?? ''];
    expect(figures.triangles).toBe(0);
    expect(figures.edges).toBeGreaterThanOrEqual(2);
    expect(figures.bounds.max.map((value) => Math.round(value * 1e6) / 1e6)).toEqual([0.03, 0.04, 0]);
  });

  it('are told apart from construction geometry, which is named and not carried', async () => {
    const { scene } = await readAll(modelOf('step_boundary_colors.stp'));
    expect(scene.sources[0].notRead?.join()).toMatch(/Construction geometry \(\d+ /);
  });
});

describe('validation properties', () => {
  it('of an open file agree with what is meshed: volume, area, centre of every part', async () => {
    const { bytes } = modelOf('as1-tu-203.stp');
    const { scene } = await prepared('as1.stp', bytes);
    const stated = Object.values(scene.solids).filter(({ stated }) => stated);
    expect(stated).toHaveLength(5);
    for (const info of stated) expect(Object.keys(info.stated ?? {}).sort()).toEqual(['area', 'centroid', 'volume']);
    // The nut: 664.476 mm³ and 747.194 mm² in the text of the file.
    const nut = stated.find(({ stated }) => Math.abs((stated?.volume ?? 0) - 664.476451301e-9) < 1e-15);
    expect(nut?.stated?.area).toBeCloseTo(747.193720347e-6, 12);
    expect(checkStated(scene)).toEqual({ stated: 18, meshed: 18, differences: [] });
  });

  it('that do not agree are named with the difference', async () => {
    const text = new TextDecoder('latin1')
      .decode(modelOf('as1-tu-203.stp').bytes)
      .replaceAll('VOLUME_MEASURE(664.476451301)', 'VOLUME_MEASURE(764.476451301)');
    const { scene } = await prepared('as1.stp', new TextEncoder().encode(text));
    const { differences } = checkStated(scene);
    expect(differences).toHaveLength(1);
    expect(differences[0].keys).toHaveLength(8);
    expect(differences[0].what).toMatch(/volume differs by -1[23]\.\d %/);
  });

  it('say nothing before anything is meshed', async () => {
    const scene = await readStep({ name: 'a.stp', bytes: modelOf('as1-tu-203.stp').bytes }, 's').build(
      new MemoryBlobs(),
    );
    expect(checkStated(scene)).toEqual({ stated: 18, meshed: 0, differences: [] });
  });

  it('in units of their own are read in those', async () => {
    const step = new StepText();
    const { definition } = step.product('Block', [step.tetrahedron(10).solid]);
    const metre = step.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.))');
    const unit = step.add(`DERIVED_UNIT((#${step.add(`DERIVED_UNIT_ELEMENT(#${metre},3.)`)}))`);
    const item = step.add(`MEASURE_REPRESENTATION_ITEM('volume measure',VOLUME_MEASURE(1.6666667E-7),#${unit})`);
    const representation = step.add(`REPRESENTATION('volume',(#${item}),#${step.context})`);
    const property = step.add(`PROPERTY_DEFINITION('geometric validation property','',#${definition})`);
    step.add(`PROPERTY_DEFINITION_REPRESENTATION(#${property},#${representation})`);
    const { scene } = await prepared('block.stp', step.bytes());
    // A tetrahedron with three right angles at one corner: a³ / 6.
    expect(Object.values(scene.solids)[0].stated?.volume).toBeCloseTo(0.01 ** 3 / 6, 12);
    expect(checkStated(scene).differences).toEqual([]);
  });
});

describe('a file with many solids', () => {
  const crowd = (count: number) => {
    const step = new StepText();
    const hall = step.product('Hall');
    for (let i = 1; i <= count; i++)
      step.place(hall, step.product(`Seat ${i}`, [step.tetrahedron(i).solid]), step.axis([i * 10, 0, 0]));
    return readStep({ name: 'hall.stp', bytes: step.bytes() }, 's');
  };

  it('gives its first shapes before all are stored, under the ids that they keep', async () => {
    const beginnings: Scene[] = [];
    const scene = await crowd(60).build(new MemoryBlobs(), { begun: async (first) => void beginnings.push(first) });
    expect(beginnings).toHaveLength(1);
    const [first] = beginnings;
    expect(Object.keys(first.solids)).toHaveLength(4);
    expect(first.nodes.map(({ id, key }) => [id, key])).toEqual(scene.nodes.map(({ id, key }) => [id, key]));
    for (const node of first.nodes) if (node.solid) expect(scene.nodes.at(node.id)!.solid).toBe(node.solid);
    expect(Object.keys(scene.solids)).toHaveLength(60);
  });

  it('comes in one go where there are few', async () => {
    let beginnings = 0;
    await crowd(10).build(new MemoryBlobs(), { begun: async () => void beginnings++ });
    expect(beginnings).toBe(0);
  });

  it('is the same scene with and without a beginning', async () => {
    const [a, b] = [
      await crowd(50).build(new MemoryBlobs(), { begun: async () => {} }),
      await crowd(50).build(new MemoryBlobs()),
    ];
    expect(plainScene(a)).toEqual(plainScene(b));
  });
});
