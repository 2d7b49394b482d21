/** A scene as the bytes of a binary glTF. */
import { writeGlb } from '../write/gltf/files.ts';

export async function glbBytes(...given: Parameters<typeof writeGlb>): Promise<Uint8Array<ArrayBuffer>> {
  const [file] = await writeGlb(...given);
  return file.bytes;
}
