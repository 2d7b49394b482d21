/** Step: each layer, assembly, part or connected piece gets a copy of its own of a material that it shares with others. */
import { hashData } from '../scene/hash.ts';
import { ALL, select } from '../select/select.ts';
import { PART } from '../scene/nodes.ts';
import { partsByMaterial } from '../scene/parts.ts';
import type { Hash, Material, MeshFigures, Scene } from '../scene/types.ts';
import { counted } from '../units.ts';
import { Heavy } from './heavy.ts';
import { defineStep, eachRow, WHEREVER } from './kind.ts';

export type OwnFor = 'layer' | 'assembly' | 'part' | 'piece';

export interface OwnMaterialsParameters {
  of: OwnFor;
}

/** What is remembered of a mesh whose pieces were told apart. */
interface PiecedMesh {
  mesh: Hash;
  figures: MeshFigures;
  /** Slot that there was, and the piece, of each slot. */
  slots: { from: number; piece: number }[];
}

const VERSION = 1;

const telling = new Heavy<OwnMaterialsParameters, 'pieces', PiecedMesh>({
  kind: 'own-materials',
  version: VERSION,
  task: 'pieces',
  of: 'mesh',
  concerns: ({ meshes }, mesh, parameters) => parameters.of === 'piece' && meshes[mesh].triangles > 1,
  limits: () => 0,
  weight: ({ meshes }, mesh) => meshes[mesh].triangles,
  input: async (_scene, mesh, _, blobs) => ({ mesh: await blobs.get(mesh) }),
  keep: async ({ blob, ...rest }, blobs) => ({ mesh: await blobs.put(blob), ...rest }),
});

/** What has a copy of its own: a name for people, and one that tells it from others. */
interface Owner {
  key: string;
  name: string;
}

function ownerOf({ nodes }: Scene, row: number, of: OwnFor): Owner {
  if (of === 'layer') {
    const layer = nodes.word('layer', row) ?? '';
    return { key: `layer ${layer}`, name: layer || 'no layer' };
  }
  const parent = nodes.columns.parent[row];
  const own = of === 'assembly' && parent >= 0 ? parent : row;
  return { key: nodes.key(own), name: nodes.text('name', own) };
}

export const ownMaterialsStep = defineStep<OwnMaterialsParameters>({
  kind: 'own-materials',
  title: 'Own copies',
  purpose:
    'Gives each layer, assembly, part or piece a copy of its own of a material that it shares, so that one can be changed without the others.',
  also: ['split', 'unique', 'separate', 'shared', 'detach', 'independent'],
  act: 'Give own copies',
  station: 'finishes',
  place: WHEREVER,
  version: VERSION,
  needs: 'geometry',
  fields: {
    of: {
      type: 'choice',
      label: 'For each',
      called: 'who gets a copy',
      choices: [
        { value: 'layer', label: 'layer' },
        { value: 'assembly', label: 'assembly' },
        { value: 'part', label: 'part' },
        { value: 'piece', label: 'connected piece' },
      ],
    },
  },
  defaults: { of: 'layer' },

  summary: ({ of }) => `for each ${of === 'piece' ? 'connected piece' : of}`,

  needsWork: ({ of }) => of === 'piece',
  work: (scene, rows, parameters) => telling.work(scene, rows, parameters),

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const { of } = parameters;
    const { kind } = scene.nodes.columns;
    const materials: Record<string, Material> = {};
    const copyFor = copying(scene, of, materials);
    if (of === 'piece') {
      const meshes: Record<Hash, MeshFigures> = {};
      const pieced = new Map<number, PiecedMesh>();
      const { pending, problems, worked } = telling.each(edit, rows, parameters, lookup, {
        made: (row, result) => void pieced.set(scene.nodes.columns.mesh[row], result),
      });
      // Others of the same shape get the slots too, and keep sharing it.
      eachRow(scene, select(scene, ALL), (row) => {
        const result = pieced.get(scene.nodes.columns.mesh[row]);
        if (!result || kind[row] !== PART) return;
        const { materials: had, name, key } = scene.nodes.row(row);
        const { mesh, figures, slots } = result;
        const isMany = slots.some(({ piece }) => piece > 0);
        meshes[mesh] = figures;
        edit.setMesh(row, mesh);
        edit.setMaterials(
          row,
          slots.map(({ from, piece }) => {
            const id = had[from] ?? had[0] ?? 'none';
            const owner = { key: `${key} piece ${piece}`, name: isMany ? `${name}, ${piece + 1}` : name };
            return rows.has(row) ? copyFor(id, owner, isMany) : id;
          }),
        );
      });
      edit.setMeshes(meshes);
      if (Object.keys(materials).length > 0) edit.setMaterialsOfScene(materials);
      return { pending, problems: [...problems], worked, notes: pending > 0 ? [] : notesOf(materials) };
    }
    eachRow(scene, rows, (row) => {
      if (kind[row] !== PART) return;
      const { materials: had } = scene.nodes.row(row);
      const owner = ownerOf(scene, row, of);
      const now = had.map((id) => copyFor(id, owner));
      if (now.some((id, slot) => id !== had[slot])) edit.setMaterials(row, now);
    });
    if (Object.keys(materials).length > 0) edit.setMaterialsOfScene(materials);
    return { pending: 0, problems: [], notes: notesOf(materials) };
  },
});

function notesOf(materials: Record<string, Material>): string[] {
  const count = Object.keys(materials).length;
  return count === 0 ? ['No material is shared: nothing needs a copy.'] : [`${counted(count, 'copy', 'copies')} of shared materials.`]; // prettier-ignore
}

/** Gives the copy that an owner has of a material, and enters it; the material itself where nobody else has it. */
function copying(scene: Scene, of: OwnFor, made: Record<string, Material>) {
  /** How many owners there are among all parts: a material of one is shared with nobody. */
  const shared = new Map<string, boolean>();
  for (const [id, list] of partsByMaterial(scene)) {
    const owners = new Set(list.map((row) => ownerOf(scene, row, of === 'piece' ? 'part' : of).key));
    shared.set(id, owners.size > 1);
  }
  return (id: string, { key, name }: Owner, isShared = false): string => {
    const material = scene.materials[id];
    if (!material || id === 'none' || !(isShared || shared.get(id))) return id;
    const own = `own:${hashData([id, key]).slice(0, 16)}`;
    made[own] ??= { ...material, id: own, name: `${material.name}, ${name}` };
    return own;
  };
}
