/** Names and figures that stand in the view at what they are about: a mark and a text of one size on the screen, and lines between points. */
import {
  BufferGeometry,
  CanvasTexture,
  Group,
  LineBasicMaterial,
  LinearFilter,
  LineSegments,
  Sprite,
  SpriteMaterial,
  SRGBColorSpace,
  Vector3,
} from 'three';
import type { Vector } from '@noble-prism/core/scene/matrix';
import type { CameraWork } from './cameraWork.ts';
import { sheetColour } from './materials.ts';

export interface Callout {
  at: Vector;
  text: string;
  /** Ends of lines, two by two, world, metres. */
  lines?: readonly Vector[];
}

/** Texts are drawn at twice the size of the screen, so that they are sharp where it is fine. */
const FINE = 2;
const HEIGHT = 18;
const PAD = 5;
/** From the mark to the text, pixels. */
const AWAY = 9;
/** More would cover what they are about. */
const MOST = 60;

export class Callouts {
  readonly group = new Group();
  #shown: readonly Callout[] = [];

  show(callouts: readonly Callout[]): void {
    this.#shown = callouts;
    this.#clear();
    const line = new LineBasicMaterial({ color: sheetColour('--ink'), depthTest: false, toneMapped: false });
    for (const callout of callouts.slice(0, MOST)) {
      const sprite = spriteOf(callout.text);
      sprite.position.set(...callout.at);
      this.group.add(sprite);
      if (!callout.lines) continue;
      const drawn = new LineSegments(
        new BufferGeometry().setFromPoints(callout.lines.map((end) => new Vector3(...end))),
        line,
      );
      drawn.renderOrder = 3;
      drawn.frustumCulled = false;
      this.group.add(drawn);
    }
  }

  /** Takes the colours of the sheet anew. */
  setSheet(): void {
    this.show(this.#shown);
  }

  /** Makes all of one size as they are seen now. */
  fit(eye: CameraWork): void {
    for (const sprite of this.group.children) {
      if (!(sprite instanceof Sprite)) continue;
      const pixel = eye.metresPerPixel(new Vector3().copy(sprite.position));
      const { width, height } = sprite.userData as { width: number; height: number };
      sprite.scale.set(Math.max(1e-9, width * pixel), Math.max(1e-9, height * pixel), 1);
    }
  }

  #clear(): void {
    for (const child of this.group.children) {
      if (child instanceof Sprite) child.material.map?.dispose();
      if (child instanceof LineSegments) (child as LineSegments).geometry.dispose();
    }
    this.group.clear();
  }
}

/** A cross at the left, and the text on the colour of the sheet beside it. */
function spriteOf(text: string): Sprite {
  const canvas = document.createElement('canvas');
  const pen = canvas.getContext('2d') as CanvasRenderingContext2D;
  const font = `500 ${12 * FINE}px ${getComputedStyle(document.body).fontFamily}`;
  pen.font = font;
  const wide = pen.measureText(text).width / FINE;
  // As far to the left of the mark as to its right: a sprite that is turned about its own middle stays at its point.
  const width = Math.ceil(AWAY + wide + 2 * PAD) + AWAY;
  canvas.width = width * FINE;
  canvas.height = HEIGHT * FINE;
  pen.scale(FINE, FINE);
  pen.strokeStyle = cssOf('--ink');
  pen.lineWidth = 1.5;
  pen.beginPath();
  const [x, y] = [AWAY, HEIGHT / 2];
  for (const [dx, dy] of [[6, 0], [0, 6]]) {
    pen.moveTo(x - dx, y - dy);
    pen.lineTo(x + dx, y + dy);
  } // prettier-ignore
  pen.stroke();
  pen.fillStyle = cssOf('--raised');
  pen.globalAlpha = 0.9;
  pen.fillRect(2 * AWAY, 1, wide + 2 * PAD, HEIGHT - 2);
  pen.globalAlpha = 1;
  pen.fillStyle = cssOf('--ink');
  pen.font = `500 12px ${getComputedStyle(document.body).fontFamily}`;
  pen.textBaseline = 'middle';
  pen.fillText(text, 2 * AWAY + PAD, y + 0.5);
  const map = new CanvasTexture(canvas);
  map.colorSpace = SRGBColorSpace;
  // Drawn at the size of the screen: nothing smaller is needed.
  map.generateMipmaps = false;
  map.minFilter = LinearFilter;
  const sprite = new Sprite(new SpriteMaterial({ map, depthTest: false, depthWrite: false, toneMapped: false }));
  sprite.center.set(AWAY / width, 0.5);
  sprite.userData = { width, height: HEIGHT };
  sprite.renderOrder = 5;
  return sprite;
}

function cssOf(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}
