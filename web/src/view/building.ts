/**
 * Keeps what is drawn up to date with the model, in turns of a frame's share so that the page answers in between: all of it, shapes
 * that arrive, the selection, the scene that it is compared with, the ground.
 */
import type { Object3D } from 'three';
import { NO_ROWS } from '@noble-prism/core/scene/rowSet';
import type { RowSet } from '@noble-prism/core/scene/rowSet';
import { EMPTY_SCENE } from '@noble-prism/core/scene/types';
import type { CameraWork } from './cameraWork.ts';
import type { DrawnParts } from './drawnParts.ts';
import type { GeometryStore } from './geometry.ts';
import type { GroundLayer } from './groundLayer.ts';
import type { Studio } from './light.ts';
import type { Outline } from './outline.ts';
import { both } from './rowsOfView.ts';
import { Share } from './share.ts';
import type { StandingModel } from './standingModel.ts';
import { Turns } from './turns.ts';
import type { Wipe } from './wipe.ts';

/** What is kept up to date. */
export interface Stage {
  model: StandingModel;
  geometry: GeometryStore;
  parts: DrawnParts;
  outline: Outline;
  wipe: Wipe;
  ground: GroundLayer;
  studio: Studio;
  eye: CameraWork;
  /** Has shaders made before they are needed. */
  compile(objects: readonly Object3D[]): void;
  drawOptics(): void;
  /** Parts can be pointed at where they are drawn now. */
  canBePicked(): void;
  /** Readings may have changed. */
  changed(): void;
  invalidate(): void;
}

export class Building {
  selected: RowSet = NO_ROWS;
  readonly #turns = new Turns();
  /** What arrives is added as its share of the time allows. */
  readonly #adding = new Share();
  /** Meshes that have arrived since all was drawn. */
  readonly #arrived = new Set<string>();
  /** Something was added since the last frame. */
  #hasMore = false;

  constructor(readonly stage: Stage) {}

  get isBusy(): boolean {
    return this.#turns.isBusy;
  }

  /** Draws all anew. What is under way would be of the scene before. */
  all(): void {
    this.#turns.start('all', this.#all());
  }

  /** Geometry that arrives is added to what is drawn; nothing else is looked at again. */
  arrived(mesh: string): void {
    this.#arrived.add(mesh);
    this.#adding.soon(() => this.#add());
  }

  /** Draws what marks the selection. */
  select(rows: RowSet): void {
    this.selected = rows;
    this.#turns.start('selection', this.#selection());
  }

  /** Draws the scene that it is compared with. */
  compare(): void {
    this.#turns.start('wipe', this.#comparison());
  }

  /** Counts what the first frame with something new took. @param milliseconds of a frame */
  frameTook(milliseconds: number): void {
    if (this.#hasMore) this.#adding.charge(milliseconds);
    this.#hasMore = false;
  }

  stop(): void {
    this.#turns.stop();
    this.#adding.stop();
  }

  *#all(): Generator<void> {
    const { model, parts, wipe } = this.stage;
    this.#arrived.clear();
    yield* this.#parts();
    this.stage.compile([...parts.batches.children, ...parts.held.group.children]);
    model.drawn();
    this.stage.canBePicked();
    yield;
    if (wipe.scene) yield* this.#comparison();
    yield* this.#selection();
    yield;
    yield* this.#ground();
  }

  #add(): void {
    const { parts, wipe } = this.stage;
    if (this.#arrived.size === 0) return;
    // All is made anew soon anyway.
    if (this.#turns.isBusy) return this.#adding.soon(() => this.#add());
    // So many are gathered anew, in turns.
    if (parts.isLate) return this.all();
    const known = parts.batches.children.length;
    for (const _ of this.#parts(new Set(this.#arrived)));
    this.#arrived.clear();
    this.stage.compile(parts.batches.children.slice(known));
    if (this.selected.size > 0) this.select(this.selected);
    this.#turns.start('ground', this.#ground());
    if (wipe.scene) this.compare();
    this.#hasMore = true;
    this.stage.invalidate();
  }

  /** @param only meshes that have arrived, where the others are drawn already */
  *#parts(only?: ReadonlySet<string>): Generator<void> {
    yield* this.stage.parts.draw(this.stage.model.standing, only);
    this.stage.studio.renew();
  }

  *#selection(): Generator<void> {
    const { model, outline, geometry } = this.stage;
    const rows = this.selected.size === 0 ? NO_ROWS : both(this.selected, model.shown);
    yield* outline.draw({ scene: model.scene, rows, worlds: model.worlds, geometry });
    for (const { children } of outline.parts) this.stage.compile(children);
    this.stage.drawOptics();
    this.stage.invalidate();
  }

  *#comparison(): Generator<void> {
    const { model, parts, wipe, studio } = this.stage;
    yield* wipe.build(parts.beside(wipe.scene ?? EMPTY_SCENE, model.scene, model.shown));
    this.stage.compile(wipe.group.children);
    studio.renew();
    this.stage.invalidate();
  }

  /** What has arrived can only make the box of everything tighter: that has time. */
  *#ground(): Generator<void> {
    yield* this.stage.model.findBox();
    this.#layGround();
    this.stage.changed();
    this.stage.invalidate();
  }

  #layGround(): void {
    const { ground, studio, eye, model } = this.stage;
    const box = model.knownBox;
    const isOther = ground.lay(box);
    if (!box || !isOther) return;
    studio.fit(box);
    eye.setPlanes(box);
    // The first parts may be a corner of the whole: framed again as it grows, until somebody takes the camera.
    if (!eye.isTaken) eye.frame(box, false);
  }
}
