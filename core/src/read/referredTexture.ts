/** A picture that a file refers to, found among those that came along. */
import type { SceneBuilder } from './builder.ts';
import { mimeOf } from './pictureKinds.ts';
import { pictureSize } from './textures.ts';

/** Binds a picture that a file refers to; missing ones are entered as missing. Returns the id of the texture. */
export function referredTexture(builder: SceneBuilder, reference: string, from = builder.file.name): string {
  const { beside } = builder.file;
  const path = beside?.find(reference, from);
  const name = reference.replaceAll('\\', '/').split('/').at(-1) || reference;
  if (path === undefined || !beside) return builder.texture(name, mimeOf(name));
  const bytes = beside.bytes(path);
  return builder.texture(path, mimeOf(path), bytes, pictureSize(bytes));
}
