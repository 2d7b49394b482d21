/** Reader of X3D (ISO/IEC 19775/19776) in its XML encoding: transforms, shapes, appearance, DEF and USE. */
import { PrismError } from '../../errors.ts';
import { composed } from '../../scene/matrix.ts';
import type { LightInfo, SceneNode } from '../../scene/types.ts';
import { SceneBuilder } from '../builder.ts';
import type { Reader, Reading, SourceFile } from '../reader.ts';
import { headOf } from '../scanner.ts';
import { child, childrenNamed, everything, numbersOf, parseXml } from '../xml.ts';
import type { XmlElement } from '../xml.ts';
import { enterAnimations } from './animations.ts';
import { X3dMaterials } from './appearance.ts';
import { Definitions } from './definitions.ts';
import { X3dMeshes } from './meshes.ts';
import { fullName, placeOf, towards, triple } from './values.ts';

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
  readonly #definitions: Definitions;
  readonly #meshes: X3dMeshes;
  readonly #materials: X3dMaterials;
  /** Numbers of the builder by element; one that is used twice has two. */
  readonly #ids = new Map<XmlElement, number[]>();

  constructor(
    readonly root: XmlElement,
    readonly builder: SceneBuilder,
  ) {
    this.#definitions = new Definitions(root);
    this.#meshes = new X3dMeshes(this.#definitions, builder);
    this.#materials = new X3dMaterials(this.#definitions, builder);
    for (const element of everything(root)) {
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
  }

  place(scene: XmlElement): void {
    for (const element of scene.children) this.#node(element, undefined, 0, 'Scene');
    enterAnimations(this.root, this.#definitions, this.#ids, this.builder);
    const { skipped } = this.#meshes;
    if (skipped > 0)
      this.builder.warn('bad-indices', `${skipped} faces name values that are not there; they are left out.`);
  }

  #enterId(element: XmlElement, id: number): void {
    this.#ids.set(element, [...(this.#ids.get(element) ?? []), id]);
  }

  #node(written: XmlElement, parent: number | undefined, depth: number, above: string): void {
    if (depth > MAX_DEPTH)
      return this.builder.warn(
        'cyclic',
        `${above} contains itself, or nests deeper than ${MAX_DEPTH}.`,
        `line ${written.line}`,
      );
    const element = this.#definitions.used(written);
    const { attributes } = element;
    const name = fullName(element) || written.attributes.DEF || attributes.DEF || attributes.name || '';
    const place = parent === undefined ? {} : { parent };
    const more: Partial<SceneNode> = { entity: `line ${element.line}` };
    if (GROUPS.has(element.name)) {
      const layer = element.name === 'CADLayer' ? attributes.name || null : null;
      const id = this.builder.node({
        ...place,
        name: name || element.name,
        kind: 'assembly',
        transform: placeOf(element, attributes),
        layer,
        more,
      });
      this.#enterId(element, id);
      for (const inner of shownChildren(element)) this.#node(inner, id, depth + 1, name || element.name);
    } else if (element.name === 'Shape') {
      const geometry = this.#meshes.of(element);
      if (geometry === undefined) return;
      const material = this.#materials.of(child(element, 'Appearance'));
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
      const [, low = NaN, , high = NaN] = numbersOf(attributes.fieldOfView);
      const camera =
        element.name === 'Viewpoint' && fov > 0 && fov < Math.PI
          ? { camera: { type: 'perspective' as const, fov, near: 0.1 } }
          : high > low
            ? {
                camera: {
                  type: 'orthographic' as const,
                  height: (high - low) * this.builder.metres,
                  near: 0.1,
                  far: 10_000,
                },
              }
            : {};
      const id = this.builder.node({
        ...place,
        name: attributes.description || name || 'Viewpoint',
        kind: 'camera',
        transform: placeOf(element, attributes),
        more: { ...more, ...camera },
      });
      this.#enterId(element, id);
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
}

/** Of a switch the child that is on, of levels of detail the finest. */
function shownChildren(element: XmlElement): XmlElement[] {
  if (element.name === 'LOD') return element.children.slice(0, 1);
  if (element.name !== 'Switch') return element.children;
  const choice = Number(element.attributes.whichChoice ?? -1);
  return element.children.slice(choice, choice + 1);
}
