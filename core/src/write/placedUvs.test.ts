// Pictures in formats that cannot say how they lie: their width, turn and place go into the coordinates, and the read-back looks.
import { Window } from 'happy-dom';
import { Matrix3, Vector2 } from 'three';
import type { Mesh as ThreeMesh } from 'three';
import { ColladaLoader } from 'three/addons/loaders/ColladaLoader.js';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nodePictures } from '../../../node/src/pictures.ts';
import { unpackMesh } from '../mesh/mesh.ts';
import type { MemoryBlobs } from '../memoryStores.ts';
import { NO_MATERIAL } from '../scene/types.ts';
import type { Scene, TextureUse } from '../scene/types.ts';
import { squareMesh } from '../testing/meshes.ts';
import { fileOf, readAll } from '../testing/reading.ts';
import { sceneWith } from '../testing/scenes.ts';
import { sentTo } from '../testing/sent.ts';
import { readBack } from '../transmit/readback.ts';
import { writerFor } from './formats.ts';
import { placedUvs } from './placedUvs.ts';

beforeEach(() => ['log', 'warn'].forEach((way) => vi.spyOn(console, way as 'log').mockImplementation(() => {})));
afterEach(() => vi.restoreAllMocks());

/** A square of 4 m whose coordinates are metres. */
const square = squareMesh(4, 2);
const wall = { ...square, uvs: [Float32Array.from(square.positions).filter((_, i) => i % 3 !== 1)], trueSize: true };

/** Walls of one shape, each with the picture laid in its own way. */
async function walls(...ways: Partial<TextureUse>[]): Promise<{ scene: Scene; blobs: MemoryBlobs }> {
  const made = await sceneWith(ways.map((_, i) => ({ name: `Wall${i}`, mesh: wall, materials: [`m${i}`] })));
  const png = await nodePictures.encode({ width: 2, height: 2, data: Uint8Array.from({ length: 16 }, (_, i) => i * 10) });
  const blob = await made.blobs.put(png);
  const scene = { ...made.scene, sources: made.scene.sources.map((source) => ({ ...source, up: 'y' as const })) };
  scene.textures.brick = { id: 'brick', name: 'brick.png', source: 's', state: 'found', mime: 'image/png', blob, bytes: png.length, width: 2, height: 2 };
  for (const [i, way] of ways.entries())
    scene.materials[`m${i}`] = { ...NO_MATERIAL, id: `m${i}`, name: `Brick${i}`, textures: { baseColor: { texture: 'brick', uv: 0, ...way } } };
  return { scene, blobs: made.blobs };
} // prettier-ignore

const HALF = { scale: [2, 2] as [number, number] };
const TURNED = { scale: [0.25, 1] as [number, number], rotation: Math.PI / 6, offset: [0.3, -0.2] as [number, number] };

describe('coordinates with a place written in', () => {
  it('are those of the matrix that KHR_texture_transform (Khronos, glTF 2.0) gives for it', () => {
    const { offset, scale, rotation } = TURNED;
    const [sin, cos] = [Math.sin(rotation), Math.cos(rotation)];
    const move = new Matrix3().set(1, 0, offset[0], 0, 1, offset[1], 0, 0, 1);
    const turn = new Matrix3().set(cos, sin, 0, -sin, cos, 0, 0, 0, 1);
    const grow = new Matrix3().set(scale[0], 0, 0, 0, scale[1], 0, 0, 0, 1);
    const matrix = move.multiply(turn).multiply(grow);
    const placed = placedUvs([3, 5], TURNED);
    const { x, y } = new Vector2(3, 5).applyMatrix3(matrix);
    expect(placed[0]).toBeCloseTo(x, 6);
    expect(placed[1]).toBeCloseTo(y, 6);
  });
});

describe('a wall of 4 m with a picture half a metre wide', () => {
  it.each(['dae', '3mf'])(
    'shows it eight times as %s, also where others of its shape show it otherwise',
    async (format) => {
      const { scene, blobs } = await walls(HALF, {}, TURNED, HALF);
      const { output, readBack: back } = await sentTo(scene, blobs, { format }, { pictures: nodePictures });
      expect(back.differences).toEqual([]);
      expect(back.checks.find(({ what }) => what === 'Pictures where they lie')).toMatchObject({ sent: '4', found: '4', holds: true }); // prettier-ignore
      // Read again as a source.
      const beside = Object.fromEntries(output.files.map(({ name, bytes }) => [name, bytes]));
      const again = await readAll(fileOf(output.files[0].name, output.files[0].bytes, beside), { pictures: nodePictures }); // prettier-ignore
      const wide = [];
      for (const { mesh, materials } of again.scene.nodes) {
        if (!mesh) continue;
        const use = again.scene.materials[materials[0]].textures!.baseColor!;
        const uvs = unpackMesh(await again.blobs.get(mesh)).uvs![use.uv];
        const u = [...uvs].filter((_, i) => i % 2 === 0);
        wide.push(Number((Math.max(...u) - Math.min(...u)).toFixed(4)));
      }
      const turned = 4 * 0.25 * Math.cos(Math.PI / 6) + 4 * Math.sin(Math.PI / 6);
      expect(wide).toEqual([8, 4, Number(turned.toFixed(4)), 8]);
    },
  );

  it('shows it so to a reader that knows one set alone', async () => {
    const { scene, blobs } = await walls(HALF);
    const { output } = await sentTo(scene, blobs, { format: 'dae' }, { pictures: nodePictures });
    const { DOMParser, document } = new Window();
    for (const [name, value] of Object.entries({ DOMParser, document })) vi.stubGlobal(name, value);
    const { scene: read } = new ColladaLoader().parse(new TextDecoder().decode(output.files[0].bytes), '')!;
    vi.unstubAllGlobals();
    const reach: number[] = [];
    read.traverse((part) => {
      const uv = (part as ThreeMesh).geometry?.attributes.uv;
      if (uv) reach.push(...Array.from({ length: uv.count }, (_, i) => uv.getX(i)));
    });
    expect(Math.max(...reach) - Math.min(...reach)).toBeCloseTo(8, 5);
  });

  it('is not what was sent where the file has it in another width', async () => {
    const [sent, other] = [await walls(HALF), await walls({ scale: [2, 2.1] })];
    const { output } = await sentTo(other.scene, other.blobs, { format: 'dae' }, { pictures: nodePictures });
    const back = await readBack(writerFor('dae')!, output.files, sent.scene, sent.blobs, { pictures: nodePictures });
    expect(back.differences.join()).toContain('the picture brick.png lies elsewhere');
  });
});
