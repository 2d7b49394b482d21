/** Step: part meshes into pieces that do not touch, or by material. Each part becomes an assembly of its pieces, and equal parts share them. */
import { factsOf } from '../scene/facts.ts';
import { IDENTITY } from '../scene/matrix.ts';
import type { Hash, MeshFigures } from '../scene/types.ts';
import { Heavy } from './heavy.ts';
import { defineStep, WHEREVER } from './kind.ts';
import { keyFor } from './made.ts';

export interface SplitParameters {
  by: 'pieces' | 'material';
}

/** What is remembered of a mesh: one piece where there was nothing to be split. */
interface SplitMesh {
  pieces: { mesh: Hash; figures: MeshFigures; slots: number[] }[];
}

const VERSION = 1;

const splitting = new Heavy<SplitParameters, 'split', SplitMesh>({
  kind: 'split',
  version: VERSION,
  task: 'split',
  of: 'mesh',
  concerns: ({ meshes }, mesh, { by }) =>
    meshes[mesh].triangles > 1 && (by === 'pieces' || meshes[mesh].slots.filter((count) => count > 0).length > 1),
  limits: ({ by }) => by,
  weight: ({ meshes }, mesh) => meshes[mesh].triangles,
  input: async (_scene, mesh, { by }, blobs) => ({ mesh: await blobs.get(mesh), by }),
  async keep({ pieces }, blobs) {
    const kept: SplitMesh['pieces'] = [];
    for (const { blob, ...piece } of pieces) kept.push({ mesh: await blobs.put(blob), ...piece });
    return { pieces: kept };
  },
});

export const splitStep = defineStep<SplitParameters>({
  kind: 'split',
  title: 'Split',
  purpose: 'Parts a mesh into pieces that do not touch, or by material; equal parts share their pieces.',
  also: ['separate', 'explode', 'detach', 'loose parts', 'elements', 'by material'],
  act: 'Split',
  station: 'arrange',
  topic: 'Structure',
  place: WHEREVER,
  version: VERSION,
  needs: 'geometry',
  fields: {
    by: {
      type: 'choice',
      label: 'By',
      called: 'way to split',
      choices: [
        { value: 'pieces', label: 'pieces that do not touch' },
        { value: 'material', label: 'material' },
      ],
    },
  },
  defaults: { by: 'pieces' },

  summary: ({ by }) => (by === 'pieces' ? 'into pieces' : 'by material'),

  work: (scene, rows, parameters) => splitting.work(scene, rows, parameters),

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const { nodes } = scene;
    const facts = factsOf(scene);
    const meshes: Record<Hash, MeshFigures> = {};
    const { pending, problems, worked } = splitting.each(edit, rows, parameters, lookup, {
      made(row, { pieces }) {
        if (pieces.length < 2) return;
        const node = nodes.row(row);
        // The row keeps its key, its place and what hangs under it.
        edit.setKind(row, 'assembly');
        edit.setMesh(row, undefined);
        edit.setSolid(row, '');
        edit.setMaterials(row, []);
        edit.setOffset(row, IDENTITY);
        pieces.forEach(({ mesh, figures, slots }, i) => {
          meshes[mesh] = figures;
          const materials = slots.map((slot) => node.materials[slot] ?? node.materials[0]);
          const called = parameters.by === 'material' ? scene.materials[materials[0]]?.name : undefined;
          edit.add({
            parent: row,
            name: `${node.name}, ${called ?? i + 1}`,
            kind: 'part',
            key: keyFor(facts, node.key, `piece ${i + 1}`),
            source: node.source,
            mesh,
            materials,
            ...(node.layer === null ? {} : { layer: node.layer }),
            ...(node.offset ? { offset: node.offset } : {}),
          });
        });
      },
    });
    edit.setMeshes(meshes);
    return { pending, problems: [...problems], worked };
  },
});
