// Pixels a metre of placed parts, by arithmetic: coordinates, the size of the picture, how often it repeats, how large the part stands.
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope, nextTick } from 'vue';
import type { EffectScope } from 'vue';
import { uvFigures } from '@noble-prism/core/mesh/uvFigures';
import { unpackMesh } from '@noble-prism/core/mesh/mesh';
import { composed } from '@noble-prism/core/scene/matrix';
import { select } from '@noble-prism/core/select/select';
import type { Scene } from '@noble-prism/core/scene/types';
import { projected } from '@noble-prism/core/mesh/project';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import type { UvAnswer, UvRequest } from '../../workers/uv.worker.ts';
import { useUvMeasures } from './uvMeasures.ts';

/** Measures at once, in this thread. */
class InThisThread {
  static blobs = new Map<string, Uint8Array>();
  static asked: UvRequest[] = [];
  onmessage: ((event: { data: UvAnswer }) => void) | undefined;
  postMessage(request: UvRequest): void {
    InThisThread.asked.push(request);
    for (const mesh of request.meshes) {
      const figures = uvFigures(unpackMesh(InThisThread.blobs.get(mesh)!), request.set);
      this.onmessage?.({ data: { number: request.number, mesh, ...(figures ? { figures } : {}) } });
    }
  }
}

let scope: EffectScope;
beforeAll(() => vi.stubGlobal('Worker', InThisThread));
afterAll(() => vi.unstubAllGlobals());
beforeEach(() => {
  InThisThread.asked = [];
  scope = effectScope();
});

const FRAME = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];
const laid = projected(boxMesh(1, 1, 1), {
  projection: 'box',
  frame: FRAME,
  from: 'z',
  turn: 0,
  offset: [0, 0],
  scale: 1,
});

async function sceneOf(): Promise<Scene> {
  const { scene, blobs } = await sceneWith([
    { name: 'As drawn', mesh: laid },
    { name: 'Bare', mesh: boxMesh(2, 2, 2) },
    { name: 'Twice as large', mesh: projected(boxMesh(3, 1, 1), { projection: 'box', frame: FRAME, from: 'z', turn: 0, offset: [0, 0], scale: 1 }), transform: composed([0, 0, 0], [0, 0, 0, 1], [2, 2, 2]) },
    { name: 'The same', mesh: laid, transform: composed([5, 0, 0], [0, 0, 0, 1], [1, 1, 1]) },
  ]); // prettier-ignore
  for (const hash of Object.keys(scene.meshes)) InThisThread.blobs.set(hash, await blobs.get(hash));
  const none = { ...scene.materials.none, textures: { baseColor: { texture: 'brick', uv: 0, scale: [0.25, 0.25] as [number, number] } } }; // prettier-ignore
  const brick = { id: 'brick', name: 'brick.png', source: '', state: 'found' as const, mime: 'image/png', bytes: 1, width: 2048, height: 2048 }; // prettier-ignore
  return { ...scene, materials: { ...scene.materials, none }, textures: { brick } };
}

describe('how pictures lie', () => {
  it('is told by shape, with the pixels a metre of each as it stands', async () => {
    const scene = await sceneOf();
    const measures = scope.run(() => useUvMeasures(() => ({ scene, rows: select(scene, { by: 'all' }), set: 0 })))!;
    await nextTick();
    const shown = measures.value.shapes.map(({ name, rows, density, known }) => [name, rows.length, density && Math.round(density.mean), known?.figures?.stretch]); // prettier-ignore
    // 2048 px over four metres are 512 to the metre, and half as many where everything is twice as large.
    expect(shown.sort()).toEqual([['As drawn', 2, 512, 1], ['Bare', 1, undefined, undefined], ['Twice as large', 1, 256, 1]]); // prettier-ignore
    expect(measures.value.shapes.every(({ assumed }) => !assumed)).toBe(true);
    scope.stop();
  });

  it('is measured once for each set: a mesh does not change', async () => {
    const scene = await sceneOf();
    const rows = select(scene, { by: 'all' });
    scope.run(() => useUvMeasures(() => ({ scene, rows, set: 0 })));
    expect(InThisThread.asked).toEqual([]);
    const second = scope.run(() => useUvMeasures(() => ({ scene, rows, set: 1 })))!;
    await nextTick();
    expect(InThisThread.asked.map(({ set }) => set)).toEqual([1]);
    // No picture lies on the second set: the usual size is taken, and said to be.
    expect(second.value.shapes.map(({ known, assumed }) => [known?.figures, assumed])).toEqual([[undefined, true], [undefined, true], [undefined, true]]); // prettier-ignore
    scope.stop();
  });
});
