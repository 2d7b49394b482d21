import { expect, test } from 'vitest';
import { Line3, Plane, Ray, Vector3 } from 'three';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { onGuide } from './guided.ts';

const eye = new Vector3(4, 3, 10);
const ahead = new Vector3(-0.3, -0.2, -1).normalize();
const ray = new Ray(eye, new Vector3(-0.4, -0.1, -1).normalize());
const taken: Vector = [1, 0.5, -2];
const close = (a: Vector, b: Vector3) => expect(new Vector3(...a).distanceTo(b)).toBeLessThan(1e-9);

test('without a guide it is on the plane across the view, as three.js meets it', () => {
  const plane = new Plane().setFromNormalAndCoplanarPoint(ahead, new Vector3(...taken));
  close(onGuide(ray, ahead, taken), ray.intersectPlane(plane, new Vector3())!);
});

test('on a plane it is where three.js meets that', () => {
  const normal: Vector = [0.2, 1, 0.4];
  const plane = new Plane().setFromNormalAndCoplanarPoint(new Vector3(...normal).normalize(), new Vector3(...taken));
  close(onGuide(ray, ahead, taken, { normal }), ray.intersectPlane(plane, new Vector3())!);
});

test('a plane that is seen flat, or lies behind, is passed over for the one across the view', () => {
  const across = onGuide(ray, ahead, taken);
  expect(onGuide(ray, ahead, taken, { normal: ray.direction.clone().cross(new Vector3(0, 1, 0)).toArray() })).toEqual(across); // prettier-ignore
  const behind: Vector = [4, 30, 11];
  const straight = onGuide(ray, ahead, behind, { normal: [0, 1, 0] });
  expect(new Vector3(...straight).sub(new Vector3(...behind)).dot(ahead)).toBeCloseTo(0, 9);
});

test('on a line it is the point that is nearest to the ray', () => {
  const along: Vector = [1, 0.3, 0.2];
  const found = new Vector3(...onGuide(ray, ahead, taken, { along }));
  const line = new Line3(new Vector3(...taken), new Vector3(...taken).add(new Vector3(...along)));
  // It lies on the line, and no neighbour on it is nearer to the ray.
  expect(line.closestPointToPoint(found, false, new Vector3()).distanceTo(found)).toBeLessThan(1e-9);
  const away = (shift: number) => ray.distanceToPoint(found.clone().addScaledVector(new Vector3(...along), shift));
  for (const shift of [-0.1, -1e-3, 1e-3, 0.1]) expect(away(shift)).toBeGreaterThan(away(0));
});

test('a line that runs along the ray gives what was taken', () => {
  expect(onGuide(ray, ahead, taken, { along: ray.direction.toArray() })).toEqual(taken);
});
