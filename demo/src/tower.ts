/**
 * The first tower up the line, as its surveyor delivers it: in coordinates of the map (eastings along x, heights along y, northings
 * against z), seven hundred kilometres from zero, and turned to the grid. Metres. Invented.
 */
import { Document, WebIO } from '@gltf-transform/core';
import { boxes } from './boxes.ts';
import type { Triple } from './boxes.ts';

/** Two corners of the foundation, top edge, as they are set out on the map; in the tower's own frame they lie at x -1.5 and 1.5. */
export const TOWER = {
  eastings: 683_210.437,
  northings: 247_100.612,
  height: 1_590.2,
  /** From grid east to the line of the rope, counterclockwise. */
  angle: 0.52,
  corners: [
    [-1.5, 0.6, 1.5],
    [1.5, 0.6, 1.5],
  ] satisfies Triple[],
};

/** @returns the bytes of the file; the same each time */
export async function tower(): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Tarn Gondola demo (invented)';
  document.createBuffer();
  const scene = document.createScene('Tower 1');
  const concrete = document
    .createMaterial('tower concrete')
    .setBaseColorFactor([0.5, 0.5, 0.48, 1])
    .setMetallicFactor(0);
  const steel = document.createMaterial('tower steel').setBaseColorFactor([0.4, 0.43, 0.45, 1]).setMetallicFactor(0.9);
  concrete.setRoughnessFactor(0.9);
  steel.setRoughnessFactor(0.5);
  const { eastings, northings, height, angle } = TOWER;
  const turn: [number, number, number, number] = [0, Math.sin(angle / 2), 0, Math.cos(angle / 2)];
  const all = document.createNode('Tower 1').setTranslation([eastings, height, -northings]).setRotation(turn);
  scene.addChild(all);
  const foundation = boxes(document, 'Foundation', concrete, [{ size: [3, 0.6, 3], at: [0, 0.3, 0] }]);
  const mast = boxes(document, 'Mast', steel, [
    { size: [0.7, 6.2, 0.7], at: [0, 3.7, 0] },
    { size: [1.1, 0.06, 1.1], at: [0, 0.63, 0] },
  ]);
  const arm = boxes(document, 'Cross arm', steel, [{ size: [0.4, 0.5, 5.2], at: [0, 7, 0] }]);
  const ladder = boxes(
    document,
    'Ladder',
    steel,
    Array.from({ length: 16 }, (_, i) => ({
      size: [0.04, 0.03, 0.4] as Triple,
      at: [0.42, 1 + i * 0.35, 0] as Triple,
    })),
  );
  for (const mesh of [foundation, mast, arm, ladder]) all.addChild(document.createNode(mesh.getName()).setMesh(mesh));
  return new WebIO().writeBinary(document);
}
