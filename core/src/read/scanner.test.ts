// Numbers against the language's own parser; encodings by the Unicode standard's byte order marks.
import { describe, expect, it } from 'vitest';
import { atLength } from '../testing/atLength.ts';
import { bytesOf } from '../testing/reading.ts';
import { asUtf8, headOf, REPORTED_EVERY, Scanner, SEEN_NAMES } from './scanner.ts';
import type { Seen } from '../surroundings.ts';
import { readSource } from './readSource.ts';
import { ROWS_REPORTED } from './rowProgress.ts';
import { scanPart21 } from './step/scan.ts';

const numberIn = (text: string) => new Scanner(bytesOf(text)).number();

describe('numbers in a text', () => {
  it.each([
    '0', '-0', '1', '-1.5', '+2.25', '.5', '-.5', '5.', '1e3', '1E-3', '-2.5e+2', '0.1', '123456.789', '9007199254740993',
    '1.7976931348623157e308', '5e-324', '0.000000000000000000000001', '3.141592653589793238', '1e22', '1e23', '000123.4500',
  ])('reads %s as the language does', (text) => {
    expect(numberIn(text)).toBe(Number(text));
  }); // prettier-ignore

  it('reads ten thousand numbers of any length to the bit', () => {
    let seed = 7;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
    for (let i = 0; i < 10_000; i++) {
      const value = (random() - 0.5) * 10 ** Math.floor(random() * 30 - 15);
      const text = i % 3 ? String(value) : value.toFixed(Math.floor(random() * 18));
      expect(numberIn(text)).toBe(Number(text));
    }
  });

  it.each(['', 'abc', '-', '.', '1.2.3', '1e', '3.1+e2', 'nan', 'inf'])('does not make a number of “%s”', (text) => {
    expect(numberIn(text)).toBeNaN();
  });

  it('stops a whole number where it ends', () => {
    const scanner = new Scanner(bytesOf('-12/7'));
    expect(scanner.integer()).toBe(-12);
    expect(scanner.skip(47)).toBe(true);
    expect(scanner.integer()).toBe(7);
    expect(scanner.integer()).toBeNaN();
  });
});

describe('lines and words', () => {
  it('goes on over a line that a backslash continues, and counts both', () => {
    const scanner = new Scanner(bytesOf('f 1 \\\n 2\nend'));
    const words: string[] = [];
    while (scanner.more()) words.push(scanner.word());
    expect(words).toEqual(['f', '1', '2']);
    expect(scanner.line).toBe(2);
    scanner.nextLine();
    expect(scanner.rest()).toBe('end');
    expect(scanner.more()).toBe(false);
  });

  it('takes every kind of line end', () => {
    for (const end of ['\n', '\r\n']) {
      const scanner = new Scanner(bytesOf(`a${end}${end}b${end}`));
      const words: string[] = [];
      while (scanner.anywhere()) words.push(scanner.word());
      expect(words).toEqual(['a', 'b']);
    }
  });

  it('reads UTF-16 of both orders and UTF-8 with a mark as the same text', () => {
    const text = 'v 1 2 ä';
    const little = new Uint8Array([
      0xff,
      0xfe,
      ...[...text].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8]),
    ]);
    const big = new Uint8Array([
      0xfe,
      0xff,
      ...[...text].flatMap((c) => [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255]),
    ]);
    const marked = new Uint8Array([0xef, 0xbb, 0xbf, ...bytesOf(text)]);
    for (const bytes of [little, big, marked, bytesOf(text)])
      expect(new TextDecoder().decode(asUtf8(bytes))).toBe(text);
    expect(headOf(little)).toBe(text);
  });
});

describe('progress', () => {
  it('is told as a share that only grows, and not for small files', () => {
    const text = new Uint8Array(3 * REPORTED_EVERY).fill(32);
    for (let at = 99; at < text.length; at += 100) text[at] = 10;
    const shares: number[] = [];
    const scanner = new Scanner(text, (share) => shares.push(share));
    while (!scanner.ended) scanner.nextLine();
    expect(shares.length).toBeGreaterThanOrEqual(2);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.every((share) => share > 0 && share <= 1)).toBe(true);
    const small = new Scanner(text.subarray(0, 10_000), () => expect.unreachable());
    while (!small.ended) small.nextLine();
  });

  it('goes on through a STEP file of any size', () => {
    const line = "#1=PRODUCT('P-1','Sheave','',(#2));\n#3=CARTESIAN_POINT('',(0.,0.,0.));\n";
    const head = "ISO-10303-21;HEADER;FILE_SCHEMA(('X'));ENDSEC;DATA;\n";
    const body = Buffer.alloc(2.5 * REPORTED_EVERY, line);
    const bytes = new Uint8Array(Buffer.concat([Buffer.from(head), body, Buffer.from('\nENDSEC;END-ISO-10303-21;')]));
    const shares: number[] = [];
    const seen: Seen[] = [];
    scanPart21(bytes, 'large.stp', (share, so) => {
      shares.push(share);
      seen.push(so);
    });
    expect(shares.length).toBe(2);
    expect(shares[1]).toBeGreaterThan(shares[0]);
    // One product in each line of the size of this one.
    expect(seen[1].count / seen[0].count).toBeCloseTo(2, 2);
    expect(seen[0]).toMatchObject({ format: 'STEP', head: 'X', what: 'products' });
    expect(seen[0].names.every((name) => name === 'Sheave')).toBe(true);
  });

  type OnTheWay = [name: string, head: string, block: string, expected: Partial<Seen>];
  const ON_THE_WAY = 'tells what it has seen of %s on the way';
  it.each<OnTheWay>([
    [
      'a.stl',
      'solid Leaf\n',
      'facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n',
      { format: 'STL', what: 'solids', count: 1, names: ['Leaf'] },
    ],
  ])(ON_THE_WAY, isTold);
  atLength.each<OnTheWay>([
    [
      'a.obj',
      '',
      'o Leaf\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf -3 -2 -1\n',
      { format: 'OBJ', what: 'objects', names: ['Leaf'] },
    ],
  ])(ON_THE_WAY, isTold);

  async function isTold(...[name, head, block, expected]: OnTheWay): Promise<void> {
    const text = Buffer.concat([Buffer.from(head), Buffer.alloc(1.5 * REPORTED_EVERY, block)]);
    const seen: Seen[] = [];
    await readSource({ name, bytes: new Uint8Array(text), progress: (_, so) => seen.push(so) }, 's');
    expect(seen).toHaveLength(1);
    expect(seen[0]).toMatchObject(expected);
    // As many triangles as blocks have gone by.
    expect((seen[0].triangles ?? 0) / (REPORTED_EVERY / block.length)).toBeCloseTo(1, 2);
  }

  it('goes on through the nodes of a glTF file', async () => {
    const nodes = Array.from({ length: 2.5 * ROWS_REPORTED }, (_, i) => ({ name: `Leaf ${i}` }));
    const text = JSON.stringify({ asset: { version: '2.0' }, nodes });
    const shares: number[] = [];
    const seen: Seen[] = [];
    await readSource({ name: 'a.gltf', bytes: new TextEncoder().encode(text), progress: (share, so) => { shares.push(share); seen.push(so); } }, 's'); // prettier-ignore
    // When the text is parsed, and after each twenty thousand.
    expect(seen.map(({ count }) => count)).toEqual([0, ROWS_REPORTED, 2 * ROWS_REPORTED]);
    expect(seen[2]).toMatchObject({ format: 'glTF', what: 'nodes', names: Array.from({ length: SEEN_NAMES }, (_, i) => `Leaf ${2 * ROWS_REPORTED - SEEN_NAMES + i}`) }); // prettier-ignore
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares[2]).toBeCloseTo(0.3 + 0.7 * 0.8);
  });
});
