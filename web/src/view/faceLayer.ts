/** Faces that are selected, drawn over their parts; and what is a face at a point of the picture. */
import { BufferAttribute, BufferGeometry, DoubleSide, Group, Line, LineDashedMaterial, Matrix4, Mesh, MeshBasicMaterial, Vector3 } from 'three'; // prettier-ignore
import type { Color, Ray } from 'three';
import { faceOf } from '@noble-prism/core/measure/face';
import type { PickedFace } from '@noble-prism/core/measure/face';
import type { ExactShape } from '@noble-prism/core/measure/exactShape';
import { neighboursOf } from '@noble-prism/core/mesh/region';
import type { Neighbours } from '@noble-prism/core/mesh/region';
import type { Vector } from '@noble-prism/core/scene/matrix';
import { matrixAt, STRIDE } from '@noble-prism/core/scene/places';
import { geometryTransform } from '@noble-prism/core/scene/tree';
import type { Scene } from '@noble-prism/core/scene/types';
import type { GeometryStore, ViewGeometry } from './geometry.ts';
import type { Picker } from './picking.ts';

/** What is exact in a solid, where that is known by now. */
export type ExactOf = (solid: string | undefined) => ExactShape | undefined;

export class FaceLayer {
  readonly group = new Group();
  readonly #fill = new MeshBasicMaterial({
    transparent: true,
    opacity: 0.55,
    side: DoubleSide,
    forceSinglePass: true,
    depthWrite: false,
    // Over the triangles that it repeats.
    polygonOffset: true,
    polygonOffsetFactor: -2,
    polygonOffsetUnits: -2,
  });
  #mark = this.#fill.color;
  /** Axes are drawn through what is before them, long and dashed as on drawings. */
  readonly #axis = new LineDashedMaterial({ depthTest: false });
  readonly #neighbours = new WeakMap<ViewGeometry, Neighbours>();

  constructor(
    readonly picker: Picker,
    readonly geometry: GeometryStore,
    readonly exactOf: ExactOf,
  ) {}

  setColour(colour: Color): void {
    this.#axis.color = this.#mark = colour;
    this.tryOn();
  }

  /** Shows the faces in a colour that is tried on them, or (where there is none) marked. */
  tryOn(colour?: Color): void {
    this.#fill.color = colour ?? this.#mark;
    this.#fill.opacity = colour ? 0.97 : 0.55;
  }

  /** The face that a ray meets. @param angle that neighbours of one face of a mesh turn by at most, radians */
  at(ray: Ray, scene: Scene, angle: number): PickedFace | undefined {
    const hit = this.picker.pick(ray);
    const known = hit && this.geometry.get(hit.mesh);
    const indices = known?.surface.getIndex()?.array as Uint32Array | undefined;
    if (!hit || !known || !indices) return undefined;
    let neighbours = this.#neighbours.get(known);
    if (!neighbours) {
      neighbours = neighboursOf({ positions: known.positions, indices });
      this.#neighbours.set(known, neighbours);
    }
    const { exact } = scene.meshes[hit.mesh] ?? {};
    return faceOf({
      row: hit.node.id,
      mesh: hit.mesh,
      positions: known.positions,
      indices,
      neighbours,
      triangle: hit.triangle,
      normal: hit.normal.toArray() as unknown as Vector,
      point: hit.local.toArray() as unknown as Vector,
      world: hit.world.toArray(),
      exact: this.exactOf(hit.node.solid),
      deviation: exact?.max ?? 0,
      angle,
    });
  }

  /** Draws faces where their parts stand; those of meshes that are no longer those of their parts are left out. */
  show(faces: readonly PickedFace[], scene: Scene, worlds: Float64Array): void {
    for (const child of this.group.children) (child as Mesh | Line).geometry.dispose();
    this.group.clear();
    for (const { row, mesh, triangles, axis, centre, area } of faces) {
      const known = this.geometry.get(mesh);
      const indices = known?.surface.getIndex()?.array;
      if (!known || !indices || !scene.nodes.has(row) || scene.nodes.word('mesh', row) !== mesh) continue;
      const surface = new BufferGeometry();
      surface.setAttribute('position', known.surface.getAttribute('position'));
      const list = new Uint32Array(triangles.length * 3);
      triangles.forEach((triangle, i) => {
        for (let k = 0; k < 3; k++) list[i * 3 + k] = indices[triangle * 3 + k];
      });
      surface.setIndex(new BufferAttribute(list, 1));
      const drawn = new Mesh(surface, this.#fill);
      drawn.matrixAutoUpdate = false;
      drawn.matrix = new Matrix4().fromArray(geometryTransform(scene.nodes.row(row), matrixAt(worlds, row * STRIDE)));
      drawn.frustumCulled = false;
      drawn.renderOrder = 2;
      this.group.add(drawn);
      if (axis) this.#drawAxis(axis, centre, Math.sqrt(area));
    }
  }

  /** @param size of what turns about it, metres */
  #drawAxis({ point, direction }: NonNullable<PickedFace['axis']>, near: Vector, size: number): void {
    const along = new Vector3(...direction);
    const foot = new Vector3(...point).addScaledVector(
      along,
      new Vector3(...near).sub(new Vector3(...point)).dot(along),
    );
    const ends = [-size, size].map((reach) => foot.clone().addScaledVector(along, reach));
    const line = new Line(new BufferGeometry().setFromPoints(ends), this.#axis);
    this.#axis.dashSize = size / 8;
    this.#axis.gapSize = size / 24;
    line.computeLineDistances();
    line.renderOrder = 3;
    this.group.add(line);
  }
}
