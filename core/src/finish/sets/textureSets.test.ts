// What is read from names of pictures is common practice among their makers; no source fixes it.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { nodePictures } from '@noble-prism/node/pictures';
import type { Texture } from '../../scene/types.ts';
import { models } from '../../testing/reading.ts';
import { picturesOf } from '../made/pictures.ts';
import type { MadePicture } from '../made/pictures.ts';
import type { RecipeName } from '../made/recipes.ts';
import { holdsWords } from './holds.ts';
import { nameSays, wordsOf } from './pictureNames.ts';
import { signsOf } from './signs.ts';
import { textureSets } from './textureSets.ts';

const picture = (name: string, more: Partial<Texture> = {}): Texture => ({
  id: name,
  name,
  source: 's',
  state: 'unbound',
  mime: 'image/png',
  bytes: 1,
  ...more,
});
const setsOf = (...names: string[]) => textureSets(names.map((name) => picture(name)));
const heldIn = (name: string) => {
  const { holds, other } = nameSays(name);
  return holds ? holdsWords(holds) : other;
};

describe('names of pictures', () => {
  it.each([
    ['oak_basecolor_2k.png', 'colour'],
    ['Brick Wall-Albedo.jpg', 'colour'],
    ['mur_couleur.png', 'colour'],
    ['Eiche-Grundfarbe.tif', 'colour'],
    ['muro color base.png', 'colour'],
    ['podloga_kolor.png', 'colour'],
    ['Eiche_Rauheit.png', 'roughness'],
    ['mur-rugosité-4096.png', 'roughness'],
    ['muro_rugosità.png', 'roughness'],
    ['vloer_ruwheid.jpg', 'roughness'],
    ['Blech_Glanz.png', 'gloss'],
    ['T_Rail_Smoothness.png', 'gloss'],
    ['tole_métallique.png', 'metalness'],
    ['Metal032_1K_Metalness.jpg', 'metalness'],
    ['oak ambient occlusion.png', 'occlusion'],
    ['Eiche_Umgebungsverdeckung.png', 'occlusion'],
    ['zaun_Deckkraft.png', 'opacity'],
    ['sign_emissive.png', 'glow'],
    ['oak_normal.png', 'normals, green up'],
    ['Metal032_1K_NormalGL.jpg', 'normals, green up'],
    ['Metal032_1K_NormalDX.jpg', 'normals, green down'],
    ['oak_nor_directx.png', 'normals, green down'],
    ['Ziegel_Normalen_DirectX.png', 'normals, green down'],
    ['oak_gl_normal_2k.png', 'normals, green up'],
    ['Ziegel_Maske.png', 'opacity'],
    ['oak_normal_directx_2k.png', 'normals, green down'],
    ['oak_ORM.png', 'occlusion in red, roughness in green, metalness in blue'],
    ['oak_RMA.png', 'roughness in red, metalness in green, occlusion in blue'],
    ['oak_MetallicRoughness.png', 'roughness in green, metalness in blue'],
    ['oak_ao_metal_rough.png', 'occlusion in red, metalness in green, roughness in blue'],
    ['oak_MetallicSmoothness.png', 'metalness in red, gloss in alpha'],
    ['Eiche_Höhe.png', 'heights'],
    ['oak_specular_2k.png', 'specular colour'],
    ['mur_spéculaire.png', 'specular colour'],
    ['oak_displacement_16.png', 'heights'],
    // Things that are called so: a word says something only behind a name, and ordinary ones only at its end.
    ['metal_plate_02.png', undefined],
    ['old_metal_plate.png', undefined],
    ['normal_brick.png', undefined],
    ['poster.png', undefined],
  ])('%s holds %s', (name, held) => {
    expect(heldIn(name)).toBe(held);
  });

  it('are parted at capitals, and read without accents', () => {
    expect(wordsOf('OakFloor_BaseColor')).toEqual(['Oak', 'Floor', 'Base', 'Color']);
    expect(wordsOf('żółty Straße')).toEqual(['zolty', 'Strasse']);
  });
});

describe('texture sets', () => {
  const shown = ({ name, members }: ReturnType<typeof setsOf>[number]) => [name, members.map(({ holds }) => (holds ? holdsWords(holds) : undefined))]; // prettier-ignore

  it('are what names have in common, with what usually is there and is not', () => {
    const sets = setsOf('oak_color.png', 'oak_height.png', 'ash_color.png', 'oak_NormalDX.png');
    expect(sets.map(shown)).toEqual([
      ['oak', ['colour', 'normals, green down', undefined]],
      ['ash', ['colour']],
    ]);
    expect(sets[0].missing).toEqual(['roughness', 'metalness', 'occlusion']);
    expect(sets[0].members[2].note).toContain('heights');
  });

  it('are called by their folder where names say nothing but what is held, and stay apart by folder', () => {
    const sets = setsOf('Oak/color.png', 'Oak/rough.png', 'Ash/color.png', 'Ash/metal.png', 'metal.jpg');
    expect(sets.map(shown)).toEqual([
      ['Oak', ['colour', 'roughness']],
      ['Ash', ['colour', 'metalness']],
      ['metal', ['colour']],
    ]);
  });

  it('take single letters where other pictures have the same stem', () => {
    expect(setsOf('T_Rail_D.png', 'T_Rail_N.png', 'T_Rail_ORM.png', 'plan_B.png').map(shown)).toEqual([
      ['T Rail', ['colour', 'normals, green up', 'occlusion in red, roughness in green, metalness in blue']],
      ['plan B', ['colour']],
    ]);
  });

  it('keep the largest of two that hold the same, gloss and roughness among them', () => {
    const [set] = textureSets([
      picture('oak_color_1k.png', { width: 1024, height: 1024 }),
      picture('oak_color_4k.png', { width: 4096, height: 4096 }),
      picture('oak_rough.png', { width: 1024, height: 1024 }),
      picture('oak_gloss.png', { width: 512, height: 512 }),
    ]);
    expect(set.members.map(({ holds }) => holds)).toEqual(['colour', 'roughness', undefined, undefined]);
    expect(set.members[2].note).toContain('oak_color_4k.png');
  });

  it('say what looks otherwise than it is called, and what cannot be opened', () => {
    const [set] = textureSets([
      picture('oak_normal.png', { signs: { grey: false, normals: 'down' } }),
      picture('oak_roughness.png', { signs: { grey: false } }),
      picture('oak_color.png', { problem: 'it is no picture.' }),
    ]);
    expect(set.members.map(({ holds, note }) => [holds, note])).toEqual([
      ['normals-down', 'green points down, by how it looks'],
      ['roughness', 'its channels differ: several values may be packed in it'],
      [undefined, 'it is no picture.'],
    ]);
    const [unnamed] = textureSets([picture('scan 7.png', { signs: { grey: false, normals: 'up' } })]);
    expect(unnamed.members[0]).toMatchObject({ holds: 'normals', note: expect.stringContaining('looks') as string });
  });
});

describe('signs of a picture', () => {
  const flipped = ({ width, height, data }: { width: number; height: number; data: Uint8Array }) => ({ width, height, data: data.map((value, i) => (i % 4 === 1 ? 255 - value : value)) }); // prettier-ignore

  // The made pictures have green upwards, as their own test states.
  const whole = ({ width, height, data }: MadePicture) => {
    const out = new Uint8Array(width * height * 4).fill(255);
    for (let i = 0; i < width * height; i++) out.set(data.subarray(i * 3, i * 3 + 3), i * 4);
    return { width, height, data: out };
  };
  it.each<RecipeName>(['redBrick', 'oak', 'leather', 'gravel', 'carpet', 'slate'])(
    'tell to which side green points: %s',
    (recipe) => {
      const normal = whole(picturesOf(recipe, 1, 256).normal);
      expect(signsOf(normal)).toEqual({ grey: false, normals: 'up' });
      expect(signsOf(flipped(normal))).toEqual({ grey: false, normals: 'down' });
    },
  );

  it('tell it of an open picture too: glTF has green upwards', async () => {
    const bytes = new Uint8Array(readFileSync(join(models, 'glTF2/ClearCoat-glTF/PlasticWrap_normals.jpg')));
    const picture = await nodePictures.decode(bytes, 'image/jpeg', { values: true });
    expect(signsOf(picture)).toEqual({ grey: false, normals: 'up' });
    expect(signsOf(flipped(picture)).normals).toBe('down');
  });

  it('tell grey from colours, and what can be seen through', () => {
    const of = (pixel: number[]) => signsOf({ width: 4, height: 4, data: Uint8Array.from(Array.from({ length: 16 }, () => pixel).flat()) }); // prettier-ignore
    expect(of([90, 91, 90, 255])).toEqual({ grey: true });
    expect(of([200, 90, 30, 255])).toEqual({ grey: false });
    expect(of([90, 90, 90, 128])).toEqual({ grey: true, alpha: true });
    // Flat normals point nowhere.
    expect(of([128, 128, 255, 255])).toEqual({ grey: false, normals: 'either' });
  });
});
