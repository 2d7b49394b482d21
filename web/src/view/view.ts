/**
 * The three-dimensional view, plain three.js behind a small interface. It draws only when something has changed, and draws
 * an economy picture where only software rendering is there.
 */
import * as THREE from 'three';
import type { PickedFace } from '@noble-prism/core/measure/face';
import { IDENTITY, isIdentity } from '@noble-prism/core/scene/matrix';
import type { Matrix, Vector } from '@noble-prism/core/scene/matrix';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import { NO_ROWS, Rows } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { worldBox } from '@noble-prism/core/scene/tree';
import type { Box, Scene, SceneNode } from '@noble-prism/core/scene/types';
import type { Moved } from '../evaluation/client.ts';
import type { Look } from '../stores/looks.ts';
import { Backdrop } from './backdrop.ts';
import { Building } from './building.ts';
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
import { rowsInFront } from './inFront.ts';
import { rowsWithin } from './rectangle.ts';
import type { Rectangle } from './rectangle.ts';
import { SectionBox } from './sectionBox.ts';
import type { Face } from './sectionBox.ts';
import { StandingModel } from './standingModel.ts';
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
  readonly #model: StandingModel;
  readonly #parts: DrawnParts;
  readonly #outline: Outline;
  readonly #optics: OpticsLayer;
  readonly #studio: Studio;
  #showsOptics = true;
  readonly #ground = new GroundLayer();
  readonly #building: Building;
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
      isBusy: () => this.#building.isBusy,
      draw: () => this.#draw(),
      changed: () => this.invalidate(),
    });
    // Asking for them waits until the graphics card has done all that it was asked for.
    this.#renderer.debug.checkShaderErrors = import.meta.env.DEV;
    this.#renderer.setPixelRatio(Math.min(this.economy ? 1 : 2, window.devicePixelRatio));
    this.#renderer.toneMapping = THREE.NeutralToneMapping;
    this.#textures = new TextureStore(() => this.invalidate());
    this.geometry = new GeometryStore((mesh) => this.#building.arrived(mesh), options.failed);
    this.#model = new StandingModel(this.geometry);
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
    this.#building = new Building({
      model: this.#model,
      geometry: this.geometry,
      parts: this.#parts,
      outline: this.#outline,
      wipe: this.#wipe,
      ground: this.#ground,
      studio: this.#studio,
      eye: this.eye,
      compile: (objects) => this.#frames.compile(objects, this.#scene, this.eye.camera),
      drawOptics: () => this.#drawOptics(),
      canBePicked: () => this.#setPicker(this.#parts.solid(this.#model.shown)),
      changed: () => options.changed(),
      invalidate: () => this.invalidate(),
    });
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
    this.#building.all();
  }

  /** @param moved what stands elsewhere than in the scene before; everything where that is not known */
  setScene(model: Scene, moved?: Moved): void {
    const difference = this.#model.take(model, moved);
    this.markPivots(this.#marked);
    if (difference === 'nothing') return;
    // What was dragged stands there now.
    if (this.#parts.held.rows.size > 0) this.shiftHeld(IDENTITY);
    if (difference === 'shapes') this.#parts.faded = NO_ROWS;
    this.#building.all();
  }

  /** Puts nodes where they are at a moment: their places in their parents by node, or at rest. */
  pose(places: ReadonlyMap<number, Matrix> | undefined): void {
    if (!this.#model.pose(places)) return;
    this.#parts.place(this.#model);
    this.#outline.place(this.#model);
    this.#studio.renew();
    this.#setPicker(this.#parts.solid(this.#model.shown));
    this.#drawOptics();
    this.invalidate();
  }

  #setPicker(rows: RowSet): void {
    this.pointer.picker.setParts(this.#model.scene, rows, this.#model.worlds);
  }

  showOptics(on: boolean): void {
    this.#showsOptics = on;
    this.#drawOptics();
    this.invalidate();
  }

  /** Looks through a camera of the scene; upright, whatever its roll. */
  lookThrough(node: SceneNode): void {
    const { scene, worlds } = this.#model;
    if (scene.nodes.has(node.id)) this.eye.lookThrough(node, worlds, this.#centre());
  }

  #centre(): THREE.Vector3 {
    const box = this.boxOfAll();
    if (!box) return new THREE.Vector3();
    return new THREE.Vector3(...box.min).add(new THREE.Vector3(...box.max)).multiplyScalar(0.5);
  }

  setHidden(rows: RowSet): void {
    if (this.#model.hide(rows)) this.#building.all();
  }

  select(rows: RowSet): void {
    if (rows.size === 0 && this.#building.selected.size === 0) return;
    this.#fade(NO_ROWS);
    this.#building.select(rows);
  }

  /** Shows the pivots of some rows. */
  markPivots(rows: RowSet): void {
    this.#marked = rows;
    this.#pivots.show(this.#model.scene, rows, this.#model.worlds);
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
    this.#building.all();
  }

  /** Hues of the density look. @param of number of its hue for each row, -1 for none */
  setHues(of: Int32Array, hues: readonly string[]): void {
    this.#parts.hues = { of, colours: hues.map((text) => new THREE.Color().setStyle(text)) };
    if (this.#parts.look === 'density') this.#building.all();
  }

  /** Turns the camera to some parts, or to everything. */
  frame(rows?: RowSet): void {
    const wanted = rows ?? (this.#model.hidden.size > 0 ? this.#model.shown : undefined);
    const box = wanted
      ? worldBox(this.#model.scene, wanted, this.geometry.positionsOf, this.#model.worlds)
      : this.boxOfAll();
    if (box) this.eye.turnTo(box);
    this.#fade(rows && box ? this.#inFrontOf(rows, box) : NO_ROWS);
  }

  #inFrontOf(rows: RowSet, box: Box): Rows {
    // Whatever was faded before is asked about anew.
    this.#setPicker(this.#model.shown);
    const eye = this.eye.controls.getPosition(new THREE.Vector3());
    return rowsInFront(this.pointer.picker, eye, rows, box, this.#model.scene.nodes.rows);
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
    this.#building.all();
  }

  /** Draws some rows by themselves, so that they can be dragged; none any more where none are given. */
  hold(rows: RowSet = NO_ROWS): void {
    if (rows.size === 0 && this.#parts.held.rows.size === 0) return;
    this.#parts.held.rows = rows;
    this.shiftHeld(IDENTITY);
    this.#building.all();
  }

  /** Where a point of the canvas meets what is held, or what of it is near: world, metres. */
  heldAt(x: number, y: number): Vector | undefined {
    return this.pointer.among(
      x,
      y,
      this.#model.scene,
      both(this.#parts.held.rows, this.#model.shown),
      this.#model.worlds,
    );
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
    const picture = { scene: this.#model.scene, rows: this.#model.shown, worlds: this.#model.worlds, geometry: this.geometry, camera: this.eye.camera, width, height }; // prettier-ignore
    return rowsWithin(picture, rectangle, how).map((row) => this.#model.scene.nodes.key(row));
  }

  #drawOptics(): void {
    const nodes = this.#showsOptics ? opticsOf(this.#model.scene).filter(({ id }) => !this.#model.hidden.has(id)) : [];
    const worlds = { get: (row: number) => matrixAt(this.#model.worlds, row * STRIDE) };
    this.#optics.draw(nodes, worlds, this.#building.selected, () => this.boxOfAll());
  }

  showFaces(faces: readonly PickedFace[]): void {
    this.pointer.faces.show(faces, this.#model.scene, this.#model.worlds);
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
      this.#building.compare();
    }
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

  /** True where edges are wished for and there are too many of them to be drawn without a graphics card. */
  get leavesOutEdges(): boolean {
    return this.#parts.leavesOutEdges(this.#model.scene, this.#model.shown);
  }

  /** Box of everything as it was found last, metres. */
  readonly knownBox = (): Box | undefined => this.#model.knownBox;

  /** Box of everything, metres. */
  readonly boxOfAll = (): Box | undefined => this.#model.box;

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
    this.#building.frameTook(performance.now() - began);
    return moving;
  }

  dispose(): void {
    this.#frames.stop();
    this.#building.stop();
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
