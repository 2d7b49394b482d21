// A stored scene knows nothing of where it is used; put into a slot, equal things of two revisions have equal names.
import { describe, expect, it } from 'vitest';
import { mergeSlots } from '../preparation/slots.ts';
import { colladaBarrier, RISE, TURN } from '../testing/barrier.ts';
import { fileOf, modelOf, readAll } from '../testing/reading.ts';
import { packScene } from './sceneFile.ts';
import { inSlot, materialId, textureId, THIS_SOURCE } from './slot.ts';
import { readSource } from '../read/readSource.ts';
import { MemoryBlobs } from '../memoryStores.ts';

const textured = () => modelOf('glTF2/BoxTextured-glTF-Binary/BoxTextured.glb');

async function stored(file = textured()) {
  const reading = await readSource(file, THIS_SOURCE);
  return reading.build(new MemoryBlobs());
}

describe('a slot', () => {
  it('gives the names that a reader would have given who knew it', async () => {
    const here = inSlot(await stored(), 's');
    const { scene: there } = await readAll(textured());
    expect(Object.keys(here.textures)).toEqual(Object.keys(there.textures));
    expect(Object.keys(here.materials)).toEqual(Object.keys(there.materials));
    expect(here.nodes.map(({ materials, source, key }) => [materials, source, key])).toEqual(
      there.nodes.map(({ materials, source, key }) => [materials, source, key]),
    );
    for (const material of Object.values(here.materials))
      if (material.textures?.baseColor) {
        expect(material.id).toBe(materialId(material));
        expect(here.textures[material.textures.baseColor.texture].id).toBe(
          textureId('s', here.textures[material.textures.baseColor.texture].name),
        );
      }
  });

  it('keeps pictures of one name apart where two slots have them', async () => {
    const scene = await stored();
    const both = mergeSlots([
      { slot: 'a', scene },
      { slot: 'b', scene },
    ]);
    expect(Object.keys(both.textures)).toHaveLength(2);
    const used = both.nodes.flatMap(({ materials }) =>
      materials.flatMap((id) => both.materials[id].textures?.baseColor?.texture ?? []),
    );
    expect(new Set(used).size).toBe(2);
    expect(used.map((id) => both.textures[id].source)).toEqual(['a', 'b']);
  });

  it('is no part of what is stored: two uploads of one file store the same bytes', async () => {
    const [one, two] = [await stored(), await stored()];
    expect(await packScene(one)).toEqual(await packScene(two));
    expect(JSON.stringify(one.sources)).not.toContain('slot');
  });

  it('names movements after itself, and what they move with them', async () => {
    const scene = await stored(fileOf('barrier.dae', colladaBarrier([RISE, TURN])));
    const here = inSlot(scene, 's');
    const moved = here.nodes.flatMap(({ motion }) => Object.keys(motion?.tracks ?? {}));
    expect(new Set(moved)).toEqual(new Set(Object.keys(here.animations)));
    expect(Object.keys(inSlot(scene, 'other').animations)).not.toEqual(Object.keys(here.animations));
  });

  it('takes a file that holds nothing but an OBJ all the same', async () => {
    const scene = await stored(fileOf('a.obj', 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'));
    expect(inSlot(scene, 'x').nodes.map(({ source }) => source)).toEqual(['x']);
  });
});
