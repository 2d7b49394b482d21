// The format as Greg Turk described it (The PLY Polygon File Format, 1994): header, elements, properties, lists.
import { describe, expect, it } from 'vitest';
import { linearFromSrgb } from '../finish/colour.ts';
import { fileOf, readAll, warningsOf } from '../testing/reading.ts';

const HEAD = (vertices: number, faces: number, form = 'ascii', more = '') => `ply
format ${form} 1.0
comment a square
element vertex ${vertices}
property float x
property float y
property float z
${more}element face ${faces}
property list uchar int vertex_indices
end_header
`;
const SQUARE = `0 0 0
1 0 0
1 1 0
0 1 0
4 0 1 2 3
`;

function binary(little: boolean): Uint8Array {
  const head = new TextEncoder().encode(HEAD(4, 1, little ? 'binary_little_endian' : 'binary_big_endian'));
  const bytes = new Uint8Array(head.length + 48 + 17);
  bytes.set(head);
  const view = new DataView(bytes.buffer, head.length);
  [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0].forEach((value, i) => view.setFloat32(i * 4, value, little));
  view.setUint8(48, 4);
  [0, 1, 2, 3].forEach((value, i) => view.setInt32(49 + i * 4, value, little));
  return bytes;
}

describe('PLY', () => {
  it('reads text and both binaries as the same mesh', async () => {
    const files = [HEAD(4, 1) + SQUARE, binary(true), binary(false)];
    const hashes = await Promise.all(
      files.map(async (content) => Object.keys((await readAll(fileOf('square.ply', content))).scene.meshes)),
    );
    expect(hashes[1]).toEqual(hashes[0]);
    expect(hashes[2]).toEqual(hashes[0]);
    const { scene } = await readAll(fileOf('square.ply', files[0]));
    expect(Object.values(scene.meshes)[0]).toMatchObject({ triangles: 2, area: 1 });
  });

  it('keeps colours, normals and texture coordinates, and binds the picture that a comment names', async () => {
    const head = HEAD(
      3,
      1,
      'ascii',
      'property float nx\nproperty float ny\nproperty float nz\nproperty float s\nproperty float t\nproperty uchar red\nproperty uchar green\nproperty uchar blue\n',
    ).replace('comment a square', 'comment TextureFile bark.png');
    const body = '0 0 0 0 0 1 0 0 255 0 0\n1 0 0 0 0 1 1 0 0 128 0\n0 1 0 0 0 1 0 1 0 0 255\n3 0 1 2\n';
    const { scene, meshOf } = await readAll(fileOf('leaf.ply', head + body, { 'bark.png': 'not looked into' }));
    const mesh = await meshOf('leaf');
    expect([...mesh.normals]).toEqual([0, 0, 1, 0, 0, 1, 0, 0, 1]);
    // The origin of v is below in the file, above in the scene.
    expect([...(mesh.uvs?.[0] ?? [])]).toEqual([0, 1, 1, 1, 0, 0]);
    expect(mesh.colours?.[0]).toBe(1);
    // Encoded 128 of 255 is 0.2159 linear (IEC 61966-2-1).
    expect(mesh.colours?.[5]).toBeCloseTo(linearFromSrgb(128 / 255), 6);
    expect(mesh.colours?.[5]).toBeCloseTo(0.2159, 4);
    const [texture] = Object.values(scene.textures);
    expect(texture).toMatchObject({ name: 'bark.png', state: 'found' });
    expect(scene.materials[scene.nodes.at(0)!.materials[0]].textures?.baseColor?.texture).toBe(texture.id);
  });

  it('shows a file without faces as points', async () => {
    const { survey, meshOf } = await readAll(fileOf('scan.ply', HEAD(4, 0) + SQUARE.slice(0, 24)));
    expect(survey.sources[0].holds).toMatchObject({ points: 4, triangles: 0 });
    const mesh = await meshOf('scan');
    expect([mesh.positions.length, mesh.indices.length]).toEqual([12, 0]);
  });

  it('reads strips of triangles', async () => {
    const content = HEAD(4, 1).replace('element face', 'element tristrips') + SQUARE.replace('4 0 1 2 3', '4 0 1 3 2');
    const { scene } = await readAll(fileOf('strip.ply', content));
    expect(Object.values(scene.meshes)[0]).toMatchObject({ triangles: 2, area: 1 });
  });

  it('says what a lying count promised, and keeps what is there', async () => {
    const { scene } = await readAll(fileOf('a.ply', HEAD(4, 2_000_000_000) + SQUARE));
    expect(warningsOf(scene)).toEqual(['truncated']);
    expect(Object.values(scene.meshes)[0].triangles).toBe(2);
    const lying = await readAll(fileOf('a.ply', HEAD(2_000_000_000, 0) + SQUARE.slice(0, 24)));
    expect(warningsOf(lying.scene)).toContain('truncated');
  });

  it('leaves out faces on vertices that are not there or no numbers', async () => {
    const { scene } = await readAll(
      fileOf('a.ply', HEAD(4, 3) + SQUARE.replace('0 1 0\n', 'nan 1 0\n') + '3 0 1 2\n3 0 1 77\n'),
    );
    expect(warningsOf(scene).sort()).toEqual(['bad-indices', 'bad-numbers']);
    expect(Object.values(scene.meshes)[0].triangles).toBe(1);
  });

  it.each([
    ['a header without end', 'ply\nformat ascii 1.0\nelement vertex 3\n'],
    ['a type that is not known', HEAD(4, 1).replace('float x', 'quaternion x') + SQUARE],
    ['no vertices', 'ply\nformat ascii 1.0\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n'],
    ['vertices without z', HEAD(4, 1).replace('property float z\n', '') + SQUARE],
    ['a form that is not known', HEAD(4, 1, 'binary_middle_endian') + SQUARE],
  ])('refuses %s in words', async (_, content) => {
    await expect(readAll(fileOf('bad.ply', content))).rejects.toMatchObject({
      code: 'not-readable',
      message: expect.stringContaining('bad.ply') as string,
    });
  });
});
