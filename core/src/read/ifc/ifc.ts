/** Reader of IFC files (ISO 16739-1; 2x3, 4, 4.3): structure from the text, geometry by web-ifc with openings cut. */
import { linearFromSrgb } from '../../finish/colour.ts';
import { completeMesh } from '../../mesh/complete.ts';
import { figuresOf, packMesh } from '../../mesh/mesh.ts';
import { NumberList } from '../../mesh/numberList.ts';
import type { BareMesh } from '../../mesh/normals.ts';
import { hashData } from '../../scene/hash.ts';
import { IDENTITY, invert, multiply, transformPoint } from '../../scene/matrix.ts';
import { SceneEditor } from '../../scene/editor.ts';
import { factsOf } from '../../scene/facts.ts';
import { PART } from '../../scene/nodes.ts';
import type { Matrix } from '../../scene/matrix.ts';
import type { Material, MeshFigures, Scene } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { isOurs, said } from '../library.ts';
import { SceneBuilder } from '../builder.ts';
import type { BuildOptions, Reader, Reading, SourceFile } from '../reader.ts';
import { RowProgress } from '../rowProgress.ts';
import { headOf } from '../scanner.ts';
import { looksLikePart21, scanPart21 } from '../step/scan.ts';
import { readIfcStructure } from './structure.ts';
import type { IfcStructure } from './structure.ts';

export const ifcReader: Reader = {
  format: 'IFC',
  endings: ['ifc'],
  recognises: ({ bytes }) => looksLikePart21(bytes) && /FILE_SCHEMA\s*\(\s*\(\s*'IFC/i.test(headOf(bytes, 8000)),
  read: async (file, sourceId) => readIfc(file, sourceId),
};

const SEEN = { format: 'IFC', what: 'elements' };
/** Share of the time in which the text has been looked through. */
const SCANNED = 0.2;

function readIfc(file: SourceFile, sourceId: string): Reading {
  const { progress } = file;
  const scanned = progress && ((share: number) => progress(share * SCANNED, { ...SEEN, count: 0, names: [] }));
  const part21 = scanPart21(file.bytes, file.name, scanned);
  const structure = readIfcStructure(part21);
  const { header } = part21;
  const builder = new SceneBuilder(file, sourceId, {
    format: 'IFC',
    schema: header.schema,
    producer: [header.producer, header.timeStamp].filter(Boolean).join(', '),
    unit: structure.unit,
    // World coordinates are z up by the standard.
    upAxis: { axis: 'z', by: 'file' },
  });
  for (const { name, description } of structure.layers) builder.layer(name, description);
  // Nearly all that has a place is an element.
  const rows = new RowProgress(progress, { ...SEEN, head: header.schema }, part21.ofType('IFCLOCALPLACEMENT').length, SCANNED); // prettier-ignore
  const express = new NumberList(Int32Array);
  const worlds: Matrix[] = [];
  // From the world into an assembly, for as long as what it holds is handed over.
  let inverse: { of: number | undefined; matrix: Matrix } = { of: undefined, matrix: IDENTITY };
  const orphans = structure.walk((element, parent) => {
    const { id, name, hasShape, world, layer, properties } = element;
    if (parent !== undefined && inverse.of !== parent) inverse = { of: parent, matrix: invert(worlds[parent]) };
    const row = builder.node({
      parent,
      name,
      kind: hasShape ? 'part' : 'assembly',
      transform: parent === undefined ? world : multiply(inverse.matrix, world),
      layer,
      more: { class: element.class, properties, entity: `#${id}` },
    });
    express.push(id);
    rows.row(name);
    worlds.push(world);
    return row;
  });
  for (const warning of part21.warnings) builder.warn(warning.code, warning.message, warning.where);
  if (orphans > 0)
    builder.warn(
      'orphans',
      `${orphans} elements belong to no storey, building or assembly; they stand under the project.`,
    );
  if (structure.annotations > 0) builder.notRead.add(`Annotations and grids are left out: ${structure.annotations}.`);
  if (structure.openings > 0)
    builder.notRead.add(`Openings are cut from what they are in, and not kept as bodies: ${structure.openings}.`);
  const plain = builder.reading();
  return {
    survey: plain.survey,
    async build(blobs, options) {
      try {
        return await build(file, plain.survey, structure, express.copy(), blobs, options);
      } catch (thrown) {
        if (isOurs(thrown)) throw thrown;
        return withoutShapes(plain.survey, said(thrown));
      }
    },
  };
}

/** The structure alone, where the library that makes the shapes gives up: storeys, names and properties are worth keeping. */
function withoutShapes(survey: Scene, why: string): Scene {
  const message = `The shapes of this building could not be made (${why}); its structure is kept. Ask for the file again.`;
  const [source] = survey.sources;
  const edit = new SceneEditor(survey);
  survey.nodes.columns.kind.forEach((kind, row) => {
    if (kind === PART) edit.setProblem(row, 'Its shape could not be made.');
  });
  return {
    ...survey,
    sources: [{ ...source, warnings: [...source.warnings, { code: 'no-geometry', message }] }],
    nodes: edit.finish().scene.nodes,
  };
}

/** Metres and y up, as web-ifc gives them, back to z up as the file has it. */
const TO_Z_UP: Matrix = [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1];

/** One piece of a product: a geometry of the file, where it is in the product, and its colour. */
interface Piece {
  geometry: number;
  place: Matrix;
  colour: [number, number, number, number];
}

/** Sides of a full circle. */
const CIRCLE_SEGMENTS = 24;

async function build(
  file: SourceFile,
  survey: Scene,
  structure: IfcStructure,
  express: Int32Array,
  blobs: BlobStore,
  { progress, signal }: BuildOptions = {},
): Promise<Scene> {
  const { IfcAPI, LogLevel } = await import('web-ifc');
  const api = new IfcAPI();
  await api.Init(undefined, true);
  api.SetLogLevel(LogLevel.LOG_LEVEL_OFF);
  const model = api.OpenModel(file.bytes, { COORDINATE_TO_ORIGIN: false, CIRCLE_SEGMENTS });
  try {
    const nodeOf = new Map<number, number>();
    express.forEach((id, node) => nodeOf.set(id, node));
    const facts = factsOf(survey);
    const { kind } = survey.nodes.columns;
    const total = kind.reduce((sum, one) => sum + (one === PART ? 1 : 0), 0);
    const pieces = new Map<number, Piece[]>();
    // The library lets go of a geometry when the product after it is made.
    const geometries = new Map<number, RawGeometry>();
    let streamed = 0;
    api.StreamAllMeshes(model, (flat) => {
      const node = nodeOf.get(flat.expressID);
      if (node === undefined) return;
      const toLocal = multiply(invert(facts.world(node)), TO_Z_UP);
      const list: Piece[] = [];
      for (let i = 0; i < flat.geometries.size(); i++) {
        const { color, geometryExpressID, flatTransformation } = flat.geometries.get(i);
        if (!geometries.has(geometryExpressID))
          geometries.set(geometryExpressID, geometryOf(api, model, geometryExpressID));
        const place = multiply(toLocal, flatTransformation);
        list.push({ geometry: geometryExpressID, place, colour: [color.x, color.y, color.z, color.w] });
      }
      if (list.length > 0) pieces.set(node, list);
      if (++streamed % 50 === 0) progress?.(Math.floor(streamed / 2), total);
    });
    signal?.throwIfAborted();

    const materials: Record<string, Material> = { ...survey.materials };
    const meshes: Record<string, MeshFigures> = {};
    const known = new Map<string, Made[]>();
    const edit = new SceneEditor(survey);
    const colours = new Map<string, Material>();
    const materialOf = (name: string | undefined, colour: Piece['colour']) => {
      const key = `${name ?? ''} ${colour.join()}`;
      let material = colours.get(key);
      if (!material) {
        material = colourMaterial(name, colour);
        colours.set(key, material);
        materials[material.id] = material;
      }
      return material;
    };
    let done = 0;
    for (let row = 0; row < kind.length; row++) {
      done++;
      const list = pieces.get(row);
      if (!list) {
        if (kind[row] === PART) edit.setProblem(row, 'The shape of this part could not be made.');
        continue;
      }
      signal?.throwIfAborted();
      const key = list.map(({ geometry, colour }) => `${geometry} ${colour.join()}`).join('|');
      const alike = known.get(key) ?? [];
      known.set(key, alike);
      let made = alike.find(({ pieces: others }) => list.every(({ place }, i) => isSamePlace(place, others[i].place)));
      if (!made) {
        const { mesh, slots, items } = meshOf(list, (id) => geometries.get(id) ?? NO_GEOMETRY, structure.styles);
        const complete = completeMesh(mesh, 1, [0, 0, 0]);
        const blob = complete && packMesh(complete);
        const hash = blob && (await blobs.put(blob));
        if (complete && blob && hash) meshes[hash] = figuresOf(complete, blob.length);
        made = { pieces: list, hash, slots, items };
        // Of what stands in its product in many ways, later ones are shapes of their own.
        if (alike.length < WAYS) alike.push(made);
        progress?.(Math.floor(total / 2) + Math.floor((done / survey.nodes.length) * (total / 2)), total);
      }
      const names = String(survey.nodes.row(row).properties?.Material ?? '')
        .split(', ')
        .filter(Boolean);
      const { slots, items } = made;
      const ids = slots.map((colour, slot) => {
        const style = structure.styles.get(items[slot]);
        const name = slots.length === 1 && names.length === 1 ? names[0] : (style ?? names[0]);
        return materialOf(name, colour).id;
      });
      edit.setKind(row, 'part');
      edit.setMaterials(row, ids);
      if (made.hash) edit.setMesh(row, made.hash);
      else edit.setProblem(row, 'Nothing of this part can be drawn.');
    }
    progress?.(total, total);
    return { ...edit.finish().scene, meshes, materials };
  } finally {
    api.CloseModel(model);
    api.Dispose();
  }
}

/** What was made of the pieces of a product. */
interface Made {
  pieces: Piece[];
  hash: string | undefined;
  slots: Piece['colour'][];
  items: number[];
}

/** Ways in which the same pieces stand in a product that are told apart. */
const WAYS = 64;
/** Places that differ by less are one, metres: they come out of single precision. */
const SAME = 2e-7;
const isSamePlace = (a: Matrix, b: Matrix) => a.every((value, i) => Math.abs(value - b[i]) <= SAME);

interface RawGeometry {
  /** x, y, z and normal per vertex, metres. */
  vertices: Float32Array;
  indices: Uint32Array;
}

const NO_GEOMETRY: RawGeometry = { vertices: new Float32Array(), indices: new Uint32Array() };

function geometryOf(api: InstanceType<(typeof import('web-ifc'))['IfcAPI']>, model: number, id: number): RawGeometry {
  const geometry = api.GetGeometry(model, id);
  const vertices = api.GetVertexArray(geometry.GetVertexData(), geometry.GetVertexDataSize()).slice();
  const indices = api.GetIndexArray(geometry.GetIndexData(), geometry.GetIndexDataSize()).slice();
  geometry.delete();
  return { vertices, indices };
}

/** All pieces of a product as one mesh in its own frame, a slot per colour and style. @param styles by what they colour */
function meshOf(
  pieces: Piece[],
  load: (id: number) => RawGeometry,
  styles: ReadonlyMap<number, string>,
): { mesh: BareMesh; slots: Piece['colour'][]; items: number[] } {
  const slots: Piece['colour'][] = [];
  const items: number[] = [];
  const slotOf = pieces.map(({ colour, geometry }) => {
    const style = styles.get(geometry);
    let slot = slots.findIndex((other, i) => other.join() === colour.join() && styles.get(items[i]) === style);
    if (slot < 0) {
      slot = slots.push(colour) - 1;
      items.push(geometry);
    }
    return slot;
  });
  const order = pieces
    .map((piece, i) => ({ piece, slot: slotOf[i], raw: load(piece.geometry) }))
    .sort((a, b) => a.slot - b.slot);
  const positions = new Float64Array(order.reduce((sum, { raw }) => sum + raw.vertices.length / 2, 0));
  const indices = new Uint32Array(order.reduce((sum, { raw }) => sum + raw.indices.length, 0));
  const groups: BareMesh['groups'] = [];
  let vertex = 0;
  let index = 0;
  for (const { piece, slot, raw } of order) {
    for (let v = 0; v < raw.vertices.length / 6; v++) {
      const [x, y, z] = [raw.vertices[v * 6], raw.vertices[v * 6 + 1], raw.vertices[v * 6 + 2]];
      positions.set(transformPoint(piece.place, [x, y, z]), (vertex + v) * 3);
    }
    for (let i = 0; i < raw.indices.length; i++) indices[index + i] = raw.indices[i] + vertex;
    const last = groups.at(-1);
    if (last?.slot === slot) last.count += raw.indices.length;
    else groups.push({ slot, start: index, count: raw.indices.length });
    vertex += raw.vertices.length / 6;
    index += raw.indices.length;
  }
  return { mesh: { positions, indices, groups }, slots, items };
}

function colourMaterial(name: string | undefined, [r, g, b, opacity]: Piece['colour']): Material {
  const hex = [r, g, b]
    .map((value) =>
      Math.round(value * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('');
  const material = {
    name: name ?? `Colour #${hex}`,
    baseColor: [r, g, b].map(linearFromSrgb) as [number, number, number],
    opacity,
    metallic: 0,
    roughness: 0.7,
  };
  return { ...material, id: `m:${hashData(material).slice(0, 12)}`, origin: 'source' };
}
