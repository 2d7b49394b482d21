/**
 * The three-dimensional view, plain three.js behind a small interface. It draws only when something has changed, and draws
 * an economy picture where only software rendering is there.
 */
import CameraControls from 'camera-controls';
import * as THREE from 'three';
import { worldBox, worldTransforms } from '@noble-prism/core/scene/tree';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, Scene, SceneNode } from '@noble-prism/core/scene/types';
import type { Standpoint } from '../api/client.ts';
import type { Look } from '../stores/looks.ts';
import { disposeBatches, makeBatches, placeBatches } from './batches.ts';
import type { BatchInput } from './batches.ts';
import { standpoint } from './framing.ts';
import { GeometryStore } from './geometry.ts';
import type { ViewGeometry } from './geometry.ts';
import { drawsInSoftware } from './economy.ts';
import { disposeGround, makeGround } from './ground.ts';
import type { Ground } from './ground.ts';
import { lightScene } from './light.ts';
import type { Studio } from './light.ts';
import { edgeMaterial, layerColour, MaterialStore, sheetColour } from './materials.ts';
import { OpticsLayer } from './optics.ts';
import { Outline } from './outline.ts';
import { MeasureLine } from './measureLine.ts';
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

/** Angle of the lens, upright, degrees. */
const LENS = 36;

/** A click this near to a corner means the corner. */
const SNAP_PIXELS = 12;

export class View {
  readonly geometry: GeometryStore;
  readonly economy: boolean;
  readonly #renderer: THREE.WebGLRenderer;
  readonly #scene = new THREE.Scene();
  readonly #camera = new THREE.PerspectiveCamera(LENS, 1, 0.01, 1000);
  readonly #controls: CameraControls;
  readonly #picker: Picker;
  readonly #textures: TextureStore;
  readonly #materials: MaterialStore;
  #lastFrame = 0;
  readonly #edgeMaterial = edgeMaterial();
  readonly #measure = new MeasureLine();
  readonly #wire = new THREE.MeshBasicMaterial({ wireframe: true, transparent: true, opacity: 0.5 });
  #model: Scene = EMPTY_SCENE;
  #worlds = new Map<number, Matrix>();
  #hidden: ReadonlySet<number> = new Set();
  #selected: ReadonlySet<number> = new Set();
  #look: Look = 'finished';
  #edges = true;
  #hues = new Map<number, THREE.Color>();
  readonly #batches = new THREE.Group();
  /** Triangles as lines over the surfaces, where that is the look. */
  readonly #wires = new THREE.Group();
  readonly #outline: Outline;
  readonly #optics: OpticsLayer;
  readonly #studio: Studio;
  #showsOptics = true;
  #places: ReadonlyMap<number, Matrix> | undefined;
  #ground: Ground | undefined;
  /** Kept for every ground: a new material links its shader anew, which takes seconds in software. */
  readonly #groundLines = {
    fine: new THREE.LineBasicMaterial({ toneMapped: false }),
    strong: new THREE.LineBasicMaterial({ toneMapped: false }),
  };
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
    this.#outline = new Outline(this.economy ? ECONOMY_LINES : Infinity);
    this.#optics = new OpticsLayer(this.#outline.line);
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
    this.#studio = lightScene(this.#scene, this.#renderer, this.economy);
    this.#scene.add(this.#batches, this.#wires, this.#outline.group, this.#optics.group, this.#measure.group);
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

  /** Takes the colours of the sheet anew, after it was turned. */
  setSheet(): void {
    this.#edgeMaterial.color = sheetColour('--edge');
    this.#edgeMaterial.opacity = 0.6;
    this.#wire.color = sheetColour('--ink');
    this.#optics.setColour(sheetColour('--ink-2'));
    this.#outline.setColour(sheetColour('--iris'));
    this.#measure.setColour(sheetColour('--iris'));
    this.#groundLines.fine.color = sheetColour('--ground-2');
    this.#groundLines.strong.color = sheetColour('--ground');
    this.#rebuildSoon();
  }

  setScene(model: Scene): void {
    this.#model = model;
    this.#worlds = worldsOf(model, this.#places);
    // Large parts first: they tell most of what the model is.
    const meshes = new Set<string>();
    for (const { mesh } of model.nodes) if (mesh) meshes.add(mesh);
    const sizes = new Map([...meshes].map((mesh) => [mesh, size(model, mesh)]));
    this.geometry.want([...meshes].sort((a, b) => (sizes.get(b) ?? 0) - (sizes.get(a) ?? 0)));
    this.#rebuildSoon();
  }

  /** Puts nodes where they are at a moment: their places in their parents by node, or at rest. */
  pose(places: ReadonlyMap<number, Matrix> | undefined): void {
    // At rest and nothing had moved.
    if (!places && !this.#places) return;
    this.#places = places;
    this.#worlds = worldsOf(this.#model, places);
    placeBatches(this.#batches, this.#worlds);
    placeBatches(this.#wires, this.#worlds);
    this.#outline.place(this.#worlds);
    this.#studio.renew();
    this.#picker.setParts(this.#partsShown(), this.#worlds);
    this.#drawOptics();
    this.invalidate();
  }

  showOptics(on: boolean): void {
    this.#showsOptics = on;
    this.#drawOptics();
    this.invalidate();
  }

  /** Looks through a camera of the scene; upright, whatever its roll. */
  lookThrough(node: SceneNode): void {
    const world = this.#worlds.get(node.id);
    if (!world || !node.camera) return;
    const place = new THREE.Matrix4().fromArray(world);
    const from = new THREE.Vector3().setFromMatrixPosition(place);
    const ahead = new THREE.Vector3(0, 0, -1).transformDirection(place);
    const away = Math.max(0.1, this.#centre().sub(from).dot(ahead));
    const target = from.clone().addScaledVector(ahead, away);
    if (node.camera.type === 'perspective') this.#setLens(THREE.MathUtils.radToDeg(node.camera.fov));
    this.#taken = true;
    void this.#controls.setLookAt(...from.toArray(), ...target.toArray(), false);
    this.invalidate();
  }

  #setLens(degrees: number): void {
    this.#camera.fov = THREE.MathUtils.clamp(degrees, 1, 150);
    this.#camera.updateProjectionMatrix();
  }

  #centre(): THREE.Vector3 {
    const box = worldBox(this.#model, this.#model.nodes, this.#worlds, this.geometry.positionsOf);
    if (!box) return new THREE.Vector3();
    return new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
  }

  setHidden(ids: ReadonlySet<number>): void {
    this.#hidden = ids;
    this.#rebuildSoon();
  }

  select(ids: ReadonlySet<number>): void {
    this.#selected = ids;
    this.#outlineSelection();
    this.#drawOptics();
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
    this.#setLens(LENS);
    const centre = new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
    this.#setPlanes(box);
    const back = this.#taken
      ? this.#controls.getPosition(new THREE.Vector3()).sub(this.#controls.getTarget(new THREE.Vector3())).normalize()
      : START.clone();
    const { clientHeight } = this.canvas;
    const free = Math.max(0.4, (clientHeight - TITLE_BLOCK - LOOKS_BAR) / clientHeight) * 0.97;
    const from = standpoint(box, back, { degrees: LENS, aspect: this.#camera.aspect * (0.94 / free), free });
    void this.#controls.setLookAt(from.x, from.y, from.z, centre.x, centre.y, centre.z, smoothly);
    this.invalidate();
  }

  /** What can be seen from near and from far, around a box. */
  #setPlanes(box: Box): void {
    const centre = new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
    const radius = Math.max(centre.distanceTo(new THREE.Vector3(...box.max)), 1e-4);
    this.#camera.near = radius / 200;
    this.#camera.far = radius * 1000;
    this.#camera.updateProjectionMatrix();
  }

  /** Where the view is looked at from; metres. */
  get standpoint(): Standpoint {
    const vector = ({ x, y, z }: THREE.Vector3): [number, number, number] => [x, y, z];
    return {
      from: vector(this.#controls.getPosition(new THREE.Vector3())),
      to: vector(this.#controls.getTarget(new THREE.Vector3())),
      lens: this.#camera.fov,
    };
  }

  /** Stands there, and frames nothing by itself any more. */
  standAt({ from, to, lens }: Standpoint): void {
    this.#taken = true;
    this.#setLens(lens);
    void this.#controls.setLookAt(...from, ...to, false);
    this.invalidate();
  }

  /** Part under a point of the canvas, pixels from its upper left corner. */
  pick(x: number, y: number): SceneNode | undefined {
    const near = (point: THREE.Vector3) => this.#onScreen(point, x, y);
    return this.#optics.pick(near, SNAP_PIXELS) ?? this.#picker.pick(this.#ray(x, y))?.node;
  }

  /** Distance of a point of the world from a point of the canvas, pixels. */
  #onScreen(point: THREE.Vector3, x: number, y: number): number {
    const { clientWidth, clientHeight } = this.canvas;
    const flat = point.clone().project(this.#camera);
    if (flat.z > 1) return Infinity;
    return Math.hypot(((flat.x + 1) / 2) * clientWidth - x, ((1 - flat.y) / 2) * clientHeight - y);
  }

  #drawOptics(): void {
    const nodes = this.#showsOptics ? this.#model.nodes.filter(({ id }) => !this.#hidden.has(id)) : [];
    this.#optics.draw(nodes, this.#worlds, this.#selected, () =>
      worldBox(this.#model, this.#model.nodes, this.#worlds, this.geometry.positionsOf),
    );
  }

  /** Point of a surface under a point of the canvas, metres; the corner of a triangle where one is near. */
  pointAt(x: number, y: number): [number, number, number] | undefined {
    const hit = this.#picker.pick(this.#ray(x, y));
    if (!hit) return undefined;
    const [near] = hit.corners
      .map((corner) => ({ corner, away: this.#onScreen(corner, x, y) }))
      .sort((a, b) => a.away - b.away);
    return (near && near.away <= SNAP_PIXELS ? near.corner : hit.point).toArray();
  }

  /** Draws what is being measured: a cross at each point and a line between two, metres. */
  showMeasure(points: readonly (readonly [number, number, number])[]): void {
    this.#measure.show(points);
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

  #partsShown(): SceneNode[] {
    return this.#model.nodes.filter((node) => node.mesh && !this.#hidden.has(node.id));
  }

  #build(): void {
    const parts = this.#partsShown();
    const common = { nodes: parts, worlds: this.#worlds, geometry: this.geometry, points: this.#pointMaterial };
    const withEdges = this.#edges && this.#look !== 'triangles';
    makeBatches(
      { ...common, edges: withEdges ? this.#edgeMaterial : undefined, ...this.#lookMaterials() },
      this.#batches,
    );
    if (this.#look === 'triangles')
      makeBatches({ ...common, edges: undefined, materialFor: () => this.#wire }, this.#wires);
    else disposeBatches(this.#wires);
    this.#studio.renew();
    this.#picker.setParts(parts, this.#worlds);
    this.#outlineSelection();
    this.#drawOptics();
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
    const nodes = this.#model.nodes.filter(
      (node) => node.mesh && this.#selected.has(node.id) && !this.#hidden.has(node.id),
    );
    this.#outline.draw(nodes, this.#worlds, this.geometry);
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
        this.#studio.fit(box);
        this.#setPlanes(box);
        this.#ground = makeGround(box, this.#groundLines.fine, this.#groundLines.strong);
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

  /** A small picture of what is seen, without what is selected; JPEG as base64. @param width pixels, at 8 to 5 */
  picture(width: number): string {
    const height = Math.round((width * 5) / 8);
    const small = document.createElement('canvas');
    [small.width, small.height] = [width, height];
    const context = small.getContext('2d');
    if (!context) return '';
    const overlays = [this.#outline.group, this.#measure.group, this.#optics.group];
    for (const group of overlays) group.visible = false;
    this.#renderer.render(this.#scene, this.#camera);
    const { canvas } = this;
    // The middle of the view, as large as fits the shape of the picture. Read before the browser clears it.
    const scale = Math.max(width / canvas.width, height / canvas.height);
    const [w, h] = [width / scale, height / scale];
    context.fillStyle = `#${sheetColour('--view-low').getHexString()}`;
    context.fillRect(0, 0, width, height);
    context.drawImage(canvas, (canvas.width - w) / 2, (canvas.height - h) / 2, w, h, 0, 0, width, height);
    // Drawn again before anybody sees the view without its overlays.
    for (const group of overlays) group.visible = true;
    this.#renderer.render(this.#scene, this.#camera);
    return small.toDataURL('image/jpeg', 0.82).replace(/^data:.*?,/, '');
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

/** Line segments of a selection that are outlined where the processor draws: beyond, it is filled only. */
const ECONOMY_LINES = 150_000;

/** Heights that the title block and the row of looks take from the view, pixels. */
const TITLE_BLOCK = 84;
const LOOKS_BAR = 30;

/** World places of all nodes, with some of them moved. */
function worldsOf(model: Scene, places: ReadonlyMap<number, Matrix> | undefined): Map<number, Matrix> {
  if (!places || places.size === 0) return worldTransforms(model);
  const nodes = model.nodes.map((node) => {
    const transform = places.get(node.id);
    return transform ? { ...node, transform } : node;
  });
  return worldTransforms({ ...model, nodes });
}

function size(model: Scene, mesh: string): number {
  const figures = model.meshes[mesh];
  return figures ? Math.hypot(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis])) : 0;
}
