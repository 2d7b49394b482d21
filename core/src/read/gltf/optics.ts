/** Cameras and lights of glTF. */
import type { Node } from '@gltf-transform/core';
import type { Light } from '@gltf-transform/extensions';
import type { CameraInfo, LightInfo } from '../../scene/types.ts';

export function cameraOf(camera: NonNullable<ReturnType<Node['getCamera']>>): CameraInfo {
  const [near, far] = [camera.getZNear(), camera.getZFar()];
  return camera.getType() === 'perspective'
    ? { type: 'perspective', fov: camera.getYFov(), near, ...(Number.isFinite(far) ? { far } : {}) }
    : { type: 'orthographic', height: camera.getYMag() * 2, near, far };
}

export function lightOf(light: Light): LightInfo {
  const type = light.getType() as 'directional' | 'point' | 'spot';
  return {
    type,
    color: light.getColor() as [number, number, number],
    intensity: light.getIntensity(),
    ...(type === 'spot' ? { inner: light.getInnerConeAngle(), outer: light.getOuterConeAngle() } : {}),
  };
}
