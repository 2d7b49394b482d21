/** Reader of X3D (ISO/IEC 19775/19776) in its XML encoding: transforms, shapes, appearance, DEF and USE. */
import { BoxGeometry, ConeGeometry, CylinderGeometry, SphereGeometry } from 'three';
import { linearFromSrgb } from '../finish/colour.ts';
import { triangulate } from '../mesh/polygons.ts';
import type { BareMesh } from '../mesh/normals.ts';
import { PrismError } from '../errors.ts';
import { composed, IDENTITY, multiply } from '../scene/matrix.ts';
import type { Matrix } from '../scene/matrix.ts';
import type { LightInfo, Material, SceneNode, TextureUse } from '../scene/types.ts';
import { bodyOf } from './bodies.ts';
import { SceneBuilder } from './builder.ts';
import { meshOfCorners } from './corners.ts';
import type { Reader, Reading, SourceFile } from './reader.ts';
import { headOf } from './scanner.ts';
import { referredTexture } from './textures.ts';
import { elevationGrid, extrusion } from './x3dShapes.ts';
import { child, childrenNamed, everything, numbersOf, parseXml } from './xml.ts';
import type { XmlElement } from './xml.ts';

export const x3dReader: Reader = {
  format: 'X3D',
  endings: ['x3d'],
  recognises: ({ bytes }) => /<X3D\b/.test(headOf(bytes, 3000)),
  read: async (file, sourceId) => readX3d(file, sourceId),
};

const MAX_DEPTH = 200;
/** Groups that only hold other nodes. */
const GROUPS = new Set([
  'Transform',
  'Group',
  'Anchor',
  'Billboard',
  'Collision',
  'StaticGroup',
  'Switch',
  'LOD',
  'CADAssembly',
  'CADPart',
  'CADFace',
  'CADLayer',
  'HAnimSegment',
  'HAnimJoint',
  'HAnimSite',
  'HAnimHumanoid',
]);
const LIGHTS: Record<string, LightInfo['type']> = {
  DirectionalLight: 'directional',
  PointLight: 'point',
  SpotLight: 'spot',
};
/** Sides of a round body; the standard leaves the number to whoever draws it. */
const ROUND = 32;

function readX3d(file: SourceFile, sourceId: string): Reading {
  const { root, broken } = parseXml(file.bytes, file.name);
  const scene = child(root, 'Scene');
  if (root.name !== 'X3D' || !scene)
    throw new PrismError('not-readable', `${file.name} is not X3D, or has no scene.`, { file: file.name });
  const meta = (name: string) =>
    childrenNamed(child(root, 'head'), 'meta').find(({ attributes }) => attributes.name === name)?.attributes.content;
  const unit = childrenNamed(child(root, 'head'), 'unit').find(({ attributes }) => attributes.category === 'length');
  const metres = Number(unit?.attributes.conversionFactor ?? 1);
  const builder = new SceneBuilder(file, sourceId, {
    format: 'X3D',
    schema: [root.attributes.version, root.attributes.profile].filter(Boolean).join(', '),
    producer: [meta('generator'), meta('creator'), meta('modified')].filter(Boolean).join(', '),
    // Metres and y up unless the head says otherwise (ISO/IEC 19775-1, 4.3.6).
    unit: {
      name: unit?.attributes.name ?? 'm',
      metres: metres > 0 && Number.isFinite(metres) ? metres : 1,
      declared: true,
    },
  });
  if (broken) builder.warn('truncated', `${file.name} is cut off or damaged; what stands before is kept.`, broken);
  new X3dScene(root, builder).place(scene);
  return builder.reading();
}

class X3dScene {
  readonly #defined = new Map<string, XmlElement>();
  readonly #geometries = new Map<XmlElement, number | undefined>();
  readonly #materials = new Map<XmlElement, string>();
  #skipped = 0;

  constructor(
    root: XmlElement,
    readonly builder: SceneBuilder,
  ) {
    for (const element of everything(root)) {
      if (element.attributes.DEF && !this.#defined.has(element.attributes.DEF))
        this.#defined.set(element.attributes.DEF, element);
      if (element.name.endsWith('Interpolator')) builder.counts.animations++;
      if (element.name === 'Inline')
        builder.notRead.add(
          `Other files placed in it (${element.attributes.url ?? 'Inline'}): drop them as sources of their own.`,
        );
      if (element.name === 'ProtoInstance' || element.name === 'ProtoDeclare')
        builder.notRead.add('Prototypes are not read.');
      if (element.name === 'Script') builder.notRead.add('Scripts are not run.');
      if (element.name === 'Text') builder.notRead.add('Texts are not read.');
      if (element.name.startsWith('Nurbs')) builder.notRead.add(`${element.name} is not read; ask for it as faces.`);
    }
    if (builder.counts.animations > 0) builder.notRead.add('Animations are counted and not carried further.');
  }

  place(scene: XmlElement): void {
    for (const element of scene.children) this.#node(element, undefined, 0, 'Scene');
    if (this.#skipped > 0)
      this.builder.warn('bad-indices', `${this.#skipped} faces name values that are not there; they are left out.`);
  }

  #used(element: XmlElement): XmlElement {
    return element.attributes.USE ? (this.#defined.get(element.attributes.USE) ?? element) : element;
  }

  #node(written: XmlElement, parent: number | undefined, depth: number, above: string): void {
    if (depth > MAX_DEPTH)
      return this.builder.warn(
        'cyclic',
        `${above} contains itself, or nests deeper than ${MAX_DEPTH}.`,
        `line ${written.line}`,
      );
    const element = this.#used(written);
    const { attributes } = element;
    const name = written.attributes.DEF || attributes.DEF || attributes.name || '';
    const place = parent === undefined ? {} : { parent };
    const more: Partial<SceneNode> = { entity: `line ${element.line}` };
    if (GROUPS.has(element.name)) {
      const layer = element.name === 'CADLayer' ? attributes.name || null : null;
      const id = this.builder.node({
        ...place,
        name: name || element.name,
        kind: 'assembly',
        transform: element.name === 'Transform' ? transformOf(attributes) : IDENTITY,
        layer,
        more,
      });
      for (const inner of shownChildren(element)) this.#node(inner, id, depth + 1, name || element.name);
    } else if (element.name === 'Shape') {
      const geometry = this.#geometryOf(element);
      if (geometry === undefined) return;
      const material = this.#material(child(element, 'Appearance'));
      this.builder.node({
        ...place,
        name: name || (above === 'Scene' ? 'Shape' : above),
        geometry,
        materials: [material],
        more,
      });
    } else if (element.name === 'Viewpoint' || element.name === 'OrthoViewpoint') {
      this.builder.counts.cameras++;
      const fov = Number(attributes.fieldOfView ?? 0.785398);
      const transform = composed(
        triple(attributes.position, [0, 0, 10]),
        quaternion(attributes.orientation),
        [1, 1, 1],
      );
      const camera =
        element.name === 'Viewpoint' && fov > 0 && fov < Math.PI
          ? { camera: { type: 'perspective' as const, fov, near: 0.1 } }
          : {};
      this.builder.node({
        ...place,
        name: attributes.description || name || 'Viewpoint',
        kind: 'camera',
        transform,
        more: { ...more, ...camera },
      });
    } else if (element.name in LIGHTS) {
      this.builder.counts.lights++;
      const [r, g, b] = triple(attributes.color, [1, 1, 1]);
      const light: LightInfo = {
        type: LIGHTS[element.name],
        color: [r, g, b],
        intensity: Number(attributes.intensity ?? 1),
      };
      if (light.type === 'spot')
        Object.assign(light, {
          inner: Number(attributes.beamWidth ?? 0.7854),
          outer: Number(attributes.cutOffAngle ?? 1.5708),
        });
      const at = composed(
        triple(attributes.location, [0, 0, 0]),
        towards(triple(attributes.direction, [0, 0, -1])),
        [1, 1, 1],
      );
      this.builder.node({
        ...place,
        name: name || element.name,
        kind: 'light',
        transform: at,
        more: { ...more, light },
      });
    }
  }

  #geometryOf(shape: XmlElement): number | undefined {
    for (const written of shape.children) {
      const element = this.#used(written);
      if (this.#geometries.has(element)) return this.#geometries.get(element);
      const mesh = this.#mesh(element);
      if (!mesh) continue;
      const id = this.builder.mesh(mesh);
      this.#geometries.set(element, id);
      return id;
    }
    return undefined;
  }

  #mesh(element: XmlElement): BareMesh | undefined {
    const { attributes: a } = element;
    const size = (text: string | undefined, standard: number) => {
      const value = Number(text ?? standard);
      return value > 0 && Number.isFinite(value) ? value : standard;
    };
    switch (element.name) {
      case 'Box':
        return bodyOf(new BoxGeometry(...triple(a.size, [2, 2, 2])));
      case 'Sphere':
        return bodyOf(new SphereGeometry(size(a.radius, 1), ROUND, ROUND / 2));
      case 'Cylinder':
        return bodyOf(new CylinderGeometry(size(a.radius, 1), size(a.radius, 1), size(a.height, 2), ROUND));
      case 'Cone':
        return bodyOf(new ConeGeometry(size(a.bottomRadius, 1), size(a.height, 2), ROUND));
      case 'IndexedFaceSet':
      case 'IndexedTriangleSet':
      case 'IndexedTriangleStripSet':
      case 'IndexedTriangleFanSet':
      case 'TriangleSet':
      case 'TriangleStripSet':
      case 'TriangleFanSet':
      case 'QuadSet':
      case 'IndexedQuadSet':
        return this.#faces(element);
      case 'Extrusion':
        return extrusion(a);
      case 'ElevationGrid':
        return elevationGrid(a);
      case 'PointSet':
        return { positions: Float64Array.from(this.#coordinates(element)), indices: new Uint32Array(), groups: [] };
      case 'IndexedLineSet':
      case 'LineSet':
        return this.#lines(element);
      default:
        return undefined;
    }
  }

  #part(element: XmlElement, ...names: string[]): XmlElement | undefined {
    const [found] = childrenNamed(element, ...names);
    return found && this.#used(found);
  }

  #coordinates(element: XmlElement): number[] {
    return numbersOf(this.#part(element, 'Coordinate', 'CoordinateDouble')?.attributes.point);
  }

  #lines(element: XmlElement): BareMesh {
    const points = this.#coordinates(element);
    const runs =
      element.name === 'LineSet'
        ? runsOf(numbersOf(element.attributes.vertexCount))
        : split(numbersOf(element.attributes.coordIndex));
    const lines = runs.flatMap((run) =>
      run.slice(1).flatMap((to, i) => [run[i], to].flatMap((v) => points.slice(v * 3, v * 3 + 3))),
    );
    return { positions: new Float64Array(), indices: new Uint32Array(), groups: [], lines: Float64Array.from(lines) };
  }

  #faces(element: XmlElement): BareMesh {
    const { attributes: a, name } = element;
    const positions = this.#coordinates(element);
    const count = positions.length / 3;
    const isFaceSet = name === 'IndexedFaceSet';
    // (1) Faces as lists of places in the list of corners; -1 parts them where the corners are given by number.
    const listed = numbersOf(isFaceSet ? a.coordIndex : a.index);
    const all = listed.length > 0 ? listed : Array.from({ length: count }, (_, i) => i);
    const faces = facesOf(name, a, all);
    const normals = numbersOf(this.#part(element, 'Normal')?.attributes.vector);
    const uvs = numbersOf(this.#part(element, 'TextureCoordinate')?.attributes.point);
    const colourElement = this.#part(element, 'Color', 'ColorRGBA');
    const width = colourElement?.name === 'ColorRGBA' ? 4 : 3;
    const raw = numbersOf(colourElement?.attributes.color);
    const colours = Array.from({ length: Math.floor(raw.length / width) * 4 }, (_, i) =>
      i % 4 === 3 ? (width === 4 ? raw[(i >> 2) * 4 + 3] : 1) : linearFromSrgb(raw[(i >> 2) * width + (i % 4)]),
    );
    const perVertex = (attribute: string | undefined) => attribute !== 'false';
    const numberOf = (list: number[], indices: number[], byVertex: boolean, face: number, place: number) =>
      list.length === 0 ? -1 : byVertex ? (indices[place] ?? all[place]) : (indices[face] ?? face);
    const normalIndex = numbersOf(a.normalIndex);
    const uvIndex = numbersOf(a.texCoordIndex);
    const colourIndex = numbersOf(a.colorIndex);
    const run = {
      slot: 0,
      position: [] as number[],
      normal: [] as number[],
      colour: [] as number[],
      uvs: [[] as number[]],
    };
    const isTurned = a.ccw === 'false';
    faces.forEach((places, face) => {
      if (places.length < 3 || !places.every((place) => all[place] >= 0 && all[place] < count)) {
        this.#skipped++;
        return;
      }
      const at = (i: number) =>
        [positions[all[places[i]] * 3], positions[all[places[i]] * 3 + 1], positions[all[places[i]] * 3 + 2]] as const;
      const corners = triangulate(at, places.length);
      if (isTurned) corners.reverse();
      for (const i of corners) {
        const place = places[i];
        run.position.push(all[place]);
        run.normal.push(numberOf(normals, normalIndex, perVertex(a.normalPerVertex), face, place));
        run.colour.push(numberOf(colours, colourIndex, perVertex(a.colorPerVertex), face, place));
        run.uvs[0].push(numberOf(uvs, uvIndex, true, face, place));
      }
    });
    const mesh = meshOfCorners(
      {
        positions,
        ...(normals.length ? { normals } : {}),
        // The origin of the picture is lower left here, upper left in the scene.
        ...(uvs.length ? { uvs: [uvs.map((value, i) => (i % 2 ? 1 - value : value))] } : {}),
        ...(colours.length ? { colours } : {}),
      },
      [run],
    );
    return mesh;
  }

  #material(written: XmlElement | undefined): string {
    if (!written) return 'none';
    const appearance = this.#used(written);
    const known = this.#materials.get(appearance);
    if (known) return known;
    const found = this.#part(appearance, 'Material', 'PhysicalMaterial', 'UnlitMaterial');
    const a = found?.attributes ?? {};
    const isPhysical = found?.name === 'PhysicalMaterial';
    const emissive = linear(triple(a.emissiveColor, [0, 0, 0]));
    const shininess = Number(a.shininess ?? 0.2) * 128;
    const material: Omit<Material, 'id' | 'origin'> = {
      name: found?.attributes.DEF || appearance.attributes.DEF || 'Material',
      baseColor: linear(triple(isPhysical ? a.baseColor : a.diffuseColor, isPhysical ? [1, 1, 1] : [0.8, 0.8, 0.8])),
      opacity: 1 - Math.min(1, Math.max(0, Number(a.transparency ?? 0))),
      metallic: isPhysical ? Number(a.metallic ?? 1) : 0,
      // Exponent of a highlight to roughness: equal width of the lobes, alpha² = 2 / (n + 2) with alpha = roughness².
      roughness: isPhysical ? Number(a.roughness ?? 1) : (2 / (shininess + 2)) ** 0.25,
      ...(emissive.some((value) => value > 0) ? { emissive } : {}),
      ...(found?.name === 'UnlitMaterial' ? { unlit: true } : {}),
    };
    const picture = this.#part(appearance, 'ImageTexture');
    const url = picture?.attributes.url?.match(/"([^"]+)"/)?.[1] ?? picture?.attributes.url?.trim();
    if (picture && url) {
      const transform = this.#part(appearance, 'TextureTransform')?.attributes;
      const use: TextureUse = {
        texture: referredTexture(this.builder, url),
        uv: 0,
        ...(picture.attributes.repeatS === 'false' ? { wrap: 'clamp' as const } : {}),
        ...(transform?.scale ? { scale: pair(transform.scale, [1, 1]) } : {}),
        ...(transform?.translation ? { offset: pair(transform.translation, [0, 0]) } : {}),
      };
      material.textures = { baseColor: use };
      material.baseColor = [1, 1, 1];
    }
    const id = this.builder.material(material);
    this.#materials.set(appearance, id);
    return id;
  }
}

/** Of a switch the child that is on, of levels of detail the finest. */
function shownChildren(element: XmlElement): XmlElement[] {
  if (element.name === 'LOD') return element.children.slice(0, 1);
  if (element.name !== 'Switch') return element.children;
  const choice = Number(element.attributes.whichChoice ?? -1);
  return element.children.slice(choice, choice + 1);
}

function facesOf(name: string, attributes: Record<string, string>, all: number[]): number[][] {
  const places = all.map((_, i) => i);
  if (name === 'IndexedFaceSet') return split(all).length ? splitPlaces(all) : [];
  if (name.endsWith('StripSet') || name.endsWith('FanSet')) {
    const counts = numbersOf(attributes.stripCount ?? attributes.fanCount);
    const runs = name.startsWith('Indexed') ? splitPlaces(all) : runsOf(counts);
    return runs.flatMap((run) =>
      run
        .slice(2)
        .map((place, i) =>
          name.endsWith('FanSet')
            ? [run[0], run[i + 1], place]
            : i % 2
              ? [run[i + 1], run[i], place]
              : [run[i], run[i + 1], place],
        ),
    );
  }
  const size = name.includes('Quad') ? 4 : 3;
  return Array.from({ length: Math.floor(places.length / size) }, (_, i) => places.slice(i * size, i * size + size));
}

/** Lists parted by -1, as values. */
function split(values: number[]): number[][] {
  return splitPlaces(values).map((run) => run.map((place) => values[place]));
}

/** Lists parted by -1, as places in the whole. */
function splitPlaces(values: number[]): number[][] {
  const out: number[][] = [[]];
  values.forEach((value, place) => {
    if (value < 0) out.push([]);
    else out[out.length - 1].push(place);
  });
  return out.filter((run) => run.length > 0);
}

function runsOf(counts: number[]): number[][] {
  let from = 0;
  return counts.map((count) => {
    const safe = count >= 0 && count < 1e7 ? count : 0;
    from += safe;
    return Array.from({ length: safe }, (_, i) => from - safe + i);
  });
}

function triple(text: string | undefined, standard: [number, number, number]): [number, number, number] {
  const [x, y, z] = numbersOf(text);
  return Number.isFinite(x + y + z) ? [x, y, z] : standard;
}

function pair(text: string, standard: [number, number]): [number, number] {
  const [x, y] = numbersOf(text);
  return Number.isFinite(x + y) ? [x, y] : standard;
}

function linear(colour: readonly number[]): [number, number, number] {
  return colour.map((value) => linearFromSrgb(Math.min(1, Math.max(0, value)))) as [number, number, number];
}

/** Axis and angle in radians to a unit quaternion. */
function quaternion(text: string | undefined): [number, number, number, number] {
  const [x, y, z, angle] = numbersOf(text);
  const length = Math.hypot(x, y, z);
  if (!(length > 0) || !Number.isFinite(angle)) return [0, 0, 0, 1];
  const s = Math.sin(angle / 2) / length;
  return [x * s, y * s, z * s, Math.cos(angle / 2)];
}

/** Turns -z to a direction: the shortest way. */
function towards([x, y, z]: readonly number[]): [number, number, number, number] {
  const length = Math.hypot(x, y, z) || 1;
  const w = 1 - z / length;
  if (w < 1e-9) return [0, 1, 0, 0];
  const norm = Math.hypot(y / length, x / length, w);
  return [y / length / norm, -x / length / norm, 0, w / norm];
}

/** Translation, centre, rotation, orientation of the scale, scale: T C R SR S -SR -C (ISO/IEC 19775-1, 10.4.4). */
function transformOf(a: Record<string, string>): Matrix {
  const [cx, cy, cz] = triple(a.center, [0, 0, 0]);
  const turn = quaternion(a.scaleOrientation);
  const [x, y, z, w] = turn;
  const one = [1, 1, 1];
  const none = [0, 0, 0, 1];
  return [
    composed(triple(a.translation, [0, 0, 0]), none, one),
    composed([cx, cy, cz], quaternion(a.rotation), one),
    composed([0, 0, 0], turn, triple(a.scale, [1, 1, 1])),
    composed([0, 0, 0], [-x, -y, -z, w], one),
    composed([-cx, -cy, -cz], none, one),
  ].reduce((product, matrix) => multiply(product, matrix));
}
