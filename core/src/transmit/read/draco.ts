/** Unpacks geometry that draco packed, for the loader of three.js: its own does so in a worker of the browser. */
import { BufferAttribute, BufferGeometry } from 'three';

interface Decoding {
  (
    packed: ArrayBuffer,
    done: (geometry: BufferGeometry) => void,
    ids: Record<string, number>,
    types: Record<string, string>,
    space: string,
    failed: (error: unknown) => void,
  ): void;
}

/** What a loader of glTF is given in the place of a loader of draco. */
export async function dracoLoader(): Promise<{ preload(): void; decodeDracoFile: Decoding }> {
  const { default: draco } = await import('draco3dgltf');
  const module = await draco.createDecoderModule();
  const geometryOf = (packed: ArrayBuffer, ids: Record<string, number>, types: Record<string, string>) => {
    const decoder = new module.Decoder();
    const buffer = new module.DecoderBuffer();
    const mesh = new module.Mesh();
    /** Room in the memory of the library for so many bytes, as long as something is done with it. */
    const within = <T>(bytes: number, work: (at: number) => T): T => {
      const at = module._malloc(bytes);
      try {
        return work(at);
      } finally {
        module._free(at);
      }
    };
    try {
      buffer.Init(new Int8Array(packed), packed.byteLength);
      const status = decoder.DecodeBufferToMesh(buffer, mesh);
      if (!status.ok()) throw new Error(`draco: ${status.error_msg()}`);
      const geometry = new BufferGeometry();
      const corners = mesh.num_faces() * 3;
      const index = within(corners * 4, (at) => {
        decoder.GetTrianglesUInt32Array(mesh, corners * 4, at);
        return new Uint32Array(module.HEAPF32.buffer, at, corners).slice();
      });
      geometry.setIndex(new BufferAttribute(index, 1));
      for (const [name, id] of Object.entries(ids)) {
        if (types[name] !== 'Float32Array') throw new Error(`draco: ${name} is no list of floats`);
        const attribute = decoder.GetAttributeByUniqueId(mesh, id);
        const width = attribute.num_components();
        const bytes = mesh.num_points() * width * 4;
        const values = within(bytes, (at) => {
          decoder.GetAttributeDataArrayForAllPoints(mesh, attribute, module.DT_FLOAT32, bytes, at);
          return new Float32Array(module.HEAPF32.buffer, at, mesh.num_points() * width).slice();
        });
        geometry.setAttribute(name, new BufferAttribute(values, width));
      }
      return geometry;
    } finally {
      for (const thing of [mesh, buffer, decoder]) module.destroy(thing);
    }
  };
  return {
    preload() {},
    decodeDracoFile(packed, done, ids, types, _space, failed) {
      try {
        done(geometryOf(packed, ids, types));
      } catch (error) {
        failed(error);
      }
    },
  };
}
