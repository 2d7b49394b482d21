/**
 * Shapes of IFC, one body for each material of a shape, which share their points: triangulated face sets, or in the older schema, which has
 * none, faces one by one. A shape is shown by one row, or mapped to many.
 */
import { srgbFromLinear } from '../../finish/colour.ts';
import { triangleArea } from '../../mesh/area.ts';
import { unpackMesh } from '../../mesh/mesh.ts';
import { placedMesh } from '../../mesh/placed.ts';
import type { PlacedMesh } from '../../mesh/placed.ts';
import { IDENTITY } from '../../scene/matrix.ts';
import { materialOfSlot } from '../../scene/takeoff.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Material, Scene, SceneNode } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { geometryKey } from '../assets.ts';
import { list, real, reals, string } from '../step/text.ts';
import type { StepFile } from '../step/text.ts';
import type { Schema } from './entities.ts';

/** Readers take smaller triangles for none, square metres: the geometry of web-ifc has a least length of normals of twice that. */
export const LEAST_AREA = 0.5e-10;

/** A shape with its materials, and how it is shown. */
interface Shape {
  items: number[];
  /** What it is mapped from, where several rows show it. */
  map?: number;
}

export class IfcShapes {
  readonly #bodies = new Map<string, MakeBody>();
  readonly #shapes = new Map<string, Shape>();
  readonly #styles = new Map<string, number>();
  readonly #uses = new Map<string, number>();
  readonly #origin: number;
  readonly #unmoved: number;

  constructor(
    readonly file: StepFile,
    readonly scene: Scene,
    readonly blobs: BlobStore,
    readonly context: number,
    /** Of the unit of the file. */
    readonly metres: number,
    rows: readonly SceneNode[],
    readonly schema: Schema,
  ) {
    const zero = file.add('IFCCARTESIANPOINT((0.,0.,0.))');
    this.#origin = file.add(`IFCAXIS2PLACEMENT3D(#${zero},$,$)`);
    this.#unmoved = file.add(`IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#${zero},1.,$)`);
    for (const node of rows) if (node.mesh) this.#uses.set(keyOf(node), (this.#uses.get(keyOf(node)) ?? 0) + 1);
  }

  /** The representation of a row, and the shape of a product that has it; none where nothing is large enough. */
  async shapeOf(node: SceneNode): Promise<{ representation: number; shape: number } | undefined> {
    const { file } = this;
    const key = keyOf(node);
    const isShared = (this.#uses.get(key) ?? 0) > 1;
    let made = this.#shapes.get(key);
    if (!made) {
      made = { items: await this.#items(node) };
      if (isShared && made.items.length > 0) {
        const body = file.add(`IFCSHAPEREPRESENTATION(#${this.context},'Body','${this.#kind}',${list(made.items)})`);
        made.map = file.add(`IFCREPRESENTATIONMAP(#${this.#origin},#${body})`);
      }
      this.#shapes.set(key, made);
    }
    if (made.items.length === 0) return undefined;
    const items = made.map === undefined ? made.items : [file.add(`IFCMAPPEDITEM(#${made.map},#${this.#unmoved})`)];
    const kind = made.map === undefined ? this.#kind : 'MappedRepresentation';
    const representation = file.add(`IFCSHAPEREPRESENTATION(#${this.context},'Body','${kind}',${list(items)})`);
    return { representation, shape: file.add(`IFCPRODUCTDEFINITIONSHAPE($,$,(#${representation}))`) };
  }

  get #kind(): string {
    return this.schema === 'IFC2X3' ? 'SurfaceModel' : 'Tessellation';
  }

  async #items(node: SceneNode): Promise<number[]> {
    const { file, scene } = this;
    const mesh = placedMesh(unpackMesh(await this.blobs.get(node.mesh as string)), node.offset ?? IDENTITY);
    const key = geometryKey(node);
    const body = this.#bodies.get(key) ?? (this.schema === 'IFC2X3' ? this.#faces(mesh) : this.#faceSets(mesh));
    this.#bodies.set(key, body);
    const items: number[] = [];
    for (const { slot, start, count } of mesh.groups) {
      const corners = withoutSmall(
        mesh.indices.subarray(start, start + count),
        mesh.positions,
        LEAST_AREA / this.metres ** 2,
      );
      if (corners.length === 0) continue;
      const item = body(corners);
      const id = materialOfSlot(node, slot);
      file.add(`IFCSTYLEDITEM(#${item},(#${this.#style(scene.materials[id] ?? NO_MATERIAL)}),$)`); // prettier-ignore
      items.push(item);
    }
    return items;
  }

  #faceSets({ positions }: PlacedMesh): MakeBody {
    const { file } = this;
    const points = file.addPoints('IFCCARTESIANPOINTLIST3D((', positions, '))');
    return (corners) => file.addWholes(`IFCTRIANGULATEDFACESET(#${points},$,$,(`, corners, 3, 1, '),$)'); // prettier-ignore
  }

  #faces({ positions }: PlacedMesh): MakeBody {
    const { file } = this;
    const points: number[] = [];
    for (let i = 0; i < positions.length; i += 3) points.push(file.add(`IFCCARTESIANPOINT(${reals([positions[i], positions[i + 1], positions[i + 2]])})`)); // prettier-ignore
    return (corners) => {
      const faces = new Uint32Array(corners.length / 3);
      for (const i of faces.keys()) {
        const loop = file.add(`IFCPOLYLOOP(${list([0, 1, 2].map((k) => points[corners[i * 3 + k]]))})`);
        faces[i] = file.add(`IFCFACE((#${file.add(`IFCFACEOUTERBOUND(#${loop},.T.)`)}))`);
      }
      const set = file.add(`IFCCONNECTEDFACESET(${list([...faces])})`);
      return file.add(`IFCFACEBASEDSURFACEMODEL((#${set}))`);
    };
  }

  /** What goes through is opacity; roughness is that of the highlight. */
  #style(material: Material): number {
    const known = this.#styles.get(material.id);
    if (known !== undefined) return known;
    const { file } = this;
    const [r, g, b] = material.baseColor.map((value) => real(srgbFromLinear(value)));
    const colour = file.add(`IFCCOLOURRGB($,${r},${g},${b})`);
    const clear = 1 - material.opacity * (1 - (material.transmission ?? 0));
    const rendering = file.add(`IFCSURFACESTYLERENDERING(#${colour},${real(clear)},$,$,$,$,$,IFCSPECULARROUGHNESS(${real(material.roughness)}),.NOTDEFINED.)`); // prettier-ignore
    const style = file.add(`IFCSURFACESTYLE(${string(material.name)},.BOTH.,(#${rendering}))`);
    const shown = this.schema === 'IFC2X3' ? file.add(`IFCPRESENTATIONSTYLEASSIGNMENT((#${style}))`) : style;
    this.#styles.set(material.id, shown);
    return shown;
  }
}

/** Makes a body of some triangles, by the numbers of their corners. @returns its number in the file */
type MakeBody = (corners: ArrayLike<number>) => number;

function withoutSmall(corners: Uint32Array, positions: ArrayLike<number>, leastArea: number): ArrayLike<number> {
  const kept: number[] = [];
  for (let i = 0; i < corners.length; i += 3)
    if (triangleArea(positions, corners[i], corners[i + 1], corners[i + 2]) >= leastArea)
      kept.push(corners[i], corners[i + 1], corners[i + 2]);
  return kept.length === corners.length ? corners : kept;
}

const keyOf = (node: SceneNode) => `${geometryKey(node)} ${node.materials.join(' ')}`;
