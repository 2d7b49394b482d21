/**
 * The three-dimensional view, plain three.js behind a small interface. It draws only when something has changed, and draws
 * an economy picture where only software rendering is there.
 */
import CameraControls from 'camera-controls';
import * as THREE from 'three';
import { RoomEnvironment } from 'three/addons/environments/RoomEnvironment.js';
import { corners, worldBox, worldTransforms } from '@noble-prism/core/scene/tree';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, Scene, SceneNode } from '@noble-prism/core/scene/types';
import type { Look } from '../stores/looks.ts';
import { disposeBatches, makeBatches } from './batches.ts';
import type { BatchInput } from './batches.ts';
import { GeometryStore } from './geometry.ts';
import type { ViewGeometry } from './geometry.ts';
import { disposeGround, makeGround } from './ground.ts';
import type { Ground } from './ground.ts';
import { layerColour, MaterialStore, sheetColour } from './materials.ts';
import { TextureStore } from './textures.ts';
import { Picker } from './picking.ts';

CameraControls.install({ THREE });

export interface ViewOptions {
  /** Told when geometry arrived, the camera moved, or a frame was drawn: readings may have changed. */
  changed(): void;
  failed(error: unknown): void;
}

/** Seen from the front right and above, as machines are drawn. */
const START = new THREE.Vector3(0.62, 0.42, 0.9).normalize();

/** A click this near to a corner means the corner. */
const SNAP_PIXELS = 12;

export class View {
  readonly geometry: GeometryStore;
  readonly economy: boolean;
  readonly #renderer: THREE.WebGLRenderer;
  readonly #scene = new THREE.Scene();
  readonly #camera = new THREE.PerspectiveCamera(36, 1, 0.01, 1000);
  readonly #controls: CameraControls;
  readonly #picker: Picker;
  readonly #textures: TextureStore;
  readonly #materials: MaterialStore;
  #lastFrame = 0;
  readonly #edgeMaterial = new THREE.LineBasicMaterial({ transparent: true, toneMapped: false });
  readonly #irisLine = new THREE.LineBasicMaterial({ toneMapped: false });
  /** Lines of the selection that lie behind other parts: there, but faint. */
  readonly #irisBehind = new THREE.LineBasicMaterial({
    depthTest: false,
    transparent: true,
    opacity: 0.16,
    toneMapped: false,
  });
  readonly #irisFill = new THREE.MeshBasicMaterial({
    transparent: true,
    opacity: 0.2,
    depthWrite: false,
    side: THREE.DoubleSide,
  });
  readonly #measure = new THREE.Line(new THREE.BufferGeometry(), new THREE.LineBasicMaterial({ depthTest: false }));
  readonly #measureEnds = new THREE.Points(
    new THREE.BufferGeometry(),
    new THREE.PointsMaterial({ size: 7, sizeAttenuation: false, depthTest: false }),
  );
  readonly #irisPoints = new THREE.PointsMaterial({ size: 4, sizeAttenuation: false });
  readonly #nothing = new THREE.MeshBasicMaterial({ visible: false });
  readonly #wire = new THREE.MeshBasicMaterial({ wireframe: true, transparent: true, opacity: 0.5 });
  #model: Scene = EMPTY_SCENE;
  #worlds = new Map<number, Matrix>();
  #hidden: ReadonlySet<number> = new Set();
  #selected: ReadonlySet<number> = new Set();
  #look: Look = 'finished';
  #edges = true;
  #hues = new Map<number, THREE.Color>();
  #batches = new THREE.Group();
  #outline = new THREE.Group();
  #ground: Ground | undefined;
  #groundKey = '';
  /** The camera was taken in hand, or sent somewhere: no framing by itself any more. */
  #taken = false;
  #framedKey = '';
  #wanted = 0;
  #rebuild = 0;
  readonly #observer: ResizeObserver;

  constructor(
    readonly canvas: HTMLCanvasElement,
    readonly options: ViewOptions,
  ) {
    this.economy = drawsInSoftware();
    this.#renderer = new THREE.WebGLRenderer({
      canvas,
      antialias: !this.economy,
      alpha: true,
      powerPreference: 'high-performance',
    });
    this.#renderer.setPixelRatio(this.economy ? 1 : Math.min(2, window.devicePixelRatio));
    this.#renderer.toneMapping = THREE.NeutralToneMapping;
    this.#textures = new TextureStore(() => this.invalidate());
    this.#materials = new MaterialStore(this.economy, this.#textures);
    this.geometry = new GeometryStore(() => this.#rebuildSoon(), options.failed);
    this.#picker = new Picker(this.geometry);
    this.#light();
    this.#measure.renderOrder = this.#measureEnds.renderOrder = 3;
    this.#scene.add(this.#batches, this.#outline, this.#measure, this.#measureEnds);
    this.#controls = new CameraControls(this.#camera, canvas);
    this.#controls.dollyToCursor = true;
    this.#controls.minDistance = 0;
    this.#controls.infinityDolly = false;
    this.#controls.smoothTime =
      window.matchMedia('(prefers-reduced-motion: reduce)').matches || this.economy ? 0 : 0.12;
    this.#controls.draggingSmoothTime = this.economy ? 0 : 0.06;
    this.#controls.mouseButtons.right = CameraControls.ACTION.TRUCK;
    this.#controls.mouseButtons.middle = CameraControls.ACTION.TRUCK;
    this.#controls.addEventListener('control', () => this.invalidate());
    this.#controls.addEventListener('transitionstart', () => this.invalidate());
    this.#controls.addEventListener('wake', () => this.invalidate());
    this.#observer = new ResizeObserver(() => this.#resize());
    this.#observer.observe(canvas.parentElement as HTMLElement);
    this.#resize();
    this.setSheet();
  }

  #light(): void {
    this.#scene.add(new THREE.HemisphereLight(0xffffff, 0xb9b2a2, this.economy ? 1.9 : 0.6));
    const key = new THREE.DirectionalLight(0xfff6e8, this.economy ? 1.7 : 2.2);
    key.position.set(0.5, 1, 0.35);
    const fill = new THREE.DirectionalLight(0xe3ecff, this.economy ? 0.7 : 0.6);
    fill.position.set(-0.7, 0.3, 0.6);
    this.#scene.add(key, fill);
    if (this.economy) return;
    const generator = new THREE.PMREMGenerator(this.#renderer);
    this.#scene.environment = generator.fromScene(new RoomEnvironment(), 0.03).texture;
    this.#scene.environmentIntensity = 0.7;
    generator.dispose();
  }

  /** Takes the colours of the sheet anew, after it was turned. */
  setSheet(): void {
    this.#edgeMaterial.color = sheetColour('--edge');
    this.#edgeMaterial.opacity = 0.6;
    this.#wire.color = sheetColour('--ink');
    this.#irisLine.color = sheetColour('--iris');
    this.#irisBehind.color = sheetColour('--iris');
    this.#irisFill.color = sheetColour('--iris');
    this.#irisPoints.color = sheetColour('--iris');
    this.#measure.material.color = sheetColour('--iris');
    this.#measureEnds.material.color = sheetColour('--iris');
    this.#groundKey = '';
    this.#rebuildSoon();
  }

  setScene(model: Scene): void {
    this.#model = model;
    this.#worlds = worldTransforms(model);
    // Large parts first: they tell most of what the model is.
    const meshes = new Set(
      model.nodes.flatMap((node) => node.mesh ?? []).sort((a, b) => size(model, b) - size(model, a)),
    );
    this.geometry.want(meshes);
    this.#rebuildSoon();
  }

  setHidden(ids: ReadonlySet<number>): void {
    this.#hidden = ids;
    this.#rebuildSoon();
  }

  select(ids: ReadonlySet<number>): void {
    this.#selected = ids;
    this.#outlineSelection();
    this.invalidate();
  }

  look(way: Look, edges: boolean): void {
    this.#look = way;
    this.#edges = edges;
    this.#rebuildSoon();
  }

  /** Hue of each part in the density look, by node. */
  setHues(hues: Map<number, string>): void {
    this.#hues = new Map([...hues].map(([id, text]) => [id, new THREE.Color().setStyle(text)]));
    if (this.#look === 'density') this.#rebuildSoon();
  }

  /** Turns the camera to some parts, or to everything. */
  frame(ids?: ReadonlySet<number>): void {
    const parts = this.#model.nodes.filter(
      (node) => node.mesh && (ids ? ids.has(node.id) : !this.#hidden.has(node.id)),
    );
    const box = worldBox(this.#model, parts, this.#worlds, this.geometry.positionsOf);
    if (box) this.#frameBox(box, this.#taken && this.#controls.smoothTime > 0);
  }

  /** Moves the camera back or forth, in the direction it has, until the box fills the free part of the picture. */
  #frameBox(box: Box, smoothly: boolean): void {
    const centre = new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
    const radius = Math.max(centre.distanceTo(new THREE.Vector3(...box.max)), 1e-4);
    this.#camera.near = radius / 200;
    this.#camera.far = radius * 1000;
    this.#camera.updateProjectionMatrix();
    const back = this.#taken
      ? this.#controls.getPosition(new THREE.Vector3()).sub(this.#controls.getTarget(new THREE.Vector3())).normalize()
      : START.clone();
    const right = new THREE.Vector3(0, 1, 0).cross(back).normalize();
    const up = back.clone().cross(right);
    const { clientHeight } = this.canvas;
    const tall = Math.tan((this.#camera.fov * Math.PI) / 360);
    const free = [
      tall * this.#camera.aspect * 0.94,
      tall * Math.max(0.4, (clientHeight - TITLE_BLOCK - LOOKS_BAR) / clientHeight) * 0.97,
    ];
    let distance = radius * 0.2;
    for (const corner of corners(box)) {
      const v = new THREE.Vector3(...corner).sub(centre);
      const depth = v.dot(back);
      distance = Math.max(distance, depth + Math.abs(v.dot(right)) / free[0], depth + Math.abs(v.dot(up)) / free[1]);
    }
    const from = centre.clone().addScaledVector(back, distance);
    void this.#controls.setLookAt(from.x, from.y, from.z, centre.x, centre.y, centre.z, smoothly);
    this.invalidate();
  }

  /** Part under a point of the canvas, pixels from its upper left corner. */
  pick(x: number, y: number): SceneNode | undefined {
    return this.#picker.pick(this.#ray(x, y))?.node;
  }

  /** Point of a surface under a point of the canvas, metres; the corner of a triangle where one is near. */
  pointAt(x: number, y: number): [number, number, number] | undefined {
    const hit = this.#picker.pick(this.#ray(x, y));
    if (!hit) return undefined;
    const { clientWidth, clientHeight } = this.canvas;
    const onScreen = (corner: THREE.Vector3) => {
      const flat = corner.clone().project(this.#camera);
      return Math.hypot(((flat.x + 1) / 2) * clientWidth - x, ((1 - flat.y) / 2) * clientHeight - y);
    };
    const [near] = hit.corners.map((corner) => ({ corner, away: onScreen(corner) })).sort((a, b) => a.away - b.away);
    return (near && near.away <= SNAP_PIXELS ? near.corner : hit.point).toArray();
  }

  /** Draws what is being measured: a cross at each point and a line between two, metres. */
  showMeasure(points: readonly (readonly [number, number, number])[]): void {
    this.#measure.geometry.dispose();
    this.#measure.geometry = new THREE.BufferGeometry().setFromPoints(
      points.map((point) => new THREE.Vector3(...point)),
    );
    this.#measureEnds.geometry = this.#measure.geometry;
    this.#measure.visible = points.length === 2;
    this.#measureEnds.visible = points.length > 0;
    this.invalidate();
  }

  #ray(x: number, y: number): THREE.Ray {
    const { clientWidth, clientHeight } = this.canvas;
    const pointer = new THREE.Vector2((x / clientWidth) * 2 - 1, 1 - (y / clientHeight) * 2);
    const caster = new THREE.Raycaster();
    caster.setFromCamera(pointer, this.#camera);
    return caster.ray;
  }

  orbit(azimuth: number, polar: number): void {
    void this.#controls.rotate(azimuth, polar, true);
    this.invalidate();
  }

  zoom(factor: number): void {
    void this.#controls.dollyTo(this.#controls.distance * factor, true);
    this.invalidate();
  }

  /** Distance of the ruled lines, metres. */
  get pitch(): number {
    return this.#ground?.pitch ?? 1;
  }

  /** Draw calls of the last frame. */
  get drawCalls(): number {
    return this.#renderer.info.render.calls;
  }

  readonly #pointMaterial = ({ coloured }: ViewGeometry) => this.#materials.points(coloured);

  #rebuildSoon(): void {
    if (this.#rebuild) return;
    this.#rebuild = requestAnimationFrame(() => {
      this.#rebuild = 0;
      this.#build();
    });
  }

  #build(): void {
    const parts = this.#model.nodes.filter((node) => node.mesh && !this.#hidden.has(node.id));
    disposeBatches(this.#batches);
    this.#scene.remove(this.#batches);
    this.#batches = makeBatches({
      nodes: parts,
      worlds: this.#worlds,
      geometry: this.geometry,
      edges: this.#edges && this.#look !== 'triangles' ? this.#edgeMaterial : undefined,
      points: this.#pointMaterial,
      ...this.#lookMaterials(),
    });
    this.#scene.add(this.#batches);
    if (this.#look === 'triangles') {
      const wires = makeBatches({
        nodes: parts,
        worlds: this.#worlds,
        geometry: this.geometry,
        edges: undefined,
        materialFor: () => this.#wire,
        points: this.#pointMaterial,
      });
      for (const child of [...wires.children]) this.#batches.add(child);
    }
    this.#picker.setParts(parts, this.#worlds);
    this.#outlineSelection();
    this.#layGround();
    this.options.changed();
    this.invalidate();
  }

  #lookMaterials(): Pick<BatchInput, 'materialFor' | 'tint'> {
    if (this.#look === 'finished')
      return { materialFor: (id, { coloured }) => this.#materials.finished(this.#model, id, coloured) };
    const layers = [...new Set(this.#model.layers.map((layer) => layer.name))];
    const grey = new THREE.Color('#b9b6ad');
    const tint = (node: SceneNode) => {
      if (this.#look === 'layers') return layerColour(node.layer === null ? -1 : layers.indexOf(node.layer));
      if (this.#look === 'density') return this.#hues.get(node.id) ?? grey;
      return grey;
    };
    return { materialFor: () => this.#materials.tinted(true), tint };
  }

  #outlineSelection(): void {
    disposeBatches(this.#outline);
    this.#scene.remove(this.#outline);
    const nodes = this.#model.nodes.filter(
      (node) => node.mesh && this.#selected.has(node.id) && !this.#hidden.has(node.id),
    );
    const common = {
      nodes,
      worlds: this.#worlds,
      geometry: this.geometry,
      tint: () => WHITE,
      points: () => this.#irisPoints,
    };
    this.#outline = makeBatches({ ...common, materialFor: () => this.#irisFill, edges: this.#irisLine });
    const behind = makeBatches({ ...common, materialFor: () => this.#nothing, edges: this.#irisBehind });
    for (const child of behind.children.filter((candidate) => !(candidate instanceof THREE.InstancedMesh)))
      this.#outline.add(child);
    this.#outline.children.forEach((child) => (child.renderOrder = 1));
    this.#scene.add(this.#outline);
  }

  #layGround(): void {
    const box = worldBox(this.#model, this.#model.nodes, this.#worlds, this.geometry.positionsOf);
    const key = JSON.stringify(box ?? null);
    if (key !== this.#groundKey) {
      this.#groundKey = key;
      if (this.#ground) {
        this.#scene.remove(this.#ground.group);
        disposeGround(this.#ground);
        this.#ground = undefined;
      }
      if (box) {
        this.#ground = makeGround(box, sheetColour('--ground-2'), sheetColour('--ground'));
        this.#scene.add(this.#ground.group);
      }
    }
    // The first parts may be a corner of the whole: framed again as it grows, until somebody takes the camera.
    if (box && !this.#taken && key !== this.#framedKey) {
      this.#framedKey = key;
      this.#frameBox(box, false);
    }
  }

  #resize(): void {
    const { clientWidth, clientHeight } = this.canvas.parentElement as HTMLElement;
    if (clientWidth === 0 || clientHeight === 0) return;
    this.#renderer.setSize(clientWidth, clientHeight, false);
    this.#camera.aspect = clientWidth / clientHeight;
    // The title block covers the lower edge: the middle of the picture lies a little higher.
    this.#camera.setViewOffset(
      clientWidth,
      clientHeight,
      0,
      Math.min(TITLE_BLOCK - LOOKS_BAR, clientHeight / 4) / 2,
      clientWidth,
      clientHeight,
    );
    this.#camera.updateProjectionMatrix();
    this.invalidate();
  }

  /** Asks for a frame. */
  invalidate(): void {
    if (this.#wanted) return;
    this.#wanted = requestAnimationFrame(() => {
      this.#wanted = 0;
      const now = performance.now();
      // After a rest the camera must not jump by the time that has passed.
      const moving = this.#controls.update(Math.min(0.1, (now - this.#lastFrame) / 1000));
      this.#lastFrame = now;
      this.#renderer.render(this.#scene, this.#camera);
      this.canvas.dataset.frames = String(Number(this.canvas.dataset.frames ?? 0) + 1);
      if (moving) this.invalidate();
    });
  }

  /** The camera was taken in hand: no framing by itself any more. */
  taken(): void {
    this.#taken = true;
  }

  dispose(): void {
    cancelAnimationFrame(this.#wanted);
    cancelAnimationFrame(this.#rebuild);
    this.#observer.disconnect();
    this.#controls.dispose();
    this.geometry.dispose();
    this.#materials.dispose();
    this.#textures.dispose();
    this.#renderer.dispose();
  }
}

/** Heights that the title block and the row of looks take from the view, pixels. */
const TITLE_BLOCK = 84;
const LOOKS_BAR = 30;

const WHITE = new THREE.Color(0xffffff);

function size(model: Scene, mesh: string): number {
  const figures = model.meshes[mesh];
  return figures ? Math.hypot(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis])) : 0;
}

/** True where frames are computed by the processor: a remote desktop, a machine without a graphics card. */
function drawsInSoftware(): boolean {
  const wish = new URLSearchParams(location.search).get('drawing');
  if (wish) return wish === 'economy';
  const gl = document.createElement('canvas').getContext('webgl2');
  if (!gl) return true;
  const info = gl.getExtension('WEBGL_debug_renderer_info');
  const name = String(gl.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : gl.RENDERER));
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  return /swiftshader|llvmpipe|software|basic render|softpipe/i.test(name);
}
