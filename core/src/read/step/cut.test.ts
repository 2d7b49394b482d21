import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { MemoryBlobs } from '../../memoryStores.ts';
import { tessellate } from '../../solid/tessellate.ts';
import { startKernel } from '../../testing/solids.ts';
import { StepText } from '../../testing/stepText.ts';
import { readerFor } from '../formats.ts';
import { stepReader } from './step.ts';

beforeAll(() => startKernel(loadKernel));

async function cut(step: StepText) {
  const blobs = new MemoryBlobs();
  const scene = await (await stepReader.read({ name: 'test.stp', bytes: step.bytes() }, 's', readerFor)).build(blobs);
  return { scene, blobs, solids: Object.entries(scene.solids) };
}

const limits = { chord: 0.0001, angle: 0.3 };

describe('cutting a file into solids', () => {
  it('gives texts that the kernel reads by themselves, with the right volume', async () => {
    const step = new StepText();
    const unit = step.product('U');
    for (const leg of [10, 20])
      step.place(unit, step.product(`T${leg}`, [step.tetrahedron(leg).solid]), step.axis([leg, 0, 0]));
    const { blobs, solids } = await cut(step);
    const volumes: number[] = [];
    for (const [, info] of solids)
      volumes.push((await tessellate({ text: await blobs.get(info.text), limits })).figures.volume * 1e9);
    // A tetrahedron with three right legs a holds a³ / 6.
    expect(volumes[0]).toBeCloseTo(1000 / 6, 3);
    expect(volumes[1]).toBeCloseTo(8000 / 6, 3);
    expect(solids.map(([, info]) => info.extent)).toEqual([expect.closeTo(0.01), expect.closeTo(0.02)]);
  });

  it('keeps the unit of each solid: inches become metres', async () => {
    const step = new StepText();
    const inch = step.newContext(step.inch());
    step.product('P', [step.tetrahedron(10).solid], { context: inch });
    const { blobs, solids } = await cut(step);
    const { figures } = await tessellate({ text: await blobs.get(solids[0][1].text), limits });
    expect(figures.bounds.max[0]).toBeCloseTo(0.254, 6);
  });

  it('gives the same text for the same solid, whatever the numbering of the file', async () => {
    const one = new StepText();
    one.product('P', [one.tetrahedron(10).solid]);
    const two = new StepText();
    for (let i = 0; i < 50; i++) two.point(i, i, i);
    two.product('Another', [two.tetrahedron(10).solid]);
    expect((await cut(one)).solids[0][0]).toBe((await cut(two)).solids[0][0]);
  });

  it('tells solids apart whose faces differ in colour', async () => {
    const plain = new StepText();
    plain.product('P', [plain.tetrahedron().solid]);
    const coloured = new StepText();
    const { solid, faces } = coloured.tetrahedron();
    coloured.product('P', [solid]);
    coloured.styled(faces[2], coloured.style(1, 0, 0));
    const a = (await cut(plain)).solids[0];
    const b = (await cut(coloured)).solids[0];
    expect(a[1].text).toBe(b[1].text);
    expect(a[0]).not.toBe(b[0]);
    expect(b[1].faceSlots).toEqual([0, 0, 1, 0]);
  });

  it('names the entity that a solid needs and the file does not have', async () => {
    const step = new StepText();
    const { solid, faces } = step.tetrahedron();
    step.product('P', [solid]);
    step.lines[faces[1] - 1] = step.lines[faces[1] - 1].replace(/,#\d+,\.T\./, ',#4711,.T.');
    const { scene } = await cut(step);
    expect(scene.sources[0].warnings).toEqual([
      expect.objectContaining({ code: 'dangling', message: expect.stringContaining('#4711') }),
    ]);
  });
});
