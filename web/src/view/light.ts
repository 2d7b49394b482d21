/** Light of the studio that the model stands in: a key, a fill, the sky; with a graphics card also what surfaces mirror. */
import * as THREE from 'three';
import { RoomEnvironment } from 'three/addons/environments/RoomEnvironment.js';

export function lightScene(scene: THREE.Scene, renderer: THREE.WebGLRenderer, economy: boolean): void {
  scene.add(new THREE.HemisphereLight(0xffffff, 0xb9b2a2, economy ? 1.9 : 0.6));
  const key = new THREE.DirectionalLight(0xfff6e8, economy ? 1.7 : 2.2);
  key.position.set(0.5, 1, 0.35);
  const fill = new THREE.DirectionalLight(0xe3ecff, economy ? 0.7 : 0.6);
  fill.position.set(-0.7, 0.3, 0.6);
  scene.add(key, fill);
  if (economy) return;
  const generator = new THREE.PMREMGenerator(renderer);
  scene.environment = generator.fromScene(new RoomEnvironment(), 0.03).texture;
  scene.environmentIntensity = 0.7;
  generator.dispose();
}
