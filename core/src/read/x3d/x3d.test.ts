// X3D (ISO/IEC 19775-1, XML encoding 19776-1): transforms with centre and orientation of scale, DEF and USE, faces, bodies.
import { describe, expect, it } from 'vitest';
import { openEdges } from '../../testing/closed.ts';
import { fileOf, modelOf, readAll, warningsOf } from '../../testing/reading.ts';

const document = (scene: string, head = '') =>
  `<?xml version="1.0"?><!DOCTYPE X3D PUBLIC "ISO//Web3D//DTD X3D 3.3//EN" "x"><X3D version="3.3" profile="Interchange"><head>${head}</head><Scene>${scene}</Scene></X3D>`;
const readScene = (scene: string, head = '') => readAll(fileOf('a.x3d', document(scene, head)));
const figuresOf = ({ scene }: Awaited<ReturnType<typeof readScene>>) => Object.values(scene.meshes)[0];
const POINTS = '<Coordinate point="0 0 0, 1 0 0, 1 1 0, 0 1 0"/>';

describe('X3D', () => {
  it.each([
    ['IndexedFaceSet', `<IndexedFaceSet coordIndex="0 1 2 3 -1">${POINTS}</IndexedFaceSet>`],
    ['IndexedTriangleSet', `<IndexedTriangleSet index="0 1 2 0 2 3">${POINTS}</IndexedTriangleSet>`],
    ['IndexedTriangleStripSet', `<IndexedTriangleStripSet index="0 1 3 2 -1">${POINTS}</IndexedTriangleStripSet>`],
    ['TriangleFanSet', `<TriangleFanSet fanCount="4">${POINTS}</TriangleFanSet>`],
    ['QuadSet', `<QuadSet>${POINTS}</QuadSet>`],
  ])('makes the same square of an %s', async (_, geometry) => {
    expect(figuresOf(await readScene(`<Shape>${geometry}</Shape>`))).toMatchObject({ triangles: 2, area: 1 });
  });

  it('turns faces over that are wound the other way', async () => {
    const normal = async (ccw: string) => {
      const { meshOf } = await readScene(
        `<Shape DEF="f"><IndexedFaceSet ccw="${ccw}" coordIndex="0 1 2 3 -1">${POINTS}</IndexedFaceSet></Shape>`,
      );
      return (await meshOf('f')).normals[2];
    };
    expect([await normal('true'), await normal('false')]).toEqual([1, -1]);
  });

  it('makes round bodies that converge to the formulas', async () => {
    const volume = async (body: string) => figuresOf(await readScene(`<Shape>${body}</Shape>`)).volume;
    expect(await volume('<Box size="2 3 4"/>')).toBeCloseTo(24, 5);
    // 4/3 π r³, π r² h, π r² h / 3: inscribed, so a little below.
    for (const [body, exact] of [
      ['<Sphere radius="2"/>', (32 / 3) * Math.PI],
      ['<Cylinder radius="2" height="5"/>', 20 * Math.PI],
      ['<Cone bottomRadius="3" height="2"/>', 6 * Math.PI],
    ] as const) {
      const share = (await volume(body)) / exact;
      expect(share).toBeLessThan(1);
      expect(share).toBeGreaterThan(0.97);
    }
  });

  it('composes a transform as the standard says', async () => {
    const shape = '<Shape><Box size="1 1 1"/></Shape>';
    const { scene } = await readScene(
      `<Transform DEF="t" translation="10 0 0" center="1 0 0" rotation="0 0 1 1.5707963267948966" scale="2 2 2">${shape}</Transform>`,
    );
    // The centre (1, 0, 0) stays where it is but for the translation: 11, 0, 0.
    const m = scene.nodes.at(0)!.transform;
    expect([m[0] + m[12], m[1] + m[13], m[2] + m[14]].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([11, 0, 0]);
    expect(Math.hypot(m[0], m[1], m[2])).toBeCloseTo(2, 6);
  });

  it('places what USE refers to as the same geometry', async () => {
    const { scene } = await readScene(
      `<Transform translation="1 0 0"><Shape DEF="ball"><Sphere/></Shape></Transform><Transform translation="2 0 0"><Shape USE="ball"/></Transform>`,
    );
    expect(scene.nodes.filter(({ mesh }) => mesh)).toHaveLength(2);
    expect(Object.keys(scene.meshes)).toHaveLength(1);
  });

  it('reads appearance, picture, viewpoint, light and unit', async () => {
    const { scene, node } = await readAll(
      fileOf(
        'a.x3d',
        document(
          `<Viewpoint description="From the door" position="0 1.6 4" fieldOfView="1"/><SpotLight DEF="Lamp" direction="0 -1 0" cutOffAngle="0.5"/>
          <Shape DEF="s"><Appearance><Material diffuseColor="1 0 0" transparency="0.25"/></Appearance><Box/></Shape>
          <Shape DEF="p"><Appearance><PhysicalMaterial metallic="0" roughness="0.4"/><ImageTexture url='"tex/brick.png" "http://x/brick.png"' repeatS="false"/></Appearance><Box/></Shape>`,
          '<unit category="length" name="centimetre" conversionFactor="0.01"/><meta name="generator" content="pen"/>',
        ),
        { 'tex/brick.png': 'x' },
      ),
    );
    expect(scene.sources[0]).toMatchObject({ unit: { name: 'centimetre', metres: 0.01 }, producer: 'pen', up: 'y' });
    expect(scene.materials[node('s').materials[0]]).toMatchObject({ baseColor: [1, 0, 0], opacity: 0.75 });
    expect(scene.materials[node('p').materials[0]]).toMatchObject({
      metallic: 0,
      roughness: 0.4,
      textures: { baseColor: { wrap: 'clamp' } },
    });
    expect(node('From the door')).toMatchObject({ kind: 'camera', camera: { fov: 1 } });
    // -z, the way a light shines, is turned down to -y.
    const m = node('Lamp').transform;
    expect([-m[8], -m[9], -m[10]].map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([0, -1, 0]);
    expect(scene.sources[0].holds).toMatchObject({ cameras: 1, lights: 1 });
    expect(figuresOf({ scene } as never).bounds.max[0]).toBeCloseTo(0.01, 7);
  });

  it('takes of a switch what is on, and of levels of detail the finest', async () => {
    const { scene } = await readScene(
      '<Switch whichChoice="1"><Shape DEF="off"><Box/></Shape><Shape DEF="on"><Box/></Shape></Switch><LOD><Shape DEF="fine"><Box/></Shape><Shape DEF="coarse"><Box/></Shape></LOD>',
    );
    expect(scene.nodes.filter(({ mesh }) => mesh).map(({ name }) => name)).toEqual(['on', 'fine']);
  });

  it('reads the open file of a textured globe, and says which picture is missing', async () => {
    const { scene } = await readAll(modelOf('X3D/HelloX3dTrademark.x3d'));
    expect(warningsOf(scene)).toEqual(['missing-texture']);
    expect(scene.sources[0].notRead?.join()).toMatch(/Texts|Animations/);
  });

  it('says what it does not read, and stops at a group that contains itself', async () => {
    const { scene } = await readScene(
      '<Group DEF="g"><Shape><Box/></Shape><Group USE="g"/></Group><Inline url="other.x3d"/><Shape><NurbsPatchSurface/></Shape>',
    );
    expect(warningsOf(scene)).toContain('cyclic');
    expect(scene.sources[0].notRead?.join()).toMatch(/other\.x3d.*Nurbs/s);
  });
});

describe('shapes given by a rule', () => {
  const meshOf = async (geometry: string) => {
    const read = await readScene(`<Shape DEF="s">${geometry}</Shape>`);
    return { figures: figuresOf(read), mesh: await read.meshOf('s') };
  };

  it('sweeps the outline of the standard to a closed box of 2 by 1 by 2, its faces outwards', async () => {
    const { figures, mesh } = await meshOf('<Extrusion/>');
    expect(figures.volume).toBeCloseTo(4, 6);
    expect(figures.area).toBeCloseTo(2 * 4 + 4 * 2, 6);
    expect(openEdges(mesh)).toBe(0);
    expect(figures.bounds).toEqual({ min: [-1, 0, -1], max: [1, 1, 1] });
  });

  it.each([
    // A frustum of a pyramid: h (A + B + √(A B)) / 3.
    ['scales it', '<Extrusion spine="0 0 0 0 3 0" scale="1 1 0.5 0.5"/>', 4 + 1 + 2],
    [
      'turns it, which leaves the volume nearly',
      '<Extrusion spine="0 0 0 0 1 0" orientation="0 1 0 0 0 1 0 0.02"/>',
      4,
    ],
    ['leaves out its ends', '<Extrusion beginCap="false" endCap="false"/>', undefined],
    ['lies along x', '<Extrusion spine="0 0 0 5 0 0"/>', 20],
  ])('%s', async (_, geometry, volume) => {
    const { figures, mesh } = await meshOf(geometry);
    if (volume === undefined) expect(openEdges(mesh)).toBe(8);
    else expect(Math.abs(figures.volume / volume - 1)).toBeLessThan(0.01);
  });

  it('follows a ring: Pappus, area of the outline times the way of its centre', async () => {
    const sides = 96;
    const ring = Array.from({ length: sides + 1 }, (_, i) => {
      const t = (2 * Math.PI * (i % sides)) / sides;
      return `${5 * Math.cos(t)} 0 ${5 * Math.sin(t)}`;
    }).join(' ');
    const { figures, mesh } = await meshOf(
      `<Extrusion spine="${ring}" crossSection="0.5 0.5 0.5 -0.5 -0.5 -0.5 -0.5 0.5 0.5 0.5" beginCap="false" endCap="false"/>`,
    );
    expect(openEdges(mesh)).toBe(0);
    expect(Math.abs(figures.volume) / (2 * Math.PI * 5)).toBeCloseTo(1, 2);
  });

  it('makes a slope of a grid of heights, looking up', async () => {
    const { figures, mesh } = await meshOf(
      '<ElevationGrid xDimension="3" zDimension="2" xSpacing="2" zSpacing="5" height="0 1.5 3 0 1.5 3"/>',
    );
    // 4 along x and 3 up make 5 along the slope.
    expect(figures.area).toBeCloseTo(5 * 5, 5);
    for (let i = 1; i < mesh.normals.length; i += 3) expect(mesh.normals[i]).toBeCloseTo(0.8, 5);
    expect(figures.uvs).toBe(1);
  });

  it.each([
    '<ElevationGrid xDimension="100000" zDimension="100000" height="0"/>',
    '<ElevationGrid xDimension="2" zDimension="2"/>',
    '<Extrusion spine="0 0 0"/>',
    '<Extrusion crossSection="nothing"/>',
  ])('%s is left out without harm', async (geometry) => {
    const { scene } = await readScene(`<Shape>${geometry}</Shape><Shape><Box/></Shape>`);
    expect(Object.values(scene.meshes).some(({ triangles }) => triangles === 12)).toBe(true);
  });

  it('reads the keys of an open file', async () => {
    const { scene } = await readAll(modelOf('X3D/ComputerKeyboard.x3d'));
    expect(scene.sources[0].holds?.triangles).toBeGreaterThan(100);
  });
});
