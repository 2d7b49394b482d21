/** Step: single faces of parts get materials of their own. Parts of the same shape keep sharing it: they get the slots too, and show what they showed. */
import { array, mixed, number, string } from 'yup';
import { coordinatesOf, given, surfaceWork } from '../finish/library/given.ts';
import type { Coordinates } from '../finish/library/given.ts';
import { ownMaterialsField } from '../finish/library/own.ts';
import type { OwnMaterial } from '../finish/library/own.ts';
import { AS_RECEIVED, materialOfRule } from '../finish/rule.ts';
import { keepingSides } from '../finish/sides.ts';
import type { Surface } from '../measure/exactShape.ts';
import type { FaceSeed, PaintedSlot } from '../mesh/paint.ts';
import { factsOf } from '../scene/facts.ts';
import { PART } from '../scene/nodes.ts';
import { spotSchema } from '../scene/spot.ts';
import type { Hash, Material, MeshFigures, Scene, Texture } from '../scene/types.ts';
import { counted } from '../units.ts';
import { Heavy } from './heavy.ts';
import { defineStep, WHEREVER } from './kind.ts';

/** A face by a point of it, and the material that it gets. */
export interface PaintedFace extends FaceSeed {
  /** Key of the part. */
  on: string;
  material: string;
  /** What was picked, for people: `plane, 3 m²`. */
  what?: string;
}

export interface FacesParameters {
  faces: PaintedFace[];
  /** Copies of the own materials that faces get. */
  own?: OwnMaterial[];
}

/** What is remembered of a mesh. */
interface PaintedMesh {
  mesh: Hash;
  figures: MeshFigures;
  made: PaintedSlot[];
  before: number;
  missed: number[];
}

const VERSION = 1;
/** Faces in one step, at most. */
const MOST = 2000;

/** Places in the list of faces by the number of the mesh that their parts have: asked for each mesh of a scene, and made once. */
const gathered = new WeakMap<readonly PaintedFace[], { scene: Scene; byMesh: Map<number, number[]> }>();

/** Places in the list of faces that are on parts with a mesh, in their order. */
function facesOn(scene: Scene, mesh: Hash, { faces }: FacesParameters): readonly number[] {
  let known = gathered.get(faces);
  if (known?.scene !== scene) {
    const facts = factsOf(scene);
    const byMesh = new Map<number, number[]>();
    for (const [i, { on }] of faces.entries()) {
      const row = facts.rowOf(on);
      const number = row === undefined ? 0 : scene.nodes.columns.mesh[row];
      if (number > 0) byMesh.set(number, [...(byMesh.get(number) ?? []), i]);
    }
    gathered.set(faces, (known = { scene, byMesh }));
  }
  return known.byMesh.get(scene.nodes.tables.words.find(mesh)) ?? [];
}

/** How the texture coordinates of the part of a face are. */
function coordinatesUnder(scene: Scene, { on }: PaintedFace): Coordinates {
  const row = factsOf(scene).rowOf(on);
  return row === undefined ? 'none' : coordinatesOf(scene, row);
}

const painting = new Heavy<FacesParameters, 'paint', PaintedMesh>({
  kind: 'faces',
  version: VERSION,
  task: 'paint',
  of: 'mesh',
  concerns: (scene, mesh, parameters) => facesOn(scene, mesh, parameters).length > 0,
  // The same parameters mean other faces where parts have other meshes.
  against: (scene, mesh, parameters) => facesOn(scene, mesh, parameters).join(),
  limits: ({ faces }, scene, mesh) => facesOn(scene, mesh, { faces }).map((i) => seedOf(faces[i])),
  weight: ({ meshes }, mesh) => meshes[mesh].triangles,
  input: async (scene, mesh, { faces }, blobs) => ({
    mesh: await blobs.get(mesh),
    seeds: facesOn(scene, mesh, { faces }).map((i) => seedOf(faces[i])),
  }),
  keep: async ({ blob, ...rest }, blobs) => ({ mesh: await blobs.put(blob), ...rest }),
});

const seedOf = ({ at, normal, angle, surface }: PaintedFace): FaceSeed => ({ at, normal, angle, ...(surface ? { surface } : {}) }); // prettier-ignore

const direction = array(number().required()).length(3).required();
const faceSchema = spotSchema('The point of the face')
  .omit(['axis'])
  .shape({
    on: string().required('The part of the face is missing.').max(4000),
    normal: direction,
    angle: number().required().min(0).max(Math.PI),
    surface: mixed<Surface>(),
    material: string().required('The material is missing.').max(200),
  })
  .noUnknown();

export const facesStep = defineStep<FacesParameters>({
  kind: 'faces',
  title: 'Painted faces',
  purpose:
    'Gives single faces of parts a material of their own; a face is one of the solid, or what turns up to an angle.',
  also: ['paint', 'polygon', 'region', 'wall', 'side'],
  station: 'finishes',
  begunThere: true,
  place: WHEREVER,
  version: VERSION,
  needs: 'geometry',
  fields: {
    faces: {
      type: 'own',
      label: 'Faces',
      schema: array(faceSchema as never)
        .required('The faces are missing.')
        .max(MOST),
      written: `a list of \`{ "on": "/Station/Wall", "at": [0, 1, 0.15], "normal": [0, 0, 1], "angle": 0.35, "material": "lib:concrete" }\`, at most ${MOST}: a point of the face in the frame of the geometry in metres, where it looks, and the angle in radians that it turns by at most`,
    },
    own: ownMaterialsField,
  },
  defaults: { faces: [] },

  summary: ({ faces }) => counted(faces.length, 'face'),
  whole: () => true,
  mapKeys: ({ faces, ...rest }, replace) => ({
    ...rest,
    faces: faces.map((face) => ({ ...face, on: replace(face.on) })),
  }),

  work: (scene, rows, parameters) => [
    ...painting.work(scene, rows, parameters),
    // Painting leaves the coordinates as they are: which pictures are needed is known before.
    ...surfaceWork(
      new Set(parameters.faces.flatMap((face) => (coordinatesUnder(scene, face) === 'none' ? [] : [face.material]))),
      parameters.own,
    ),
  ],

  apply(edit, rows, parameters, lookup) {
    const { scene } = edit;
    const { nodes } = scene;
    const { faces, own = [] } = parameters;
    const facts = factsOf(scene);
    const said = new Set<string>();
    const materials: Record<string, Material> = {};
    const textures: Record<string, Texture> = {};
    /** The material of each face, as its part gets it; none where there is no such material. */
    const givenTo: (Material | undefined)[] = [];
    let waiting = 0;
    const rowsOf = faces.map((face, i) => {
      const { on, material } = face;
      const row = facts.rowOf(on);
      const made = given(material, coordinatesUnder(scene, face), lookup, own);
      const found = made?.material ?? materialOfRule(scene, material);
      givenTo[i] = found;
      if (made?.waits) waiting++;
      for (const texture of made?.textures ?? []) textures[texture.id] = texture;
      if (row === undefined) said.add(`Face ${i + 1}: its part is no longer there: ${on}.`);
      else if (nodes.columns.kind[row] !== PART)
        said.add(`Face ${i + 1}: ${nodes.text('name', row)} is no part by now.`);
      if (!found && material !== AS_RECEIVED) said.add(`Face ${i + 1} gets the material ${material}, which neither library nor job has.`); // prettier-ignore
      return row;
    });
    const meshes: Record<Hash, MeshFigures> = {};
    /** Faces of each mesh, looked for once. */
    const onMesh = new Map<number, readonly number[]>();
    const { pending, problems, worked } = painting.each(edit, rows, parameters, lookup, {
      made(row, { mesh, figures, made, before, missed }) {
        const number = nodes.columns.mesh[row];
        let list = onMesh.get(number);
        if (!list) {
          onMesh.set(number, (list = facesOn(scene, nodes.word('mesh', row), parameters)));
          for (const seed of missed) said.add(`Face ${list[seed] + 1}: there is no face at its point any more, on ${nodes.text('name', row)}.`); // prettier-ignore
        }
        if (made.length === 0) return;
        meshes[mesh] = figures;
        edit.setMesh(row, mesh);
        const { materials: had } = nodes.row(row);
        const kept = Array.from({ length: before }, (_, slot) => had[slot] ?? had[0] ?? 'none');
        edit.setMaterials(row, [
          ...kept,
          ...made.map(({ seed, from }) => {
            const face = (list as readonly number[])[seed];
            const material = rowsOf[face] === row ? givenTo[face] : undefined;
            if (!material) return kept[from];
            const sided = keepingSides(material, scene.materials[kept[from]]);
            materials[sided.id] = sided;
            return sided.id;
          }),
        ]);
      },
    });
    edit.setMeshes(meshes);
    if (Object.keys(meshes).length > 0) {
      edit.setMaterialsOfScene(materials);
      edit.setTextures(textures);
    }
    return { pending: pending + waiting, problems: [...said, ...problems], worked };
  },
});
