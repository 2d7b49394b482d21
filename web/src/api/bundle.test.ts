// What is dropped together and belongs together goes out as one package.
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { bundled, grouped } from './bundle.ts';
import type { Dropped } from './bundle.ts';

const file = (path: string, content = ''): Dropped => ({
  path,
  file: new File([content], path.split('/').at(-1) ?? path),
});
const names = async (...files: Dropped[]) =>
  (await grouped(files)).groups.map(({ members }) => members.map(({ path }) => path).sort());

describe('what was dropped together', () => {
  it('keeps models that do not name each other apart', async () => {
    expect(await names(file('a.stp', 'PRODUCT(x)'), file('b.stp', 'PRODUCT(y)'), file('c.ifc'))).toEqual([
      ['a.stp'],
      ['b.stp'],
      ['c.ifc'],
    ]);
  });

  it('joins a mesh, its material file and its pictures through their names', async () => {
    expect(
      await names(
        file('bench.obj', 'mtllib Bench.MTL'),
        file('bench.mtl', 'map_Kd oak%20light.png'),
        file('oak light.png'),
        file('lamp.stl'),
      ),
    ).toEqual([['bench.mtl', 'bench.obj', 'oak light.png'], ['lamp.stl']]);
  });

  it('joins an assembly and the parts that it names', async () => {
    expect(await names(file('main.stp', "DOCUMENT_FILE('wheel.stp')"), file('wheel.stp'), file('other.stp'))).toEqual([
      ['main.stp', 'wheel.stp'],
      ['other.stp'],
    ]);
  });

  it('gives loose pictures to the only model there is, and leaves them together where there are several', async () => {
    expect(await names(file('a.glb'), file('x.png'), file('y.jpg'))).toEqual([['a.glb', 'x.png', 'y.jpg']]);
    expect(await names(file('a.glb'), file('b.glb'), file('x.png'), file('y.jpg'))).toEqual([
      ['a.glb'],
      ['b.glb'],
      ['x.png', 'y.jpg'],
    ]);
  });

  it('keeps the order of the drop, models of a folder included, and names what of a folder is nothing to send', async () => {
    const dropped = ['z.stp', 'set/b.stp', 'set/notes.txt', 'set/sub/a.stp', 'm.odd', 'set/loose.bin'].map((path) =>
      file(path),
    );
    const { groups, ignored } = await grouped(dropped);
    expect(groups.map(({ name }) => name)).toEqual(['z.stp', 'b.stp', 'a.stp', 'm.odd']);
    expect(ignored).toEqual(['set/notes.txt', 'set/loose.bin']);
  });

  it('does not join what only contains the name of another', async () => {
    expect(
      await names(file('rod.stp', "PRODUCT('piston-rod.stp'"), file('piston-rod.stp', "PRODUCT('rod.stp'")),
    ).toEqual([['rod.stp'], ['piston-rod.stp']]);
  });

  it('packs files of some megabytes without a worker, which the page may not start from its own text', async () => {
    const { Worker } = globalThis;
    globalThis.Worker = class {
      constructor() {
        throw new Error('A worker was started.');
      }
    } as never;
    const text = `mtllib a.mtl\nmap a.tga\n${'v 0.5 1.25 3\n'.repeat(400_000)}`;
    const noise = new Uint8Array(3_000_001).map((_, i) => (i * 7919) % 251);
    const picture = { path: 'a.tga', file: new File([noise], 'a.tga') };
    const {
      files: [zip],
    } = await bundled([file('a.obj', text), picture, file('a.mtl', '')]).finally(() => {
      globalThis.Worker = Worker;
    });
    const entries = unzipSync(new Uint8Array(await zip.arrayBuffer()));
    expect(new TextDecoder().decode(entries['a.obj'])).toBe(text);
    expect(Buffer.compare(entries['a.tga'], noise)).toBe(0);
    expect(entries['a.mtl']).toHaveLength(0);
    // Text is packed, pictures are as they are.
    expect(zip.size).toBeLessThan(noise.length + text.length / 10);
  });

  it('sends a single model as it is, and a group as a zip with its folders', async () => {
    const {
      files: [single],
    } = await bundled([file('a.stp', 'x')]);
    expect([single.name, single.size]).toEqual(['a.stp', 1]);
    const {
      files: [zip],
    } = await bundled([file('set/a.obj', 'mtllib a.mtl'), file('set/tex/a.mtl', 'newmtl m')]);
    expect(zip.name).toBe('a.obj');
    const entries = unzipSync(new Uint8Array(await zip.arrayBuffer()));
    expect(Object.keys(entries).sort()).toEqual(['set/a.obj', 'set/tex/a.mtl']);
    expect(new TextDecoder().decode(entries['set/a.obj'])).toBe('mtllib a.mtl');
  });

  it('packs a picture that came alone', async () => {
    const {
      files: [sent],
    } = await bundled([file('brick.png', 'x')]);
    expect([sent.name, sent.type]).toEqual(['brick.png', 'application/zip']);
  });
});
