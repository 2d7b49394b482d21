/**
 * Driving a linkage of ten parts with a closed loop, as a drag does it: three degrees further for each picture, and the places of all rows
 * for the view. Beside it three.js composing the places of as many objects.
 */
import { Matrix4, Object3D, Quaternion, Vector3 } from 'three';
import type { Joint, Seat } from '@noble-prism/core/linkage/joint';
import { Linkage } from '@noble-prism/core/linkage/linkage';
import type { Driven } from '@noble-prism/core/linkage/linkage';
import { beforeOwn } from '@noble-prism/core/linkage/links';
import { IDENTITY } from '@noble-prism/core/scene/matrix';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { print } from './report.ts';

const seat = (point: Vector, axis: Vector = [0, 0, 1]): Seat => ({
  point,
  axis,
  across: axis[0] === 1 ? [0, 1, 0] : [1, 0, 0],
});
const joint = (name: string, kind: Joint['kind'], base: number, part: number, point: Vector, axis?: Vector): Joint => ({
  name,
  kind,
  base,
  part,
  inBase: seat(point, axis),
  inPart: seat(point, axis),
});

/** Crank, rod and piston, and seven parts more that hang on the rod one after the other. */
function engine(): Joint[] {
  const [r, l, at] = [0.05, 0.16, 0.4];
  const pin: Vector = [r * Math.cos(at), r * Math.sin(at), 0];
  const wrist: Vector = [pin[0] + Math.sqrt(l * l - pin[1] ** 2), 0, 0];
  return [
    joint('Shaft', 'hinge', -1, 0, [0, 0, 0]),
    joint('Pin', 'hinge', 0, 1, pin),
    joint('Wrist', 'hinge', 1, 2, wrist),
    joint('Bore', 'slide', -1, 2, wrist, [1, 0, 0]),
    ...Array.from({ length: 7 }, (_, i) =>
      joint(`Hung ${i}`, 'hinge', i === 0 ? 1 : i + 2, i + 3, [0.1 + i * 0.01, 0.02, 0]),
    ),
  ];
}

/** One loop through all ten: a crank and nine bars. */
function ring(): Joint[] {
  const points = Array.from({ length: 11 }, (_, i): Vector => [
    Math.cos((i / 11) * 2 * Math.PI),
    Math.sin((i / 11) * 2 * Math.PI),
    0,
  ]);
  points[1] = [points[0][0] + 0.12, points[0][1] + 0.05, 0];
  return points.map((point, i) => joint(`Bar ${i}`, 'hinge', i === 0 ? -1 : i - 1, i === 10 ? -1 : i, point));
}

const PICTURES = 240;

function milliseconds(joints: Joint[], bodies: number): number {
  const linkage = new Linkage(joints, bodies, 0);
  let driven: Driven | undefined;
  const began = performance.now();
  for (let picture = 1; picture <= PICTURES; picture++) {
    driven = linkage.driveFrom(driven, (picture * 3 * Math.PI) / 180);
    if (driven.stop) throw new Error(driven.stop);
    const { moves } = driven;
    for (let body = 0; body < bodies; body++) beforeOwn({ body, above: -1, parent: IDENTITY }, moves);
  }
  return (performance.now() - began) / PICTURES;
}

function bareMilliseconds(): number {
  const objects = Array.from({ length: 10 }, () => new Object3D());
  const [turn, axis, made] = [new Quaternion(), new Vector3(0, 0, 1), new Matrix4()];
  const began = performance.now();
  for (let picture = 0; picture < PICTURES; picture++)
    for (const object of objects) {
      object.quaternion.copy(turn.setFromAxisAngle(axis, picture * 0.05));
      object.updateMatrix();
      made.multiplyMatrices(object.matrix, made.identity());
    }
  return (performance.now() - began) / PICTURES;
}

const bare = Math.min(...Array.from({ length: 5 }, bareMilliseconds));
for (const [name, joints] of [
  ['engine, crank to piston, seven parts on its rod', engine()],
  ['one loop of ten bars', ring()],
] as const) {
  const best = Math.min(...Array.from({ length: 5 }, () => milliseconds([...joints], 10)));
  const note = `${Math.round(best / bare)} × ten places composed by three.js`;
  print({ name, value: 1000 / best, unit: 'solved a second', aim: { least: 60 }, note });
}
