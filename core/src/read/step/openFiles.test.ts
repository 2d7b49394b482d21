// Open STEP files from Debian's packages gmsh-doc (as1-tu-203.stp, step_boundary_colors.stp, component8.step) and occt-misc
// (linkrods.step, screw.step). Expected values stand in the text of the files, or come from the kernel reading them whole.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { memorySurroundings, MemoryBlobs } from '../../memoryStores.ts';
import { unpackMesh } from '../../mesh/mesh.ts';
import { evaluate } from '../../preparation/evaluate.ts';
import { takeOff } from '../../scene/facts.ts';
import { exactBounds } from '../../scene/exactBounds.ts';
import { kernel } from '../../solid/kernel.ts';
import { startKernel } from '../../testing/solids.ts';
import { surveyCounts } from '../../scene/counts.ts';
import { readStep } from './step.ts';

// Where `npm test` unpacks them.
const models = process.env.MODELS ?? join(import.meta.dirname, '../../../../.data/models');
const bytesOf = (name: string) => new Uint8Array(readFileSync(join(models, name)));
const survey = (name: string) => readStep({ name, bytes: bytesOf(name) }, 's').survey;

/** Triangles and box of a file read whole by the bare kernel, millimetres. */
async function whole(name: string, chord: number, angle: number) {
  const oc = await kernel();
  oc.FS.writeFile('/whole.stp', bytesOf(name));
  const reader = new oc.STEPControl_Reader();
  reader.ReadFile('/whole.stp');
  reader.TransferRoots();
  const raw = oc.ReplicadMeshExtractor.extract(reader.OneShape(), chord, angle, true);
  const positions = new Float32Array(oc.wasmMemory.buffer, raw.getVerticesPtr(), raw.getVerticesSize());
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  positions.forEach((value, i) => {
    min[i % 3] = Math.min(min[i % 3], value);
    max[i % 3] = Math.max(max[i % 3], value);
  });
  return { triangles: raw.getTrianglesSize() / 3, min, max };
}

beforeAll(() => startKernel(loadKernel));

describe('open STEP files', () => {
  it('as1-tu-203: the products, usages and layer that its text states', () => {
    const scene = survey('as1-tu-203.stp');
    const text = new TextDecoder().decode(bytesOf('as1-tu-203.stp'));
    const named = [...text.matchAll(/=PRODUCT\(\s*'([^']*)',\s*'([^']*)'/g)].map((match) => match[2] || match[1]);
    expect(new Set(scene.nodes.map((node) => node.name))).toEqual(new Set(named));
    // The assembly of ISO's conformance tests: 18 placed parts made of 5 solids.
    expect(surveyCounts(scene)).toMatchObject({ parts: 18, pieces: 5, layers: [{ name: '256', parts: 18 }] });
    expect(scene.sources[0]).toMatchObject({
      unit: { name: 'mm', declared: true },
      schema: expect.stringContaining('CONFIGURATION_CONTROL_3D_DESIGN'),
    });
    expect(scene.sources[0].warnings).toEqual([]);
  });

  it.each([
    ['component8.step', 'CONFIG_CONTROL_DESIGN'],
    ['linkrods.step', 'AUTOMOTIVE_DESIGN_CC1'],
    ['screw.step', 'AUTOMOTIVE_DESIGN_CC1'],
    ['step_boundary_colors.stp', 'AUTOMOTIVE_DESIGN'],
  ])('%s: one part, schema %s, millimetres', (name, schema) => {
    const scene = survey(name);
    expect(surveyCounts(scene)).toMatchObject({ parts: 1, pieces: 1, assemblies: 0 });
    expect(scene.sources[0].schema).toContain(schema);
    expect(scene.sources[0].unit.name).toBe('mm');
  });

  it('step_boundary_colors: three faces of the cube have colours of their own', async () => {
    const blobs = new MemoryBlobs();
    const scene = await readStep({ name: 'c.stp', bytes: bytesOf('step_boundary_colors.stp') }, 's').build(blobs);
    const { scene: built } = await evaluate(scene, 'k', [step(0.0001, 0.3)], memorySurroundings({ blobs }));
    const [node] = built.nodes;
    // OVER_RIDING_STYLED_ITEM on three of six faces, two triangles each.
    expect(node.materials).toHaveLength(4);
    expect(built.meshes[node.mesh as string].slots).toEqual([6, 2, 2, 2]);
  });

  it.each(['as1-tu-203.stp', 'component8.step', 'screw.step'])(
    '%s: cut into solids it has the triangles and the box of the whole',
    async (name) => {
      const blobs = new MemoryBlobs();
      const reading = readStep({ name, bytes: bytesOf(name) }, 's');
      const { scene } = await evaluate(
        await reading.build(blobs),
        'k',
        [step(0.0001, 0.5)],
        memorySurroundings({ blobs }),
      );
      const expected = await whole(name, 0.1, 0.5);
      expect(takeOff(scene).triangles).toBe(expected.triangles);
      const bounds = await exactBounds(scene, blobs);
      const tolerance = 0.002;
      for (let axis = 0; axis < 3; axis++) {
        expect(Math.abs((bounds?.min[axis] ?? NaN) * 1000 - expected.min[axis])).toBeLessThan(tolerance);
        expect(Math.abs((bounds?.max[axis] ?? NaN) * 1000 - expected.max[axis])).toBeLessThan(tolerance);
      }
      for (const mesh of Object.keys(scene.meshes))
        expect(unpackMesh(await blobs.get(mesh)).indices.length).toBeGreaterThan(0);
    },
  );

  it('keeps what stands before a cut, at any place', () => {
    const bytes = bytesOf('as1-tu-203.stp');
    for (let tenth = 1; tenth <= 9; tenth++) {
      const cutShort = bytes.subarray(0, Math.floor((bytes.length * tenth) / 10));
      try {
        const scene = readStep({ name: 'cut.stp', bytes: cutShort }, 's').survey;
        expect(scene.sources[0].warnings.some((warning) => warning.code === 'truncated')).toBe(true);
      } catch (error) {
        expect(error).toMatchObject({ name: 'PrismError', file: 'cut.stp' });
      }
    }
  });
});

function step(chord: number, angle: number) {
  return {
    id: 't',
    kind: 'tessellate',
    on: true,
    selector: { by: 'all' as const },
    parameters: { chord, angle, preset: 'own' },
  };
}
