// Targets: what may be said of them, and what they make of a scene before it is written.
import { WebIO } from '@gltf-transform/core';
import { describe, expect, it } from 'vitest';
import { nodePictures } from '../../../../node/src/pictures.ts';
import { unpackMesh } from '../../mesh/mesh.ts';
import { composed, translation } from '../../scene/matrix.ts';
import { factsOf } from '../../scene/facts.ts';
import type { Scene } from '../../scene/types.ts';
import { exactBounds } from '../../scene/exactBounds.ts';
import { modelOf, readAll } from '../../testing/reading.ts';
import { boxMesh } from '../../testing/meshes.ts';
import { sceneWith } from '../../testing/scenes.ts';
import { sentTo } from '../../testing/sent.ts';
import { farthestBetween } from '../../testing/trees.ts';
import { MESH_WRITERS, writerFor } from '../../write/formats.ts';
import { carryOver } from '../carryOver.ts';
import { deliver } from '../transmit.ts';
import { arrange } from './arrange.ts';
import { safeName, UniqueNames } from './names.ts';
import { READY_MADE } from './readyMade.ts';
import { DEFAULT_TARGET, settingsFrom, summaryOfTarget, TARGET_FIELDS } from './target.ts';

const model = async (): Promise<{ scene: Scene; blobs: Awaited<ReturnType<typeof sceneWith>>['blobs'] }> => {
  const made = await sceneWith([{ name: 'Hall', transform: translation([100, 0, 50]), children: [
    { name: 'Bolt', mesh: boxMesh(1, 2, 3), layer: 'STEEL', materials: ['#112233'], transform: composed([1, 0, 0], [Math.SQRT1_2, 0, 0, Math.SQRT1_2], [1, 1, 1]) },
    { name: 'bolt', mesh: boxMesh(1, 2, 3), layer: 'STEEL', materials: ['#112233'], transform: translation([4, 0, 0]) },
    { name: 'Größe/3 #ä', mesh: boxMesh(1, 1, 1), layer: 'GLASS', materials: ['#445566'], class: 'IfcWall', properties: { 'Set.Fire': 'F90' } },
  ] }]); // prettier-ignore
  return {
    ...made,
    scene: { ...made.scene, sources: made.scene.sources.map((source) => ({ ...source, up: 'y' as const })) },
  };
};

describe('settings of a target', () => {
  it('are as usual where nothing is said', () => {
    expect(settingsFrom({ format: 'usda', unit: 'mm' })).toEqual({ ...DEFAULT_TARGET, format: 'usda', unit: 'mm' });
  });

  it.each([
    [{ format: 'doc' }, 'format'],
    [{ format: 'glb', unit: 'mm' }, 'Binary glTF 2.0 is in m, not in mm'],
    [{ format: '3mf', up: 'y' }, 'has z up, not y'],
    [{ format: 'glb', colour: 'red' }, 'no member “colour”'],
    [{ format: 'glb', hierarchy: 'upside' }, 'hierarchy'],
    [{ format: 'glb', without: { by: 'nobody' } }, 'The rule of a target'],
  ])('%j is refused', (written, words) => expect(() => settingsFrom(written)).toThrow(words));

  it('are said in a line', () => {
    expect(summaryOfTarget(settingsFrom({ format: 'usda', unit: 'mm', up: 'z', hierarchy: 'flat', cameras: 'left' }))).toBe(
      'USD (text) · mm, z up · hierarchy parts without assemblies · cameras left out',
    );
  }); // prettier-ignore

  it('are offered only where the format has a place for them', () => {
    const offered = (format: string) =>
      Object.entries(TARGET_FIELDS).flatMap(([name, { when }]) => (when?.({ ...DEFAULT_TARGET, format } as never) === false ? [] : name)); // prettier-ignore
    expect(offered('glb')).toEqual(expect.arrayContaining(['pictures', 'kind', 'cameras', 'movements', 'speed', 'compression'])); // prettier-ignore
    for (const name of ['pictures', 'kind', 'cameras', 'lights', 'movements', 'speed', 'from', 'lines', 'metadata', 'hierarchy']) expect(offered('stl')).not.toContain(name); // prettier-ignore
    expect(offered('step')).not.toContain('most');
    expect(offered('obj')).toEqual(expect.arrayContaining(['pictures', 'most', 'lines']));
  });

  it('stand ready-made for purposes, every one of them sound', () => {
    for (const { settings, name } of READY_MADE) expect(settingsFrom({ ...settings }), name).toEqual(settings);
    expect(new Set(READY_MADE.map(({ name }) => name)).size).toBe(READY_MADE.length);
  });
});

describe('names', () => {
  it.each([
    ['Größe 3', 'Grosse_3'],
    ['3 mm', 'N3_mm'],
    ['***', 'Part'],
    ['Ñandú/é', 'Nandu_e'],
  ])('%s is safe as %s', (name, safe) => expect(safeName(name)).toBe(safe));

  it('are given once, whatever their case, and never a number that another has', () => {
    const names = new UniqueNames(' ');
    expect(['A', 'a', 'A 2', 'A', 'b'].map((name) => names.next(name))).toEqual(['A', 'a 2', 'A 2 2', 'A 3', 'b']);
  });

  it('are safe and unique in what is sent', async () => {
    const { scene, blobs } = await model();
    const { readBack, output } = await sentTo(scene, blobs, { names: 'safe', format: 'usda' });
    expect(readBack.holds).toBe(true);
    const text = new TextDecoder().decode(output.files[0].bytes);
    for (const name of ['"Bolt"', '"bolt_2"', '"Gro']) expect(text).toContain(name);
  });
});

describe('arranging', () => {
  const bounds = async (scene: Scene, blobs: Parameters<typeof exactBounds>[1]) => (await exactBounds(scene, blobs))!;

  it('turns and scales everything, and leaves no row with a turn that only makes up for it', async () => {
    const { scene, blobs } = await model();
    const before = await bounds(scene, blobs);
    const settings = settingsFrom({ format: 'usda', unit: 'mm', up: 'z' });
    const { scene: turned, written } = await arrange(scene, blobs, settings, writerFor('usda')!);
    const box = await bounds(turned, blobs);
    const expected = { min: [before.min[0], -before.max[2], before.min[1]], max: [before.max[0], -before.min[2], before.max[1]] };
    for (const end of ['min', 'max'] as const) box[end].forEach((value, i) => expect(value).toBeCloseTo(expected[end][i], 9));
    const large = await bounds(written, blobs);
    for (const end of ['min', 'max'] as const) large[end].forEach((value, i) => expect(value / 1000).toBeCloseTo(box[end][i], 4));
    const [hall] = [...turned.nodes];
    expect(hall.transform).toEqual(translation([100, -50, 0]));
  }); // prettier-ignore

  it('flat: parts where they stood, no assemblies; baked: all places at the origin', async () => {
    const { scene, blobs } = await model();
    const flat = (await arrange(scene, blobs, settingsFrom({ format: 'glb', hierarchy: 'flat' }), writerFor('glb')!)).scene;
    expect(flat.nodes.map(({ name, parent }) => [name, parent])).toEqual([['Bolt', null], ['bolt', null], ['Größe/3 #ä', null]]);
    for (const { id } of flat.nodes)
      expect(farthestBetween(factsOf(flat).world(id), factsOf(scene).world(id))).toBeLessThan(1e-12);
    const { scene: fixed } = await arrange(scene, blobs, settingsFrom({ format: 'glb', pivots: 'baked' }), writerFor('glb')!);
    for (const { id } of fixed.nodes) expect(farthestBetween(factsOf(fixed).world(id), translation([0, 0, 0]))).toBeLessThan(1e-12);
    const [a, b] = [await bounds(fixed, blobs), await bounds(scene, blobs)];
    a.min.forEach((value, i) => expect(value).toBeCloseTo(b.min[i], 6));
  }); // prettier-ignore

  it('one part for each assembly, with its materials as slots', async () => {
    const { scene, blobs } = await model();
    const { scene: joined } = await arrange(scene, blobs, settingsFrom({ format: 'glb', hierarchy: 'assembly' }), writerFor('glb')!); // prettier-ignore
    const parts = joined.nodes.filter((node) => node.mesh);
    expect(parts.map(({ name }) => name)).toEqual(['Hall']);
    expect(unpackMesh(await blobs.get(parts[0].mesh!)).indices).toHaveLength(3 * 36);
  });

  it('leaves out what a rule names, and says where nothing is left', async () => {
    const { scene, blobs } = await model();
    const { output, readBack } = await sentTo(scene, blobs, { without: { by: 'layer', layers: ['STEEL'] } });
    expect(readBack.holds).toBe(true);
    expect(output.figures).toMatchObject({ parts: 1 });
    const bolts = await sentTo(scene, blobs, { only: { by: 'layer', layers: ['STEEL'] } });
    expect(bolts.output.figures).toMatchObject({ parts: 2 });
    expect(bolts.readBack.checks.find(({ what }) => what === 'Rows of the tree')?.sent).toBe('3');
    await expect(sentTo(scene, blobs, { only: { by: 'picked', keys: [] } })).rejects.toThrow('leaves everything out');
    await expect(sentTo(scene, blobs, { without: { by: 'all' } })).rejects.toThrow('this target leaves everything out');
  });

  it('makes pictures smaller and of another kind; values stay exact', async () => {
    const { scene, blobs } = await readAll(modelOf('Collada/duck.dae'), { pictures: nodePictures });
    const sent = await sentTo(scene, blobs, { most: '256', kind: 'jpeg' }, { pictures: nodePictures });
    expect(sent.readBack).toMatchObject({ holds: true });
    const plain = await sentTo(scene, blobs, {}, { pictures: nodePictures });
    expect(sent.output.files[0].bytes.length).toBeLessThan(plain.output.files[0].bytes.length * 0.8);
    const none = await sentTo(scene, blobs, { pictures: 'left' }, { pictures: nodePictures });
    expect(none.readBack.checks.map(({ what }) => what)).not.toContain('Pictures');
  });

  it('keeps movements through another axis and unit', async () => {
    const { scene, blobs } = await readAll(modelOf('Collada/box_nested_animation.dae'));
    for (const format of ['usda', 'dae'])
      expect((await sentTo(scene, blobs, { format, unit: 'mm', up: 'z' })).readBack, format).toMatchObject({ holds: true });
  }); // prettier-ignore
});

describe('a target that is split', () => {
  const split = async (by: 'layer' | 'assembly' | 'part', format = 'glb') => {
    const { scene, blobs } = await model();
    const { outputs } = await deliver(scene, blobs, {
      targets: [{ name: 'Split', settings: settingsFrom({ format, split: by }) }],
      name: 'hall', title: 'Hall', steps: [], made: '2026-01-01T00:00:00Z',
    }); // prettier-ignore
    return { scene, blobs, outputs };
  };

  it('by layer: a file for each with its name, in the places and with the origin of the job', async () => {
    const { scene, outputs } = await split('layer');
    expect(outputs.map(({ piece, files, figures }) => [piece, files[0].name, figures?.parts])).toEqual([
      ['STEEL', 'hall_STEEL.glb', 2],
      ['GLASS', 'hall_GLASS.glb', 1],
    ]);
    for (const { readBack, files } of outputs) {
      expect(readBack).toMatchObject({ holds: true, differences: [] });
      const document = await new WebIO().readBinary(files[0].bytes);
      // As another library finds it: each part stands where it stands in the job.
      for (const written of document
        .getRoot()
        .listNodes()
        .filter((node) => node.getMesh())) {
        const node = scene.nodes.filter(({ name }) => name === written.getName())[0];
        expect(farthestBetween(written.getWorldMatrix(), factsOf(scene).world(node.id))).toBeLessThan(1e-6);
      }
    }
  });

  it('loses in each piece what that piece has', async () => {
    const { outputs } = await split('layer');
    const layers = outputs.map(({ carryOver: sheet }) => sheet?.lines.find(({ what }) => what === 'layers')?.count);
    const instances = outputs.map(({ carryOver: sheet }) => sheet?.lines.find(({ what }) => what === 'names')?.count);
    expect(layers).toEqual([1, 1]);
    expect(instances[1]).toBeLessThan(instances[0] as number);
  });

  it('by part: equal names are numbered, whatever their case; by assembly: below what holds all', async () => {
    const parts = await split('part', 'stl');
    expect(parts.outputs.map(({ files }) => files[0].name)).toEqual(['hall_Bolt_mm.stl', 'hall_bolt_mm_2.stl', 'hall_Grosse-3-a_mm.stl']);
    const assemblies = await split('assembly');
    expect(assemblies.outputs.map(({ piece }) => piece)).toEqual(['Bolt', 'bolt', 'Größe/3 #ä']);
  }); // prettier-ignore
});

describe('the carry-over sheet', () => {
  it('names what is lost, how many, and which formats would carry it', async () => {
    const { scene } = await model();
    const { lines, holds } = carryOver(scene, settingsFrom({ format: 'stl' }));
    expect(holds).toBe(false);
    const line = (what: string) => lines.find((one) => one.what === what);
    expect(line('materials')).toMatchObject({ state: 'lost', count: 2, of: 'materials' });
    expect(line('materials')?.others).toContain('USD (text)');
    expect(line('instances')).toMatchObject({ state: 'changed', count: 1, how: 'written out each' });
    expect(line('unit')).toMatchObject({ state: 'changed', how: expect.stringContaining('tell the receiving tool') as string });
    // What the scene has nothing of is not on the sheet.
    expect(line('cameras')).toBeUndefined();
  }); // prettier-ignore

  it('tells what the target itself asks to be otherwise', async () => {
    const { scene } = await model();
    const { lines } = carryOver(scene, settingsFrom({ format: 'glb', hierarchy: 'flat', names: 'safe', pivots: 'baked', metadata: 'left' })); // prettier-ignore
    const state = (what: string) => lines.find((line) => line.what === what)?.state;
    expect(['tree', 'names', 'instances', 'metadata', 'normals'].map(state)).toEqual(['lost', 'changed', 'changed', 'lost', 'carried']); // prettier-ignore
  });

  it('agrees with what is found: what it calls carried is compared and holds in every format', async () => {
    const { scene, blobs } = await model();
    for (const { target: format, carries } of MESH_WRITERS) {
      const { readBack } = await sentTo(scene, blobs, { format });
      expect(readBack.holds, format).toBe(true);
      const compared = readBack.checks.map(({ what }) => what);
      expect(compared.includes('Normals, corner by corner'), format).toBe(carries.normals === true);
    }
  });
});
