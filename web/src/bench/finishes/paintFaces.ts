/** Faces that were chosen in the view get a material: they go into the last step that paints faces, or into a new one. */
import type { PickedFace } from '@noble-prism/core/measure/face';
import { faceWords } from '@noble-prism/core/measure/face';
import type { OwnMaterial } from '@noble-prism/core/finish/library/own';
import type { Scene } from '@noble-prism/core/scene/types';
import { unitOf } from '@noble-prism/core/scene/unitOf';
import { ALL } from '@noble-prism/core/select/select';
import type { FacesParameters, PaintedFace } from '@noble-prism/core/steps/faces';
import { useJob } from '../../stores/job.ts';
import { useLibrary } from '../../stores/library.ts';
import { changeSteps } from '../stepEdits.ts';
import { copiesFor } from './ownInJob.ts';

/** @param scene the one that the faces were chosen in */
export function paintFaces(scene: Scene, picked: readonly PickedFace[], material: string): void {
  const painted = picked.map((face): PaintedFace => ({
    on: scene.nodes.key(face.row),
    ...face.seed,
    material,
    what: faceWords(face, unitOf(scene)),
  }));
  const step = useJob().steps.findLast(({ kind, on }) => kind === 'faces' && on);
  if (!step) return void changeSteps.add('faces', ALL, withOwn(painted));
  const { faces, own } = step.parameters as FacesParameters;
  // What is painted once more is painted over: it need not stand there twice.
  const isAgain = (face: PaintedFace) => painted.some((one) => one.on === face.on && isSame(one, face));
  changeSteps.edit(step.id, { parameters: withOwn([...faces.filter((face) => !isAgain(face)), ...painted], own) });
}

/** Faces with copies of the own materials that they get. */
export function withOwn(faces: PaintedFace[], known: readonly OwnMaterial[] = []): FacesParameters {
  const given = faces.map(({ material }) => material);
  const own = copiesFor(given, known, useLibrary().own);
  return { faces, ...(own.length > 0 ? { own } : {}) };
}

const isSame = (a: PaintedFace, b: PaintedFace) =>
  a.surface && b.surface
    ? JSON.stringify([a.surface, a.normal.map(Math.round)]) === JSON.stringify([b.surface, b.normal.map(Math.round)])
    : JSON.stringify(a.at) === JSON.stringify(b.at);
