/** Places of COLLADA nodes: their transforms in the order in which they stand. */
import { composed, cross, IDENTITY, multiply, normalize } from '../../scene/matrix.ts';
import type { Matrix, Vector } from '../../scene/matrix.ts';
import { decimalsOf } from '../xml.ts';
import type { XmlElement } from '../xml.ts';

const TRANSFORMS = new Set(['matrix', 'translate', 'scale', 'rotate', 'lookat']);

/** @param change what the numbers of a transform are at some moment, where they move */
export function transformOf(
  node: XmlElement,
  change: (element: XmlElement, numbers: number[]) => number[] = (_, numbers) => numbers,
): Matrix {
  let out: Matrix = IDENTITY;
  for (const element of node.children) {
    const { name, text } = element;
    if (!TRANSFORMS.has(name)) continue;
    const n = change(element, decimalsOf(text));
    if (!n.every(Number.isFinite)) continue;
    if (name === 'matrix' && n.length >= 16)
      out = multiply(
        out,
        [0, 4, 8, 12, 1, 5, 9, 13, 2, 6, 10, 14, 3, 7, 11, 15].map((i) => n[i]),
      );
    else if (name === 'translate' && n.length >= 3) out = multiply(out, composed(n, [0, 0, 0, 1], [1, 1, 1]));
    else if (name === 'scale' && n.length >= 3) out = multiply(out, composed([0, 0, 0], [0, 0, 0, 1], n));
    else if (name === 'rotate' && n.length >= 4) out = multiply(out, composed([0, 0, 0], quaternion(n), [1, 1, 1]));
    else if (name === 'lookat' && n.length >= 9) out = multiply(out, lookAt(n));
  }
  return out;
}

/** Axis and degrees to a unit quaternion. */
function quaternion([x, y, z, degrees]: number[]): number[] {
  const length = Math.hypot(x, y, z) || 1;
  const half = (degrees * Math.PI) / 360;
  const s = Math.sin(half) / length;
  return [x * s, y * s, z * s, Math.cos(half)];
}

function lookAt(n: number[]): Matrix {
  const eye: Vector = [n[0], n[1], n[2]];
  const back = normalize([n[0] - n[3], n[1] - n[4], n[2] - n[5]]);
  const right = normalize(cross([n[6], n[7], n[8]], back));
  const up = cross(back, right);
  return [...right, 0, ...up, 0, ...back, 0, ...eye, 1];
}
