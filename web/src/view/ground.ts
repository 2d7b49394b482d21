/** The ruled ground under the model: a line each metre (or each power of ten that suits the size), a stronger one each ten. */
import { BufferAttribute, BufferGeometry, Group, LineSegments } from 'three';
import type { Material } from 'three';
import type { Box } from '@noble-prism/core/scene/types';

export interface Ground {
  group: Group;
  /** Distance of the fine lines, metres. */
  pitch: number;
}

/** @param fine, strong materials of the lines, which belong to others */
export function makeGround(box: Box, fine: Material, strong: Material): Ground {
  const extent = Math.max(box.max[0] - box.min[0], box.max[2] - box.min[2], (box.max[1] - box.min[1]) / 2, 1e-4);
  // Ten to a hundred lines across.
  const pitch = 10 ** Math.floor(Math.log10(extent / 4));
  const centre = [snap((box.min[0] + box.max[0]) / 2, pitch * 10), snap((box.min[2] + box.max[2]) / 2, pitch * 10)];
  const half = Math.ceil((extent * 1.6) / (pitch * 10)) * pitch * 10;
  const y = box.min[1] - extent * 1e-4;
  const group = new Group();
  const lines = { fine: [] as number[], strong: [] as number[] };
  const count = Math.round(half / pitch);
  for (let i = -count; i <= count; i++) {
    const target = i % 10 === 0 ? lines.strong : lines.fine;
    const at = i * pitch;
    target.push(centre[0] + at, y, centre[1] - half, centre[0] + at, y, centre[1] + half);
    target.push(centre[0] - half, y, centre[1] + at, centre[0] + half, y, centre[1] + at);
  }
  for (const [positions, material] of [
    [lines.fine, fine],
    [lines.strong, strong],
  ] as const) {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(Float32Array.from(positions), 3));
    group.add(new LineSegments(geometry, material));
  }
  return { group, pitch };
}

function snap(value: number, step: number): number {
  return Math.round(value / step) * step;
}

export function disposeGround({ group }: Ground): void {
  for (const child of group.children) {
    if (child instanceof LineSegments) (child.geometry as BufferGeometry).dispose();
  }
}
