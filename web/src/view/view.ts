/**
 * The three-dimensional view, plain three.js behind a small interface. It draws only when something has changed, and draws
 * an economy picture where only software rendering is there.
 */
import * as THREE from 'three';
import { factsOf } from '@noble-prism/core/scene/facts';
import type { PickedFace } from '@noble-prism/core/measure/face';
import { IDENTITY, isIdentity } from '@noble-prism/core/scene/matrix';
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
import { Backdrop } from './backdrop.ts';
import { Callouts } from './callouts.ts';
import type { Callout } from './callouts.ts';
import { CameraWork } from './cameraWork.ts';
import type { ExactOf } from './faceLayer.ts';
import { DrawnParts } from './drawnParts.ts';
import { Frames } from './frames.ts';
import { GeometryStore } from './geometry.ts';
import { drawsInSoftware, rememberSoftware } from './economy.ts';
import { GroundLayer } from './groundLayer.ts';
import { lightScene } from './light.ts';
import type { Studio } from './light.ts';
import { sheetColour } from './materials.ts';
import { OpticsLayer } from './optics.ts';
import { Outline } from './outline.ts';
import { pictureOf } from './picture.ts';
import { PivotMarks } from './pivotMarks.ts';
import { Pointer, SNAP_PIXELS } from './pointer.ts';
import { both, largestFirst, opticsOf } from './rowsOfView.ts';
import { Share } from './share.ts';
import { rowsInFront } from './inFront.ts';
import { rowsWithin } from './rectangle.ts';
import type { Rectangle } from './rectangle.ts';
import { SectionBox } from './sectionBox.ts';
import type { Face } from './sectionBox.ts';
import { Turns } from './turns.ts';
import { TextureStore } from './textures.ts';
import { Wipe } from './wipe.ts';

export interface ViewOptions {
  /** Told when geometry arrived, the camera moved, or a frame was drawn: readings may have changed. */
  changed(): void;
  failed(error: unknown): void;
  exactOf: ExactOf;
}

export class View {
  readonly geometry: GeometryStore;
  readonly economy: boolean;
  readonly #renderer: THREE.WebGLRenderer;
  readonly #frames: Frames;
  readonly #scene = new THREE.Scene();
  /** Where it is looked at from. */
  readonly eye: CameraWork;
  /** What is at a point of the canvas. */
  readonly pointer: Pointer;
  readonly #textures: TextureStore;
  readonly #pivots = new PivotMarks();
  readonly #callouts = new Callouts();
  /** Rows whose pivots are shown. */
  #marked: RowSet = NO_ROWS;
  readonly section = new SectionBox();
  readonly #wipe = new Wipe();
  readonly #backdrop: Backdrop;
  /** What is held is being dragged: nothing else is drawn anew until something else changes. */
  #isDragged = false;
  #model: Scene = EMPTY_SCENE;
  #worlds: Float64Array = new Float64Array();
  #hidden: RowSet = NO_ROWS;
  #selected: RowSet = NO_ROWS;
  /** Rows that are drawn: those with geometry that are not hidden. */
  #shown: Rows | undefined;
  /** Distinct meshes of the scene. */
  #shapes = 0;
  /** Meshes that have arrived since the batches were made. */
  readonly #arrived = new Set<string>();
  #box: { of: unknown[]; box: Box | undefined } = { of: [], box: undefined };
  readonly #parts: DrawnParts;
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
  readonly #turns = new Turns();
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
    this.#backdrop = new Backdrop(this.economy ? 0 : 4);
    rememberSoftware(this.#renderer.getContext());
    this.#frames = new Frames(this.#renderer, {
      isBusy: () => this.#turns.isBusy,
      draw: () => this.#draw(),
      changed: () => this.invalidate(),
    });
    // Asking for them waits until the graphics card has done all that it was asked for.
    this.#renderer.debug.checkShaderErrors = import.meta.env.DEV;
    this.#renderer.setPixelRatio(Math.min(this.economy ? 1 : 2, window.devicePixelRatio));
    this.#renderer.toneMapping = THREE.NeutralToneMapping;
    this.#textures = new TextureStore(() => this.invalidate());
    this.geometry = new GeometryStore((mesh) => this.#addSoon(mesh), options.failed);
    this.#parts = new DrawnParts(this.economy, this.geometry, this.#textures);
    this.eye = new CameraWork(canvas, this.economy, () => this.invalidate());
    this.pointer = new Pointer({
      geometry: this.geometry,
      eye: this.eye,
      optics: this.#optics,
      isDrawn: (point) => this.section.holds(point),
      exactOf: options.exactOf,
      invalidate: () => this.#frames.ask(),
    });
    this.#studio = lightScene(this.#scene, this.#renderer, this.economy);
    this.#scene.add(
      this.#ground.group,
      ...this.#parts.groups,
      this.#outline.group,
      this.#optics.group,
      this.pointer.line.group,
      this.section.group,
      this.#wipe.group,
      this.pointer.faces.group,
      this.#pivots.group,
      this.#callouts.group,
    );
    this.#observer = new ResizeObserver(() => this.#resize());
    this.#observer.observe(canvas.parentElement as HTMLElement);
    this.#resize();
    this.setSheet();
  }

  /** Takes the colours of the sheet anew, after it was turned. */
  setSheet(): void {
    this.#parts.setSheet();
    this.#optics.setColour(sheetColour('--ink-2'));
    this.#outline.setColour(sheetColour('--iris'));
    this.pointer.line.setColour(sheetColour('--iris'));
    this.section.setColour(sheetColour('--iris'));
    this.pointer.faces.setColour(sheetColour('--iris'));
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
    if (this.#parts.held.rows.size > 0) this.shiftHeld(IDENTITY);
    if (before.mesh !== now.mesh || before.kind !== now.kind) {
      this.#shown = undefined;
      this.#parts.faded = NO_ROWS;
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
    this.#parts.place(input);
    this.#outline.place(input);
    this.#studio.renew();
    this.pointer.picker.setParts(this.#model, this.#parts.solid(this.#rowsShown()), this.#worlds);
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

  /** @param set of texture coordinates, for the look that shows them */
  look(way: Look, edges: boolean, set: 0 | 1): void {
    this.#parts.look = way;
    this.#parts.uvSet = set;
    this.#parts.edges = edges;
    this.#rebuildSoon();
  }

  /** Hues of the density look. @param of number of its hue for each row, -1 for none */
  setHues(of: Int32Array, hues: readonly string[]): void {
    this.#parts.hues = { of, colours: hues.map((text) => new THREE.Color().setStyle(text)) };
    if (this.#parts.look === 'density') this.#rebuildSoon();
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
    this.pointer.picker.setParts(this.#model, this.#rowsShown(), this.#worlds);
    const eye = this.eye.controls.getPosition(new THREE.Vector3());
    return rowsInFront(this.pointer.picker, eye, rows, box, this.#model.nodes.rows);
  }

  /** Parts that are faded, so that they do not stand before what was framed. */
  get faded(): number {
    return this.#parts.faded.size;
  }

  /** Draws faded parts as the others again. */
  unfade(): void {
    this.#fade(NO_ROWS);
  }

  #fade(rows: Rows): void {
    if (rows.size === 0 && this.#parts.faded.size === 0) return;
    this.#parts.faded = rows;
    this.#rebuildSoon();
  }

  /** Draws some rows by themselves, so that they can be dragged; none any more where none are given. */
  hold(rows: RowSet = NO_ROWS): void {
    if (rows.size === 0 && this.#parts.held.rows.size === 0) return;
    this.#parts.held.rows = rows;
    this.shiftHeld(IDENTITY);
    this.#rebuildSoon();
  }

  /** Where a point of the canvas meets what is held, or what of it is near: world, metres. */
  heldAt(x: number, y: number): Vector | undefined {
    return this.pointer.among(x, y, this.#model, both(this.#parts.held.rows, this.#rowsShown()), this.#worlds);
  }

  /** Puts what is held elsewhere. @param matrix what is done to the world where it stands, metres */
  shiftHeld(matrix: Matrix): void {
    this.#parts.held.shift(matrix, [this.#outline.group, this.#pivots.group]);
    this.#isDragged = !isIdentity(matrix, 0);
    this.#showOutline();
    this.#frames.ask();
  }

  /** Marks what is selected by its outline alone, as long as its own colour is what somebody looks at. */
  markByOutline(only: boolean): void {
    this.#outline.isFilled = !only;
    this.#frames.ask();
  }

  /** Chosen faces have the same colour; and where what is dragged is to be put is judged by how it looks, not by how it is marked. */
  #showOutline(): void {
    this.#outline.group.visible = !this.#isDragged && this.pointer.faces.group.children.length === 0;
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

  showFaces(faces: readonly PickedFace[]): void {
    this.pointer.faces.show(faces, this.#model, this.#worlds);
    this.#showOutline();
    this.invalidate();
  }

  /** Shows chosen faces in a colour that is tried on them. @param colour `#rrggbb`; marked where there is none */
  tryOnFaces(colour?: string): void {
    this.pointer.faces.tryOn(colour === undefined ? undefined : new THREE.Color(colour));
    this.invalidate();
  }

  /** Draws what is being measured: a mark at each point and a line between two, metres. */
  showMeasure(points: readonly Vector[]): void {
    this.pointer.line.show(points);
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
    yield* this.#wipe.build(this.#parts.beside(this.#wipe.scene ?? EMPTY_SCENE, this.#model, this.#rowsShown()));
    this.#compileNew(this.#wipe.group.children);
    this.#studio.renew();
    this.invalidate();
  }

  #renderBoth(): void {
    const own = [...this.#parts.groups, this.#outline.group];
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
    if (this.#parts.isLate) return this.#rebuildSoon();
    const known = this.#parts.batches.children.length;
    for (const _ of this.#drawParts(new Set(this.#arrived)));
    this.#arrived.clear();
    this.#compileNew(this.#parts.batches.children.slice(known));
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

  #rowsShown(): Rows {
    if (this.#shown) return this.#shown;
    const { mesh, kind } = this.#model.nodes.columns;
    const mask = new Uint8Array(mesh.length);
    for (let row = 0; row < mask.length; row++)
      mask[row] = mesh[row] > 0 && kind[row] !== GONE && !this.#hidden.has(row) ? 1 : 0;
    return (this.#shown = new Rows(mask));
  }

  /** @param only meshes that have arrived, where the others are drawn already */
  *#drawParts(only?: ReadonlySet<string>): Generator<void> {
    yield* this.#parts.draw(
      {
        scene: this.#model,
        worlds: this.#worlds,
        shown: this.#rowsShown(),
        shapes: this.#shapes,
        ...(this.#moved && !this.#places ? { moved: this.#moved } : {}),
      },
      only,
    );
    this.#studio.renew();
  }

  /** True where edges are wished for and there are too many of them to be drawn without a graphics card. */
  get leavesOutEdges(): boolean {
    return this.#parts.leavesOutEdges(this.#model, this.#rowsShown());
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

  #compileNew(objects: readonly THREE.Object3D[]): void {
    this.#frames.compile(objects, this.#scene, this.eye.camera);
  }

  *#build(): Generator<void> {
    this.#arrived.clear();
    yield* this.#drawParts();
    this.#compileNew([...this.#parts.batches.children, ...this.#parts.held.group.children]);
    this.#moved = new Set();
    this.pointer.picker.setParts(this.#model, this.#parts.solid(this.#rowsShown()), this.#worlds);
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
    return this.#frames.isQuick;
  }

  /** A small picture of what is seen, without what is selected; JPEG as base64. @param width pixels, at 8 to 5 */
  picture(width: number): Promise<string> {
    return pictureOf(this.#renderer, this.#scene, this.eye.camera, this.#overlays(), width);
  }

  /** Marks that are no parts. */
  #overlays(): THREE.Group[] {
    const { line, faces } = this.pointer;
    return [this.#outline, line, this.#optics, this.section, faces, this.#pivots, this.#callouts].map(
      ({ group }) => group,
    );
  }

  /** Does something just before the next frame is drawn, which is asked for; what was to be done so far is not. */
  beforeFrame(work: () => void): void {
    this.#frames.ask(work);
  }

  /** Asks for a frame. */
  invalidate(): void {
    this.#backdrop.forget();
    this.#frames.ask();
  }

  /** @returns true while the camera moves */
  #draw(): boolean {
    const moving = this.eye.update();
    this.#pivots.fit(this.eye);
    this.#callouts.fit(this.eye);
    const began = performance.now();
    const moved = [this.#parts.held.group, ...this.#overlays()];
    if (this.#wipe.scene) this.#renderBoth();
    else if (this.#isDragged) this.#backdrop.render(this.#renderer, this.#scene, this.eye.camera, moved);
    else this.#renderer.render(this.#scene, this.eye.camera);
    if (this.#hasMore) this.#adding.charge(performance.now() - began);
    this.#hasMore = false;
    return moving;
  }

  dispose(): void {
    this.#frames.stop();
    this.#turns.stop();
    this.#adding.stop();
    this.#observer.disconnect();
    this.eye.controls.dispose();
    this.geometry.dispose();
    this.#parts.dispose();
    this.#textures.dispose();
    this.#backdrop.dispose();
    this.#renderer.dispose();
  }
}

/** Line segments of a selection that are outlined where the processor draws: beyond, it is filled only. */
const ECONOMY_LINES = 150_000;
