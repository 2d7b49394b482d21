import { expect, it } from 'vitest';
import { SceneEditor } from '@noble-prism/core/scene/editor';
import { Rows } from '@noble-prism/core/scene/rowSet';
import { libraryMaterial } from '@noble-prism/core/finish/library/library';
import { boxMesh } from '@noble-prism/core/testing/meshes';
import { sceneWith } from '@noble-prism/core/testing/scenes';
import { MaterialWords } from './materialWords.ts';

const FOUR = ['lib:glass', 'lib:galvanised', 'lib:stainless', 'lib:cast-iron'];

it('names up to three materials, of all parts or of some, and follows what changes', async () => {
  const parts = FOUR.map((id) => ({ name: id, mesh: boxMesh(1, 1, 1), materials: ['grey'] }));
  const { scene } = await sceneWith(parts);
  const words = new MaterialWords();
  const edit = new SceneEditor(scene);
  edit.setMaterialsOfScene(Object.fromEntries(FOUR.map((id) => [id, libraryMaterial(id)!])));
  edit.setMaterials(0, ['lib:glass']);
  const before = words.of(scene);
  const two = edit.finish().scene;
  expect(words.of(two)).toBe(`${libraryMaterial('lib:glass')!.name}, ${before}`);
  expect(words.of(two, new Rows(Uint8Array.of(1, 0, 0, 0)))).toBe(libraryMaterial('lib:glass')!.name);
  FOUR.forEach((id, row) => edit.setMaterials(row, [id]));
  expect(words.of(edit.finish().scene)).toBe('several');
});
