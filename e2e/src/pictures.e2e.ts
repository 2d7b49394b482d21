// Pictures on surfaces: a set of them lands in the right slots, and a brick on a wall has the size of a brick.
import { NodeIO } from '@gltf-transform/core';
import type { Document, Material, Texture } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import type { Transform } from '@gltf-transform/extensions';
import { expect, test } from '@playwright/test';
import type { Page } from '@playwright/test';
import { readFile } from 'node:fs/promises';
import { Matrix4, Vector3 } from 'three';
import { pngOf } from '@noble-prism/core/finish/made/png';
import { nodePictures } from '@noble-prism/node/pictures';
import { AT_LENGTH, Bench, demoFile, newJob } from './bench.ts';

/** A job with the building of the demo, whose walls came without texture coordinates; these are laid on its end walls. */
async function laidOnWalls(page: Page, name: string): Promise<Bench> {
  const bench = await newJob(page, name);
  await bench.drop(demoFile('lower-station.ifc'));
  await bench.settled();
  await bench.station('Finishes');
  await bench.search.fill('End wall');
  await bench.row('End wall').first().click();
  await bench
    .row('End wall')
    .last()
    .click({ modifiers: ['Control'] });
  await bench.action('Texture coordinates');
  await bench.panel.getByRole('button', { name: 'Lay', exact: true }).click();
  await bench.settled();
  return bench;
}

/** What arrives: sent as GLB and opened by another reader. */
async function arrived(bench: Bench): Promise<Document> {
  await bench.settled();
  await bench.station('Transmit');
  await bench.panel.getByRole('button', { name: 'Send', exact: true }).click();
  const sent = bench.panel.getByRole('article').first();
  await expect(sent.getByText('holds', { exact: true })).toBeVisible({ timeout: 60_000 });
  const [download] = await Promise.all([
    bench.page.waitForEvent('download'),
    sent.getByRole('link', { name: 'File' }).click(),
  ]);
  const bytes = await readFile(await download.path());
  return new NodeIO().registerExtensions(ALL_EXTENSIONS).readBinary(new Uint8Array(bytes));
}
const materialNamed = (document: Document, name: string): Material =>
  document
    .getRoot()
    .listMaterials()
    .find((material) => material.getName().startsWith(name))!;

/** The first pixel: red, green, blue, opacity. */
async function pixelOf(texture: Texture | null): Promise<number[]> {
  const { data } = await nodePictures.decode(texture!.getImage()!, texture!.getMimeType(), { values: true });
  return [...data.subarray(0, 4)];
}

/** How long a picture is along the edges that are level, and how high along those that are upright, metres, of all triangles of a material. */
function repeatsOf(document: Document, material: Material): { lengths: number[]; heights: number[] } {
  const out = { lengths: [] as number[], heights: [] as number[] };
  const info = material.getBaseColorTextureInfo()?.getExtension<Transform>('KHR_texture_transform');
  const scale = info?.getScale() ?? [1, 1];
  for (const node of document.getRoot().listNodes())
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) {
      if (primitive.getMaterial() !== material) continue;
      const corners = primitive.getIndices()!.getArray()!;
      const [positions, uvs] = ['POSITION', 'TEXCOORD_0'].map((name) => primitive.getAttribute(name)!);
      const place = new Matrix4().fromArray(node.getWorldMatrix());
      const at = (i: number) => new Vector3().fromArray(positions.getElement(corners[i], [])).applyMatrix4(place);
      const on = (i: number) => uvs.getElement(corners[i], []).map((value, k) => value * scale[k]);
      for (let i = 0; i < corners.length; i += 3)
        for (const [a, b] of [
          [i, i + 1],
          [i + 1, i + 2],
          [i + 2, i],
        ]) {
          // prettier-ignore
          const edge = at(b).sub(at(a));
          const [u, v] = on(b).map((value, k) => Math.abs(value - on(a)[k]));
          const isUpright = Math.abs(edge.y) > edge.length() * 0.9999;
          if (isUpright && v > 1e-4) out.heights.push(edge.length() / v);
          else if (Math.abs(edge.y) < 1e-5 && u > 1e-4 && v < 1e-5) out.lengths.push(edge.length() / u);
        }
    }
  return out;
}

test(
  'a set of pictures lands where it belongs though one was called otherwise, a brick of the library has its size, and an unwrapped wall lies flat',
  { tag: AT_LENGTH },
  async ({ page }) => {
    const bench = await laidOnWalls(page, 'Texture set');
    const { panel } = bench;
    const plain = (name: string, pixel: [number, number, number]) => ({
      name: `Ziegel_${name}.png`,
      bytes: pngOf({ width: 64, height: 64, data: Uint8Array.from({ length: 64 * 64 * 3 }, (_, i) => pixel[i % 3]) }),
    });
    await bench.drop(
      plain('Farbe', [150, 80, 60]),
      plain('Normalen_DirectX', [128, 100, 250]),
      plain('Glanz', [200, 200, 200]),
      plain('Maske', [90, 90, 90]),
      { name: 'Ziegel_Höhe.png', bytes: new TextEncoder().encode('no picture at all') },
    );
    await bench.settled();
    await bench.action('Texture sets');
    const pictures = panel.getByRole('list', { name: 'Pictures of Ziegel' });
    const holds = (name: string) => pictures.getByRole('combobox', { name: `What Ziegel_${name}.png holds` });
    await expect(holds('Farbe')).toHaveText('colour');
    await expect(holds('Normalen_DirectX')).toHaveText('normals, green down');
    await expect(holds('Glanz')).toHaveText('gloss');
    await expect(holds('Maske')).toHaveText('opacity');
    await expect(pictures.getByRole('alert')).toHaveText('it is no picture, whatever its name says.');
    await expect(panel).toContainText('Not in the set: metalness, occlusion.');
    // This maker calls occlusion so.
    await holds('Maske').click();
    await page.getByRole('option', { name: 'occlusion', exact: true }).click();
    await expect(panel).toContainText('Not in the set: metalness.');
    await bench.row('End wall').first().click();
    await panel.getByRole('button', { name: 'Bind', exact: true }).click();
    await expect(bench.row('End wall').first()).toContainText('Ziegel');

    await bench.row('End wall').last().click();
    await bench.choose('Material to give', 'Brick, red, stretcher bond');
    await panel.getByRole('button', { name: 'Give to 1 part' }).click();

    // A second set for baked light, looked at before it is applied: measured, nothing lies over anything else.
    await bench.action('Unwrap');
    const lie = panel.getByRole('region', { name: 'How pictures lie' });
    await expect(lie).toContainText('1 shape has no second set of coordinates.');
    await panel.getByRole('button', { name: 'Preview', exact: true }).click();
    await expect(panel).toContainText('1 row would change.');
    await expect(lie).toContainText(/px\/m, stretch up to 1, overlaps up to 0\s%/);
    await lie.getByRole('button', { name: 'Checker look' }).click();
    const legend = page.getByRole('group', { name: 'Checker' });
    await expect(legend.getByRole('button', { name: 'second set' })).toHaveAttribute('aria-pressed', 'true');
    await panel.getByRole('button', { name: 'Unwrap', exact: true }).last().click();
    await expect(bench.step('Unwrap')).toContainText('second set, 1024');
    await lie.getByRole('button', { name: 'Finished look' }).click();

    const document = await arrived(bench);
    const material = materialNamed(document, 'Ziegel');
    expect(await pixelOf(material.getBaseColorTexture())).toEqual([150, 80, 60, 255]);
    // Green turned up; gloss is roughness the other way round, beside occlusion, and metalness stays the factor.
    expect(await pixelOf(material.getNormalTexture())).toEqual([128, 155, 250, 255]);
    expect(await pixelOf(material.getMetallicRoughnessTexture())).toEqual([90, 55, 255, 255]);
    expect(material.getOcclusionTexture()).toBe(material.getMetallicRoughnessTexture());
    expect(material.getMetallicFactor()).toBe(0);
    expect(material.getRoughnessFactor()).toBe(1);

    // The other wall has bricks of the library.
    const brick = materialNamed(document, 'Brick, red');
    const { lengths, heights } = repeatsOf(document, brick);
    // Four bricks and twelve courses in the picture: DIN 4172 counts them at 250 mm and a twelfth of a metre, with their joints.
    for (const length of lengths) expect(length / 4).toBeCloseTo(0.25, 3);
    for (const height of heights) expect(height / 12).toBeCloseTo(1 / 12, 3);
    expect(Math.min(lengths.length, heights.length)).toBeGreaterThan(4);
    const sets = (of: Material) => document.getRoot().listMeshes().flatMap((mesh) => mesh.listPrimitives()).filter((one) => one.getMaterial() === of).map((one) => one.listSemantics().filter((name) => name.startsWith('TEXCOORD')).length); // prettier-ignore
    expect([sets(brick), sets(material)]).toEqual([[2], [1]]);

    // Taken back, the pictures are loose again.
    for (let i = 0; i < 3; i++) await bench.steps.getByRole('button', { name: 'Undo' }).click();
    await bench.station('Finishes');
    await bench.action('Texture sets');
    await expect(panel.getByRole('list', { name: 'Texture sets' })).toContainText('loose');
    expect(bench.errors).toEqual([]);
  },
);
