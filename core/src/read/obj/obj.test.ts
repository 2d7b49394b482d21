// Keywords and their meaning: the Wavefront object file specification (Advanced Visualizer manual, appendix B1 and B2, version 3.0).
import { describe, expect, it } from 'vitest';
import { fileOf, readAll, warningsOf } from '../../testing/reading.ts';

const SQUARE = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n';

const areaOf = (scene: { meshes: Record<string, { area: number }> }) =>
  Object.values(scene.meshes).map(({ area }) => area);

describe('OBJ', () => {
  it('reads objects and groups as a tree, with materials as slots', async () => {
    const content = `mtllib room.mtl\n${SQUARE}o Bench\ng Seat\nusemtl oak\nf 1 2 3\ng Legs\nusemtl steel\nf 1 3 4\nusemtl oak\nf 1 2 4\no Lamp\nf 1 2 3 4\n`;
    const { scene, node } = await readAll(
      fileOf('room.obj', content, {
        'room.mtl': 'newmtl oak\nKd 0.5 0.3 0.1\nnewmtl steel\nKd 0.6 0.6 0.6\nPm 1\nPr 0.3\n',
      }),
    );
    expect(scene.nodes.map(({ name, kind, parent }) => [name, kind, parent])).toEqual([
      ['Bench', 'assembly', null],
      ['Seat', 'part', 0],
      ['Legs', 'part', 0],
      ['Lamp', 'part', null],
    ]);
    const legs = node('Legs');
    expect(legs.materials.map((id) => scene.materials[id].name)).toEqual(['steel', 'oak']);
    expect(scene.meshes[legs.mesh ?? ''].slots).toEqual([1, 1]);
    expect(scene.materials[legs.materials[0]]).toMatchObject({ metallic: 1, roughness: 0.3 });
  });

  it('counts negative numbers from the end', async () => {
    const { scene } = await readAll(fileOf('a.obj', `${SQUARE}f -4 -3 -2 -1\n`));
    expect(areaOf(scene)).toEqual([1]);
  });

  it('fills a concave polygon without covering what lies outside it', async () => {
    // An L of three unit squares: area 3.
    const { scene } = await readAll(
      fileOf('l.obj', 'v 0 0 0\nv 2 0 0\nv 2 1 0\nv 1 1 0\nv 1 2 0\nv 0 2 0\nf 1 2 3 4 5 6\n'),
    );
    expect(areaOf(scene)[0]).toBeCloseTo(3, 6);
  });

  it('keeps faces, lines and points of a file that mixes them', async () => {
    const { scene, meshOf } = await readAll(fileOf('mix.obj', `${SQUARE}f 1 2 3 4\nl 1 3\np 2 4\n`));
    expect(scene.nodes.map(({ name }) => name)).toEqual(['mix', 'mix points']);
    const mesh = await meshOf('mix');
    expect(mesh.indices).toHaveLength(6);
    // Four borders and the line.
    expect(mesh.edges.length / 6).toBe(5);
    expect((await meshOf('mix points')).positions).toHaveLength(6);
  });

  it('smooths within a smoothing group and not across', async () => {
    const roof = (smooth: string) =>
      `v 0 0 0\nv 1 0.2 0\nv 2 0 0\nv 0 0 1\nv 1 0.2 1\nv 2 0 1\n${smooth}f 1 4 5 2\nf 2 5 6 3\n`;
    const soft = await readAll(fileOf('a.obj', roof('s 1\n')));
    const hard = await readAll(fileOf('a.obj', roof('s off\n')));
    expect((await soft.meshOf('a')).positions.length / 3).toBe(6);
    expect((await hard.meshOf('a')).positions.length / 3).toBe(8);
  });

  it('keeps normals and texture coordinates, v counted from above', async () => {
    const { meshOf } = await readAll(
      fileOf('a.obj', `${SQUARE}vt 0 0\nvt 1 0\nvt 1 0.75\nvn 0 0 2\nf 1/1/1 2/2/1 3/3/1\n`),
    );
    const mesh = await meshOf('a');
    expect([...mesh.normals.subarray(0, 3)]).toEqual([0, 0, 1]);
    expect([...(mesh.uvs?.[0] ?? [])]).toEqual([0, 1, 1, 1, 1, 0.25]);
  });

  it('places parts far from the origin by the node, so that nothing shakes', async () => {
    const far = 'v 2600000.125 1200000.25 500\nv 2600001.125 1200000.25 500\nv 2600001.125 1200001.25 500\nf 1 2 3\n';
    const { node, meshOf } = await readAll(fileOf('map.obj', far));
    const mesh = await meshOf('map');
    expect(Math.max(...mesh.positions.map(Math.abs))).toBeLessThan(2);
    expect(node('map').transform[12] + mesh.positions[0]).toBe(2600000.125);
  });

  it('finds material file and pictures in other folders and another case, and says what is missing', async () => {
    const content = `mtllib ..\\Materials\\LAMP.MTL\n${SQUARE}vt 0 0\nusemtl shade\nf 1/1 2/1 3/1\n`;
    const mtl =
      'newmtl shade\nKd 0 0 0\nmap_Kd -s 2 2 1 -o 0.5 0 C:\\old machine\\Textures\\Paper Shade.PNG\nmap_Bump -bm 0.4 weave.png\n';
    const { scene } = await readAll(
      fileOf('models/lamp.obj', content, { 'materials/lamp.mtl': mtl, 'tex/paper shade.png': 'x' }),
    );
    const material = scene.materials[scene.nodes.at(0)!.materials[0]];
    expect(material.baseColor).toEqual([1, 1, 1]);
    expect(material.textures?.baseColor).toMatchObject({ scale: [2, 2], offset: [0.5, -1] });
    expect(material.textures?.normal).toMatchObject({ strength: 0.4 });
    const states = Object.values(scene.textures).map(({ name, state }) => [name, state]);
    expect(states).toEqual([
      ['tex/paper shade.png', 'found'],
      ['weave.png', 'missing'],
    ]);
    expect(warningsOf(scene)).toEqual(['missing-texture']);
  });

  it('names the material file that did not come along, and keeps the names of the materials', async () => {
    const { scene } = await readAll(fileOf('a.obj', `mtllib gone.mtl\n${SQUARE}usemtl walnut\nf 1 2 3\n`));
    expect(warningsOf(scene)).toEqual(['missing-file', 'missing-material']);
    expect(scene.materials[scene.nodes.at(0)!.materials[0]].name).toBe('walnut');
  });

  it('never finds a picture outside what came together', async () => {
    const { scene } = await readAll(
      fileOf('a.obj', `mtllib a.mtl\n${SQUARE}usemtl m\nf 1 2 3\n`, {
        'a.mtl': 'newmtl m\nmap_Kd ../../../../etc/passwd\n',
      }),
    );
    expect(Object.values(scene.textures)).toMatchObject([{ name: 'passwd', state: 'missing' }]);
  });

  it('makes equal width of a highlight of its exponent', async () => {
    // alpha² = 2 / (n + 2), roughness = √alpha: an exponent of 0 is fully rough, one of 1000 nearly a mirror.
    const { scene } = await readAll(
      fileOf('a.obj', `mtllib a.mtl\n${SQUARE}usemtl dull\nf 1 2 3\nusemtl shiny\nf 1 3 4\n`, {
        'a.mtl': 'newmtl dull\nNs 0\nnewmtl shiny\nNs 1000\nd 0.25\n',
      }),
    );
    const [dull, shiny] = scene.nodes.at(0)!.materials.map((id) => scene.materials[id]);
    expect(dull.roughness).toBe(1);
    expect(shiny.roughness).toBeCloseTo((2 / 1002) ** 0.25, 6);
    expect(shiny.opacity).toBe(0.25);
  });

  it('leaves out what names vertices that are not there or no numbers, with the line', async () => {
    const { scene } = await readAll(fileOf('a.obj', `${SQUARE}v x 0 0\nf 1 2 3\nf 1 2 9\nf 1 2 5\nf 1 2\nf a b c\n`));
    expect(scene.sources[0].warnings).toMatchObject([
      { code: 'bad-indices', where: 'line 7' },
      { code: 'bad-numbers' },
    ]);
    expect(Object.values(scene.meshes)[0].triangles).toBe(1);
  });
});
