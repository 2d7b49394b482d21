/** A plant made of boxes: as many placed parts as are asked for, in storeys and zones, of few or many distinct shapes. */
import { figuresOf, packMesh } from '@noble-prism/core/mesh/mesh';
import { withNormals } from '@noble-prism/core/mesh/normals';
import { featureEdges } from '@noble-prism/core/mesh/edges';
import { translation } from '@noble-prism/core/scene/matrix';
import { NodeWriter } from '@noble-prism/core/scene/nodeWriter';
import type { NewRow } from '@noble-prism/core/scene/nodeWriter';
import { EMPTY_SCENE, NO_MATERIAL } from '@noble-prism/core/scene/types';
import type { Material, MeshFigures, Scene } from '@noble-prism/core/scene/types';
import type { BlobStore } from '@noble-prism/core/surroundings';

const STOREYS = 10;
/** Parts of one zone; each zone is an assembly. */
const ZONE = 100;
const LAYERS = ['Structure', 'Envelope', 'Pipes', 'Cables', 'Fixings', 'Railings', 'Plant', 'Doors'];
const CLASSES = ['IfcColumn', 'IfcWall', 'IfcPipeSegment', 'IfcCableSegment', 'IfcFastener', 'IfcRailing'];

/** Bytes of a box mesh; lengths in metres. */
function box(width: number, height: number, depth: number) {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? width : 0, i & 2 ? height : 0, i & 4 ? depth : 0]);
  const indices = [0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4, 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5]; // prettier-ignore
  const mesh = withNormals({
    positions: Float32Array.from(corners),
    indices: Uint32Array.from(indices),
    groups: [{ slot: 0, start: 0, count: indices.length }],
  });
  return { ...mesh, edges: featureEdges(mesh) };
}

/** A scene of boxes whose meshes are in the store. @param shapes distinct ones among the parts */
export async function plantOf(parts: number, blobs: BlobStore, shapes = 20): Promise<Scene> {
  const meshes: Record<string, MeshFigures> = {};
  const hashes: string[] = [];
  for (let i = 0; i < shapes; i++) {
    const mesh = box(0.2 + 0.01 * (i % 97), 0.3 + 0.013 * (i % 89), 0.25 + 0.00001 * i);
    const blob = packMesh(mesh);
    const hash = await blobs.put(blob);
    meshes[hash] = figuresOf(mesh, blob.length);
    hashes.push(hash);
  }
  const colours: Material[] = [0, 1, 2, 3, 4].map((i) => ({
    ...NO_MATERIAL,
    id: `m:${i}`,
    name: `Colour ${i}`,
    baseColor: [0.2 + 0.15 * i, 0.5, 0.8 - 0.12 * i],
  }));
  const rows = new NodeWriter('plant');
  const add = (name: string, parent: number | null, place: [number, number, number], more: Partial<NewRow> = {}) =>
    rows.add({ parent, name, kind: 'assembly', transform: translation(place), ...more });
  const root = add('Plant', null, [0, 0, 0]);
  const storeys = Array.from({ length: STOREYS }, (_, i) => add(`Storey ${i}`, root, [0, 0, 4 * i]));
  const side = Math.ceil(Math.sqrt(parts / ZONE / STOREYS));
  for (let zone = 0, made = 0; made < parts; zone++) {
    const inStorey = Math.floor(zone / STOREYS);
    const place: [number, number, number] = [(inStorey % side) * 12, Math.floor(inStorey / side) * 12, 0];
    const assembly = add(`Zone ${zone}`, storeys[zone % STOREYS], place);
    for (let i = 0; i < ZONE && made < parts; i++, made++)
      add(`Part ${made}`, assembly, [(i % 10) + 0.1, Math.floor(i / 10) + 0.1, 0.01 * (i % 7)], {
        kind: 'part',
        mesh: hashes[made % shapes],
        materials: [colours[(made * 7) % 5].id],
        layer: LAYERS[(made * 3) % LAYERS.length],
        class: CLASSES[made % CLASSES.length],
      });
  }
  return {
    ...EMPTY_SCENE,
    sources: [
      {
        id: 'plant',
        name: 'plant.ifc',
        format: 'IFC',
        schema: 'IFC4',
        producer: '',
        unit: { name: 'm', metres: 1, declared: true },
        units: ['m'],
        upAxis: { axis: 'z', by: 'file' },
        up: 'z',
        bytes: 1,
        warnings: [],
      },
    ],
    nodes: rows.table(),
    meshes,
    materials: Object.fromEntries([NO_MATERIAL, ...colours].map((material) => [material.id, material])),
    layers: LAYERS.map((name) => ({ name, source: 'plant' })),
  };
}
