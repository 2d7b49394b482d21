/** Step: make one part of several, where they stand. Materials stay apart as slots. */
import type { JoinOutput } from '../mesh/join.ts';
import { factsOf } from '../scene/facts.ts';
import { hashPlaces } from '../scene/hash.ts';
import { IDENTITY, invert, isSingular, multiply, transformPoint, translation } from '../scene/matrix.ts';
import type { Matrix, Vector } from '../scene/matrix.ts';
import { PART } from '../scene/nodes.ts';
import { commonParent, Rehanging } from '../scene/rehang.ts';
import type { RowSet } from '../scene/rowSet.ts';
import { Rows } from '../scene/rowSet.ts';
import { geometryTransform, worldBox } from '../scene/tree.ts';
import type { Hash, MeshFigures, Scene } from '../scene/types.ts';
import type { BlobStore } from '../surroundings.ts';
import { counted, formatCount } from '../units.ts';
import { defineStep, eachRow, isFailed, WHEREVER } from './kind.ts';
import type { Work } from './kind.ts';
import { keyFor, MARK_FIELD, sourcesOf } from './made.ts';
import { sharedAmong } from './sharing.ts';

export interface JoinParameters {
  name: string;
  /** All into one, or those that hang under the same assembly. */
  each: 'together' | 'assembly';
  mark?: string;
}

interface JoinedMesh {
  mesh: Hash;
  figures: MeshFigures;
  took?: number;
}

/** Parts that become one. */
interface Joint {
  members: number[];
  /** Row that it hangs under; -1 for none. */
  parent: number;
  transform: Matrix;
  materials: string[];
  pieces: { mesh: Hash; place: Matrix; slots: number[] }[];
}

const VERSION = 1;
/** Triangles of one part at most. */
const MOST_TRIANGLES = 50_000_000;

export const joinStep = defineStep<JoinParameters>({
  kind: 'join',
  title: 'Join',
  purpose: 'Makes one part of several, where they stand; materials stay apart as slots.',
  also: ['merge', 'combine', 'weld', 'collapse', 'attach meshes'],
  act: 'Join',
  station: 'arrange',
  topic: 'Structure',
  place: WHEREVER,
  version: VERSION,
  needs: 'geometry',
  fields: {
    name: { type: 'text', label: 'Name', most: 1000, help: '{parent} is the assembly that they hang under.' },
    each: {
      type: 'choice',
      label: 'Into',
      called: 'number of parts',
      choices: [
        { value: 'together', label: 'one part' },
        { value: 'assembly', label: 'one part in each assembly' },
      ],
    },
    mark: MARK_FIELD,
  },
  defaults: { name: '{parent}, joined', each: 'together' },

  summary: ({ name, each }) => `“${name}”${each === 'assembly' ? ', in each assembly' : ''}`,

  beforehand(scene, rows, parameters) {
    const members = groupsOf(scene, rows, parameters).flat();
    const shared = sharedAmong(scene, members);
    if (members.length === 0) return ['Two parts with triangles, or more, can be joined.'];
    return shared === 0 ? [] : [`${formatCount(shared)} of ${counted(members.length, 'part')} share their shape with others, and give that up.`]; // prettier-ignore
  },

  work: (scene, rows, parameters) => jointsOf(scene, rows, parameters).joints.map((joint) => workOf(scene, joint)),

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const facts = factsOf(scene);
    const { joints, pending: waiting, problems } = jointsOf(scene, rows, parameters);
    const meshes: Record<Hash, MeshFigures> = {};
    const hanging = new Rehanging(edit);
    const taken = new Set<string>();
    let [pending, worked] = [waiting, 0];
    for (const joint of joints) {
      const { members, parent, transform, materials } = joint;
      const result = lookup(keyOf(joint));
      if (result === undefined) pending += members.length;
      else if (isFailed(result)) problems.push(`${scene.nodes.text('name', members[0])}: ${result.failed}`);
      if (result === undefined || isFailed(result)) continue;
      const { mesh, figures, took = 0 } = result as JoinedMesh;
      worked += took;
      meshes[mesh] = figures;
      const source = scene.nodes.word('source', members[0]);
      const key = keyFor(facts, source, `join ${parameters.mark ?? parameters.name}`, taken);
      taken.add(key);
      const layers = new Set(members.map((row) => scene.nodes.word('layer', row)));
      const [layer] = layers.size === 1 ? layers : [''];
      const row = edit.add({
        parent: parent < 0 ? null : parent,
        name: parameters.name.replaceAll('{parent}', parent < 0 ? sourcesOf(scene, members)[0] : scene.nodes.text('name', parent)), // prettier-ignore
        kind: 'part',
        key,
        source,
        transform,
        mesh,
        materials,
        ...(layer ? { layer } : {}),
      });
      hanging.made(row, multiply(hanging.worldOf(parent), transform));
      const gone = new Set(members);
      for (const member of members) {
        // What hung under a part hangs under what it has become.
        for (const child of facts.childrenOf(member)) if (!gone.has(child)) hanging.hang(child, row);
        edit.remove(member);
      }
    }
    edit.setMeshes(meshes);
    return { pending, problems: [...problems, ...hanging.problems], worked };
  },
});

/** Parts with triangles, or that will have some, in the groups that become one each. */
function groupsOf(scene: Scene, rows: RowSet, { each }: JoinParameters): number[][] {
  const { kind, mesh, solid, problem, parent } = scene.nodes.columns;
  const groups = new Map<number, number[]>();
  eachRow(scene, rows, (row) => {
    const willHave = mesh[row] > 0 || (solid[row] > 0 && problem[row] === 0);
    if (kind[row] !== PART || !willHave) return;
    const group = each === 'assembly' ? parent[row] : -1;
    const known = groups.get(group);
    if (known) known.push(row);
    else groups.set(group, [row]);
  });
  return [...groups.values()].filter((members) => members.length > 1);
}

function jointsOf(
  scene: Scene,
  rows: RowSet,
  parameters: JoinParameters,
): { joints: Joint[]; pending: number; problems: string[] } {
  const { nodes } = scene;
  const problems: string[] = [];
  const joints: Joint[] = [];
  let pending = 0;
  for (const members of groupsOf(scene, rows, parameters)) {
    // Pieces that are not there yet would change what is joined: all wait for the last.
    if (members.some((row) => nodes.columns.mesh[row] === 0)) {
      pending += members.length;
      continue;
    }
    const sources = sourcesOf(scene, members);
    const triangles = members.reduce((sum, row) => sum + scene.meshes[nodes.word('mesh', row)].triangles, 0);
    const joint = jointOf(scene, members);
    if (sources.length > 1)
      problems.push(`These parts come from ${sources.length} sources (${sources.slice(0, 3).join(', ')}). Join those of each by themselves.`); // prettier-ignore
    else if (triangles > MOST_TRIANGLES)
      problems.push(`Joined they would have ${formatCount(triangles)} triangles; at most ${formatCount(MOST_TRIANGLES)} are taken.`); // prettier-ignore
    else if (!joint)
      problems.push(`${nodes.text('name', members[0])}: something above it has a scale of zero.`);
    else joints.push(joint);
  }
  return { joints, pending, problems };
} // prettier-ignore

function jointOf(scene: Scene, members: number[]): Joint | undefined {
  const { nodes } = scene;
  const facts = factsOf(scene);
  const parent = commonParent(facts, members);
  const above = parent < 0 ? IDENTITY : facts.world(parent);
  if (isSingular(above)) return undefined;
  const box = worldBox(scene, Rows.of(nodes.rows, members));
  const base: Vector = box ? [(box.min[0] + box.max[0]) / 2, box.min[1], (box.min[2] + box.max[2]) / 2] : [0, 0, 0];
  const transform = translation(transformPoint(invert(above), base));
  const inverse = invert(multiply(above, transform));
  const materials: string[] = [];
  const pieces = members.map((row) => {
    const node = nodes.row(row);
    const slots = node.materials.map((id) => {
      const known = materials.indexOf(id);
      return known >= 0 ? known : materials.push(id) - 1;
    });
    return { mesh: node.mesh as Hash, place: multiply(inverse, geometryTransform(node, facts.world(row))), slots };
  });
  return { members, parent, transform, materials, pieces };
}

const keyOf = ({ pieces }: Joint) => hashPlaces(['join', VERSION, pieces]);

function workOf(scene: Scene, joint: Joint): Work<'join'> {
  return {
    key: keyOf(joint),
    task: 'join',
    label: `${scene.nodes.text('name', joint.members[0])} and ${joint.members.length - 1} more`,
    async input(blobs: BlobStore) {
      const known = new Map<Hash, Uint8Array>();
      for (const { mesh } of joint.pieces) if (!known.has(mesh)) known.set(mesh, await blobs.get(mesh));
      return { pieces: joint.pieces.map((piece) => ({ ...piece, mesh: known.get(piece.mesh) as Uint8Array })) };
    },
    keep: async ({ blob, figures }: JoinOutput, blobs) => ({ mesh: await blobs.put(blob), figures }),
  };
}
