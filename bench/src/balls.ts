/** Balls of any fineness as mesh files, written straight into bytes: something large to read. */

const at = (ring: number, sector: number, rings: number): [number, number, number] => {
  const polar = (Math.PI * ring) / rings;
  const azimuth = (Math.PI * sector) / rings;
  return [Math.sin(polar) * Math.cos(azimuth), Math.sin(polar) * Math.sin(azimuth), Math.cos(polar)];
};

/** Corners of each triangle as ring and sector. */
function* triangles(rings: number): Generator<[number, number][]> {
  for (let r = 0; r < rings; r++)
    for (let s = 0; s < rings * 2; s++) {
      yield [
        [r, s],
        [r + 1, s],
        [r + 1, s + 1],
      ];
      yield [
        [r, s],
        [r + 1, s + 1],
        [r, s + 1],
      ];
    }
}

export function ballStl(rings: number): Uint8Array {
  const count = rings * rings * 4;
  const bytes = new Uint8Array(84 + count * 50);
  const view = new DataView(bytes.buffer);
  view.setUint32(80, count, true);
  let offset = 84 + 12;
  for (const corners of triangles(rings)) {
    corners.forEach(([r, s], corner) =>
      at(r, s, rings).forEach((value, axis) => view.setFloat32(offset + corner * 12 + axis * 4, value, true)),
    );
    offset += 50;
  }
  return bytes;
}

export function ballPly(rings: number): Uint8Array {
  const sectors = rings * 2 + 1;
  const vertices = (rings + 1) * sectors;
  const faces = rings * rings * 4;
  const head = new TextEncoder().encode(
    `ply\nformat binary_little_endian 1.0\nelement vertex ${vertices}\nproperty float x\nproperty float y\nproperty float z\nelement face ${faces}\nproperty list uchar int vertex_indices\nend_header\n`,
  );
  const bytes = new Uint8Array(head.length + vertices * 12 + faces * 13);
  bytes.set(head);
  const view = new DataView(bytes.buffer, head.length);
  for (let r = 0; r <= rings; r++)
    for (let s = 0; s < sectors; s++)
      at(r, s, rings).forEach((value, axis) => view.setFloat32((r * sectors + s) * 12 + axis * 4, value, true));
  let offset = vertices * 12;
  for (const corners of triangles(rings)) {
    view.setUint8(offset, 3);
    corners.forEach(([r, s], corner) => view.setInt32(offset + 1 + corner * 4, r * sectors + s, true));
    offset += 13;
  }
  return bytes;
}

export function ballObj(rings: number): Uint8Array {
  const sectors = rings * 2 + 1;
  // Longest lines: `v -0.000000 -0.000000 -0.000000` and `f` with three numbers of eight digits.
  const bytes = new Uint8Array((rings + 1) * sectors * 32 + rings * rings * 4 * 30);
  const encoder = new TextEncoder();
  let offset = 0;
  let text = '';
  const flush = () => {
    offset += encoder.encodeInto(text, bytes.subarray(offset)).written;
    text = '';
  };
  for (let r = 0; r <= rings; r++) {
    for (let s = 0; s < sectors; s++)
      text += `v ${at(r, s, rings)
        .map((value) => value.toFixed(6))
        .join(' ')}\n`;
    flush();
  }
  let waiting = 0;
  for (const corners of triangles(rings)) {
    text += `f ${corners.map(([r, s]) => r * sectors + s + 1).join(' ')}\n`;
    if (++waiting % 5000 === 0) flush();
  }
  flush();
  return bytes.slice(0, offset);
}
