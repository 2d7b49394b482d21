// The library: physical values, metals beside the refractive indices of handbooks, pictures that repeat without a seam, all of it as one file.
import { validateBytes } from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { memorySurroundings, MemoryBlobs } from '../../memoryStores.ts';
import { evaluate } from '../../preparation/evaluate.ts';
import { ownCopy, ownMaterialSchema } from './own.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Texture } from '../../scene/types.ts';
import { checkSteps } from '../../steps/kinds.ts';
import { atLength } from '../../testing/atLength.ts';
import { boxMesh } from '../../testing/meshes.ts';
import { sceneWith } from '../../testing/scenes.ts';
import { glbBytes } from '../../testing/glbBytes.ts';
import { picturesOf } from '../made/pictures.ts';
import type { MadePicture } from '../made/pictures.ts';
import { RECIPES } from '../made/recipes.ts';
import type { RecipeName } from '../made/recipes.ts';
import { FAMILIES } from './entry.ts';
import { LIBRARY, libraryMaterial } from './library.ts';

const luminance = ([r, g, b]: readonly number[]) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
const colourOf = (id: string) => libraryMaterial(`lib:${id}`)!.baseColor;

describe('the material library', () => {
  it('has more than sixty materials in all families, twenty and more with pictures, each called by a name of its own', () => {
    expect(LIBRARY.length).toBeGreaterThanOrEqual(60);
    expect(LIBRARY.filter(({ made }) => made).length).toBeGreaterThanOrEqual(20);
    expect(new Set(LIBRARY.map(({ family }) => family))).toEqual(new Set(FAMILIES));
    for (const of of ['id', 'name'] as const) expect(new Set(LIBRARY.map((one) => one[of])).size).toBe(LIBRARY.length);
    expect(new Set(LIBRARY.flatMap(({ made }) => made?.recipe ?? [])).size).toBe(Object.keys(RECIPES).length);
  });

  it('keeps all values within their bounds; what is no metal is neither black nor whiter than snow', () => {
    for (const { name, baseColor, metallic, roughness, opacity, transmission = 0, ior = 1.5, clearcoat = 0, emissive } of LIBRARY) {
      for (const value of [...baseColor, metallic, roughness, opacity, transmission, clearcoat]) {
        expect(value, name).toBeGreaterThanOrEqual(0);
        expect(value, name).toBeLessThanOrEqual(1);
      }
      expect(ior, name).toBeGreaterThanOrEqual(1);
      if (metallic > 0.5 || transmission > 0 || emissive) continue;
      // Common practice: charcoal reflects a hundredth and a half, fresh snow nine tenths.
      expect(luminance(baseColor), name).toBeGreaterThan(0.008);
      expect(luminance(baseColor), name).toBeLessThan(0.9);
    }
  }); // prettier-ignore

  // Reflectance at normal incidence by Fresnel's equations, of n and k at about 650, 550 and 450 nm (Johnson and Christy 1972 and 1974 for
  // copper, gold, silver, iron, chromium, titanium and nickel; Rakić 1995 for aluminium), from memory.
  const METALS: Record<string, [n: number, k: number][]> = {
    'copper': [[0.21, 3.67], [0.9, 2.59], [1.17, 2.36]],
    'gold': [[0.15, 3.3], [0.42, 2.35], [1.4, 1.88]],
    'silver': [[0.05, 4.2], [0.06, 3.6], [0.04, 2.6]],
    'aluminium-polished': [[1.47, 7.8], [1.02, 6.65], [0.62, 5.47]],
    'iron': [[2.88, 3.36], [2.92, 3.12], [2.62, 2.8]],
    'nickel': [[2.0, 3.9], [1.83, 3.4], [1.66, 2.7]],
  }; // prettier-ignore
  it.each(Object.entries(METALS))('%s reflects what its refractive index says', (id, indices) => {
    const reflected = indices.map(([n, k]) => ((n - 1) ** 2 + k * k) / ((n + 1) ** 2 + k * k));
    reflected.forEach((value, i) => expect(Math.abs(colourOf(id)[i] - value), `${id} ${i}`).toBeLessThan(0.09));
  });

  // Albedos by Oke, Boundary Layer Climates, table 1.1 (from memory): what a surface throws back of daylight.
  it.each([
    ['asphalt', 0.03, 0.2],
    ['concrete', 0.1, 0.5],
    ['brick-red', 0.05, 0.4],
    ['snow', 0.4, 0.95],
    ['sand', 0.2, 0.45],
    ['grass', 0.04, 0.26],
    ['soil', 0.05, 0.4],
    ['plaster-white', 0.5, 0.9],
  ])('%s is as light as it is known to be', (id, least, most) => {
    expect(luminance(colourOf(id))).toBeGreaterThanOrEqual(least);
    expect(luminance(colourOf(id))).toBeLessThanOrEqual(most);
  });
});

/** Mean difference of neighbouring rows or columns: between all of them, and over the edge. */
function steps({ width, height, data }: MadePicture, way: 'rows' | 'columns'): { inside: number; edge: number } {
  const [lines, length] = way === 'rows' ? [height, width] : [width, height];
  const at = (line: number, i: number) => (way === 'rows' ? line * width + i : i * width + line) * 3;
  const between = (a: number, b: number) => {
    let sum = 0;
    for (let i = 0; i < length; i++)
      for (let k = 0; k < 3; k++) sum += Math.abs(data[at(a, i) + k] - data[at(b, i) + k]);
    return sum / length;
  };
  const inside = Array.from({ length: lines - 1 }, (_, line) => between(line, line + 1));
  return { inside: Math.max(...inside), edge: between(lines - 1, 0) };
}

describe('made pictures', () => {
  const RECIPES = LIBRARY.flatMap(({ made }) => (made ? [[made.recipe, made.size] as const] : []));
  const REPEATS = '%s repeats without a seam, at %d m, and has light, normals and occlusion of a surface';
  it.each(RECIPES.filter((_, i) => i % 3 === 0))(REPEATS, repeats);
  atLength.each(RECIPES.filter((_, i) => i % 3 > 0))(REPEATS, repeats);

  function repeats(recipe: RecipeName, size: number): void {
    const { baseColor, normal, surface } = picturesOf(recipe, size, 96);
    for (const picture of [baseColor, normal, surface])
      for (const way of ['rows', 'columns'] as const) {
        const { inside, edge } = steps(picture, way);
        // No step over the edge that is larger than the largest within; joints are thinner than a pixel here, and weaker or stronger by it.
        expect(edge, way).toBeLessThanOrEqual(inside * 1.15 + 1);
      }
    let [unit, open] = [0, 0];
    for (let i = 0; i < normal.data.length; i += 3) {
      const [x, y, z] = [0, 1, 2].map((k) => normal.data[i + k] / 127.5 - 1);
      unit = Math.max(unit, Math.abs(Math.hypot(x, y, z) - 1));
      expect(z).toBeGreaterThan(0);
      open = Math.max(open, surface.data[i]);
    }
    expect(unit).toBeLessThan(0.02);
    expect(open).toBeGreaterThan(240);
  }

  it('have the mean colour of their material, near enough that a part does not change when they arrive', () => {
    for (const { name, made, baseColor } of LIBRARY) {
      if (!made) continue;
      const { baseColor: picture } = picturesOf(made.recipe, made.size, 64);
      const mean = [0, 1, 2].map((k) => {
        let sum = 0;
        for (let i = k; i < picture.data.length; i += 3) sum += (picture.data[i] / 255) ** 2.2;
        return sum / (picture.data.length / 3);
      });
      expect(Math.abs(Math.sqrt(luminance(mean)) - Math.sqrt(luminance(baseColor))), name).toBeLessThan(0.16);
    }
  });
});

it('keeps what a part shows with all that is known of its pictures', () => {
  const picture: Texture = { id: 't', name: 'oak.png', source: 's', state: 'found', mime: 'image/png', blob: 'a'.repeat(64), png: 'b'.repeat(64), bytes: 9, width: 4, height: 4, bits: 16, profile: 'Display P3', signs: { grey: false, alpha: true, normals: 'up' } }; // prettier-ignore
  const shown = { ...NO_MATERIAL, id: 'm', textures: { baseColor: { texture: 't', uv: 0 } } };
  const own = ownCopy(shown, { t: picture }, 'mine:oak', 'Oak');
  expect(own.textures).toEqual([picture]);
  expect(() => ownMaterialSchema.validateSync(own, { strict: true })).not.toThrow();
  const wrong = { ...own, textures: [{ ...picture, blob: '../secret' }] };
  expect(() => ownMaterialSchema.validateSync(wrong, { strict: true })).toThrow(/blob/);
});

const VALID = 'is one file that glTF’s validator has nothing to say against, with the pictures of what has coordinates';
it(VALID, () => isValid(24));
atLength(VALID, () => isValid(9), 60_000);

/** @param every so many of those with pictures is there, and all others */
async function isValid(every: number): Promise<void> {
  const box = { ...boxMesh(1, 1, 1), uvs: [new Float32Array(48)], trueSize: true };
  const { scene, blobs } = await sceneWith(LIBRARY.map(({ id }) => ({ name: id, mesh: box })));
  const rules = LIBRARY.map(({ id }) => ({ which: { by: 'picked', keys: [`/${id}`] }, material: id }));
  const parameters = { rules: rules.filter((_, i) => !LIBRARY[i].made || i % every === 0) };
  const steps = checkSteps([{ id: 'f', kind: 'finishes', on: true, selector: { by: 'all' }, parameters, format: 2 }]);
  const { scene: after, reports } = await evaluate(
    scene,
    'k',
    steps,
    memorySurroundings({ blobs: blobs as MemoryBlobs }),
  );
  expect(reports[0]).toMatchObject({ pending: 0, problems: [] });
  const file = await glbBytes(after, blobs, 'library');
  const { issues, info } = await validateBytes(file);
  // Tangents are made by whoever draws, as glTF says (2.0, 3.7.2.1: MikkTSpace).
  const other = issues.messages.filter(
    ({ code, severity }) => severity < 2 && code !== 'MESH_PRIMITIVE_GENERATED_TANGENT_SPACE',
  );
  expect(other).toEqual([]);
  expect(info.extensionsUsed).toEqual(expect.arrayContaining(['KHR_materials_transmission', 'KHR_materials_ior', 'KHR_materials_clearcoat', 'KHR_materials_emissive_strength'])); // prettier-ignore
  // Three pictures each, and the geometry.
  expect(info.resources?.length).toBeGreaterThan(81 / every);
}
