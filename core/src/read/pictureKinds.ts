/** Which files are pictures, and of what kind. Kept apart from what opens them, which the browser does not load. */
import { endingOf } from './paths.ts';

const MIMES: Record<string, string> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  webp: 'image/webp',
  ktx2: 'image/ktx2',
  tga: 'image/x-tga',
  bmp: 'image/bmp',
  tif: 'image/tiff',
  tiff: 'image/tiff',
  gif: 'image/gif',
  avif: 'image/avif',
  exr: 'image/x-exr',
  hdr: 'image/vnd.radiance',
};

export function isPicture(path: string): boolean {
  return endingOf(path) in MIMES;
}

export function mimeOf(path: string): string {
  return MIMES[endingOf(path)] ?? 'application/octet-stream';
}
