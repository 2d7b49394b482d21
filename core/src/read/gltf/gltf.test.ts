// glTF 2.0 (ISO/IEC 12113) and its extensions by their texts at Khronos; files made with gltf-transform, and open test files.
import { Document, WebIO } from '@gltf-transform/core';
import {
  ALL_EXTENSIONS,
  EXTMeshGPUInstancing,
  KHRLightsPunctual,
  KHRMaterialsVariants,
  KHRMaterialsPBRSpecularGlossiness,
  KHRTextureTransform,
} from '@gltf-transform/extensions';
import { describe, expect, it } from 'vitest';
import { applyStep } from '../../steps/kind.ts';
import { bytesOf, fileOf, modelOf, readAll, readOnce, warningsOf } from '../../testing/reading.ts';
import { worldBox, worldTransforms } from '../../scene/tree.ts';
import type { Scene } from '../../scene/types.ts';
import { variantStep } from '../../steps/variant.ts';
import type { ReadFile } from '../../testing/reading.ts';

/** A document with one triangle, and what else is done to it. */
async function made(
  change: (document: Document, mesh: ReturnType<Document['createMesh']>) => void,
): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const position = document
    .createAccessor()
    .setType('VEC3')
    .setArray(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]))
    .setBuffer(buffer);
  const uv = document
    .createAccessor()
    .setType('VEC2')
    .setArray(new Float32Array([0, 0, 1, 0, 0, 1]))
    .setBuffer(buffer);
  const mesh = document
    .createMesh('Leaf')
    .addPrimitive(document.createPrimitive().setAttribute('POSITION', position).setAttribute('TEXCOORD_0', uv));
  document.createScene();
  change(document, mesh);
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document);
}

const placed = ({ scene }: ReadFile) => scene.nodes.filter((node) => node.mesh);

describe('glTF', () => {
  it('keeps the tree, and one mesh for many places', async () => {
    const file = await made((document, mesh) => {
      const group = document.createNode('Tree').setTranslation([0, 3, 0]);
      for (const name of ['a', 'b', 'c']) group.addChild(document.createNode(name).setMesh(mesh));
      document.getRoot().listScenes()[0].addChild(group);
    });
    const { scene, node } = await readAll(fileOf('tree.glb', file));
    expect(scene.nodes.map(({ name, parent }) => [name, parent])).toEqual([
      ['Tree', null],
      ['a', 0],
      ['b', 0],
      ['c', 0],
    ]);
    expect(Object.keys(scene.meshes)).toHaveLength(1);
    expect(node('Tree').transform.slice(12, 15)).toEqual([0, 3, 0]);
    expect(scene.sources[0]).toMatchObject({ unit: { name: 'm', declared: true }, up: 'y' });
  });

  it('makes rows of the instances of EXT_mesh_gpu_instancing', async () => {
    const file = await made((document, mesh) => {
      const extension = document.createExtension(EXTMeshGPUInstancing);
      const move = document
        .createAccessor()
        .setType('VEC3')
        .setArray(new Float32Array([1, 0, 0, 2, 0, 0]))
        .setBuffer(document.getRoot().listBuffers()[0]);
      const half = Math.SQRT1_2;
      const turn = document
        .createAccessor()
        .setType('VEC4')
        .setArray(new Float32Array([0, 0, 0, 1, 0, 0, half, half]))
        .setBuffer(document.getRoot().listBuffers()[0]);
      const node = document.createNode('Fence').setMesh(mesh);
      node.setExtension(
        'EXT_mesh_gpu_instancing',
        extension.createInstancedMesh().setAttribute('TRANSLATION', move).setAttribute('ROTATION', turn),
      );
      document.getRoot().listScenes()[0].addChild(node);
    });
    const { scene } = await readAll(fileOf('fence.glb', file));
    const [, first, second] = scene.nodes;
    expect([first.name, second.name, first.mesh === second.mesh]).toEqual(['Fence 1', 'Fence 2', true]);
    // A quarter turn about z takes x to y.
    expect(second.transform.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 2, 0, 0, 1,
    ]);
  });

  it('converts specular-gloss by the formulas of its extension', async () => {
    const file = await made((document, mesh) => {
      const extension = document.createExtension(KHRMaterialsPBRSpecularGlossiness);
      const gold = document.createMaterial('Gold');
      gold.setExtension(
        'KHR_materials_pbrSpecularGlossiness',
        extension
          .createPBRSpecularGlossiness()
          .setDiffuseFactor([0, 0, 0, 1])
          .setSpecularFactor([1, 0.766, 0.336])
          .setGlossinessFactor(0.8),
      );
      const plastic = document.createMaterial('Plastic');
      plastic.setExtension(
        'KHR_materials_pbrSpecularGlossiness',
        extension
          .createPBRSpecularGlossiness()
          .setDiffuseFactor([0.5, 0.2, 0.1, 1])
          .setSpecularFactor([0.04, 0.04, 0.04])
          .setGlossinessFactor(0.3),
      );
      mesh.listPrimitives()[0].setMaterial(gold);
      const other = document.createMesh('Other').addPrimitive(mesh.listPrimitives()[0].clone().setMaterial(plastic));
      for (const one of [mesh, other])
        document.getRoot().listScenes()[0].addChild(document.createNode(one.getName()).setMesh(one));
    });
    const { scene, node } = await readAll(fileOf('a.glb', file));
    const gold = scene.materials[node('Leaf').materials[0]];
    // Nothing diffuse and a bright reflection is a metal of that colour.
    expect(gold.metallic).toBeCloseTo(1, 5);
    expect(gold.baseColor.map((v) => Math.round(v * 1000) / 1000)).toEqual([1, 0.766, 0.336]);
    expect(gold.roughness).toBeCloseTo(0.2, 6);
    const plastic = scene.materials[node('Other').materials[0]];
    expect(plastic.metallic).toBeCloseTo(0, 5);
    expect(plastic.baseColor.map((v) => Math.round(v * 1000) / 1000)).toEqual([0.5, 0.2, 0.1]);
  });

  it('keeps pictures with their size, how they are laid, and where they wrap', async () => {
    const png = Uint8Array.from(
      atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='),
      (c) => c.charCodeAt(0),
    );
    const file = await made((document, mesh) => {
      const material = document.createMaterial('Wood').setAlphaMode('MASK').setAlphaCutoff(0.3).setDoubleSided(true);
      material.setBaseColorTexture(document.createTexture('grain').setImage(png).setMimeType('image/png'));
      material
        .getBaseColorTextureInfo()
        ?.setWrapS(33071)
        .setExtension(
          'KHR_texture_transform',
          document.createExtension(KHRTextureTransform).createTransform().setScale([3, 4]).setRotation(0.5),
        );
      mesh.listPrimitives()[0].setMaterial(material);
      document.getRoot().listScenes()[0].addChild(document.createNode('n').setMesh(mesh));
    });
    const { scene, blobs } = await readAll(fileOf('a.glb', file));
    const material = scene.materials[scene.nodes.at(0)!.materials[0]];
    expect(material).toMatchObject({ cutoff: expect.closeTo(0.3, 6) as number, doubleSided: true });
    expect(material.textures?.baseColor).toMatchObject({ wrap: 'clamp', scale: [3, 4], rotation: 0.5, uv: 0 });
    const [texture] = Object.values(scene.textures);
    expect(texture).toMatchObject({ name: 'grain', state: 'found', width: 1, height: 1, mime: 'image/png' });
    expect(await blobs.get(texture.blob ?? '')).toEqual(png);
  });

  it('keeps cameras and lights, and counts animations', async () => {
    const file = await made((document, mesh) => {
      const lights = document.createExtension(KHRLightsPunctual);
      const eye = document
        .createNode('Eye')
        .setCamera(document.createCamera('c').setType('perspective').setYFov(0.8).setZNear(0.1).setZFar(50));
      const lamp = document
        .createNode('Lamp')
        .setExtension(
          'KHR_lights_punctual',
          lights.createLight('l').setType('spot').setIntensity(40).setOuterConeAngle(0.6),
        );
      document
        .createAnimation('open')
        .addChannel(
          document
            .createAnimationChannel()
            .setTargetNode(eye)
            .setTargetPath('translation')
            .setSampler(document.createAnimationSampler()),
        );
      for (const node of [eye, lamp, document.createNode('m').setMesh(mesh)])
        document.getRoot().listScenes()[0].addChild(node);
    });
    const { scene, node } = await readAll(fileOf('a.glb', file)).catch((error: unknown) =>
      Promise.reject(error as Error),
    );
    expect(node('Eye')).toMatchObject({
      kind: 'camera',
      camera: { type: 'perspective', fov: expect.closeTo(0.8, 6) as number, far: 50 },
    });
    expect(node('Lamp')).toMatchObject({
      kind: 'light',
      light: { type: 'spot', intensity: 40, outer: expect.closeTo(0.6, 6) as number },
    });
    expect(scene.sources[0].holds).toMatchObject({ cameras: 1, lights: 1, animations: 1 });
    // Its sampler is empty.
    expect(scene.sources[0].notRead?.join()).toContain('Animations that move no node are not carried: 1.');
  });

  it('leaves what hangs under a part far from its own origin where it is', async () => {
    const file = await made((document, mesh) => {
      const far = document.createMesh('Far').addPrimitive(
        document.createPrimitive().setAttribute(
          'POSITION',
          document
            .createAccessor()
            .setType('VEC3')
            .setArray(new Float32Array([1e5, 0, 0, 1e5 + 1, 0, 0, 1e5, 1, 0]))
            .setBuffer(document.getRoot().listBuffers()[0]),
        ),
      );
      const below = document.createNode('Below').setMesh(mesh).setTranslation([2, 0, 0]);
      document.getRoot().listScenes()[0].addChild(document.createNode('Mast').setMesh(far).addChild(below));
    });
    const { scene, node } = await readAll(fileOf('a.glb', file));
    const [x, y, z] = worldTransforms(scene).get(node('Below').id)?.slice(12, 15) ?? [];
    expect([x, y, z]).toEqual([2, 0, 0]);
    expect(worldBox(scene, new Set([node('Mast').id]))?.min[0]).toBeCloseTo(1e5, 6);
  });

  it('keeps the sets of materials that it can be shown in', async () => {
    const file = await made((document, mesh) => {
      const extension = document.createExtension(KHRMaterialsVariants);
      const [summer, winter] = ['Summer', 'Winter'].map((name) => extension.createVariant(name));
      const mapping = (name: string, variant: typeof summer) =>
        extension.createMapping().setMaterial(document.createMaterial(name)).addVariant(variant);
      const list = extension.createMappingList();
      list.addMapping(mapping('green', summer)).addMapping(mapping('white', winter));
      mesh
        .listPrimitives()[0]
        .setMaterial(document.createMaterial('bare'))
        .setExtension('KHR_materials_variants', list);
      document.getRoot().listScenes()[0].addChild(document.createNode('Leaf').setMesh(mesh));
    });
    const { scene, node } = await readAll(fileOf('a.glb', file));
    const nameIn = (from: Scene) => from.materials[from.nodes.at(0)!.materials[0]].name;
    expect(scene.sources[0].variants).toEqual(['Summer', 'Winter']);
    expect(nameIn(scene)).toBe('bare');
    const all = new Set([node('Leaf').id]);
    const { scene: shown } = applyStep(variantStep, scene, all, { variant: 'Winter' }, () => undefined);
    expect(nameIn(shown)).toBe('white');
    expect(shown.sources[0].variant).toBe('Winter');
    const gone = applyStep(variantStep, scene, all, { variant: 'Autumn' }, () => undefined);
    expect(gone.problems.join()).toContain('Autumn');
    expect(gone.scene).toBe(scene);
  });

  it('reads what draco packed as the same number of parts and places as without', async () => {
    const packed = await readOnce('glTF2/draco/2CylinderEngine.gltf');
    const plain = await readOnce('glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb');
    expect(placed(packed).length).toBe(placed(plain).length);
    const size = ({ survey }: ReadFile) => survey.sources[0].holds?.bounds?.max.map((v) => Math.round(v));
    expect(size(packed)).toEqual(size(plain));
  });

  it.each([
    ['points', 0, 0, 1024],
    ['strip', 5, 2, 0],
    ['fan', 6, 2, 0],
    ['triangles by number', 13, 2, 0],
  ])('reads %s of the asset generator', async (_, number, triangles, points) => {
    const name = `glTF2/glTF-Asset-Generator/Mesh_PrimitiveMode/Mesh_PrimitiveMode_${String(number).padStart(2, '0')}.gltf`;
    const { scene } = await readOnce(name);
    const [figures] = Object.values(scene.meshes);
    expect([figures.triangles, figures.points ?? 0]).toEqual([triangles, points]);
  });

  it('leaves out triangles that name vertices which are not there', async () => {
    const { scene } = await readOnce('glTF2/IndexOutOfRange/IndexOutOfRange.gltf');
    expect(warningsOf(scene)).toEqual(['bad-indices']);
    expect(Object.values(scene.meshes)[0].triangles).toBe(11);
  });

  const json = (text: object) => bytesOf(JSON.stringify({ asset: { version: '2.0' }, ...text }));
  it.each([
    ['an older version', json({ asset: { version: '1.0' }, scenes: [] }), /glTF 1\.0/],
    ['a node that contains itself', modelOf('glTF2/RecursiveNodes/RecursiveNodes.gltf').bytes, /contains itself/],
    [
      'a count that no memory holds',
      json({ accessors: [{ type: 'VEC4', componentType: 5126, count: 4e12 }] }),
      /more than can be taken/,
    ],
    [
      'a buffer that did not come along',
      json({ buffers: [{ uri: 'leaf.bin', byteLength: 12 }] }),
      /leaf\.bin.*did not come/,
    ],
    [
      'an extension that nobody knows',
      json({ extensionsRequired: ['XYZ_future'], extensionsUsed: ['XYZ_future'] }),
      /XYZ_future/,
    ],
    [
      'meshes that hold no list of primitives',
      json({ meshes: [{ primitives: {} }] }),
      /entry 0 of its meshes has no list of primitives/,
    ],
    ['nodes that are no list', json({ nodes: { a: 1 } }), /its nodes are no list/],
    ['half a file', bytesOf('{"asset": {"version": "2.0"}, "nodes": [{'), /damaged|cut off/],
  ])('refuses %s in words', async (_, bytes, words) => {
    await expect(readAll(fileOf('bad.gltf', bytes))).rejects.toMatchObject({
      code: 'not-readable',
      message: expect.stringMatching(words) as string,
    });
  });
});
