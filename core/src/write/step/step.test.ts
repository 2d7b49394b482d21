// STEP out: the solids as received, by the kernel that reads the whole file: volume and box of everything, before and after; names, places,
// colours and layers as they were set, by the reader and by the text itself.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { memorySurroundings } from '../../memoryStores.ts';
import { evaluate } from '../../preparation/evaluate.ts';
import { factsOf } from '../../scene/facts.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { composed, translation } from '../../scene/matrix.ts';
import type { Scene } from '../../scene/types.ts';
import { checkSteps } from '../../steps/kinds.ts';
import { kernel } from '../../solid/kernel.ts';
import { fileOf, models, readAll } from '../../testing/reading.ts';
import { sentTo } from '../../testing/sent.ts';
import { startKernel } from '../../testing/solids.ts';
import { StepText } from '../../testing/stepText.ts';
import { readBack } from '../../transmit/readback.ts';
import { WrittenFile } from '../writer.ts';
import { stepWriter } from './step.ts';
import { real, string } from './text.ts';

beforeAll(() => startKernel(loadKernel));

const open = (name: string) => readAll(fileOf(name, new Uint8Array(readFileSync(join(models, name)))));

/** Volume, cubic millimetres, and box, millimetres, of a file read whole by the bare kernel. */
async function whole(bytes: Uint8Array) {
  const oc = await kernel();
  oc.FS.writeFile('/whole.stp', bytes);
  const reader = new oc.STEPControl_Reader();
  expect(reader.ReadFile('/whole.stp')).toBe(oc.IFSelect_ReturnStatus.IFSelect_RetDone);
  reader.TransferRoots();
  const shape = reader.OneShape();
  const properties = new oc.GProp_GProps();
  oc.BRepGProp.VolumeProperties(shape, properties, true, false, false);
  const box = new oc.Bnd_Box();
  oc.BRepBndLib.Add(shape, box, false);
  const corner = (at: { X(): number; Y(): number; Z(): number }) => [at.X(), at.Y(), at.Z()];
  return { volume: properties.Mass(), min: corner(box.CornerMin()), max: corner(box.CornerMax()) };
}

const stepOf = (kind: string, parameters: object, selector: object = { by: 'all' }) => ({ id: kind, kind, on: true, selector, parameters }); // prettier-ignore

describe('STEP', () => {
  it.each(['as1-tu-203.stp', 'screw.step', 'step_boundary_colors.stp'])('%s: volume and box stay as they were', async (name) => {
    const { scene, blobs } = await open(name);
    const { output, readBack: found } = await sentTo(scene, blobs, { format: 'step' });
    expect(found).toMatchObject({ holds: true, differences: [] });
    const [before, after] = [await whole(new Uint8Array(readFileSync(join(models, name)))), await whole(output.files[0].bytes)];
    expect(after.volume / before.volume).toBeCloseTo(1, 9);
    for (const end of ['min', 'max'] as const) after[end].forEach((value, i) => expect(value).toBeCloseTo(before[end][i], 4));
  }); // prettier-ignore

  it('goes out with new names, places, colours and layers, and only what is left', async () => {
    const { scene, blobs } = await open('as1-tu-203.stp');
    const steps = checkSteps([
      stepOf('leave-out', {}, { by: 'name', pattern: '*nut*' }),
      stepOf('rename', { name: 'Träger ’A’', of: 'picked' }, { by: 'name', pattern: 'plate' }),
      stepOf('move', { x: 1, y: 0.5, z: 0 }),
      stepOf('finishes', { rules: [{ by: 'layer', match: '256', material: 'lib:cast-iron' }] }),
    ]);
    const { scene: after, reports } = await evaluate(scene, 'k', steps, memorySurroundings({ blobs }));
    expect(reports.flatMap(({ problems }) => problems)).toEqual([]);
    const { output, readBack: found } = await sentTo(after, blobs, { format: 'step' });
    expect(found).toMatchObject({ holds: true, differences: [] });
    const [before, now] = [await whole(new Uint8Array(readFileSync(join(models, 'as1-tu-203.stp')))), await whole(output.files[0].bytes)]; // prettier-ignore
    // What the file itself states of its solids, cubic millimetres.
    const stated = ({ nodes, solids }: Scene) => nodes.filter(({ solid }) => solid).reduce((sum, { solid }) => sum + (solids[solid as string].stated?.volume ?? NaN), 0) * 1e9; // prettier-ignore
    expect(stated(after)).toBeLessThan(stated(scene) - 10_000);
    expect((now.volume - before.volume) / (stated(after) - stated(scene))).toBeCloseTo(1, 3);
    // One metre along x: nothing else moved.
    expect((now.min[0] + now.max[0]) / 2 - (before.min[0] + before.max[0]) / 2).toBeGreaterThan(950);
    const again = await readAll(fileOf('again.stp', output.files[0].bytes));
    expect(again.scene.nodes.filter(({ name }) => /nut/i.test(name))).toEqual([]);
    expect(again.scene.nodes.filter(({ name }) => name === 'Träger ’A’')).toHaveLength(1);
    const [iron] = again.scene.nodes.filter(({ solid }) => solid)[0].materials;
    expect(again.scene.materials[iron].baseColor[0]).toBeCloseTo(after.materials['lib:cast-iron'].baseColor[0], 4);
  });

  it('gives each colour and each layer of a solid its own, and instances one shape', async () => {
    const text = new StepText();
    const { solid, faces } = text.tetrahedron(10);
    const unit = text.product('Einheit Ä');
    const wedge = text.product('Wedge', [solid]);
    text.place(unit, wedge, text.axis([100, 0, 0]), { name: 'left' });
    text.place(unit, wedge, text.axis([0, 50, 0], [1, 0, 0], [0, 1, 0]), { name: 'right' });
    text.styled(solid, text.style(0.2, 0.4, 0.6));
    text.styled(faces[2], text.style(1, 0, 0));
    text.layer('MACHINE', solid);
    const { scene, blobs } = await readAll(fileOf('unit.stp', text.bytes()));
    const { output, readBack: found } = await sentTo(scene, blobs, { format: 'step' });
    expect(found).toMatchObject({ holds: true, differences: [] });
    const written = new TextDecoder().decode(output.files[0].bytes);
    expect(written.match(/=MANIFOLD_SOLID_BREP/g)).toHaveLength(1);
    expect(written).toContain("PRODUCT('Einheit \\X2\\00C4\\X0\\'");
    const again = await readAll(fileOf('again.stp', output.files[0].bytes));
    const wedges = again.scene.nodes.filter(({ solid: own }) => own);
    expect(wedges.map(({ occurrence, layer }) => [occurrence, layer])).toEqual([['left', 'MACHINE'], ['right', 'MACHINE']]); // prettier-ignore
    expect(Object.values(again.scene.solids)[0].faceSlots).toEqual([0, 0, 1, 0]);
    expect(found.checks.find(({ what }) => what === 'Colours of faces')).toMatchObject({ sent: '2', found: '2' });
    // A file in which one place is another one does not hold.
    const moved = new TextEncoder().encode(written.replace("CARTESIAN_POINT('',(100.,", "CARTESIAN_POINT('',(101.,"));
    const wrong = await readBack(stepWriter, [new WrittenFile('unit.step', '', moved)], scene, blobs);
    expect(wrong.holds).toBe(false);
  });

  it('calls a usage as the row is called by now, and puts no level above what stands at the top', async () => {
    const text = new StepText();
    const unit = text.product('Unit');
    const wedge = text.product('Wedge', [text.tetrahedron(10).solid]);
    text.place(unit, wedge, text.axis([100, 0, 0]), { name: 'left' });
    text.place(unit, wedge, text.axis([0, 50, 0]), { name: 'right' });
    const { scene, blobs } = await readAll(fileOf('unit.stp', text.bytes()));
    const of = (name: string) => scene.nodes.find(({ occurrence }) => occurrence === name)!.id;
    const edit = new SceneEditor(scene);
    edit.rename(of('left'), 'Inlet wedge');
    // The unit is moved as a whole, and one of its parts stands at the top beside it.
    edit.setTransform(0, translation([0, 0, 0.3]));
    edit.setParent(of('right'), null);
    const { output, readBack: found } = await sentTo(edit.finish().scene, blobs, { format: 'step' });
    expect(found).toMatchObject({ holds: true, differences: [] });
    const { scene: again } = await readAll(fileOf('again.stp', output.files[0].bytes));
    const tops = again.nodes.filter(({ parent }) => parent === null).map(({ name }) => name);
    expect(tops).toEqual(['Unit', 'Wedge']);
    const inlet = again.nodes.find(({ occurrence }) => occurrence === 'Inlet wedge')!;
    expect(inlet.name).toBe('Inlet wedge');
    expect(factsOf(again).world(inlet.id).slice(12, 15)).toEqual([0.1, 0, 0.3]);
    expect(again.nodes.some(({ occurrence }) => occurrence === 'left')).toBe(false);
  });

  it('says what cannot be placed, and that meshes are no solids', async () => {
    const text = new StepText();
    text.product('Wedge', [text.tetrahedron(10).solid]);
    const { scene, blobs } = await readAll(fileOf('unit.stp', text.bytes()));
    const edit = new SceneEditor(scene);
    edit.setTransform(0, composed([0, 0, 0], [0, 0, 0, 1], [-1, 1, 1]));
    await expect(sentTo(edit.finish().scene, blobs, { format: 'step' })).rejects.toThrow(
      'no place for what is mirrored: Wedge',
    );
    const again = new SceneEditor(scene);
    again.setTransform(0, translation([1, 2, 3]));
    expect((await sentTo(again.finish().scene, blobs, { format: 'step' })).readBack.holds).toBe(true);
    const box = await readAll(fileOf('a.obj', 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'));
    await expect(sentTo(box.scene, box.blobs, { format: 'step' })).rejects.toThrow('nothing of it is an exact solid');
  });

  it('writes reals and strings as ISO 10303-21 has them', () => {
    expect([1, -0, 0.5, 1e-7, 1.5e21, -2].map(real)).toEqual(['1.', '0.', '0.5', '1.E-7', '1.5E21', '-2.']);
    expect(string("it's a \\ Ø8 ™!")).toBe("'it''s a \\\\ \\X2\\00D8\\X0\\8 \\X2\\2122\\X0\\!'");
  });
});
