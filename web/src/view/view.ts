/**
 * The three-dimensional view, plain three.js behind a small interface. It draws only when something has changed, and draws
 * an economy picture where only software rendering is there.
 */
import CameraControls from 'camera-controls';
import * as THREE from 'three';
import { factsOf } from '@noble-prism/core/scene/facts';
import type { Matrix } from '@noble-prism/core/scene/matrix';
import { GONE } from '@noble-prism/core/scene/nodes';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import { NO_ROWS, Rows } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { worldBox, worldBoxInTurns } from '@noble-prism/core/scene/tree';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, Scene, SceneNode } from '@noble-prism/core/scene/types';
import { posedWorlds } from './pose.ts';
import type { Standpoint } from '@noble-prism/wire/job';
import type { Moved } from '../evaluation/client.ts';
import type { Look } from '../stores/looks.ts';
import { batchWork, disposeBatches, placeBatches } from './batches.ts';
import type { BatchInput } from './batches.ts';
import { standpoint } from './framing.ts';
import { GeometryStore } from './geometry.ts';
import type { ViewGeometry } from './geometry.ts';
import { drawsInSoftware, rememberSoftware } from './economy.ts';
import { disposeGround, makeGround } from './ground.ts';
import type { Ground } from './ground.ts';
import { lightScene } from './light.ts';
import type { Studio } from './light.ts';
import { edgeMaterial, layerColour, MaterialStore, sheetColour } from './materials.ts';
import { hasOptics, OpticsLayer } from './optics.ts';
import { Outline } from './outline.ts';
import { MeasureLine } from './measureLine.ts';
import { Pace } from './pace.ts';
import { pictureOf } from './picture.ts';
import { Turns } from './turns.ts';
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
  readonly #pace: Pace;
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
  #worlds: Float64Array = new Float64Array();
  #hidden: RowSet = NO_ROWS;
  #selected: RowSet = NO_ROWS;
  #look: Look = 'finished';
  #edges = true;
  #hues: { of: Int32Array; colours: THREE.Color[] } = { of: new Int32Array(), colours: [] };
  /** Rows that are drawn: those with geometry that are not hidden. */
  #shown: Rows | undefined;
  /** Meshes that have arrived since the batches were made. */
  readonly #arrived = new Set<string>();
  #box: { of: unknown[]; box: Box | undefined } = { of: [], box: undefined };
  #manyEdges: { of: unknown[]; are: boolean } = { of: [], are: false };
  readonly #batches = new THREE.Group();
  /** Triangles as lines over the surfaces, where that is the look. */
  readonly #wires = new THREE.Group();
  readonly #outline: Outline;
  readonly #optics: OpticsLayer;
  readonly #studio: Studio;
  #showsOptics = true;
  #places: ReadonlyMap<number, Matrix> | undefined;
  /** Number of the scene that was given last. */
  #number = NaN;
  /** Rows that have moved since the batches were made; all may have where there is no set. */
  #moved: Set<number> | undefined;
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
  readonly #turns = new Turns();
  /** Shaders of new materials are being made. */
  #compiling = false;
  readonly #compiled = new WeakSet<THREE.Material>();
  #adding = 0;
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
    rememberSoftware(this.#renderer.getContext());
    this.#pace = new Pace(this.#renderer.getContext() as WebGL2RenderingContext);
    // Asking for them waits until the graphics card has done all that it was asked for.
    this.#renderer.debug.checkShaderErrors = import.meta.env.DEV;
    this.#renderer.setPixelRatio(this.economy ? 1 : Math.min(2, window.devicePixelRatio));
    this.#renderer.toneMapping = THREE.NeutralToneMapping;
    this.#textures = new TextureStore(() => this.invalidate());
    this.#materials = new MaterialStore(this.economy, this.#textures);
    this.geometry = new GeometryStore((mesh) => this.#addSoon(mesh), options.failed);
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

  /** @param moved what stands elsewhere than in the scene before; everything where that is not known */
  setScene(model: Scene, moved?: Moved): void {
    const [before, now] = [this.#model.nodes.columns, model.nodes.columns];
    const isLook = this.#model.materials !== model.materials || this.#model.textures !== model.textures;
    const { worlds } = factsOf(model);
    const isSame = (['mesh', 'materials', 'kind', 'place', 'parent', 'offset', 'layer', 'extras'] as const).every(
      (name) => before[name] === now[name],
    );
    this.#model = model;
    this.#remember(moved);
    // New names are nothing to be drawn.
    if (isSame && !isLook) return;
    if (before.mesh !== now.mesh || before.kind !== now.kind) {
      this.#shown = undefined;
      this.geometry.want(largestFirst(model));
    }
    this.#worlds = this.#places ? posedWorlds(model, this.#places) : worlds;
    this.#rebuildSoon();
  }

  /** Gathers what has moved until the batches are made. */
  #remember(moved: Moved | undefined): void {
    // A scene between this one and the last may have been passed over.
    const isNext = moved?.number === this.#number + 1;
    this.#number = moved?.number ?? NaN;
    if (!moved || !isNext || moved.rows === 'all') this.#moved = undefined;
    else if (moved.rows !== 'none') for (const row of moved.rows) this.#moved?.add(row);
  }

  /** Puts nodes where they are at a moment: their places in their parents by node, or at rest. */
  pose(places: ReadonlyMap<number, Matrix> | undefined): void {
    // At rest and nothing had moved.
    if (!places && !this.#places) return;
    this.#places = places;
    // What an animation had moved is back, or somewhere else.
    this.#moved = undefined;
    this.#worlds = places ? posedWorlds(this.#model, places) : factsOf(this.#model).worlds;
    const input = { scene: this.#model, worlds: this.#worlds };
    placeBatches(this.#batches, input);
    placeBatches(this.#wires, input);
    this.#outline.place(input);
    this.#studio.renew();
    this.#picker.setParts(this.#model, this.#rowsShown(), this.#worlds);
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
    if (!this.#model.nodes.has(node.id) || !node.camera) return;
    const place = new THREE.Matrix4().fromArray(matrixAt(this.#worlds, node.id * STRIDE));
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
    const box = this.boxOfAll();
    if (!box) return new THREE.Vector3();
    return new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
  }

  setHidden(rows: RowSet): void {
    if (rows.size === 0 && this.#hidden.size === 0) return;
    this.#hidden = rows;
    this.#shown = undefined;
    this.#rebuildSoon();
  }

  select(rows: RowSet): void {
    if (rows.size === 0 && this.#selected.size === 0) return;
    this.#selected = rows;
    this.#turns.start('selection', this.#drawSelection());
  }

  *#drawSelection(): Generator<void> {
    yield* this.#outlineSelection();
    this.#compileNew(this.#outline.group);
    this.#drawOptics();
    this.invalidate();
  }

  look(way: Look, edges: boolean): void {
    this.#look = way;
    this.#edges = edges;
    this.#rebuildSoon();
  }

  /** Hues of the density look. @param of number of its hue for each row, -1 for none */
  setHues(of: Int32Array, hues: readonly string[]): void {
    this.#hues = { of, colours: hues.map((text) => new THREE.Color().setStyle(text)) };
    if (this.#look === 'density') this.#rebuildSoon();
  }

  /** Turns the camera to some parts, or to everything. */
  frame(rows?: RowSet): void {
    const wanted = rows ?? (this.#hidden.size > 0 ? this.#rowsShown() : undefined);
    const box = wanted ? worldBox(this.#model, wanted, this.geometry.positionsOf, this.#worlds) : this.boxOfAll();
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
    const nodes = this.#showsOptics ? opticsOf(this.#model).filter(({ id }) => !this.#hidden.has(id)) : [];
    const worlds = { get: (row: number) => matrixAt(this.#worlds, row * STRIDE) };
    this.#optics.draw(nodes, worlds, this.#selected, () => this.boxOfAll());
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
    // What is under way would be of the scene before.
    this.#turns.start('all', this.#build());
  }

  /** Geometry that arrives is added to what is drawn; nothing else is looked at again. */
  #addSoon(mesh: string): void {
    this.#arrived.add(mesh);
    this.#adding ||= requestAnimationFrame(() => {
      this.#adding = 0;
      // All is made anew soon anyway.
      if (this.#turns.isBusy || this.#arrived.size === 0) return;
      for (const _ of this.#drawBatches(new Set(this.#arrived)));
      this.#arrived.clear();
      this.#compileNew(this.#batches);
      if (this.#selected.size > 0) this.#turns.start('selection', this.#drawSelection());
      this.#layGround();
      this.options.changed();
      this.invalidate();
    });
  }

  #rowsShown(): Rows {
    if (this.#shown) return this.#shown;
    const { mesh, kind } = this.#model.nodes.columns;
    const mask = new Uint8Array(mesh.length);
    for (let row = 0; row < mask.length; row++)
      mask[row] = mesh[row] > 0 && kind[row] !== GONE && !this.#hidden.has(row) ? 1 : 0;
    return (this.#shown = new Rows(mask));
  }

  /** @param only meshes that have arrived, where the others are drawn already */
  *#drawBatches(only?: ReadonlySet<string>): Generator<void> {
    const common = {
      scene: this.#model,
      rows: this.#rowsShown(),
      worlds: this.#worlds,
      geometry: this.geometry,
      points: this.#pointMaterial,
      ...(only ? { only } : {}),
      ...(this.#moved && !this.#places ? { moved: this.#moved } : {}),
    };
    const withEdges = this.#edges && this.#look !== 'triangles' && !(this.economy && this.#hasManyEdges());
    const edges = withEdges ? this.#edgeMaterial : undefined;
    yield* batchWork({ ...common, edges, ...this.#lookMaterials() }, this.#batches);
    if (this.#look === 'triangles')
      yield* batchWork({ ...common, edges: undefined, materialFor: () => this.#wire }, this.#wires);
    else disposeBatches(this.#wires);
    this.#studio.renew();
  }

  /** True where edges are wished for and there are too many of them to be drawn without a graphics card. */
  get leavesOutEdges(): boolean {
    return this.#edges && this.economy && this.#hasManyEdges();
  }

  /** More lines than the processor draws in a moment: the same until other rows or meshes are shown. */
  #hasManyEdges(): boolean {
    const of = [this.#rowsShown(), this.#model.nodes.columns.mesh];
    if (of.some((one, i) => one !== this.#manyEdges.of[i])) this.#manyEdges = { of, are: this.#countManyEdges() };
    return this.#manyEdges.are;
  }

  /** Counted from the figures, whether or not the geometry has arrived. */
  #countManyEdges(): boolean {
    const { nodes, meshes } = this.#model;
    const { mesh } = nodes.columns;
    const { mask } = this.#rowsShown();
    const known: number[] = [];
    let sum = 0;
    for (let row = 0; row < mesh.length && sum <= ECONOMY_EDGES; row++)
      if (mask[row] === 1) sum += known[mesh[row]] ??= meshes[nodes.word('mesh', row)].edges;
    return sum > ECONOMY_EDGES;
  }

  /** Box of everything as it was found last, metres. */
  readonly knownBox = (): Box | undefined => this.#box.box;

  /** Box of everything, metres: the same until places, shapes or the geometry that is at hand are others. */
  readonly boxOfAll = (): Box | undefined => {
    const work = this.#findBox();
    while (!work.next().done);
    return this.#box.box;
  };

  *#findBox(): Generator<void> {
    const { mesh, kind, offset } = this.#model.nodes.columns;
    const of = [this.#worlds, mesh, kind, offset, this.geometry.arrivals];
    if (of.every((one, i) => one === this.#box.of[i])) return;
    const box = yield* worldBoxInTurns(this.#model, undefined, this.geometry.positionsOf, this.#worlds);
    this.#box = { of, box };
  }

  /** Has the shaders of new materials made before anything is drawn with them: the page does not wait for them. */
  #compileNew(group: THREE.Group): void {
    let isNew = false;
    group.traverse(({ material = [] }: THREE.Object3D & { material?: THREE.Material | THREE.Material[] }) => {
      for (const one of [material].flat())
        if (!this.#compiled.has(one)) {
          this.#compiled.add(one);
          isNew = true;
        }
    });
    if (!isNew) return;
    this.#compiling = true;
    const done = () => {
      this.#compiling = false;
      this.invalidate();
    };
    this.#renderer.compileAsync(this.#scene, this.#camera).then(done, done);
  }

  *#build(): Generator<void> {
    this.#arrived.clear();
    yield* this.#drawBatches();
    this.#compileNew(this.#batches);
    this.#moved = new Set();
    this.#picker.setParts(this.#model, this.#rowsShown(), this.#worlds);
    yield;
    yield* this.#drawSelection();
    yield* this.#findBox();
    this.#layGround();
    yield;
    this.options.changed();
    this.invalidate();
  }

  #lookMaterials(): Pick<BatchInput, 'materialFor' | 'tint'> {
    if (this.#look === 'finished')
      return { materialFor: (id, { coloured }) => this.#materials.finished(this.#model, id, coloured) };
    const layers = [...new Set(this.#model.layers.map((layer) => layer.name))];
    const grey = new THREE.Color('#b9b6ad');
    const { layer } = this.#model.nodes.columns;
    const colours = new Map<number, THREE.Color>();
    const tint = (row: number) => {
      if (this.#look === 'density') return this.#hues.colours[this.#hues.of[row]] ?? grey;
      if (this.#look !== 'layers') return grey;
      let colour = colours.get(layer[row]);
      if (!colour) {
        colour = layerColour(layer[row] === 0 ? -1 : layers.indexOf(this.#model.nodes.word('layer', row)));
        colours.set(layer[row], colour);
      }
      return colour;
    };
    return { materialFor: () => this.#materials.tinted(true), tint };
  }

  *#outlineSelection(): Generator<void> {
    const rows = this.#selected.size === 0 ? NO_ROWS : both(this.#selected, this.#rowsShown());
    yield* this.#outline.draw({ scene: this.#model, rows, worlds: this.#worlds, geometry: this.geometry });
  }

  #layGround(): void {
    const box = this.boxOfAll();
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

  /** True where a frame is drawn so quickly that one more for a picture is not noticed. */
  get isQuick(): boolean {
    return this.#pace.isFree && !this.#turns.isBusy && this.#pace.cost < QUICK;
  }

  /** A small picture of what is seen, without what is selected; JPEG as base64. @param width pixels, at 8 to 5 */
  picture(width: number): Promise<string> {
    const overlays = [this.#outline.group, this.#measure.group, this.#optics.group];
    return pictureOf(this.#renderer, this.#scene, this.#camera, overlays, width);
  }

  /** Asks for a frame. */
  invalidate(): void {
    if (this.#wanted) return;
    this.#wanted = requestAnimationFrame(() => {
      this.#wanted = 0;
      // Half of the old and half of the new is nothing to be shown.
      if (!this.#pace.isFree || this.#turns.isBusy || this.#compiling) return this.invalidate();
      const now = performance.now();
      // After a rest the camera must not jump by the time that has passed.
      const moving = this.#controls.update(Math.min(0.1, (now - this.#lastFrame) / 1000));
      this.#lastFrame = now;
      this.#renderer.render(this.#scene, this.#camera);
      this.#pace.begun();
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
    this.#turns.stop();
    this.#pace.stop();
    cancelAnimationFrame(this.#adding);
    this.#observer.disconnect();
    this.#controls.dispose();
    this.geometry.dispose();
    this.#materials.dispose();
    this.#textures.dispose();
    this.#renderer.dispose();
  }
}

/** Milliseconds. */
const QUICK = 700;

/** Line segments that are drawn as feature edges where the processor draws. */
const ECONOMY_EDGES = 400_000;

/** Line segments of a selection that are outlined where the processor draws: beyond, it is filled only. */
const ECONOMY_LINES = 150_000;

/** Heights that the title block and the row of looks take from the view, pixels. */
const TITLE_BLOCK = 84;
const LOOKS_BAR = 30;

/** Meshes of a scene, large ones first: they tell most of what the model is. */
function largestFirst(model: Scene): string[] {
  const { mesh, kind } = model.nodes.columns;
  const words = new Set<number>();
  for (let row = 0; row < mesh.length; row++) if (mesh[row] > 0 && kind[row] !== GONE) words.add(mesh[row]);
  const meshes = [...words].map((word) => model.nodes.tables.words.get(word));
  const sizes = new Map(meshes.map((hash) => [hash, size(model, hash)]));
  return meshes.sort((a, b) => (sizes.get(b) ?? 0) - (sizes.get(a) ?? 0));
}

/** Cameras and lights of a scene. */
function opticsOf({ nodes }: Scene): SceneNode[] {
  const { extras } = nodes.columns;
  const out: SceneNode[] = [];
  if (nodes.tables.extras.length > 1)
    for (let row = 0; row < extras.length; row++)
      if (extras[row] > 0 && nodes.has(row) && hasOptics(nodes.row(row))) out.push(nodes.row(row));
  return out;
}

/** Rows that are in one set and in the other. */
function both(a: RowSet, { mask }: Rows): Rows {
  const out = new Uint8Array(mask.length);
  for (const row of a) out[row] = mask[row] ?? 0;
  return new Rows(out);
}

function size(model: Scene, mesh: string): number {
  const figures = model.meshes[mesh];
  return figures ? Math.hypot(...figures.bounds.max.map((high, axis) => high - figures.bounds.min[axis])) : 0;
}
