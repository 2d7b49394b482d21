// 3MF core specification 1.3 and materials extension 1.2 (3MF Consortium): units, components, base materials, colour and texture groups.
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { linearFromSrgb } from '../finish/colour.ts';
import { bytesOf, fileOf, modelOf, readAll, warningsOf } from '../testing/reading.ts';

const RELS =
  '<Relationships xmlns="x"><Relationship Target="/3D/3dmodel.model" Id="r" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>';
const TETRA = `<vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices>`;
const FACES = (more = ['', '', '', '']) =>
  `<triangles>${['0 2 1', '0 1 3', '1 2 3', '2 0 3']
    .map(
      (f, i) =>
        `<triangle ${f
          .split(' ')
          .map((v, k) => `v${k + 1}="${v}"`)
          .join(' ')} ${more[i]}/>`,
    )
    .join('')}</triangles>`;

function pack(model: string, unit = 'millimeter', files: Record<string, Uint8Array> = {}): Uint8Array {
  const text = `<?xml version="1.0"?><model unit="${unit}" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" xmlns:m="http://schemas.microsoft.com/3dmanufacturing/material/2015/02"><metadata name="Application">test bench</metadata>${model}</model>`;
  return zipSync({ '_rels/.rels': bytesOf(RELS), '3D/3dmodel.model': bytesOf(text), ...files });
}

describe('3MF', () => {
  it.each([
    ['micron', 1e-6],
    ['millimeter', 0.001],
    ['centimeter', 0.01],
    ['inch', 0.0254],
    ['foot', 0.3048],
    ['meter', 1],
  ])('reads %s as the specification defines it', async (unit, metres) => {
    const { scene } = await readAll(
      fileOf(
        'a.3mf',
        pack(
          `<resources><object id="1"><mesh>${TETRA}${FACES()}</mesh></object></resources><build><item objectid="1"/></build>`,
          unit,
        ),
      ),
    );
    const [figures] = Object.values(scene.meshes);
    expect(figures.bounds.max[0] / metres).toBeCloseTo(1, 5);
    // A corner of a unit cube holds a sixth of it.
    expect(figures.volume / metres ** 3).toBeCloseTo(1 / 6, 5);
    expect(scene.sources[0]).toMatchObject({ unit: { name: unit, declared: true }, up: 'z', producer: 'test bench' });
  });

  it('places components and build items by their matrices, sharing the geometry', async () => {
    const model = `<resources><object id="1" name="Pin"><mesh>${TETRA}${FACES()}</mesh></object>
      <object id="2" name="Pair"><components><component objectid="1"/><component objectid="1" transform="0 1 0 -1 0 0 0 0 1 10 20 30"/></components></object></resources>
      <build><item objectid="2"/><item objectid="2" transform="1 0 0 0 1 0 0 0 1 100 0 0" partnumber="P-7"/></build>`;
    const { scene } = await readAll(fileOf('a.3mf', pack(model)));
    expect(scene.nodes.map(({ name, parent }) => [name, parent])).toEqual([
      ['Pair', null],
      ['Pin', 0],
      ['Pin', 0],
      ['Pair', null],
      ['Pin', 3],
      ['Pin', 3],
    ]);
    expect(Object.keys(scene.meshes)).toHaveLength(1);
    // Points are rows there: x goes to y, and then ten, twenty, thirty millimetres on.
    expect(scene.nodes.at(2)!.transform.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 0.01, 0.02, 0.03, 1,
    ]);
    expect(scene.nodes.at(3)!.properties).toEqual({ 'Part number': 'P-7' });
  });

  it('gives single triangles their base materials as slots', async () => {
    const model = `<resources><basematerials id="5"><base name="Red PLA" displaycolor="#FF0000"/><base name="Clear" displaycolor="#80FF8040"/></basematerials>
      <object id="1" pid="5" pindex="0"><mesh>${TETRA}${FACES(['', '', 'pid="5" p1="1"', ''])}</mesh></object></resources><build><item objectid="1"/></build>`;
    const { scene } = await readAll(fileOf('a.3mf', pack(model)));
    const [node] = scene.nodes;
    expect(node.materials.map((id) => scene.materials[id].name)).toEqual(['Red PLA', 'Clear']);
    expect(scene.meshes[node.mesh ?? ''].slots).toEqual([3, 1]);
    const clear = scene.materials[node.materials[1]];
    expect(clear.opacity).toBeCloseTo(0x40 / 255, 6);
    expect(clear.baseColor[0]).toBeCloseTo(linearFromSrgb(0x80 / 255), 6);
  });

  it('gives corners their colours and texture coordinates', async () => {
    const model = `<resources><m:colorgroup id="7"><m:color color="#FF0000"/><m:color color="#0000FF"/></m:colorgroup>
      <m:texture2d id="8" path="/3D/Textures/wood.png" contenttype="image/png" tilestyleu="mirror"/>
      <m:texture2dgroup id="9" texid="8"><m:tex2coord u="0" v="0"/><m:tex2coord u="1" v="0"/><m:tex2coord u="0" v="1"/></m:texture2dgroup>
      <object id="1"><mesh>${TETRA}${FACES(['pid="7" p1="0" p2="0" p3="1"', 'pid="9" p1="0" p2="1" p3="2"', '', ''])}</mesh></object></resources><build><item objectid="1"/></build>`;
    const { scene, meshOf } = await readAll(
      fileOf('a.3mf', pack(model, 'meter', { '3D/Textures/wood.png': bytesOf('picture') })),
    );
    const mesh = await meshOf('Object 1');
    expect(mesh.groups.map(({ count }) => count)).toEqual([3, 3, 6]);
    const colourOf = (corner: number) => [
      ...(mesh.colours ?? new Float32Array()).subarray(mesh.indices[corner] * 4, mesh.indices[corner] * 4 + 3),
    ];
    expect([colourOf(0), colourOf(2)]).toEqual([
      [1, 0, 0],
      [0, 0, 1],
    ]);
    const uvOf = (corner: number) => [
      ...(mesh.uvs?.[0] ?? new Float32Array()).subarray(mesh.indices[corner] * 2, mesh.indices[corner] * 2 + 2),
    ];
    // v counts from below there and from above in the scene.
    expect([uvOf(3), uvOf(4), uvOf(5)]).toEqual([
      [0, 1],
      [1, 1],
      [0, 0],
    ]);
    expect(Object.values(scene.textures)).toMatchObject([{ name: '3D/Textures/wood.png', state: 'found' }]);
    expect(scene.materials[scene.nodes.at(0)!.materials[1]].textures?.baseColor?.wrap).toBe('mirror');
  });

  it('reads an open file: a box of 10 by 20 by 30 millimetres', async () => {
    const { scene } = await readAll(modelOf('3MF/box.3mf'));
    const [figures] = Object.values(scene.meshes);
    expect(figures.volume * 1e9).toBeCloseTo(6000, 0);
    expect(figures.triangles).toBe(12);
  });

  it('stops at an object that contains itself, and keeps the rest', async () => {
    const model = `<resources><object id="1"><mesh>${TETRA}${FACES()}</mesh></object><object id="2"><components><component objectid="1"/><component objectid="2"/></components></object></resources><build><item objectid="1"/><item objectid="2"/><item objectid="77"/></build>`;
    const { scene } = await readAll(fileOf('a.3mf', pack(model)));
    expect(warningsOf(scene)).toEqual(expect.arrayContaining(['cyclic', 'dangling']));
    expect(scene.nodes.at(0)!.mesh).toBeDefined();
  });

  it('leaves out triangles with numbers out of range, and says so', async () => {
    const bad = FACES().replace('v1="0"', 'v1="99"');
    const { scene } = await readAll(
      fileOf(
        'a.3mf',
        pack(
          `<resources><object id="1"><mesh>${TETRA}${bad}</mesh></object></resources><build><item objectid="1"/></build>`,
        ),
      ),
    );
    expect(warningsOf(scene)).toEqual(['bad-indices']);
    expect(Object.values(scene.meshes)[0].triangles).toBe(3);
  });

  it('refuses a package without a model', async () => {
    await expect(readAll(fileOf('a.3mf', zipSync({ 'readme.txt': bytesOf('nothing') })))).rejects.toMatchObject({
      code: 'not-readable',
    });
  });
});
