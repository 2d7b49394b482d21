// One movement in every format that has movements: a barrier whose boom turns by a quarter about z in four seconds, while its post rises
// by a metre in the first two. Where its tip is follows from sine and cosine. COLLADA 1.4.1 (5, animation), ISO/IEC 19775-1 (8, 19),
// UsdGeomXformable, glTF 2.0 (3.11).
import { describe, expect, it } from 'vitest';
import { multiply, transformPoint } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import { keysOf, placeAt } from '../scene/motion.ts';
import type { Scene, SceneNode } from '../scene/types.ts';
import { atLength } from '../testing/atLength.ts';
import { BARRIER_USD, barrierX3d, colladaBarrier, RISE, source, TURN } from '../testing/barrier.ts';
import { fileOf, readAll, readOnce } from '../testing/reading.ts';
import type { ReadFile } from '../testing/reading.ts';
import { readBackGlb } from '../testing/readBack.ts';
import { glbBytes } from '../testing/glbBytes.ts';

/** Places of all nodes at a moment of the first animation, in the world. */
async function worldsAt(
  { scene, blobs }: Pick<ReadFile, 'scene' | 'blobs'>,
  time: number,
): Promise<Map<number, Matrix>> {
  const keys = await keysOf(scene, blobs);
  const [animation] = Object.keys(scene.animations);
  const worlds = new Map<number, Matrix>();
  const placeOf = ({ motion, transform }: SceneNode) => {
    const track = motion && keys.get(animation)?.tracks[motion.tracks[animation]];
    return motion && track ? placeAt(motion, track, time) : transform;
  };
  for (const node of scene.nodes) {
    const above = node.parent === null ? undefined : worlds.get(node.parent);
    worlds.set(node.id, above ? multiply(above, placeOf(node)) : placeOf(node));
  }
  return worlds;
}

const partIn = (scene: Scene) => scene.nodes.find((node) => node.mesh)!;
async function tipAt(read: Pick<ReadFile, 'scene' | 'blobs'>, time: number): Promise<number[]> {
  return transformPoint((await worldsAt(read, time)).get(partIn(read.scene).id)!, [4, 0, 0]);
}

const close = (a: readonly number[], b: readonly number[], digits = 6) =>
  a.forEach((value, i) => expect(value).toBeCloseTo(b[i], digits));

describe('the same movement', () => {
  it.each([
    ['COLLADA', 'barrier.dae', colladaBarrier([RISE, TURN])],
    ['USD', 'barrier.usda', BARRIER_USD],
    ['X3D', 'barrier.x3d', barrierX3d()],
  ])('%s', async (_, name, text) => {
    const read = await readAll(fileOf(name, text));
    const [animation] = Object.values(read.scene.animations);
    expect(animation).toMatchObject({ duration: 4, nodes: 2 });
    expect(read.scene.sources[0].holds?.animations).toBe(1);
    // Four metres of boom, two metres from the post.
    for (const time of [0, 1, 2, 3, 4]) {
      const angle = (time / 4) * (Math.PI / 2);
      close(await tipAt(read, time), [2 + 4 * Math.cos(angle), 4 * Math.sin(angle), Math.min(1, time / 2)]);
    }
    // It goes out, comes back, and moves as before.
    const glb = await glbBytes(read.scene, read.blobs, 'x');
    const readBack = await readBackGlb(glb, read.scene, read.blobs);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
    expect(readBack.checks.map(({ what }) => what)).toContain('Movements, node by node');
    const again = await readAll(fileOf('again.glb', glb));
    for (const time of [0.5, 2.5, 4]) close(await tipAt(again, time), await tipAt(read, time), 5);
  });

  it('of sixty boxes that hang under each other comes through, every place of them', async () => {
    const channels = Array.from({ length: 60 }, (_, i) => ({
      target: `n${i}/turn.ANGLE`,
      times: '0 1 2',
      values: `0 ${7 + i} 3`,
    }));
    const nodes = Array.from({ length: 60 }, (_, i) => i).reduceRight(
      (inner, i) =>
        `<node id="n${i}" name="Link ${i}"><translate sid="at">0.7 0.1 0.03</translate><rotate sid="turn">0 0.6 0.8 ${i % 7}</rotate><scale>0.99 0.99 0.99</scale><instance_geometry url="#g"/>${inner}</node>`,
      '',
    );
    const animated = colladaBarrier(channels);
    const text = animated.replace(
      /<visual_scene id="w">[\s\S]*<\/visual_scene>/,
      `<visual_scene id="w">${nodes}</visual_scene>`,
    );
    const read = await readAll(fileOf('chain.dae', text));
    expect(read.scene.nodes.filter(({ motion }) => motion)).toHaveLength(60);
    const readBack = await readBackGlb(await glbBytes(read.scene, read.blobs, 'x'), read.scene, read.blobs);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
  });

  it('of an open chain of sixty-four boxes, each turned by less than a millionth, stands where it stood', async () => {
    const read = await readOnce('Collada/anims_with_full_rotations_between_keys.DAE');
    const readBack = await readBackGlb(await glbBytes(read.scene, read.blobs, 'x'), read.scene, read.blobs);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
  });

  it('of an open file whose turns are rounded to three digits goes out with turns of length one', async () => {
    const read = await readOnce('glTF2/simple_skin/simple_skin.gltf');
    const readBack = await readBackGlb(await glbBytes(read.scene, read.blobs, 'x'), read.scene, read.blobs);
    expect(readBack).toMatchObject({ holds: true, differences: [] });
  });

  it('with ten thousand keys is read', () => isReadWith(10_000));
  atLength('with two hundred thousand keys is read', () => isReadWith(200_000), 120_000);

  async function isReadWith(keys: number): Promise<void> {
    const times = Array.from({ length: keys }, (_, i) => i / 100).join(' ');
    const values = Array.from({ length: keys }, (_, i) => i % 90).join(' ');
    const read = await readAll(fileOf('long.dae', colladaBarrier([{ target: 'boom/turn.ANGLE', times, values }])));
    expect(Object.values(read.scene.animations)[0].duration).toBeCloseTo((keys - 1) / 100, 6);
    const samples = Array.from({ length: keys }, (_, i) => `${i}: (${i % 7}, 0, 0)`).join(', ');
    const usd = `#usda 1.0\ndef Xform "A"\n{\n double3 xformOp:translate.timeSamples = { ${samples} }\n uniform token[] xformOpOrder = ["xformOp:translate"]\n def Cube "C" {}\n}\n`;
    const usdRead = await readAll(fileOf('long.usda', usd));
    expect(Object.values(usdRead.scene.animations)[0].nodes).toBe(1);
  }

  it('does not go unnoticed where it was sent in another way', async () => {
    const read = await readAll(fileOf('barrier.dae', colladaBarrier([RISE, TURN])));
    const other = await readAll(fileOf('barrier.dae', colladaBarrier([RISE, { ...TURN, values: '0 80' }])));
    const readBack = await readBackGlb(await glbBytes(other.scene, other.blobs, 'x'), read.scene, read.blobs);
    expect(readBack.holds).toBe(false);
    expect(readBack.differences.join()).toContain('moves in another way');
  });
});

describe('COLLADA', () => {
  it('follows the curve between its control points', async () => {
    // Control points at thirds of the time and of a parabola's tangents: x(s) = 4 s, y = 90 s².
    const tangents = {
      more: source('out', '1.3333333333333333 0 5 90') + source('in', '-1 0 2.6666666666666665 30'),
      kinds: 'BEZIER BEZIER',
    };
    const read = await readAll(fileOf('a.dae', colladaBarrier([{ ...TURN, ...tangents }])));
    const angle = ((90 * 0.5 ** 2) / 180) * Math.PI;
    close(await tipAt(read, 2), [2 + 4 * Math.cos(angle), 4 * Math.sin(angle), 0], 4);
  });

  it('goes all the way round between two keys', async () => {
    const read = await readAll(fileOf('a.dae', colladaBarrier([{ ...TURN, values: '0 720' }])));
    for (const time of [0.5, 1.3, 3.9]) {
      const angle = time * Math.PI;
      close(await tipAt(read, time), [2 + 4 * Math.cos(angle), 4 * Math.sin(angle), 0], 2);
    }
  });

  it('cuts clips out of the time, each from its own beginning', async () => {
    const clips = `<library_animation_clips><animation_clip name="rise" start="1" end="2"><instance_animation url="#anim0"/></animation_clip>
      <animation_clip name="turn" start="0" end="2"><instance_animation url="#anim1"/></animation_clip></library_animation_clips>`;
    const read = await readAll(fileOf('a.dae', colladaBarrier([RISE, TURN], clips)));
    expect(Object.values(read.scene.animations).map(({ name, duration, nodes }) => [name, duration, nodes])).toEqual([
      ['rise', 1, 1],
      ['turn', 2, 1],
    ]);
    // Half a second into its clip is one and a half into the file.
    expect((await tipAt(read, 0.5))[2]).toBeCloseTo(0.75, 9);
  });

  it('jumps where it says so, and names what it cannot move', async () => {
    const colour = { target: 'paint/colour', times: '0 1', values: '0 1' };
    const read = await readAll(fileOf('a.dae', colladaBarrier([{ ...TURN, kinds: 'STEP STEP' }, colour])));
    close(await tipAt(read, 3.9), [6, 0, 0]);
    expect(read.scene.sources[0].notRead?.join()).toContain('not carried: 1 channels');
  });

  it('leaves a node where it is whose keys cannot be followed', async () => {
    const read = await readAll(fileOf('a.dae', colladaBarrier([{ ...TURN, values: '0 NaN' }])));
    expect(read.scene.animations).toEqual({});
    expect(read.scene.sources[0].notRead?.join()).toContain('move no node');
  });

  it('reads open models: full turns between keys, and clips', async () => {
    const turns = await readOnce('Collada/anims_with_full_rotations_between_keys.DAE');
    const [all] = Object.values(turns.scene.animations);
    expect(all.nodes).toBeGreaterThan(5);
    expect(all.duration).toBeGreaterThan(0);
    const clips = await readOnce('Collada/library_animation_clips.dae');
    expect(Object.values(clips.scene.animations).map(({ name }) => name)).toEqual(['bend', 'turn']);
    const { animations } = clips.scene;
    // Fifteen keys at 24 a second, of which the first clip leaves out one; the second ends at 20/24 s.
    expect(Object.values(animations).map(({ duration }) => Math.round(duration * 1e4) / 1e4)).toEqual([0.5417, 0.8333]);
  });
});

describe('X3D', () => {
  it('turns about the centre that a transform names', async () => {
    const read = await readAll(fileOf('a.x3d', barrierX3d('translation="2 0 0" center="4 0 0"')));
    // The tip is the centre: it stays.
    for (const time of [0, 1.7, 4]) close((await tipAt(read, time)).slice(0, 2), [6, 0], 2);
  });

  it('names what is driven and is no place', async () => {
    const text = barrierX3d().replace('toField="rotation"', 'toField="bboxSize"');
    const read = await readAll(fileOf('a.x3d', text));
    expect(read.scene.sources[0].notRead?.join()).toContain('1 routes');
    expect(Object.values(read.scene.animations)[0].nodes).toBe(1);
  });
});

describe('USD', () => {
  it('counts values over time that are no places, and shows them at their earliest', async () => {
    const text = BARRIER_USD.replace(
      'point3f[] points =',
      'token visibility.timeSamples = { 100: "inherited", 120: "invisible" }\n        point3f[] points =',
    );
    const read = await readAll(fileOf('a.usda', text));
    expect(read.scene.sources[0].notRead?.join()).toContain('at their earliest: 1 properties');
    expect(Object.values(read.scene.animations)[0].nodes).toBe(2);
  });
});
