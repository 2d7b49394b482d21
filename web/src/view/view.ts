/**
 * The three-dimensional view, plain three.js behind a small interface. It draws only when something has changed, and draws
 * an economy picture where only software rendering is there.
 */
import * as THREE from 'three';
import { factsOf } from '@noble-prism/core/scene/facts';
import type { PickedFace } from '@noble-prism/core/measure/face';
import type { Snap } from '@noble-prism/core/measure/snap';
import type { Matrix, Vector } from '@noble-prism/core/scene/matrix';
import { GONE } from '@noble-prism/core/scene/nodes';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import { NO_ROWS, Rows } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { worldBox, worldBoxInTurns } from '@noble-prism/core/scene/tree';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { Box, Scene, SceneNode } from '@noble-prism/core/scene/types';
import { posedWorlds } from './pose.ts';
import type { Moved } from '../evaluation/client.ts';
import type { Look } from '../stores/looks.ts';
import { batchWork, disposeBatches, lateCrowdsIn, placeBatches } from './batches.ts';
import { Callouts } from './callouts.ts';
import type { Callout } from './callouts.ts';
import { CameraWork } from './cameraWork.ts';
import { LEAST } from './crowds.ts';
import { dressing } from './dressing.ts';
import type { Hues } from './dressing.ts';
import { EdgeCount } from './edgeCount.ts';
import { FaceLayer } from './faceLayer.ts';
import type { ExactOf } from './faceLayer.ts';
import { fittedAxis } from './fittedAxis.ts';
import { GeometryStore } from './geometry.ts';
import type { ViewGeometry } from './geometry.ts';
import { drawsInSoftware, rememberSoftware } from './economy.ts';
import { GroundLayer } from './groundLayer.ts';
import { Held } from './held.ts';
import { lightScene } from './light.ts';
import type { Studio } from './light.ts';
import { edgeMaterial, MaterialStore, sheetColour } from './materials.ts';
import { OpticsLayer } from './optics.ts';
import { Outline } from './outline.ts';
import { MeasureLine } from './measureLine.ts';
import { Pace } from './pace.ts';
import { pictureOf } from './picture.ts';
import { PivotMarks } from './pivotMarks.ts';
import { both, largestFirst, opticsOf } from './rowsOfView.ts';
import { Share } from './share.ts';
import { rowsInFront } from './inFront.ts';
import { rowsWithin } from './rectangle.ts';
import type { Rectangle } from './rectangle.ts';
import { SectionBox } from './sectionBox.ts';
import type { Face } from './sectionBox.ts';
import { Snapping } from './snapping.ts';
import { Turns } from './turns.ts';
import { TextureStore } from './textures.ts';
import { Wipe } from './wipe.ts';
import { Picker } from './picking.ts';

export interface ViewOptions {
  /** Told when geometry arrived, the camera moved, or a frame was drawn: readings may have changed. */
  changed(): void;
  failed(error: unknown): void;
  exactOf: ExactOf;
}

/** A click this near to a corner means the corner. */
const SNAP_PIXELS = 12;

export class View {
  readonly geometry: GeometryStore;
  readonly economy: boolean;
  readonly #renderer: THREE.WebGLRenderer;
  readonly #pace: Pace;
  readonly #scene = new THREE.Scene();
  /** Where it is looked at from. */
  readonly eye: CameraWork;
  readonly #picker: Picker;
  readonly #snapping: Snapping;
  readonly #faces: FaceLayer;
  readonly #textures: TextureStore;
  readonly #materials: MaterialStore;
  readonly #edgeMaterial = edgeMaterial();
  readonly #measure = new MeasureLine();
  readonly #pivots = new PivotMarks();
  readonly #callouts = new Callouts();
  /** Rows whose pivots are shown. */
  #marked: RowSet = NO_ROWS;
  readonly section = new SectionBox();
  readonly #wipe = new Wipe();
  readonly #isDrawn = (point: THREE.Vector3) => this.section.holds(point);
  readonly #wire = new THREE.MeshBasicMaterial({ wireframe: true, transparent: true, opacity: 0.5 });
  #model: Scene = EMPTY_SCENE;
  #worlds: Float64Array = new Float64Array();
  #hidden: RowSet = NO_ROWS;
  #selected: RowSet = NO_ROWS;
  #faded: Rows = NO_ROWS;
  #look: Look = 'finished';
  #edges = true;
  #hues: Hues = { of: new Int32Array(), colours: [] };
  /** Rows that are drawn: those with geometry that are not hidden. */
  #shown: Rows | undefined;
  /** Distinct meshes of the scene. */
  #shapes = 0;
  /** Meshes that have arrived since the batches were made. */
  readonly #arrived = new Set<string>();
  #box: { of: unknown[]; box: Box | undefined } = { of: [], box: undefined };
  readonly #edgeCount = new EdgeCount();
  readonly #batches = new THREE.Group();
  /** What is faded. */
  readonly #ghosts = new THREE.Group();
  readonly #held = new Held();
  readonly #ghost = new THREE.MeshBasicMaterial({ transparent: true, opacity: 0.1, depthWrite: false, side: THREE.DoubleSide }); // prettier-ignore
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
  readonly #ground = new GroundLayer();
  #wanted = 0;
  #before: (() => void) | undefined;
  readonly #turns = new Turns();
  /** Shaders of new materials are being made. */
  #compiling = false;
  readonly #compiled = new WeakSet<THREE.Material>();
  /** What arrives is added as its share of the time allows. */
  readonly #adding = new Share();
  /** Something was added since the last frame. */
  #hasMore = false;
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
    this.#picker = new Picker(this.geometry, this.#isDrawn);
    this.#faces = new FaceLayer(this.#picker, this.geometry, options.exactOf);
    this.#studio = lightScene(this.#scene, this.#renderer, this.economy);
    this.#scene.add(
      this.#ground.group,
      this.#batches,
      this.#ghosts,
      this.#held.group,
      this.#wires,
      this.#outline.group,
      this.#optics.group,
      this.#measure.group,
      this.section.group,
      this.#wipe.group,
      this.#faces.group,
      this.#pivots.group,
      this.#callouts.group,
    );
    this.eye = new CameraWork(canvas, this.economy, () => this.invalidate());
    this.#snapping = new Snapping(this.#picker, this.geometry, this.eye, this.#isDrawn, options.exactOf);
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
    this.#ghost.color = sheetColour('--ink-2');
    this.#optics.setColour(sheetColour('--ink-2'));
    this.#outline.setColour(sheetColour('--iris'));
    this.#measure.setColour(sheetColour('--iris'));
    this.section.setColour(sheetColour('--iris'));
    this.#faces.setColour(sheetColour('--iris'));
    this.#pivots.setColour(sheetColour('--ink'));
    this.#callouts.setSheet();
    this.#ground.setSheet();
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
    this.#worlds = this.#places ? posedWorlds(model, this.#places) : worlds;
    this.markPivots(this.#marked);
    // New names are nothing to be drawn.
    if (isSame && !isLook) return;
    // What was dragged stands there now.
    if (this.#held.rows.size > 0) this.shiftHeld([0, 0, 0]);
    if (before.mesh !== now.mesh || before.kind !== now.kind) {
      this.#shown = undefined;
      this.#faded = NO_ROWS;
      const meshes = largestFirst(model);
      this.#shapes = meshes.length;
      this.geometry.want(meshes);
    }
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
    placeBatches(this.#ghosts, input);
    placeBatches(this.#held.group, input);
    this.#outline.place(input);
    this.#studio.renew();
    this.#picker.setParts(this.#model, this.#rowsSolid(), this.#worlds);
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
    if (this.#model.nodes.has(node.id)) this.eye.lookThrough(node, this.#worlds, this.#centre());
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
    this.#fade(NO_ROWS);
    this.#turns.start('selection', this.#drawSelection());
  }

  *#drawSelection(): Generator<void> {
    yield* this.#outlineSelection();
    for (const { children } of this.#outline.parts) this.#compileNew(children);
    this.#drawOptics();
    this.invalidate();
  }

  /** Shows the pivots of some rows. */
  markPivots(rows: RowSet): void {
    this.#marked = rows;
    this.#pivots.show(this.#model, rows, this.#worlds);
    this.invalidate();
  }

  /** Shows names and figures at what they are about. */
  showCallouts(callouts: readonly Callout[]): void {
    this.#callouts.show(callouts);
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
    if (box) this.eye.turnTo(box);
    this.#fade(rows && box ? this.#inFrontOf(rows, box) : NO_ROWS);
  }

  #inFrontOf(rows: RowSet, box: Box): Rows {
    // Whatever was faded before is asked about anew.
    this.#picker.setParts(this.#model, this.#rowsShown(), this.#worlds);
    const eye = this.eye.controls.getPosition(new THREE.Vector3());
    return rowsInFront(this.#picker, eye, rows, box, this.#model.nodes.rows);
  }

  /** Parts that are faded, so that they do not stand before what was framed. */
  get faded(): number {
    return this.#faded.size;
  }

  /** Draws faded parts as the others again. */
  unfade(): void {
    this.#fade(NO_ROWS);
  }

  #fade(rows: Rows): void {
    if (rows.size === 0 && this.#faded.size === 0) return;
    this.#faded = rows;
    this.#rebuildSoon();
  }

  /** Rows that are drawn, and neither faded nor held: those that can be picked. */
  #rowsSolid(): Rows {
    const shown = this.#rowsShown();
    if (this.#faded.size === 0 && this.#held.rows.size === 0) return shown;
    return new Rows(shown.mask.map((one, row) => (this.#faded.has(row) || this.#held.rows.has(row) ? 0 : one)));
  }

  /** Draws some rows by themselves, so that they can be dragged; none any more where none are given. */
  hold(rows: RowSet = NO_ROWS): void {
    if (rows.size === 0 && this.#held.rows.size === 0) return;
    this.#held.rows = rows;
    this.shiftHeld([0, 0, 0]);
    this.#rebuildSoon();
  }

  /** Where a point of the canvas meets what is held, or what of it is near: world, metres. */
  heldAt(x: number, y: number): Vector | undefined {
    const own = new Picker(this.geometry, this.#isDrawn);
    own.setParts(this.#model, both(this.#held.rows, this.#rowsShown()), this.#worlds);
    return new Snapping(own, this.geometry, this.eye, this.#isDrawn, this.options.exactOf).at(x, y)?.point;
  }

  /** Where what is held is to be put: on what is under the pointer, else as near as it was taken. @param taken where it was taken */
  targetAt(x: number, y: number, taken: Vector): { point: Vector; snap?: Snap } {
    const snap = this.#snapping.at(x, y);
    this.#measure.mark(snap?.point, []);
    return snap ? { point: snap.point, snap } : { point: Held.across(this.eye, x, y, taken) };
  }

  /** Moves what is held, world, metres from where it stands. */
  shiftHeld(way: Vector): void {
    this.#held.shift(way, [this.#outline.group, this.#pivots.group]);
    this.invalidate();
  }

  /** Part under a point of the canvas, pixels from its upper left corner. */
  pick(x: number, y: number): SceneNode | undefined {
    const near = (point: THREE.Vector3) => this.eye.onScreen(point, x, y);
    return this.#optics.pick(near, SNAP_PIXELS) ?? this.#picker.pick(this.eye.ray(x, y))?.node;
  }

  /** Keys of the parts within a rectangle of the canvas, in the order of the tree. */
  partsWithin(rectangle: Rectangle, how: 'inside' | 'touched'): string[] {
    const { clientWidth: width, clientHeight: height } = this.canvas;
    const picture = { scene: this.#model, rows: this.#rowsShown(), worlds: this.#worlds, geometry: this.geometry, camera: this.eye.camera, width, height }; // prettier-ignore
    return rowsWithin(picture, rectangle, how).map((row) => this.#model.nodes.key(row));
  }

  #drawOptics(): void {
    const nodes = this.#showsOptics ? opticsOf(this.#model).filter(({ id }) => !this.#hidden.has(id)) : [];
    const worlds = { get: (row: number) => matrixAt(this.#worlds, row * STRIDE) };
    this.#optics.draw(nodes, worlds, this.#selected, () => this.boxOfAll());
  }

  /** What is meant at a point of the canvas, pixels from its upper left corner; shown with the centres that are offered. */
  snapAt(x: number, y: number, axes = false): Snap | undefined {
    const snap = this.#snapping.at(x, y, axes);
    // Nothing there, as before: nothing to be drawn.
    if (!snap && !this.#measure.isMarked) return undefined;
    this.#measure.mark(
      snap?.point,
      this.#snapping.offered.map(({ point }) => point),
    );
    this.invalidate();
    return snap;
  }

  /** Nothing is pointed at any more. */
  endSnap(): void {
    this.#snapping.forget();
    this.#measure.mark(undefined, []);
    this.invalidate();
  }

  /** The face at a point of the canvas. @param angle see {@link FaceLayer.at} */
  faceAt(x: number, y: number, angle: number): PickedFace | undefined {
    return this.#faces.at(this.eye.ray(x, y), this.#model, angle);
  }

  /** The axis of the hole or shaft at a point of the canvas, fitted to the mesh where its solid is not known; unless an edge is meant. */
  axisAt(x: number, y: number, angle: number, wanted: boolean): Snap | undefined {
    const snap = wanted ? this.#snapping.at(x, y, true) : undefined;
    if (!snap || snap.kind !== 'face') return snap;
    const face = this.#faces.at(this.eye.ray(x, y), this.#model, angle);
    return face && fittedAxis(face, snap, this.#model, this.geometry);
  }

  showFaces(faces: readonly PickedFace[]): void {
    this.#faces.show(faces, this.#model, this.#worlds);
    // What is selected has the same colour.
    this.#outline.group.visible = faces.length === 0;
    this.invalidate();
  }

  /** Draws what is being measured: a mark at each point and a line between two, metres. */
  showMeasure(points: readonly Vector[]): void {
    this.#measure.show(points);
    this.invalidate();
  }

  /** Shows another scene in the left part of the picture; none where there is nothing to be compared. */
  wipe(scene: Scene | undefined, share: number): void {
    this.#wipe.share = share;
    if (scene !== this.#wipe.scene) {
      this.#wipe.scene = scene;
      if (scene) this.geometry.want(largestFirst(scene));
      this.#turns.start('wipe', this.#drawWipe());
    }
    this.invalidate();
  }

  *#drawWipe(): Generator<void> {
    yield* this.#wipe.build({
      geometry: this.geometry,
      points: this.#pointMaterial,
      edges: this.#drawsEdges ? this.#edgeMaterial : undefined,
      ...dressing(this.#look, this.#wipe.scene ?? EMPTY_SCENE, this.#materials, NO_HUES),
    });
    this.#compileNew(this.#wipe.group.children);
    this.#studio.renew();
    this.invalidate();
  }

  #renderBoth(): void {
    const own = [this.#batches, this.#wires, this.#ghosts, this.#held.group, this.#outline.group];
    this.#wipe.render(this.#renderer, this.#scene, this.eye.camera, own, () => this.#studio.renew());
  }

  /** Draws only what is inside a box, metres; everything where there is none. */
  setSection(box: Box | undefined): void {
    this.section.set(box);
    this.#renderer.clippingPlanes = this.section.planes;
    this.#studio.renew();
    this.invalidate();
  }

  /** The face of the section box whose handle lies at a point of the canvas. */
  sectionFaceAt(x: number, y: number): Face | undefined {
    return this.section.faceAt((point) => this.eye.onScreen(new THREE.Vector3(...point), x, y), SNAP_PIXELS);
  }

  /** Distance of the ruled lines, metres. */
  get pitch(): number {
    return this.#ground.pitch;
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
    this.#adding.soon(() => this.#add());
  }

  #add(): void {
    if (this.#arrived.size === 0) return;
    // All is made anew soon anyway.
    if (this.#turns.isBusy) return this.#adding.soon(() => this.#add());
    // So many are gathered anew, in turns.
    if (lateCrowdsIn(this.#batches) > MOST_LATE) return this.#rebuildSoon();
    const known = this.#batches.children.length;
    for (const _ of this.#drawBatches(new Set(this.#arrived)));
    this.#arrived.clear();
    this.#compileNew(this.#batches.children.slice(known));
    if (this.#selected.size > 0) this.#turns.start('selection', this.#drawSelection());
    this.#turns.start('ground', this.#fitGround());
    if (this.#wipe.scene) this.#turns.start('wipe', this.#drawWipe());
    this.#hasMore = true;
    this.invalidate();
  }

  /** What has arrived can only make the box of everything tighter: that has time. */
  *#fitGround(): Generator<void> {
    yield* this.#findBox();
    this.#layGround();
    this.options.changed();
    this.invalidate();
  }

  /** Parts are drawn together where there are many shapes, none needs a colour of its own, and nothing moves by itself. */
  get #drawsCrowds(): boolean {
    const isPlain = this.#look === 'finished' || this.#look === 'triangles';
    return isPlain && this.#shapes >= LEAST && Object.keys(this.#model.animations).length === 0;
  }

  #rowsShown(): Rows {
    if (this.#shown) return this.#shown;
    const { mesh, kind } = this.#model.nodes.columns;
    const mask = new Uint8Array(mesh.length);
    for (let row = 0; row < mask.length; row++)
      mask[row] = mesh[row] > 0 && kind[row] !== GONE && !this.#hidden.has(row) ? 1 : 0;
    return (this.#shown = new Rows(mask));
  }

  get #drawsEdges(): boolean {
    if (!this.#edges || this.#look === 'triangles') return false;
    return !(this.economy && this.#edgeCount.areMany(this.#model, this.#rowsShown()));
  }

  /** @param only meshes that have arrived, where the others are drawn already */
  *#drawBatches(only?: ReadonlySet<string>): Generator<void> {
    const common = {
      scene: this.#model,
      rows: this.#rowsSolid(),
      worlds: this.#worlds,
      geometry: this.geometry,
      points: this.#pointMaterial,
      crowds: this.#drawsCrowds,
      ...(only ? { only } : {}),
      ...(this.#moved && !this.#places ? { moved: this.#moved } : {}),
    };
    const edges = this.#drawsEdges ? this.#edgeMaterial : undefined;
    yield* batchWork(
      { ...common, edges, ...dressing(this.#look, this.#model, this.#materials, this.#hues) },
      this.#batches,
    );
    if (this.#look === 'triangles')
      yield* batchWork({ ...common, edges: undefined, materialFor: () => this.#wire }, this.#wires);
    else disposeBatches(this.#wires);
    if (this.#faded.size > 0) {
      const ghosts = { rows: both(this.#faded, this.#rowsShown()), materialFor: () => this.#ghost, shadows: false };
      yield* batchWork({ ...common, ...ghosts, edges: undefined, crowds: false }, this.#ghosts);
    } else disposeBatches(this.#ghosts);
    if (this.#held.rows.size > 0) {
      const held = { rows: both(this.#held.rows, this.#rowsShown()), crowds: false };
      yield* batchWork({ ...common, ...held, edges, ...dressing(this.#look, this.#model, this.#materials, this.#hues) }, this.#held.group); // prettier-ignore
    } else disposeBatches(this.#held.group);
    this.#studio.renew();
  }

  /** True where edges are wished for and there are too many of them to be drawn without a graphics card. */
  get leavesOutEdges(): boolean {
    return this.#edges && this.economy && this.#edgeCount.areMany(this.#model, this.#rowsShown());
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
  #compileNew(objects: readonly (THREE.Object3D & { material?: THREE.Material | THREE.Material[] })[]): void {
    let isNew = false;
    for (const { material = [] } of objects)
      for (const one of Array.isArray(material) ? material : [material])
        if (!this.#compiled.has(one)) {
          this.#compiled.add(one);
          isNew = true;
        }
    if (!isNew) return;
    this.#compiling = true;
    const done = () => {
      this.#compiling = false;
      this.invalidate();
    };
    this.#renderer.compileAsync(this.#scene, this.eye.camera).then(done, done);
  }

  *#build(): Generator<void> {
    this.#arrived.clear();
    yield* this.#drawBatches();
    this.#compileNew([...this.#batches.children, ...this.#held.group.children]);
    this.#moved = new Set();
    this.#picker.setParts(this.#model, this.#rowsSolid(), this.#worlds);
    yield;
    if (this.#wipe.scene) yield* this.#drawWipe();
    yield* this.#drawSelection();
    yield;
    yield* this.#fitGround();
  }

  *#outlineSelection(): Generator<void> {
    const rows = this.#selected.size === 0 ? NO_ROWS : both(this.#selected, this.#rowsShown());
    yield* this.#outline.draw({ scene: this.#model, rows, worlds: this.#worlds, geometry: this.geometry });
  }

  #layGround(): void {
    const box = this.boxOfAll();
    const isOther = this.#ground.lay(box);
    if (box && isOther) {
      this.#studio.fit(box);
      this.eye.setPlanes(box);
    }
    // The first parts may be a corner of the whole: framed again as it grows, until somebody takes the camera.
    if (box && isOther && !this.eye.isTaken) this.eye.frame(box, false);
  }

  #resize(): void {
    const { clientWidth, clientHeight } = this.canvas.parentElement as HTMLElement;
    if (clientWidth === 0 || clientHeight === 0) return;
    this.#renderer.setSize(clientWidth, clientHeight, false);
    this.eye.resize(clientWidth, clientHeight);
    this.invalidate();
  }

  /** True where a frame is drawn so quickly that one more for a picture is not noticed. */
  get isQuick(): boolean {
    return this.#pace.isFree && !this.#turns.isBusy && this.#pace.cost < QUICK;
  }

  /** A small picture of what is seen, without what is selected; JPEG as base64. @param width pixels, at 8 to 5 */
  picture(width: number): Promise<string> {
    const overlays = [
      this.#outline.group,
      this.#measure.group,
      this.#optics.group,
      this.section.group,
      this.#faces.group,
      this.#pivots.group,
      this.#callouts.group,
    ];
    return pictureOf(this.#renderer, this.#scene, this.eye.camera, overlays, width);
  }

  /** Does something just before the next frame is drawn, which is asked for; what was to be done so far is not. */
  beforeFrame(work: () => void): void {
    this.#before = work;
    this.invalidate();
  }

  /** Asks for a frame. */
  invalidate(): void {
    if (this.#wanted) return;
    this.#wanted = requestAnimationFrame(() => {
      this.#wanted = 0;
      // Half of the old and half of the new is nothing to be shown.
      if (!this.#pace.isFree || this.#turns.isBusy || this.#compiling) return this.invalidate();
      const before = this.#before;
      this.#before = undefined;
      before?.();
      const moving = this.eye.update();
      this.#pivots.fit(this.eye);
      this.#callouts.fit(this.eye);
      const began = performance.now();
      if (this.#wipe.scene) this.#renderBoth();
      else this.#renderer.render(this.#scene, this.eye.camera);
      if (this.#hasMore) this.#adding.charge(performance.now() - began);
      this.#hasMore = false;
      this.#pace.begun();
      this.canvas.dataset.frames = String(Number(this.canvas.dataset.frames ?? 0) + 1);
      if (moving) this.invalidate();
    });
  }

  dispose(): void {
    cancelAnimationFrame(this.#wanted);
    this.#turns.stop();
    this.#pace.stop();
    this.#adding.stop();
    this.#observer.disconnect();
    this.eye.controls.dispose();
    this.geometry.dispose();
    this.#materials.dispose();
    this.#textures.dispose();
    this.#renderer.dispose();
  }
}

const NO_HUES: Hues = { of: new Int32Array(), colours: [] };

/** Crowds of what arrived together, beside those of neighbours. */
const MOST_LATE = 120;

/** Milliseconds. */
const QUICK = 700;

/** Line segments of a selection that are outlined where the processor draws: beyond, it is filled only. */
const ECONOMY_LINES = 150_000;
