/** A PNG (ISO/IEC 15948) of three channels with eight bits: the same bytes each time. */
import { zlibSync } from 'fflate';
import type { MadePicture } from './pictures.ts';

export function pngOf({ width, height, data }: MadePicture): Uint8Array {
  const rows = new Uint8Array(height * (1 + width * 3));
  for (let y = 0; y < height; y++) rows.set(data.subarray(y * width * 3, (y + 1) * width * 3), y * (1 + width * 3) + 1);
  const head = new Uint8Array(13);
  new DataView(head.buffer).setUint32(0, width);
  new DataView(head.buffer).setUint32(4, height);
  head.set([8, 2, 0, 0, 0], 8);
  const chunks = [chunk('IHDR', head), chunk('IDAT', zlibSync(rows, { level: 6 })), chunk('IEND', new Uint8Array())];
  const out = new Uint8Array(8 + chunks.reduce((sum, { length }) => sum + length, 0));
  out.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  let at = 8;
  for (const part of chunks) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

function chunk(type: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(12 + data.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, data.length);
  out.set(new TextEncoder().encode(type), 4);
  out.set(data, 8);
  let crc = -1;
  for (const byte of out.subarray(4, 8 + data.length)) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0);
  }
  view.setUint32(8 + data.length, ~crc);
  return out;
}
