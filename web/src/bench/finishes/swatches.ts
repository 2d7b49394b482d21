/** Balls of materials, drawn by a worker when they are first looked at, and kept. */
import { shallowReactive } from 'vue';
import type { Material } from '@noble-prism/core/scene/types';

/** Addresses of pictures by what they show. */
const pictures = shallowReactive(new Map<string, string>());
const asked = new Set<string>();
let worker: Worker | undefined;

function connected(): Worker {
  if (worker) return worker;
  worker = new Worker(new URL('../../workers/swatch.worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({
    data: { key, pixels, data },
  }: MessageEvent<{ key: string; pixels: number; data: Uint8ClampedArray<ArrayBuffer> }>) => {
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = pixels;
    canvas.getContext('2d')?.putImageData(new ImageData(data, pixels, pixels), 0, 0);
    pictures.set(key, canvas.toDataURL());
  };
  return worker;
}

/** The picture of a material, as soon as there is one. @param pixels across */
export function swatchOf(material: Material, pixels: number): string | undefined {
  const plain = JSON.stringify({ ...material, id: '', name: '', textures: undefined });
  const key = `${pixels} ${plain}`;
  const known = pictures.get(key);
  // In tests there are no workers, and nothing to be seen.
  if (!known && !asked.has(key) && typeof Worker !== 'undefined') {
    asked.add(key);
    connected().postMessage({ key, material: JSON.parse(plain) as Material, pixels });
  }
  return known;
}
