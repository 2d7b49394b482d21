/** Cameras and lights of a scene as USD has them (UsdGeomCamera, UsdLux). */
import type { CameraInfo, LightInfo } from '../../scene/types.ts';
import { double, tuple } from './text.ts';
import type { UsdText } from './text.ts';

/** Height of the picture in the camera, tenths of a metre: the focal length follows from the angle. */
const APERTURE = 24;
/** Width to height where nobody said it: USD asks for both. */
const ASPECT = 1.5;

/** Attributes of a camera. Lengths of the lens are tenths of the unit, here of a metre. */
export function writeCamera(text: UsdText, camera: CameraInfo): void {
  const isFlat = camera.type === 'orthographic';
  const aperture = isFlat ? camera.height * 10 : APERTURE;
  text.line(`token projection = "${camera.type}"`);
  text.line(`float verticalAperture = ${double(aperture)}`);
  text.line(`float horizontalAperture = ${double(aperture * (camera.aspect ?? ASPECT))}`);
  if (!isFlat) text.line(`float focalLength = ${double(APERTURE / 2 / Math.tan(camera.fov / 2))}`);
  text.line(`float2 clippingRange = ${tuple([Math.max(camera.near, 1e-4), camera.far ?? 1e6])}`);
}

/** Kinds of prims: what shines from a point shines from a small sphere. */
export const LIGHT_TYPES: Record<Exclude<LightInfo['type'], 'ambient'>, string> = {
  directional: 'DistantLight',
  point: 'SphereLight',
  spot: 'SphereLight',
};

/** Attributes of a light; the number of its intensity is kept, whose unit each program takes in its own way. */
export function writeLight(text: UsdText, { type, color, intensity, inner = 0, outer }: LightInfo): void {
  text.line(`color3f inputs:color = ${tuple(color)}`);
  text.line(`float inputs:intensity = ${double(intensity)}`);
  if (type === 'directional') return;
  text.line('bool treatAsPoint = 1');
  text.line('float inputs:radius = 0.01');
  if (type !== 'spot') return;
  const angle = outer ?? Math.PI / 4;
  text.line(`float inputs:shaping:cone:angle = ${double((angle * 180) / Math.PI)}`);
  text.line(`float inputs:shaping:cone:softness = ${double(angle > 0 ? 1 - inner / angle : 0)}`);
}
