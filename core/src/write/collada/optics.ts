/** Cameras and lights as COLLADA has them: angles in degrees, lengths in the unit of the file. */
import type { CameraInfo, LightInfo } from '../../scene/types.ts';
import type { XmlText } from '../xml.ts';

/** How far a camera sees that does not say it: so many times as far as it sees nearest. */
const FAR = 100_000;
const degrees = (radians: number) => Number(((radians * 180) / Math.PI).toFixed(9));

export function writeCamera(xml: XmlText, camera: CameraInfo, id: string, name: string): void {
  const number = (key: string, value: number) => xml.leaf(key, {}, String(value));
  xml.begin('camera', { id, name }).begin('optics').begin('technique_common');
  const { near } = camera;
  const far = Math.max(camera.far ?? near * FAR, near * 2);
  if (camera.type === 'perspective')
    xml.within('perspective', {}, () => {
      number('yfov', degrees(camera.fov));
      if (camera.aspect !== undefined) number('aspect_ratio', camera.aspect);
      number('znear', near);
      number('zfar', far);
    });
  else
    xml.within('orthographic', {}, () => {
      number('ymag', camera.height / 2);
      if (camera.aspect !== undefined) number('aspect_ratio', camera.aspect);
      number('znear', near);
      number('zfar', far);
    });
  xml.end().end().end();
}

export function writeLight(xml: XmlText, { type, color, intensity, outer }: LightInfo, id: string, name: string): void {
  xml.begin('light', { id, name }).begin('technique_common');
  xml.within(type, {}, () => {
    xml.leaf('color', {}, color.map((value) => value * intensity).join(' '));
    if (type === 'spot') xml.leaf('falloff_angle', {}, String(degrees(2 * (outer ?? Math.PI / 4))));
  });
  xml.end().end();
}
