// Our files of IFC against web-ifc (schema, identities, classes), assimp (faces and sizes), and against what they were made from.
import { writeFileSync } from 'node:fs';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import * as webIfc from 'web-ifc';
import { afterAll, describe, expect, it } from 'vitest';
import { libraryMaterial } from '../../finish/library/library.ts';
import type { MemoryBlobs } from '../../memoryStores.ts';
import { scanPart21 } from '../../read/step/scan.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { translation } from '../../scene/matrix.ts';
import type { Scene, SceneNode } from '../../scene/types.ts';
import { atLength } from '../../testing/atLength.ts';
import { ballMesh, boxMesh } from '../../testing/meshes.ts';
import { fileOf, readAll, readOnce } from '../../testing/reading.ts';
import { sceneWith } from '../../testing/scenes.ts';
import { secondReadingAt } from '../../testing/secondReader.ts';
import { DEFAULT_TARGET } from '../../transmit/targets/target.ts';
import type { TargetSettings } from '../../transmit/targets/target.ts';
import { carryOver } from '../../transmit/carryOver.ts';
import { deliver } from '../../transmit/transmit.ts';
import { GlobalIds } from './globalId.ts';

const FORMS = ['ifc', 'ifc2x3'];
const folder = mkdtempSync(join(tmpdir(), 'noble-prism-ifc-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function sent(scene: Scene, blobs: MemoryBlobs, format = 'ifc', change: Partial<TargetSettings> = {}) {
  const targets = [{ name: 'Building', settings: { ...DEFAULT_TARGET, format, ...change } }];
  const { outputs } = await deliver(scene, blobs, { targets, name: 'hall', title: 'Hall 3', steps: [], made: '2026-01-01T00:00:00Z' }); // prettier-ignore
  return outputs[0];
}
const house = () => readOnce('house.ifc');
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);

/** What was sent, read again as a source. */
async function back(scene: Scene, blobs: MemoryBlobs, format = 'ifc', change: Partial<TargetSettings> = {}) {
  const { files, readBack } = await sent(scene, blobs, format, change);
  expect(readBack?.differences).toEqual([]);
  expect(readBack?.holds).toBe(true);
  return { ...(await readAll(fileOf('hall.ifc', textOf(files[0].bytes)))), bytes: files[0].bytes };
}

const built = ({ nodes }: Scene) => [...nodes].filter(({ properties }) => !/^(Made for|Holds what)/.test(properties?.Description ?? '')); // prettier-ignore

describe('open files, written as IFC', () => {
  const BACK = '%s reads back as it was sent, in both schemas';
  atLength.each([
    'house.ifc',
    'glTF2/ClearCoat-glTF/ClearCoatTest.gltf',
    'Collada/anims_with_full_rotations_between_keys.DAE',
  ])(BACK, readsBack);
  it.each(['Collada/kwxport_test_vcolors.dae', 'X3D/ComputerKeyboard.x3d', 'OBJ/number_formats.obj'])(BACK, readsBack);

  async function readsBack(path: string): Promise<void> {
    const { scene, blobs } = await readOnce(path);
    for (const format of FORMS) {
      const { readBack, error } = await sent(scene, blobs, format);
      expect(error).toBeUndefined();
      expect(readBack?.differences).toEqual([]);
      expect(readBack?.holds).toBe(true);
    }
  }
});

describe('what came as IFC', () => {
  /** The open house with a wall that was renamed and given another material, and what came back of it; sent once for all of these. */
  async function sentHouse() {
    const { scene, blobs } = await house();
    const wall = [...scene.nodes].find((node) => node.class === 'IfcWallStandardCase')!;
    const edit = new SceneEditor(scene);
    edit.setName(
      wall.id,
      edit.newNames(
        Int32Array.of(0),
        Object.assign(() => 'Wall “new” Ø', { start: 'Wall “new” Ø', goesOn: false }),
      ),
    );
    edit.setMaterials(
      wall.id,
      wall.materials.map(() => iron.id),
    );
    const changed = { ...edit.finish().scene, materials: { ...scene.materials, [iron.id]: iron } };
    const { scene: again, bytes } = await back(changed, blobs);
    return { scene: changed, again, bytes, wall: wall.properties?.GlobalId };
  }
  const iron = libraryMaterial('lib:cast-iron')!;
  let once: ReturnType<typeof sentHouse> | undefined;
  const sentOnce = () => (once ??= sentHouse());

  it('keeps identities, classes, storeys, types, layers and properties', async () => {
    const { scene, again } = await sentOnce();
    const facts = ({ name, class: kind, layer, mesh, properties }: SceneNode) => {
      // Spaces are not drawn, and stand on no layer. Which materials it has is said by the materials themselves.
      const { Material: _, ...others } = properties ?? {};
      return { name, kind, layer: mesh ? layer : null, others };
    };
    const theirs = new Map(built(again).map((node) => [node.properties?.GlobalId, facts(node)]));
    expect(theirs.size).toBe(scene.nodes.length);
    for (const node of scene.nodes) expect(theirs.get(node.properties?.GlobalId)).toEqual(facts(node));
  });

  it('has the same walls, slabs and windows by identity for web-ifc', async () => {
    const { scene, bytes } = await sentOnce();
    const api = new webIfc.IfcAPI();
    await api.Init(undefined, true);
    const model = api.OpenModel(bytes);
    for (const [type, kind] of [
      [webIfc.IFCWALLSTANDARDCASE, 'IfcWallStandardCase'],
      [webIfc.IFCSLAB, 'IfcSlab'],
      [webIfc.IFCWINDOW, 'IfcWindow'],
      [webIfc.IFCBUILDINGSTOREY, 'IfcBuildingStorey'],
    ] as const) {
      // prettier-ignore
      const lines = api.GetLineIDsWithType(model, type);
      const ids = Array.from({ length: lines.size() }, (_, i) => (api.GetLine(model, lines.get(i)) as { GlobalId: { value: string } }).GlobalId.value); // prettier-ignore
      const ours = [...scene.nodes].filter((node) => node.class === kind).map(({ properties }) => properties?.GlobalId);
      expect(ours.length).toBeGreaterThan(0);
      expect(ids.sort()).toEqual(ours.sort());
    }
    api.CloseModel(model);
  });

  it('has its names and materials as they are now, under the same identity', async () => {
    const { again, wall } = await sentOnce();
    const found = [...again.nodes].find(({ properties }) => properties?.GlobalId === wall)!;
    expect(found.name).toBe('Wall “new” Ø');
    expect(found.properties?.Material).toBe(iron.name);
    expect(again.materials[found.materials[0]].name).toBe(iron.name);
  });
});

describe('what came otherwise', () => {
  const tree = [
    { name: 'Hall', children: [
      { name: 'Bolt', mesh: ballMesh(0.02, 8), materials: ['#ff0000'], transform: translation([1, 0, 0]), layer: 'FASTENERS', properties: { 'Order.Number': '007', 'Order.Count': '12', 'Order.Exact': '0.25', Painted: 'true' } },
      { name: 'Bolt', mesh: ballMesh(0.02, 8), materials: ['#ff0000'], transform: translation([2, 0, 0]), class: 'Screw' },
      { name: 'Case', mesh: boxMesh(1, 2, 3, 2), materials: ['#00ff00', '#0000ff'] },
    ] },
  ]; // prettier-ignore

  it('stands as proxies and assemblies, with properties as what they are', async () => {
    const { scene, blobs } = await sceneWith(tree);
    const { scene: again, bytes } = await back(scene, blobs);
    expect(built(again).map((node) => `${node.name} ${node.class}`)).toEqual(['Hall IfcElementAssembly', ...['Bolt', 'Bolt', 'Case'].map((name) => `${name} IfcBuildingElementProxy`)]); // prettier-ignore
    const [, bolt] = built(again);
    expect(bolt.layer).toBe('FASTENERS');
    expect(bolt.properties).toMatchObject({ 'Order.Number': '007', 'Order.Count': '12', 'Order.Exact': '0.25', 'Properties.Painted': 'true' }); // prettier-ignore
    const text = textOf(bytes);
    for (const value of ["IFCLABEL('007')", 'IFCINTEGER(12)', 'IFCREAL(0.25)', 'IFCBOOLEAN(.T.)', "'Screw'"]) expect(text).toContain(value); // prettier-ignore
    // One shape, shown by two rows.
    expect(text.match(/IFCTRIANGULATEDFACESET/g)).toHaveLength(3);
    expect(text.match(/IFCMAPPEDITEM/g)).toHaveLength(2);
  });

  it('has the same identities however often it is sent, each once', async () => {
    const { scene, blobs } = await sceneWith(tree);
    const ids = async () => built((await back(scene, blobs)).scene).map(({ properties }) => properties?.GlobalId);
    const first = await ids();
    expect(await ids()).toEqual(first);
    expect(new Set(first).size).toBe(first.length);
  });

  atLength('may stand beside a project, and scaled, skewed or mirrored', async () => {
    const { scene: building, blobs } = await house();
    const wild = [0, 2, 0, 0, 1, 0, 0.5, 0, 0, 0, -3, 0, 5, 6, 7, 1];
    const { scene } = await sceneWith([{ name: 'Sculpture', mesh: boxMesh(1, 2, 3), transform: wild, children: [{ name: 'Knob', mesh: ballMesh(0.3, 8) }] }], blobs); // prettier-ignore
    const { mergeScenes } = await import('../../scene/merge.ts');
    await back(mergeScenes([building, scene]), blobs);
  });
});

describe('the file', () => {
  const ATTRIBUTES = 'of %s has as many attributes in every entity as the schema of web-ifc';
  it.each(['ifc'])(ATTRIBUTES, hasAttributes);
  atLength.each(['ifc2x3'])(ATTRIBUTES, hasAttributes);

  async function hasAttributes(format: string): Promise<void> {
    const { scene, blobs } = await house();
    const { files } = await sent(scene, blobs, format);
    const part21 = scanPart21(files[0].bytes, 'hall.ifc');
    const schema = (format === 'ifc' ? webIfc.IFC4 : webIfc.IFC2X3) as unknown as Record<string, { length: number }>;
    const lengths = new Map(Object.entries(schema).map(([name, made]) => [name.toUpperCase(), made.length]));
    expect(part21.warnings).toEqual([]);
    // Units of SI have one more, which is derived.
    for (const type of part21.typeNames.filter((name) => name !== 'IFCSIUNIT'))
      for (const index of part21.ofType(type).slice(0, 50)) expect(`${type} ${part21.args(index).length}`).toBe(`${type} ${lengths.get(type)}`); // prettier-ignore
  }

  it.each([['m', 1], ['mm', 0.001], ['ft', 0.3048]] as const)('in %s is of its size for assimp, which is told the unit', async (unit, metres) => {
    const { scene, blobs } = await sceneWith([{ name: 'Box', mesh: boxMesh(1, 2, 3), transform: translation([10, 0, 0]) }]); // prettier-ignore
    const { files } = await sent(scene, blobs, 'ifc2x3', { unit });
    const path = join(folder, `box-${unit}.ifc`);
    writeFileSync(path, files[0].bytes);
    const second = secondReadingAt(path)!;
    expect(second.faces).toBe(12);
    const size = second.max.map((value, axis) => value - second.min[axis]).sort((a, b) => a - b);
    // assimp leaves lengths in the unit of the file, but for those with a prefix, which it brings to metres.
    const factor = unit === 'ft' ? 1 / metres : 1;
    [1, 2, 3].forEach((side, axis) => expect(size[axis] / factor).toBeCloseTo(side, 4));
  }); // prettier-ignore
});

it('writes identities in 22 letters: all bits off and on, as the standard has them', () => {
  const ids = new GlobalIds();
  expect(ids.next('a', '0000000000000000000000')).toBe('0000000000000000000000');
  expect(ids.next('b', '3$$$$$$$$$$$$$$$$$$$$$')).toBe('3$$$$$$$$$$$$$$$$$$$$$');
  // One that is taken, or is none, is made from what it belongs to.
  for (const received of ['0000000000000000000000', '4000000000000000000000', 'short', undefined])
    expect(ids.next('c', received)).toMatch(/^[0-3][0-9A-Za-z_$]{21}$/);
});

describe('where a job lies on the map', () => {
  const map = {
    eastings: 2_600_123.4,
    northings: 1_200_456.7,
    height: 834.2,
    rotation: 0.21,
    scale: 0.99993,
    system: 'EPSG:2056',
  };

  async function job() {
    const { scene, blobs } = await sceneWith([{ name: 'Post', mesh: boxMesh(1, 2, 1), transform: translation([10, 0, -20]) }]); // prettier-ignore
    const sources = scene.sources.map((source) => ({ ...source, up: 'y' as const }));
    return {
      scene: { ...scene, sources, origin: { offset: [500, 20, -300] as [number, number, number], map } },
      blobs,
    };
  }

  /** Eastings, northings and height of the post, by what the file says: ISO 16739-1:2018, 8.18.3.9 IfcMapConversion. */
  async function onMapOf(bytes: Uint8Array) {
    const api = new webIfc.IfcAPI();
    await api.Init();
    const model = api.OpenModel(bytes);
    const only = (type: number) => api.GetLine(model, api.GetLineIDsWithType(model, type).get(0), true);
    const { Eastings, Northings, OrthogonalHeight, XAxisAbscissa, XAxisOrdinate, Scale, TargetCRS } = only(webIfc.IFCMAPCONVERSION);
    const [x, y, z] = only(webIfc.IFCBUILDINGELEMENTPROXY).ObjectPlacement.RelativePlacement.Location.Coordinates.map((one: { value: number }) => one.value);
    const angle = Math.atan2(XAxisOrdinate.value, XAxisAbscissa.value);
    const s = Scale.value;
    api.CloseModel(model);
    return {
      system: TargetCRS.Name.value,
      unit: TargetCRS.MapUnit.Name.value,
      at: [
        Eastings.value + s * (x * Math.cos(angle) - y * Math.sin(angle)),
        Northings.value + s * (x * Math.sin(angle) + y * Math.cos(angle)),
        OrthogonalHeight.value + s * z,
      ],
    };
  } // prettier-ignore

  it.each([
    ['local', 'm'],
    ['local', 'mm'],
    ['restored', 'm'],
    ['map', 'ft'],
  ] as const)('is said in the file, in coordinates %s and %s: a post stands at the same place of it', async (coordinates, unit) => {
    const { scene, blobs } = await job();
    const { files, readBack } = await sent(scene, blobs, 'ifc', { coordinates, unit });
    expect(readBack?.differences).toEqual([]);
    const { at, ...said } = await onMapOf(files[0].bytes);
    expect(said).toEqual({ system: 'EPSG:2056', unit: 'METRE' });
    // By hand: eastings + s (x cos + z sin), northings + s (x sin - z cos), with x 10 and z -20.
    const [c, s] = [Math.cos(0.21), Math.sin(0.21)];
    const stands = [map.eastings + map.scale * (10 * c - 20 * s), map.northings + map.scale * (10 * s + 20 * c), map.height];
    at.forEach((value, axis) => expect(value).toBeCloseTo(stands[axis], 4));
  }); // prettier-ignore

  it('is told before sending; the older schema has no place for it', async () => {
    const { scene, blobs } = await job();
    const origin = (format: string) => carryOver(scene, { ...DEFAULT_TARGET, format }).lines.find(({ what }) => what === 'origin')?.how; // prettier-ignore
    expect([origin('ifc'), origin('ifc2x3')]).toEqual(['of the job, and where it lies on the map', 'of the job']);
    expect(textOf((await sent(scene, blobs, 'ifc2x3')).files[0].bytes)).not.toContain('IFCMAPCONVERSION');
  });
});
