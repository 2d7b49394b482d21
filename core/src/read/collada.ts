/** Reader of COLLADA 1.4 and 1.5 (ISO/PAS 17506): instances, several UV sets, unit, up axis, cameras, lights, materials with pictures. */
import { linearFromSrgb } from '../finish/colour.ts';
import { triangulate } from '../mesh/polygons.ts';
import { PrismError } from '../errors.ts';
import { IDENTITY, composed, cross, multiply, normalize } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import type { CameraInfo, LightInfo, Material, SceneNode, TextureUse } from '../scene/types.ts';
import { SceneBuilder } from './builder.ts';
import { meshOfCorners } from './corners.ts';
import type { CornerRun } from './corners.ts';
import { openPackage } from './package.ts';
import type { Reader, Reading, SourceFile } from './reader.ts';
import { headOf } from './scanner.ts';
import { referredTexture } from './textures.ts';
import { child, childrenNamed, everything, numbersOf, parseXml } from './xml.ts';
import type { XmlElement } from './xml.ts';

export const colladaReader: Reader = {
  format: 'COLLADA',
  endings: ['dae', 'zae'],
  recognises: ({ bytes }) => /<(\w+:)?COLLADA\b/.test(headOf(bytes, 2000)),
  read: async (file, sourceId) => readCollada(file, sourceId),
};

/** Deepest nesting of nodes, through instances of nodes. */
const MAX_DEPTH = 200;

function readCollada(received: SourceFile, sourceId: string): Reading {
  const file = unpacked(received);
  const { root, broken } = parseXml(file.bytes, file.name);
  if (root.name !== 'COLLADA')
    throw new PrismError('not-readable', `${file.name} is not COLLADA: it begins with <${root.name}>.`, {
      file: file.name,
    });
  const asset = child(root, 'asset');
  const unit = child(asset, 'unit');
  const metres = Number(unit?.attributes.meter ?? 1);
  const up = child(asset, 'up_axis')?.text.trim() ?? 'Y_UP';
  const builder = new SceneBuilder({ ...received, ...(file.beside ? { beside: file.beside } : {}) }, sourceId, {
    format: 'COLLADA',
    schema: root.attributes.version ?? '',
    producer: [child(asset, 'contributor', 'authoring_tool')?.text.trim(), child(asset, 'created')?.text.trim()]
      .filter(Boolean)
      .join(', '),
    unit: {
      name: unit?.attributes.name ?? 'm',
      metres: metres > 0 && Number.isFinite(metres) ? metres : 1,
      declared: unit !== undefined,
    },
    upAxis: { axis: up === 'Z_UP' ? 'z' : 'y', by: child(asset, 'up_axis') ? 'file' : 'convention' },
  });
  if (up === 'X_UP') builder.warn('up-axis', 'The file has x up, which is read as y up: turn it in Arrange.');
  if (broken) builder.warn('truncated', `${file.name} is cut off or damaged; what stands before is kept.`, broken);
  new ColladaDocument(root, builder, file.name).place();
  return builder.reading();
}

/** A .zae is a zip with the text and its pictures. */
function unpacked(file: SourceFile): SourceFile {
  const inner = openPackage(file);
  const path = inner && [...inner.files.keys()].find((name) => name.toLowerCase().endsWith('.dae'));
  return inner && path ? { name: path, bytes: inner.bytes(path), beside: inner } : file;
}

interface Source {
  values: number[];
  stride: number;
}

/** An input of a primitive: where its values are, and which number of the tuple means them. */
interface Input {
  semantic: string;
  offset: number;
  set: number;
  source: Source;
}

interface PlacedGeometry {
  id: number;
  /** Symbols of the materials, per slot. */
  symbols: string[];
}

class ColladaDocument {
  readonly #byId = new Map<string, XmlElement>();
  readonly #sources = new Map<XmlElement, Source>();
  readonly #geometries = new Map<XmlElement, PlacedGeometry | undefined>();
  readonly #materials = new Map<string, string>();
  #skipped = 0;

  constructor(
    readonly root: XmlElement,
    readonly builder: SceneBuilder,
    readonly path: string,
  ) {
    for (const element of everything(root)) if (element.attributes.id) this.#byId.set(element.attributes.id, element);
    const animations = childrenNamed(root, 'library_animations').reduce(
      (sum, library) => sum + library.children.length,
      0,
    );
    builder.counts.animations = animations;
    if (animations > 0) builder.notRead.add('Animations are counted and not carried further.');
  }

  place(): void {
    const instance = child(this.root, 'scene', 'instance_visual_scene');
    const scene = this.#refer(instance?.attributes.url) ?? child(this.root, 'library_visual_scenes', 'visual_scene');
    for (const node of childrenNamed(scene, 'node')) this.#node(node, undefined, 0);
    if (this.builder.size === 0)
      for (const geometry of childrenNamed(child(this.root, 'library_geometries'), 'geometry'))
        this.#instance(geometry, undefined, undefined, geometry.attributes.name);
    if (this.#skipped > 0)
      this.builder.warn('bad-indices', `${this.#skipped} faces name values that are not there; they are left out.`);
  }

  #refer(url: string | undefined): XmlElement | undefined {
    return url === undefined ? undefined : this.#byId.get(url.replace(/^.*#/, ''));
  }

  #node(node: XmlElement, parent: number | undefined, depth: number): void {
    if (depth > MAX_DEPTH)
      return this.builder.warn(
        'cyclic',
        `Node ${node.attributes.id ?? ''} contains itself, or nests deeper than ${MAX_DEPTH}.`,
        `line ${node.line}`,
      );
    const geometries = childrenNamed(node, 'instance_geometry', 'instance_controller');
    const cameras = childrenNamed(node, 'instance_camera');
    const lights = childrenNamed(node, 'instance_light');
    const inner = childrenNamed(node, 'node');
    const references = childrenNamed(node, 'instance_node');
    const name = node.attributes.name || node.attributes.id || '';
    const more: Partial<SceneNode> = { entity: `line ${node.line}` };
    const camera = cameras[0] && cameraOf(this.#refer(cameras[0].attributes.url), this.builder.metres);
    const light = lights[0] && lightOf(this.#refer(lights[0].attributes.url));
    if (camera) {
      more.camera = camera;
      this.builder.counts.cameras++;
    }
    if (light) {
      more.light = light;
      this.builder.counts.lights++;
    }
    const transform = transformOf(node);
    const layer = node.attributes.layer?.split(/\s+/)[0] || null;
    const found = geometries.flatMap((instance) => this.#geometryOf(instance) ?? []);
    const [only] = found;
    if (only && geometries.length === 1 && inner.length + references.length === 0) {
      const { geometry, bind } = only;
      const placed = this.#geometry(geometry);
      if (placed) {
        this.builder.node({
          ...(parent === undefined ? {} : { parent }),
          name: name || geometry.attributes.name || geometry.attributes.id,
          transform,
          geometry: placed.id,
          materials: this.#bound(placed, bind),
          layer,
          more,
        });
        return;
      }
    }
    const id = this.builder.node({
      ...(parent === undefined ? {} : { parent }),
      name,
      transform,
      kind: more.camera ? 'camera' : more.light ? 'light' : 'assembly',
      layer,
      more,
    });
    for (const { geometry, bind } of found) this.#instance(geometry, id, bind, geometry.attributes.name);
    for (const one of inner) this.#node(one, id, depth + 1);
    for (const one of references) {
      const target = this.#refer(one.attributes.url);
      if (target) this.#node(target, id, depth + 1);
      else this.builder.warn('dangling', `${one.attributes.url} is placed and not in the file.`, `line ${one.line}`);
    }
  }

  /** Through a controller to the geometry that it bends. */
  #geometryOf(instance: XmlElement): { geometry: XmlElement; bind: XmlElement | undefined } | undefined {
    let target = this.#refer(instance.attributes.url);
    for (let steps = 0; target?.name === 'controller' && steps < 10; steps++) {
      this.builder.notRead.add('Skins and morphs: the geometry is shown as it stands before it is bent.');
      target = this.#refer((child(target, 'skin') ?? child(target, 'morph'))?.attributes.source);
    }
    if (target?.name !== 'geometry') {
      this.builder.warn(
        'dangling',
        `${instance.attributes.url} is placed and not in the file.`,
        `line ${instance.line}`,
      );
      return undefined;
    }
    return { geometry: target, bind: child(instance, 'bind_material', 'technique_common') };
  }

  #instance(
    geometry: XmlElement,
    parent: number | undefined,
    bind: XmlElement | undefined,
    name: string | undefined,
  ): void {
    const placed = this.#geometry(geometry);
    if (!placed) return;
    this.builder.node({
      ...(parent === undefined ? {} : { parent }),
      name: name || geometry.attributes.id || 'Part',
      geometry: placed.id,
      materials: this.#bound(placed, bind),
    });
  }

  #bound({ symbols }: PlacedGeometry, bind: XmlElement | undefined): string[] {
    return symbols.map((symbol) => {
      const instance = childrenNamed(bind, 'instance_material').find(({ attributes }) => attributes.symbol === symbol);
      const target = this.#refer(instance?.attributes.target) ?? this.#byId.get(symbol);
      if (target?.name !== 'material') return 'none';
      const sets = new Map(
        childrenNamed(instance, 'bind_vertex_input').map(
          ({ attributes }) => [attributes.semantic, Number(attributes.input_set ?? 0)] as const,
        ),
      );
      return this.#material(target, sets);
    });
  }

  #geometry(element: XmlElement): PlacedGeometry | undefined {
    if (this.#geometries.has(element)) return this.#geometries.get(element);
    const mesh = child(element, 'mesh');
    if (!mesh && (child(element, 'convex_mesh') || child(element, 'spline') || child(element, 'brep')))
      this.builder.notRead.add('Splines, convex meshes and boundary representations are not read.');
    const made = mesh && this.#mesh(mesh);
    this.#geometries.set(element, made);
    return made;
  }

  #mesh(mesh: XmlElement): PlacedGeometry | undefined {
    const symbols: string[] = [];
    const positions: number[] = [];
    const normals: number[] = [];
    const colours: number[] = [];
    const uvs: number[][] = [];
    const bases = new Map<Source, number>();
    const baseOf = (source: Source, list: number[], size: number) => {
      let base = bases.get(source);
      if (base === undefined) {
        base = list.length / size;
        for (let i = 0; i + source.stride <= source.values.length; i += source.stride)
          for (let k = 0; k < size; k++) list.push(source.values[i + k] ?? (size === 4 ? 1 : 0));
        bases.set(source, base);
      }
      return base;
    };
    const runs: CornerRun[] = [];
    const lines: number[] = [];
    let allNormals = true;
    for (const primitive of childrenNamed(
      mesh,
      'triangles',
      'polylist',
      'polygons',
      'tristrips',
      'trifans',
      'lines',
      'linestrips',
    )) {
      const inputs = this.#inputs(primitive);
      const position = inputs.find(({ semantic }) => semantic === 'POSITION');
      if (!position) continue;
      const width = 1 + inputs.reduce((most, { offset }) => Math.max(most, offset), 0);
      const base = baseOf(position.source, positions, 3);
      const count = Math.floor(position.source.values.length / position.source.stride);
      const at = (tuple: number[], i: number) => tuple[i * width + position.offset];
      if (primitive.name === 'lines' || primitive.name === 'linestrips') {
        for (const p of childrenNamed(primitive, 'p')) {
          const tuple = numbersOf(p.text);
          const points = tuple.length / width;
          for (let i = 0; i + 1 < points; i += primitive.name === 'lines' ? 2 : 1)
            for (const k of [i, i + 1])
              lines.push(...[0, 1, 2].map((axis) => positions[(base + at(tuple, k)) * 3 + axis] ?? 0));
        }
        continue;
      }
      const normal = inputs.find(({ semantic }) => semantic === 'NORMAL');
      const colour = inputs.find(({ semantic }) => semantic === 'COLOR');
      const texcoords = inputs.filter(({ semantic }) => semantic === 'TEXCOORD').sort((a, b) => a.set - b.set);
      if (!normal) allNormals = false;
      const symbol = primitive.attributes.material ?? '';
      let slot = symbols.indexOf(symbol);
      if (slot < 0) slot = symbols.push(symbol) - 1;
      const run = {
        slot,
        position: [] as number[],
        normal: [] as number[],
        colour: [] as number[],
        uvs: texcoords.map(() => [] as number[]),
      };
      const normalBase = normal ? baseOf(normal.source, normals, 3) : 0;
      const colourBase = colour ? baseOf(colour.source, colours, 4) : 0;
      const uvBases = texcoords.map(({ source }, set) => baseOf(source, (uvs[set] ??= []), 2));
      const corner = (tuple: number[], i: number) => {
        run.position.push(base + at(tuple, i));
        if (normal) run.normal.push(normalBase + tuple[i * width + normal.offset]);
        run.colour.push(colour ? colourBase + tuple[i * width + colour.offset] : -1);
        texcoords.forEach(({ offset }, set) => run.uvs[set].push(uvBases[set] + tuple[i * width + offset]));
      };
      const face = (tuple: number[], corners: number[]) => {
        if (corners.some((i) => !(at(tuple, i) >= 0 && at(tuple, i) < count))) this.#skipped++;
        else for (const i of corners) corner(tuple, i);
      };
      const polygon = (tuple: number[], first: number, size: number) => {
        const pointOf = (i: number) => {
          const v = (base + at(tuple, first + i)) * 3;
          return [positions[v], positions[v + 1], positions[v + 2]] as const;
        };
        if (size < 3) this.#skipped++;
        else
          for (let i = 0, list = triangulate(pointOf, size); i < list.length; i += 3)
            face(tuple, [first + list[i], first + list[i + 1], first + list[i + 2]]);
      };
      const pieces = [
        ...childrenNamed(primitive, 'p'),
        ...childrenNamed(primitive, 'ph').flatMap((ph) => childrenNamed(ph, 'p')),
      ];
      if (childrenNamed(primitive, 'ph').length > 0)
        this.builder.notRead.add('Holes in polygons: the polygons are filled.');
      for (const p of pieces) {
        const tuple = numbersOf(p.text);
        const corners = Math.floor(tuple.length / width);
        if (primitive.name === 'triangles') for (let i = 0; i + 2 < corners; i += 3) face(tuple, [i, i + 1, i + 2]);
        else if (primitive.name === 'tristrips')
          for (let i = 0; i + 2 < corners; i++) face(tuple, i % 2 ? [i + 1, i, i + 2] : [i, i + 1, i + 2]);
        else if (primitive.name === 'trifans') for (let i = 1; i + 1 < corners; i++) face(tuple, [0, i, i + 1]);
        else if (primitive.name === 'polygons') polygon(tuple, 0, corners);
        else {
          let first = 0;
          for (const size of numbersOf(child(primitive, 'vcount')?.text)) {
            if (!(size >= 0) || first + size > corners) {
              this.#skipped++;
              break;
            }
            polygon(tuple, first, size);
            first += size;
          }
        }
      }
      runs.push(run);
    }
    if (runs.length === 0 && lines.length === 0) return undefined;
    const made = meshOfCorners(
      {
        positions,
        ...(allNormals && normals.length ? { normals } : {}),
        // The origin of the picture is lower left here, upper left in the scene.
        ...(uvs.length ? { uvs: uvs.map((list) => list.map((value, i) => (i % 2 ? 1 - value : value))) } : {}),
        ...(colours.length ? { colours } : {}),
      },
      runs,
    );
    const id = this.builder.mesh({ ...made, ...(lines.length ? { lines: Float64Array.from(lines) } : {}) });
    return { id, symbols };
  }

  #inputs(primitive: XmlElement): Input[] {
    const out: Input[] = [];
    for (const { attributes } of childrenNamed(primitive, 'input')) {
      const offset = Number(attributes.offset ?? 0);
      const set = Number(attributes.set ?? 0);
      if (!(offset >= 0 && offset < 64)) continue;
      const target = this.#refer(attributes.source);
      if (!target) continue;
      if (attributes.semantic === 'VERTEX') {
        for (const inner of childrenNamed(target, 'input')) {
          const source = this.#source(this.#refer(inner.attributes.source));
          if (source)
            out.push({ semantic: inner.attributes.semantic, offset, set: Number(inner.attributes.set ?? 0), source });
        }
      } else {
        const source = this.#source(target);
        if (source) out.push({ semantic: attributes.semantic, offset, set, source });
      }
    }
    return out;
  }

  #source(element: XmlElement | undefined): Source | undefined {
    if (!element) return undefined;
    let source = this.#sources.get(element);
    if (!source) {
      const values = numbersOf(child(element, 'float_array')?.text);
      const stride = Number(child(element, 'technique_common', 'accessor')?.attributes.stride ?? 1);
      source = { values, stride: stride > 0 && Number.isInteger(stride) ? stride : 1 };
      this.#sources.set(element, source);
    }
    return source;
  }

  #material(element: XmlElement, sets: Map<string, number>): string {
    const key = `${element.attributes.id} ${[...sets].join(' ')}`;
    let id = this.#materials.get(key);
    if (id) return id;
    const effect = this.#refer(child(element, 'instance_effect')?.attributes.url);
    const profile = child(effect, 'profile_COMMON');
    const technique = child(profile, 'technique');
    const shading =
      child(technique, 'phong') ??
      child(technique, 'blinn') ??
      child(technique, 'lambert') ??
      child(technique, 'constant');
    const material: Omit<Material, 'id' | 'origin'> = {
      name: element.attributes.name || element.attributes.id || 'Material',
      baseColor: [0.6, 0.6, 0.6],
      opacity: 1,
      metallic: 0,
      roughness: 0.7,
    };
    const diffuse = child(shading, 'diffuse');
    const colour = numbersOf(child(diffuse, 'color')?.text);
    if (colour.length >= 3) material.baseColor = linear(colour);
    const picture = this.#picture(child(diffuse, 'texture'), profile, effect, sets);
    if (picture) {
      material.textures = { baseColor: picture };
      material.baseColor = [1, 1, 1];
    }
    const emission = numbersOf(child(shading, 'emission', 'color')?.text).slice(0, 3);
    if (emission.length === 3 && emission.some((value) => value > 0)) material.emissive = linear(emission);
    const shininess = Number(child(shading, 'shininess', 'float')?.text);
    // Exponent of a highlight to roughness: equal width of the lobes, alpha² = 2 / (n + 2) with alpha = roughness².
    if (shininess > 1) material.roughness = (2 / (shininess + 2)) ** 0.25;
    const opacity = opacityOf(shading);
    if (opacity < 1) material.opacity = opacity;
    const bump = [...(technique ? everything(technique) : [])].find(({ name }) => name === 'bump');
    const normal = this.#picture(child(bump, 'texture'), profile, effect, sets);
    if (normal) material.textures = { ...material.textures, normal };
    const doubleSided = [...(effect ? everything(effect) : [])].find(({ name }) => name === 'double_sided');
    if (doubleSided?.text.trim() === '1') material.doubleSided = true;
    if (shading?.name === 'constant') material.unlit = true;
    id = this.builder.material(material);
    this.#materials.set(key, id);
    return id;
  }

  /** From the texture through its sampler and surface to the picture; some files skip what lies between. */
  #picture(
    texture: XmlElement | undefined,
    profile: XmlElement | undefined,
    effect: XmlElement | undefined,
    sets: Map<string, number>,
  ): TextureUse | undefined {
    if (!texture) return undefined;
    const params = new Map(
      [...childrenNamed(profile, 'newparam'), ...childrenNamed(effect, 'newparam')].map(
        (param) => [param.attributes.sid, param] as const,
      ),
    );
    const sampler = child(params.get(texture.attributes.texture), 'sampler2D');
    const surface = child(params.get(child(sampler, 'source')?.text.trim() ?? ''), 'surface');
    const target =
      child(sampler, 'instance_image')?.attributes.url ??
      child(surface, 'init_from')?.text.trim() ??
      texture.attributes.texture;
    const image = this.#refer(target);
    const from = child(image, 'init_from');
    const reference = (child(from, 'ref')?.text ?? from?.text)?.trim();
    if (!reference) return undefined;
    const wrap = child(sampler, 'wrap_s')?.text.trim();
    return {
      texture: referredTexture(this.builder, reference.replace(/^file:\/*/, ''), this.path),
      uv: sets.get(texture.attributes.texcoord) ?? 0,
      ...(wrap === 'CLAMP' || wrap === 'BORDER'
        ? { wrap: 'clamp' as const }
        : wrap === 'MIRROR'
          ? { wrap: 'mirror' as const }
          : {}),
    };
  }
}

function linear(values: number[]): [number, number, number] {
  return [0, 1, 2].map((i) => linearFromSrgb(Math.min(1, Math.max(0, values[i])))) as [number, number, number];
}

/** Opacity by the modes of the specification; A_ONE where none is stated. */
function opacityOf(shading: XmlElement | undefined): number {
  const transparent = child(shading, 'transparent');
  const stated = child(shading, 'transparency', 'float');
  if (!transparent && !stated) return 1;
  const share = stated ? Number(stated.text) : 1;
  const [r = 1, g = 1, b = 1, a = 1] = numbersOf(child(transparent, 'color')?.text);
  const luminance = 0.212671 * r + 0.71516 * g + 0.072169 * b;
  const mode = transparent?.attributes.opaque ?? 'A_ONE';
  const opacity =
    mode === 'RGB_ZERO'
      ? 1 - luminance * share
      : mode === 'A_ZERO'
        ? 1 - a * share
        : mode === 'RGB_ONE'
          ? luminance * share
          : a * share;
  // Many writers state 0 and mean opaque (common practice): a thing that nobody can see would not have been sent.
  return Number.isFinite(opacity) && opacity > 0 && opacity < 1 ? opacity : 1;
}

function transformOf(node: XmlElement): Matrix {
  let out: Matrix = IDENTITY;
  for (const { name, text } of node.children) {
    const n = numbersOf(text);
    if (!n.every(Number.isFinite)) continue;
    if (name === 'matrix' && n.length >= 16)
      out = multiply(
        out,
        [0, 4, 8, 12, 1, 5, 9, 13, 2, 6, 10, 14, 3, 7, 11, 15].map((i) => n[i]),
      );
    else if (name === 'translate' && n.length >= 3) out = multiply(out, composed(n, [0, 0, 0, 1], [1, 1, 1]));
    else if (name === 'scale' && n.length >= 3) out = multiply(out, composed([0, 0, 0], [0, 0, 0, 1], n));
    else if (name === 'rotate' && n.length >= 4) out = multiply(out, composed([0, 0, 0], quaternion(n), [1, 1, 1]));
    else if (name === 'lookat' && n.length >= 9) out = multiply(out, lookAt(n));
  }
  return out;
}

/** Axis and degrees to a unit quaternion. */
function quaternion([x, y, z, degrees]: number[]): number[] {
  const length = Math.hypot(x, y, z) || 1;
  const half = (degrees * Math.PI) / 360;
  const s = Math.sin(half) / length;
  return [x * s, y * s, z * s, Math.cos(half)];
}

function lookAt(n: number[]): Matrix {
  const eye: Vector = [n[0], n[1], n[2]];
  const back = normalize([n[0] - n[3], n[1] - n[4], n[2] - n[5]]);
  const right = normalize(cross([n[6], n[7], n[8]], back));
  const up = cross(back, right);
  return [...right, 0, ...up, 0, ...back, 0, ...eye, 1];
}

function cameraOf(camera: XmlElement | undefined, metres: number): CameraInfo | undefined {
  const optics = child(camera, 'optics', 'technique_common');
  const perspective = child(optics, 'perspective');
  const orthographic = child(optics, 'orthographic');
  const view = perspective ?? orthographic;
  if (!view) return undefined;
  const value = (name: string) => {
    const number = Number(child(view, name)?.text ?? NaN);
    return Number.isFinite(number) ? number : undefined;
  };
  const near = (value('znear') ?? 0.1) * metres;
  const far = (value('zfar') ?? 1000) * metres;
  const ratio =
    value('aspect_ratio') ?? (value('xfov') && value('yfov') ? (value('xfov') ?? 1) / (value('yfov') ?? 1) : 1.5);
  if (orthographic)
    return { type: 'orthographic', height: 2 * metres * (value('ymag') ?? (value('xmag') ?? 1) / ratio), near, far };
  const yfov = value('yfov');
  const xfov = value('xfov') ?? 45;
  const fov = yfov === undefined ? 2 * Math.atan(Math.tan((xfov * Math.PI) / 360) / ratio) : (yfov * Math.PI) / 180;
  return { type: 'perspective', fov, near, far };
}

function lightOf(light: XmlElement | undefined): LightInfo | undefined {
  const common = child(light, 'technique_common')?.children[0];
  if (!common) return undefined;
  const types: Record<string, LightInfo['type']> = {
    directional: 'directional',
    point: 'point',
    spot: 'spot',
    ambient: 'ambient',
  };
  const type = types[common.name];
  if (!type) return undefined;
  const colour = numbersOf(child(common, 'color')?.text);
  const falloff = Number(child(common, 'falloff_angle')?.text ?? 180);
  return {
    type,
    color: colour.length >= 3 ? [colour[0], colour[1], colour[2]] : [1, 1, 1],
    intensity: 1,
    ...(type === 'spot' ? { inner: 0, outer: Math.min(Math.PI / 2, (falloff * Math.PI) / 360) } : {}),
  };
}
