/**
 * Boarding gates on the platform: a glTF file with what other sources of the job lack. Wings that swing, two liveries to choose from, a
 * lamp and a camera. Metres, y up. Invented.
 */
import { Document, WebIO } from '@gltf-transform/core';
import type { Material, Mesh, Node } from '@gltf-transform/core';
import { ALL_EXTENSIONS, KHRLightsPunctual, KHRMaterialsVariants } from '@gltf-transform/extensions';
import { boxes } from './boxes.ts';
import type { Triple } from './boxes.ts';

/** The platform is 4.2 m below the machine level. */
const PLATFORM = -4.2;
/** Where the gates stand: across the way to the cabin, metres. */
const GATES: Triple[] = [
  [7.4, PLATFORM, -2.1],
  [7.4, PLATFORM, -0.5],
];

/** @returns the bytes of the file; the same each time */
export async function gate(): Promise<Uint8Array> {
  const document = new Document();
  document.getRoot().getAsset().generator = 'Tarn Gondola demo (invented)';
  document.createBuffer();
  const scene = document.createScene('Boarding gates');
  const steel = document.createMaterial('gate steel').setBaseColorFactor([0.35, 0.37, 0.38, 1]).setMetallicFactor(0.9);
  steel.setRoughnessFactor(0.45);
  const [livery, summer, winter] = (
    [
      ['gate green', [0.05, 0.3, 0.16]],
      ['gate meadow', [0.25, 0.42, 0.08]],
      ['gate glacier', [0.32, 0.56, 0.72]],
    ] as const
  ).map(([name, colour]) =>
    document
      .createMaterial(name)
      .setBaseColorFactor([...colour, 1])
      .setMetallicFactor(0)
      .setRoughnessFactor(0.5),
  );
  const post = boxes(document, 'Gate post', steel, [
    { size: [0.16, 1.05, 0.34], at: [0, 0.525, 0] },
    { size: [0.2, 0.04, 0.38], at: [0, 1.07, 0] },
  ]);
  const wing = boxes(document, 'Gate wing', livery, [{ size: [0.04, 0.55, 0.7], at: [0, 0, 0.37] }]);
  dress(document, wing, summer, winter);

  const all = document.createNode('Boarding gates');
  scene.addChild(all);
  const wings = GATES.map((place, i) => {
    const one = document.createNode(`Gate ${i + 1}`).setTranslation(place);
    const swinging = document
      .createNode(`Gate ${i + 1} wing`)
      .setMesh(wing)
      .setTranslation([0, 0.68, 0.19]);
    all.addChild(one.addChild(document.createNode(`Gate ${i + 1} post`).setMesh(post)).addChild(swinging));
    return swinging;
  });
  swing(document, wings);
  all.addChild(lamp(document)).addChild(eye(document));
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document);
}

/** Two liveries beside the one that the wings come in. */
function dress(document: Document, mesh: Mesh, summer: Material, winter: Material): void {
  const variants = document.createExtension(KHRMaterialsVariants);
  const list = variants.createMappingList();
  for (const [name, material] of [
    ['Summer', summer],
    ['Winter', winter],
  ] as const)
    list.addMapping(variants.createMapping().setMaterial(material).addVariant(variants.createVariant(name)));
  mesh.listPrimitives()[0].setExtension('KHR_materials_variants', list);
}

/** Open in a second, open for three, shut in a second; the second gate half a second later. */
function swing(document: Document, wings: readonly Node[]): void {
  const [buffer] = document.getRoot().listBuffers();
  const animation = document.createAnimation('Boarding');
  const open = (85 * Math.PI) / 360;
  for (const [i, wing] of wings.entries()) {
    const times = [0, 1, 4, 5].map((time) => time + 0.5 * i);
    const shut = [0, 0, 0, 1];
    const swung = [0, Math.sin(open), 0, Math.cos(open)];
    const input = document.createAccessor().setType('SCALAR').setArray(Float32Array.from(times)).setBuffer(buffer);
    const output = document
      .createAccessor()
      .setType('VEC4')
      .setArray(Float32Array.from([shut, swung, swung, shut].flat()))
      .setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output);
    const channel = document.createAnimationChannel().setTargetNode(wing).setTargetPath('rotation');
    animation.addSampler(sampler).addChannel(channel.setSampler(sampler));
  }
}

function lamp(document: Document): Node {
  const lights = document.createExtension(KHRLightsPunctual);
  const spot = lights.createLight('Gate lamp').setType('spot').setColor([1, 0.93, 0.78]).setIntensity(900);
  spot.setInnerConeAngle(0.5).setOuterConeAngle(0.7);
  // Straight down: -z becomes -y.
  const down: [number, number, number, number] = [-Math.SQRT1_2, 0, 0, Math.SQRT1_2];
  return document
    .createNode('Gate lamp')
    .setTranslation([7.4, PLATFORM + 2.9, -1.3])
    .setRotation(down)
    .setExtension('KHR_lights_punctual', spot);
}

/** Where somebody stands who waits for a cabin. */
function eye(document: Document): Node {
  const camera = document
    .createCamera('Waiting')
    .setType('perspective')
    .setYFov(0.9)
    .setAspectRatio(1.5)
    .setZNear(0.05);
  const turned = -Math.PI / 2 / 2;
  return document
    .createNode('Waiting for a cabin')
    .setTranslation([3.6, PLATFORM + 1.65, -1.3])
    .setRotation([0, Math.sin(turned), 0, Math.cos(turned)])
    .setCamera(camera);
}
