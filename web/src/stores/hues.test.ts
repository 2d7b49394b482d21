// The spectrum: widths are shares of triangles, hues run from red to violet by rank.
import { describe, expect, it } from 'vitest';
import { modelOf, readAll } from '@noble-prism/core/testing/reading';
import { takeOff } from '@noble-prism/core/scene/takeoff';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import { bandsOf } from './hues.ts';

const hueOf = (colour: string) => Number(/hsl\(([\d.]+)/.exec(colour)?.[1]);

describe('bands', () => {
  it('add up to the take-off, heaviest first, red to violet', async () => {
    const { scene } = await readAll(modelOf('OBJ/spider.obj'));
    const bands = bandsOf(scene, false);
    expect(bands.reduce((sum, { triangles }) => sum + triangles, 0)).toBe(takeOff(scene).triangles);
    expect(bands.map(({ triangles }) => triangles)).toEqual(
      bands.map(({ triangles }) => triangles).sort((a, b) => b - a),
    );
    const hues = bands.map(({ hue }) => hueOf(hue));
    expect(hues).toEqual([...hues].sort((a, b) => a - b));
    expect(hues[0]).toBeLessThan(60);
    expect(hues.at(-1)).toBeGreaterThan(200);
    expect(new Set(hues).size).toBe(hues.length);
  });

  it('stand for all placements of one mesh under one name', async () => {
    const { scene } = await readAll(modelOf('glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb'));
    const bands = bandsOf(scene, true);
    expect(bands.length).toBeLessThan(scene.nodes.filter(({ mesh }) => mesh).length);
    for (const { nodes, keys, triangles } of bands) {
      expect(nodes.length).toBe(keys.length);
      const each = scene.meshes[scene.nodes[nodes[0]].mesh ?? ''].triangles;
      expect(triangles).toBe(each * nodes.length);
    }
  });

  it('are none for nothing, and one hue for a part alone', () => {
    expect(bandsOf(EMPTY_SCENE, false)).toEqual([]);
  });
});
