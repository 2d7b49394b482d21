/**
 * Distance of a point from one triangle, metres: the closest point by the regions of its corners and edges (Ericson, Real-Time Collision
 * Detection, 5.1.5).
 */
export function distanceFromTriangle(
  p: Float32Array,
  indices: Uint32Array,
  triangle: number,
  x: number,
  y: number,
  z: number,
): number {
  const a = indices[triangle * 3] * 3;
  const b = indices[triangle * 3 + 1] * 3;
  const c = indices[triangle * 3 + 2] * 3;
  const [ax, ay, az] = [p[a], p[a + 1], p[a + 2]];
  const abx = p[b] - ax;
  const aby = p[b + 1] - ay;
  const abz = p[b + 2] - az;
  const acx = p[c] - ax;
  const acy = p[c + 1] - ay;
  const acz = p[c + 2] - az;
  const apx = x - ax;
  const apy = y - ay;
  const apz = z - az;
  const d1 = abx * apx + aby * apy + abz * apz;
  const d2 = acx * apx + acy * apy + acz * apz;
  if (d1 <= 0 && d2 <= 0) return Math.sqrt(apx * apx + apy * apy + apz * apz);
  const ab2 = abx * abx + aby * aby + abz * abz;
  const ac2 = acx * acx + acy * acy + acz * acz;
  const abac = abx * acx + aby * acy + abz * acz;
  // Seen from the other two corners: p - b is ap - ab.
  const d3 = d1 - ab2;
  const d4 = d2 - abac;
  const d5 = d1 - abac;
  const d6 = d2 - ac2;
  let s = 0;
  let t = 0;
  if (d3 >= 0 && d4 <= d3) s = 1;
  else if (d6 >= 0 && d5 <= d6) t = 1;
  else {
    const vc = d1 * d4 - d3 * d2;
    const vb = d5 * d2 - d1 * d6;
    const va = d3 * d6 - d5 * d4;
    if (vc <= 0 && d1 >= 0 && d3 <= 0) s = d1 / (d1 - d3 || 1);
    else if (vb <= 0 && d2 >= 0 && d6 <= 0) t = d2 / (d2 - d6 || 1);
    else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
      t = (d4 - d3) / (d4 - d3 + (d5 - d6) || 1);
      s = 1 - t;
    } else {
      const whole = va + vb + vc || 1;
      s = vb / whole;
      t = vc / whole;
    }
  }
  const dx = apx - s * abx - t * acx;
  const dy = apy - s * aby - t * acy;
  const dz = apz - s * abz - t * acz;
  return Math.sqrt(dx * dx + dy * dy + dz * dz);
}
