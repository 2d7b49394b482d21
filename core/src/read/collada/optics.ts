/** Cameras and lights of COLLADA. */
import type { CameraInfo, LightInfo } from '../../scene/types.ts';
import { aspectOf } from '../aspect.ts';
import { child, decimalOf, decimalsOf } from '../xml.ts';
import type { XmlElement } from '../xml.ts';

export function cameraOf(camera: XmlElement | undefined, metres: number): CameraInfo | undefined {
  const optics = child(camera, 'optics', 'technique_common');
  const perspective = child(optics, 'perspective');
  const orthographic = child(optics, 'orthographic');
  const view = perspective ?? orthographic;
  if (!view) return undefined;
  const value = (name: string) => {
    const number = decimalOf(child(view, name)?.text);
    return Number.isFinite(number) ? number : undefined;
  };
  const near = (value('znear') ?? 0.1) * metres;
  const far = (value('zfar') ?? 1000) * metres;
  const [x, y] = orthographic ? [value('xmag'), value('ymag')] : [tangent(value('xfov')), tangent(value('yfov'))];
  const said = value('aspect_ratio') ?? (x && y ? x / y : undefined);
  const ratio = said ?? 1.5;
  if (orthographic)
    return { type: 'orthographic', height: 2 * metres * (y ?? (x ?? 1) / ratio), near, far, ...aspectOf(said) };
  const yfov = value('yfov');
  const xfov = value('xfov') ?? 45;
  const fov = yfov === undefined ? 2 * Math.atan(Math.tan((xfov * Math.PI) / 360) / ratio) : (yfov * Math.PI) / 180;
  return { type: 'perspective', fov, near, far, ...aspectOf(said) };
}

/** Of half an angle in degrees: what widths and heights are to each other. */
const tangent = (angle: number | undefined) => angle && Math.tan((angle * Math.PI) / 360);

export function lightOf(light: XmlElement | undefined): LightInfo | undefined {
  const common = child(light, 'technique_common')?.children[0];
  if (!common) return undefined;
  const types: Record<string, LightInfo['type']> = {
    directional: 'directional',
    point: 'point',
    spot: 'spot',
    ambient: 'ambient',
  };
  const type = types[common.name];
  if (!type) return undefined;
  const colour = decimalsOf(child(common, 'color')?.text);
  const falloff = decimalOf(child(common, 'falloff_angle')?.text ?? '180');
  return {
    type,
    color: colour.length >= 3 ? [colour[0], colour[1], colour[2]] : [1, 1, 1],
    intensity: 1,
    ...(type === 'spot' ? { inner: 0, outer: Math.min(Math.PI / 2, (falloff * Math.PI) / 360) } : {}),
  };
}
