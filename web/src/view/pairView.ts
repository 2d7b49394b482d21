/** Two pictures of one part with its triangles drawn, turned together: what one setting does against another. */
import CameraControls from 'camera-controls';
import * as THREE from 'three';
import { unpackMesh } from '@noble-prism/core/mesh/mesh';

CameraControls.install({ THREE });

export type Side = 0 | 1;

interface Half {
  renderer: THREE.WebGLRenderer;
  scene: THREE.Scene;
  camera: THREE.PerspectiveCamera;
  controls: CameraControls;
  part: THREE.Group;
}

export interface PairColours {
  surface: string;
  lines: string;
}

export class PairView {
  readonly #halves: [Half, Half];
  readonly #sphere = new THREE.Sphere();
  readonly #observer: ResizeObserver;
  #frame = 0;
  #framed = false;
  #following = false;

  constructor(
    readonly canvases: readonly [HTMLCanvasElement, HTMLCanvasElement],
    readonly colours: PairColours,
  ) {
    this.#halves = [this.#make(canvases[0]), this.#make(canvases[1])];
    this.#observer = new ResizeObserver(() => this.#resize());
    for (const canvas of canvases) this.#observer.observe(canvas.parentElement as HTMLElement);
    this.#resize();
  }

  #make(canvas: HTMLCanvasElement): Half {
    const renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: true });
    renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    const scene = new THREE.Scene();
    const key = new THREE.DirectionalLight(0xffffff, 1.6);
    key.position.set(0.5, 1, 0.7);
    scene.add(new THREE.HemisphereLight(0xffffff, 0xb9b2a2, 1.9), key);
    const camera = new THREE.PerspectiveCamera(36, 1, 0.001, 1000);
    const controls = new CameraControls(camera, canvas);
    controls.smoothTime = controls.draggingSmoothTime = 0;
    const half: Half = { renderer, scene, camera, controls, part: new THREE.Group() };
    scene.add(half.part);
    controls.addEventListener('control', () => this.#follow(half));
    return half;
  }

  /** The other half looks from where this one does. */
  #follow(from: Half): void {
    if (this.#following) return;
    this.#following = true;
    const [position, target] = [
      from.controls.getPosition(new THREE.Vector3()),
      from.controls.getTarget(new THREE.Vector3()),
    ];
    for (const half of this.#halves)
      if (half !== from) void half.controls.setLookAt(...position.toArray(), ...target.toArray(), false);
    this.#following = false;
    this.#draw();
  }

  /** Shows a packed mesh on one side; the first one is framed, the others are seen from the same place. */
  show(side: Side, bytes: Uint8Array): void {
    const { positions, normals, indices } = unpackMesh(bytes);
    const half = this.#halves[side];
    this.#clear(half);
    const surface = new THREE.BufferGeometry();
    surface.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    surface.setAttribute('normal', new THREE.BufferAttribute(normals, 3));
    surface.setIndex(new THREE.BufferAttribute(indices, 1));
    surface.computeBoundingSphere();
    const material = new THREE.MeshLambertMaterial({
      color: this.colours.surface,
      side: THREE.DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    const lines = new THREE.LineSegments(
      new THREE.WireframeGeometry(surface),
      new THREE.LineBasicMaterial({ color: this.colours.lines, transparent: true, opacity: 0.55 }),
    );
    half.part.add(new THREE.Mesh(surface, material), lines);
    this.#sphere.copy(surface.boundingSphere as THREE.Sphere);
    if (!this.#framed) {
      this.#framed = true;
      this.frame();
    }
    this.#draw();
  }

  /** Brings the whole part into sight on both sides. */
  frame(): void {
    const { center, radius } = this.#sphere;
    for (const { camera, controls } of this.#halves) {
      const away = (1.1 * (radius || 1)) / Math.sin(THREE.MathUtils.degToRad(camera.fov / 2));
      camera.near = away / 1000;
      camera.far = away * 20;
      camera.updateProjectionMatrix();
      const from = new THREE.Vector3(0.62, 0.42, 0.9).normalize().multiplyScalar(away).add(center);
      void controls.setLookAt(...from.toArray(), ...center.toArray(), false);
    }
    this.#draw();
  }

  /** Turns both by an angle round the part, radians; for the keyboard. */
  turn(azimuth: number, polar: number): void {
    const [first] = this.#halves;
    void first.controls.rotate(azimuth, polar, false);
    first.controls.update(0);
    this.#follow(first);
  }

  /** Comes nearer by a share of the distance, or goes away where it is negative. */
  approach(share: number): void {
    const [first] = this.#halves;
    void first.controls.dolly(first.controls.distance * share, false);
    first.controls.update(0);
    this.#follow(first);
  }

  #resize(): void {
    for (const { renderer, camera } of this.#halves) {
      const { clientWidth, clientHeight } = renderer.domElement.parentElement as HTMLElement;
      if (clientWidth === 0 || clientHeight === 0) continue;
      renderer.setSize(clientWidth, clientHeight, false);
      camera.aspect = clientWidth / clientHeight;
      camera.updateProjectionMatrix();
    }
    this.#draw();
  }

  #draw(): void {
    cancelAnimationFrame(this.#frame);
    this.#frame = requestAnimationFrame(() => {
      for (const { renderer, scene, camera, controls } of this.#halves) {
        controls.update(0);
        renderer.render(scene, camera);
      }
    });
  }

  #clear({ part }: Half): void {
    for (const child of part.children as (THREE.Mesh | THREE.LineSegments)[]) {
      child.geometry.dispose();
      (child.material as THREE.Material).dispose();
    }
    part.clear();
  }

  dispose(): void {
    cancelAnimationFrame(this.#frame);
    this.#observer.disconnect();
    for (const half of this.#halves) {
      this.#clear(half);
      half.controls.dispose();
      half.renderer.dispose();
    }
  }
}
