/** A small picture of the view, made beside it: nothing on the screen changes, and the page does not wait for the graphics card. */
import { SRGBColorSpace, WebGLRenderTarget } from 'three';
import type { Object3D, PerspectiveCamera, Scene, WebGLRenderer } from 'three';
import { sheetColour } from './materials.ts';

/** @param overlays what is left out of it. @param width pixels, at 8 to 5. @returns JPEG as base64; empty where this browser has no second canvas */
export async function pictureOf(
  renderer: WebGLRenderer,
  scene: Scene,
  camera: PerspectiveCamera,
  overlays: readonly Object3D[],
  width: number,
): Promise<string> {
  const height = Math.round((width * 5) / 8);
  const target = new WebGLRenderTarget(width, height, { samples: 4 });
  target.texture.colorSpace = SRGBColorSpace;
  // As it is drawn into: many samples are only gathered between equal formats, and the shaders write sRGB already.
  target.texture.internalFormat = 'RGBA8';
  // Drawn as the screen is, with the same shaders: others would have to be made first.
  Object.assign(target, { isXRRenderTarget: true });
  const eye = camera.clone();
  eye.clearViewOffset();
  eye.aspect = width / height;
  eye.updateProjectionMatrix();
  const seen = overlays.filter(({ visible }) => visible);
  for (const group of seen) group.visible = false;
  renderer.setRenderTarget(target);
  renderer.clear();
  renderer.render(scene, eye);
  renderer.setRenderTarget(null);
  for (const group of seen) group.visible = true;
  const pixels = new Uint8Array(width * height * 4);
  try {
    await renderer.readRenderTargetPixelsAsync(target, 0, 0, width, height, pixels);
  } finally {
    target.dispose();
  }
  const [drawn, sheet] = [canvasOf(width, height), canvasOf(width, height)];
  if (!drawn || !sheet) return '';
  // Rows come from the bottom.
  const data = new ImageData(width, height);
  for (let row = 0; row < height; row++)
    data.data.set(pixels.subarray((height - 1 - row) * width * 4, (height - row) * width * 4), row * width * 4);
  drawn.putImageData(data, 0, 0);
  sheet.fillStyle = `#${sheetColour('--view-low').getHexString()}`;
  sheet.fillRect(0, 0, width, height);
  sheet.drawImage(drawn.canvas, 0, 0);
  return sheet.canvas.toDataURL('image/jpeg', 0.82).replace(/^data:.*?,/, '');
}

function canvasOf(width: number, height: number): CanvasRenderingContext2D | null {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [width, height];
  return canvas.getContext('2d', { willReadFrequently: true });
}
