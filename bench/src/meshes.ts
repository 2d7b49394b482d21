/** How fast mesh files are read: binary STL and PLY, OBJ, in megabytes a second; glTF beside the bare library; memory of a large OBJ. */
import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { WebIO } from '@gltf-transform/core';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { MemoryBlobs } from '@noble-prism/core/memoryStores';
import { readSource } from '@noble-prism/core/read/readSource';
import { glbBytes } from '@noble-prism/core/testing/glbBytes';
import { print, seconds } from './report.ts';
import { ballObj, ballPly, ballStl } from './balls.ts';

/** Rings of the ball that is written: twice its square are the triangles. */
const RINGS = 700;

const read = (name: string, bytes: Uint8Array) => readSource({ name, bytes }, 's');
const arrayOf = (bytes: Uint8Array) =>
  bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;

if (process.send) await readLarge();
else {
  const files = [
    {
      name: 'ball.stl',
      bytes: ballStl(RINGS),
      least: 100,
      bare: (bytes: Uint8Array) => new STLLoader().parse(arrayOf(bytes)),
    },
    {
      name: 'ball.ply',
      bytes: ballPly(RINGS),
      least: 100,
      bare: (bytes: Uint8Array) => new PLYLoader().parse(arrayOf(bytes)),
    },
    {
      name: 'ball.obj',
      bytes: ballObj(RINGS),
      least: 30,
      bare: (bytes: Uint8Array) => new OBJLoader().parse(new TextDecoder().decode(bytes)),
    },
  ];
  for (const { name, bytes, least, bare } of files) {
    const ours = await seconds(3, () => read(name, bytes));
    const theirs = await seconds(3, () => bare(bytes));
    const note = `${(bytes.length / 1e6).toFixed(0)} MB, ${(ours / theirs).toFixed(2)} times the bare loader of three.js`;
    print({ name: `Reading ${name}`, value: bytes.length / 1e6 / ours, unit: 'MB/s', aim: { least }, note });
  }
  const blobs = new MemoryBlobs();
  const scene = await (await read('ball.obj', ballObj(RINGS))).build(blobs);
  const glb = await glbBytes(scene, blobs, 'ball');
  const ours = await seconds(3, () => read('ball.glb', glb));
  const bare = await seconds(3, () => new WebIO().readBinary(glb));
  print({
    name: 'Reading ball.glb',
    value: ours / bare,
    unit: 'times the bare library',
    aim: { most: 1.5 },
    note: `${(glb.length / 1e6).toFixed(0)} MB`,
  });

  for (const kind of ['obj', 'stl'] as const) {
    const { peak, size, seconds: took } = await inChild(kind);
    print({
      name: `Memory for a large ${kind.toUpperCase()}`,
      value: peak / size,
      unit: 'times the file',
      aim: { most: 4 },
      note: `${(size / 1e6).toFixed(0)} MB in ${took.toFixed(0)} s, meshes stored`,
    });
  }
}

interface Answer {
  peak: number;
  size: number;
  seconds: number;
}

function inChild(kind: string): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const child = fork(fileURLToPath(import.meta.url), [kind], {
      execArgv: ['--max-old-space-size=6144'],
    });
    child.on('message', (answer) => resolve(answer as Answer));
    child.on('exit', (code) => code && reject(new Error(`The child ended with ${code}.`)));
  });
}

/** Reads and builds a file of about 500 MB in a process of its own, and tells the most memory that it held beyond the start. */
async function readLarge(): Promise<void> {
  const kind = process.argv[2];
  let size = 0;
  let start = 0;
  const made = () => {
    const bytes = kind === 'obj' ? ballObj(2250) : ballStl(2240);
    size = bytes.length;
    start = performance.now();
    return bytes;
  };
  let peak = 0;
  const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage().rss)), 20);
  const reading = await read(`large.${kind}`, made());
  peak = Math.max(peak, process.memoryUsage().rss);
  let stored = 0;
  await reading.build({
    put: async (blob) => String((stored += blob.length)),
    get: async () => new Uint8Array(),
    has: async () => false,
  });
  clearInterval(watch);
  peak = Math.max(peak, process.memoryUsage().rss, process.resourceUsage().maxRSS * 1024);
  process.send?.({ peak, size, seconds: (performance.now() - start) / 1000 });
}
