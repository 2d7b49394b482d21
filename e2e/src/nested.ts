/** A small model whose structure is as people complain of it: groups around single parts, a part outside its assembly. glTF 2.0, JSON. */

interface Spec {
  name: string;
  at?: [number, number, number];
  /** A box of this size, metres. */
  box?: [number, number, number];
  children?: Spec[];
}

/** @returns the bytes of a .gltf file with its buffer inside */
export function nestedModel(roots: readonly Spec[]): Uint8Array {
  const nodes: object[] = [];
  const meshes: object[] = [];
  const accessors: object[] = [];
  const chunks: Buffer[] = [];
  let length = 0;
  const add = (bytes: Buffer, view: object): number => {
    chunks.push(bytes);
    length += bytes.length;
    return views.push({ buffer: 0, byteOffset: length - bytes.length, byteLength: bytes.length, ...view }) - 1;
  };
  const views: object[] = [];
  const boxMesh = ([x, y, z]: [number, number, number]): number => {
    const corners = Array.from({ length: 8 }, (_, i) => [i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0]);
    const quads = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]]; // prettier-ignore
    const indices = quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d]);
    const positions = add(Buffer.from(Float32Array.from(corners.flat()).buffer), { target: 34962 });
    const triangles = add(Buffer.from(Uint32Array.from(indices).buffer), { target: 34963 });
    const at = accessors.push(
      { bufferView: positions, componentType: 5126, count: 8, type: 'VEC3', min: [0, 0, 0], max: [x, y, z] },
      { bufferView: triangles, componentType: 5125, count: indices.length, type: 'SCALAR' },
    );
    return meshes.push({ primitives: [{ attributes: { POSITION: at - 2 }, indices: at - 1 }] }) - 1;
  };
  const visit = ({ name, at, box, children = [] }: Spec): number => {
    const own: Record<string, unknown> = { name };
    if (at) own.translation = at;
    if (box) own.mesh = boxMesh(box);
    const index = nodes.push(own) - 1;
    if (children.length > 0) own.children = children.map(visit);
    return index;
  };
  const scene = { nodes: roots.map(visit) };
  const uri = `data:application/octet-stream;base64,${Buffer.concat(chunks).toString('base64')}`;
  const file = { asset: { version: '2.0' }, scene: 0, scenes: [scene], nodes, meshes, accessors, bufferViews: views, buffers: [{ byteLength: length, uri }] }; // prettier-ignore
  return new TextEncoder().encode(JSON.stringify(file));
}
