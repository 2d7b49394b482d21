// The spectrum: widths are shares of triangles, hues run from red to violet by rank.
import { describe, expect, it } from 'vitest';
import { readOnce } from '@noble-prism/core/testing/reading';
import { takeOff } from '@noble-prism/core/scene/facts';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import { bandsOf } from './bands.ts';
import { huesOf } from './hues.ts';

const hueOf = (colour: string) => Number(/hsl\(([\d.]+)/.exec(colour)?.[1]);

describe('bands', () => {
  it('add up to the take-off, heaviest first, red to violet', async () => {
    const { scene } = await readOnce('OBJ/spider.obj');
    const bands = bandsOf(scene);
    const triangles = bands.list.map((band) => band.triangles);
    expect(triangles.reduce((a, b) => a + b, 0)).toBe(takeOff(scene).triangles);
    expect(triangles).toEqual([...triangles].sort((a, b) => b - a));
    const hues = huesOf(bands, false).map(hueOf);
    expect(hues).toEqual([...hues].sort((a, b) => a - b));
    expect(hues[0]).toBeLessThan(60);
    expect(hues.at(-1)).toBeGreaterThan(200);
    expect(new Set(hues).size).toBe(hues.length);
  });

  it('stand for all placements of one mesh under one name', async () => {
    const { scene } = await readOnce('glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb');
    const bands = bandsOf(scene);
    expect(bands.list.length).toBeLessThan(scene.nodes.filter(({ mesh }) => mesh).length);
    for (const { rank, name, mesh, count, triangles } of bands.list) {
      const rows = [...bands.of].flatMap((band, row) => (band === rank ? [scene.nodes.row(row)] : []));
      expect(rows.map((row) => `${row.name} ${row.mesh}`)).toEqual(rows.map(() => `${name} ${mesh}`));
      expect(rows.length).toBe(count);
      expect(triangles).toBe(scene.meshes[mesh].triangles * count);
    }
  });

  it('beyond those that can be told apart are one rest, which adds up too', async () => {
    const { scene } = await readOnce('OBJ/spider.obj');
    const all = bandsOf(scene);
    const few = bandsOf(scene, 3);
    expect(few.list).toEqual(all.list.slice(0, 3));
    const beyond = all.list.slice(3).reduce((sum, { triangles }) => sum + triangles, 0);
    expect(few.rest).toEqual({ bands: all.list.length - 3, triangles: beyond });
    expect(Math.max(...few.of)).toBe(2);
    expect(huesOf(few, false).length).toBe(3);
  });

  it('are none for nothing', () => {
    expect(bandsOf(EMPTY_SCENE)).toMatchObject({ list: [], rest: { bands: 0, triangles: 0 } });
    expect(huesOf(bandsOf(EMPTY_SCENE), false)).toEqual([]);
  });
});
