/** Draws the balls that stand for materials in lists, beside the page. */
import { swatch } from '@noble-prism/core/finish/swatch';
import type { LibraryMaterial } from '@noble-prism/core/finish/library/library';

onmessage = ({
  data: { key, material, pixels },
}: MessageEvent<{ key: string; material: LibraryMaterial; pixels: number }>) => {
  const data = swatch(material, pixels);
  postMessage({ key, pixels, data }, { transfer: [data.buffer] });
};
