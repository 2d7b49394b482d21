/** A small picture of a part in the colours of its materials. Not a rendering; it is there to tell one asset from another. */
import type { PlacedMesh } from '../mesh/placed.ts';
import type { Picture } from '../surroundings.ts';
import { Canvas } from './canvas.ts';
import type { Colour } from './canvas.ts';
import { drawMesh, pointsOf } from './drawMesh.ts';
import { Frame, seen } from './eye.ts';

export interface ThumbnailOptions {
  colourOf(slot: number): Colour;
  /** Pixels of a side. */
  size?: number;
}

const SIZE = 256;

/** @returns RGBA, see-through where there is nothing */
export function thumbnail(mesh: PlacedMesh, { colourOf, size = SIZE }: ThumbnailOptions): Picture {
  const canvas = new Canvas(size, size);
  const frame = new Frame(canvas.width, canvas.height);
  const points = seen(pointsOf(mesh));
  frame.include(points);
  drawMesh(canvas, mesh, frame.fit(points), colourOf);
  return { width: size, height: size, data: canvas.pixels() };
}
