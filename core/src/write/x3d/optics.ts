/** Cameras and lights as X3D has them: viewpoints and lights in the frame of their row, looking and shining along -z. */
import type { SceneNode } from '../../scene/types.ts';
import type { XmlText } from '../xml.ts';

const LIGHTS = { directional: 'DirectionalLight', point: 'PointLight', spot: 'SpotLight' } as const;

export function writeOptics(xml: XmlText, { camera, light, name }: SceneNode): void {
  const at = { position: '0 0 0', orientation: '0 0 1 0' };
  if (camera?.type === 'perspective') xml.leaf('Viewpoint', { description: name, ...at, fieldOfView: camera.fov });
  if (camera?.type === 'orthographic') {
    const half = camera.height / 2;
    xml.leaf('OrthoViewpoint', { description: name, ...at, fieldOfView: `${-half} ${-half} ${half} ${half}` });
  }
  if (!light || light.type === 'ambient') return;
  const common = { color: light.color.join(' '), intensity: light.intensity, global: 'true' };
  const where = light.type === 'point' ? {} : { direction: '0 0 -1' };
  const place = light.type === 'directional' ? {} : { location: '0 0 0' };
  const outer = light.outer ?? Math.PI / 4;
  const cone = light.type === 'spot' ? { cutOffAngle: outer, beamWidth: Math.min(light.inner ?? outer, outer) } : {};
  xml.leaf(LIGHTS[light.type], { ...common, ...where, ...place, ...cone });
}
