/** Cameras and lights of glTF (glTF 2.0, 5.12 to 5.14; KHR_lights_punctual), from its text. */
import { aspectOf } from '../aspect.ts';
import type { GLTF, JSONDocument } from '@gltf-transform/core';
import type { CameraInfo, LightInfo } from '../../scene/types.ts';

/** A light as the extension writes it. */
export interface LightDefinition {
  name?: string;
  type?: unknown;
  color?: [number, number, number];
  /** Candela, or lux where it is directional. */
  intensity?: number;
  spot?: { innerConeAngle?: number; outerConeAngle?: number };
}

/** Lights of the file, which nodes refer to by their numbers. */
export function lightsOf({ extensions }: JSONDocument['json']): readonly (LightDefinition | undefined)[] {
  const { lights } = (extensions?.KHR_lights_punctual ?? {}) as { lights?: unknown };
  return Array.isArray(lights) ? (lights as LightDefinition[]) : [];
}

/** Undefined for one that does not say how far it sees. */
export function cameraOf({ type, perspective, orthographic }: GLTF.ICamera): CameraInfo | undefined {
  if (type === 'perspective' && Number.isFinite(perspective?.yfov) && perspective) {
    const { yfov, znear, zfar, aspectRatio } = perspective;
    return { type, fov: yfov, near: znear, ...(zfar !== undefined && Number.isFinite(zfar) ? { far: zfar } : {}), ...aspectOf(aspectRatio) }; // prettier-ignore
  }
  if (type !== 'orthographic' || !orthographic || !Number.isFinite(orthographic.ymag)) return undefined;
  const { xmag, ymag, znear, zfar } = orthographic;
  return { type, height: ymag * 2, near: znear, far: zfar, ...aspectOf(xmag / ymag) };
}

const isKind = (type: unknown): type is LightInfo['type'] => ['directional', 'point', 'spot'].includes(String(type));

/** Undefined for a kind of light that the extension does not know. */
export function lightOf({ type, color = [1, 1, 1], intensity = 1, spot }: LightDefinition): LightInfo | undefined {
  if (!isKind(type)) return undefined;
  return {
    type,
    color,
    intensity,
    ...(type === 'spot' ? { inner: spot?.innerConeAngle ?? 0, outer: spot?.outerConeAngle ?? Math.PI / 4 } : {}),
  };
}
