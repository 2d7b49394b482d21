/** Light of the studio that the model stands in: a key, a fill, the sky; with a graphics card also what surfaces mirror, and shadows. */
import * as THREE from 'three';
import { RoomEnvironment } from 'three/addons/environments/RoomEnvironment.js';
import type { Box } from '@noble-prism/core/scene/types';

export interface Studio {
  /** Fits the shadows to what is there, metres. Without a graphics card there are none. */
  fit(box: Box): void;
  /** Shadows are drawn anew with the next frame: something was moved or changed. */
  renew(): void;
}

/** Direction from which the key light comes. */
const KEY = new THREE.Vector3(0.5, 1, 0.35).normalize();
/** Pixels of the shadows' picture, and how far their borders are blurred in it. */
const SHADOW = { pixels: 2048, blur: 7, samples: 14 };

export function lightScene(scene: THREE.Scene, renderer: THREE.WebGLRenderer, economy: boolean): Studio {
  scene.add(new THREE.HemisphereLight(0xffffff, 0xb9b2a2, economy ? 1.9 : 0.6));
  const key = new THREE.DirectionalLight(0xfff6e8, economy ? 1.7 : 2.2);
  key.position.copy(KEY);
  const fill = new THREE.DirectionalLight(0xe3ecff, economy ? 0.7 : 0.6);
  fill.position.set(-0.7, 0.3, 0.6);
  scene.add(key, key.target, fill);
  if (economy) return { fit: () => {}, renew: () => {} };
  const generator = new THREE.PMREMGenerator(renderer);
  scene.environment = generator.fromScene(new RoomEnvironment(), 0.03).texture;
  scene.environmentIntensity = 0.7;
  generator.dispose();
  return softShadows(scene, renderer, key);
}

/** Soft shadows on the parts and, on a sheet that shows nothing else, on the ground where the model stands. */
function softShadows(scene: THREE.Scene, renderer: THREE.WebGLRenderer, key: THREE.DirectionalLight): Studio {
  renderer.shadowMap.enabled = true;
  renderer.shadowMap.type = THREE.VSMShadowMap;
  // Nothing moves but by our own doing.
  renderer.shadowMap.autoUpdate = false;
  key.castShadow = true;
  key.shadow.mapSize.set(SHADOW.pixels, SHADOW.pixels);
  key.shadow.radius = SHADOW.blur;
  key.shadow.blurSamples = SHADOW.samples;
  const floor = new THREE.Mesh(new THREE.PlaneGeometry(1, 1), new THREE.ShadowMaterial({ opacity: 0.2 }));
  floor.rotation.x = -Math.PI / 2;
  floor.receiveShadow = true;
  floor.visible = false;
  scene.add(floor);
  return {
    fit({ min, max }) {
      const centre = new THREE.Vector3(...min).add(new THREE.Vector3(...max)).multiplyScalar(0.5);
      const radius = Math.max(1e-3, centre.distanceTo(new THREE.Vector3(...max)));
      key.position.copy(centre).addScaledVector(KEY, radius * 2);
      key.target.position.copy(centre);
      const { camera } = key.shadow;
      [camera.left, camera.right, camera.top, camera.bottom] = [-radius, radius, radius, -radius];
      [camera.near, camera.far] = [radius * 0.5, radius * 3.5];
      camera.updateProjectionMatrix();
      key.shadow.normalBias = radius * 0.002;
      floor.position.set(centre.x, min[1] - radius * 2e-4, centre.z);
      floor.scale.setScalar(radius * 4);
      floor.visible = true;
      renderer.shadowMap.needsUpdate = true;
    },
    renew() {
      renderer.shadowMap.needsUpdate = true;
    },
  };
}
