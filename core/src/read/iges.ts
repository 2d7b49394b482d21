/**
 * Reader of IGES files: bodies, names and colours as a kernel of its own gives them. There is no structure that could be read before
 * the kernel has translated the geometry, so the survey shows one part and what the head of the file says.
 */
import { linearFromSrgb } from '../finish/colour.ts';
import type { BareMesh } from '../mesh/normals.ts';
import { PrismError } from '../errors.ts';
import { byLibrary } from './library.ts';
import { SceneBuilder } from './builder.ts';
import type { SourceFacts } from './builder.ts';
import { baseName } from './paths.ts';
import type { Reader, Reading, SourceFile } from './reader.ts';
import { headOf } from './scanner.ts';

export const igesReader: Reader = {
  format: 'IGES',
  endings: ['igs', 'iges'],
  // The first line of the start section has an S in column 73.
  recognises: ({ bytes }) => /^[^\n]{72}S\s*0*1\s*\r?\n/.test(headOf(bytes, 400)),
  read: async (file, sourceId) => reading(file, sourceId, igesFacts(file)),
};

/** Chord deviation as a share of the whole body's size, and angle in radians: fine enough to look at, coarse enough to end. */
const RELATIVE_CHORD = 0.0005;
const ANGLE = 0.35;

/** Units by flag (ANSI/US PRO IPO-100, global section, parameter 14), metres. */
const IGES_UNITS: Record<number, [name: string, metres: number]> = {
  1: ['inch', 0.0254], 2: ['mm', 0.001], 4: ['foot', 0.3048], 5: ['mile', 1609.344], 6: ['m', 1], 7: ['km', 1000], 8: ['mil', 0.0000254],
  9: ['µm', 1e-6], 10: ['cm', 0.01], 11: ['microinch', 2.54e-8],
}; // prettier-ignore

/** Global section: texts with their length before an H, parted by commas unless the section says otherwise. */
function igesFacts(file: SourceFile): SourceFacts {
  const lines = headOf(file.bytes, 20_000).split(/\r?\n/);
  const section = lines
    .filter((line) => line[72] === 'G')
    .map((line) => line.slice(0, 72))
    .join('');
  const fields: string[] = [];
  for (let at = 0; at < section.length && fields.length < 26;) {
    const text = section.slice(at).match(/^\s*(\d+)H/);
    let value: string;
    if (text) {
      const from = at + text[0].length;
      value = section.slice(from, from + Number(text[1]));
      at = from + Number(text[1]);
    } else {
      const end = section.slice(at).search(/[,;]/);
      value = section.slice(at, end < 0 ? undefined : at + end).trim();
      at = end < 0 ? section.length : at + end;
    }
    fields.push(value);
    at++;
  }
  const unit = IGES_UNITS[Number(fields[13])];
  return {
    format: 'IGES',
    schema: fields[22] ? `version flag ${fields[22]}` : '',
    producer: [fields[4], fields[5], fields[17]].filter(Boolean).join(', '),
    unit: unit ? { name: unit[0], metres: unit[1], declared: true } : { name: 'mm', metres: 0.001, declared: false },
    upAxis: { axis: 'z', by: 'convention' },
  };
}

interface KernelMesh {
  name: string;
  color?: [number, number, number];
  attributes: { position: { array: number[] }; normal?: { array: number[] } };
  index: { array: number[] };
  brep_faces?: { first: number; last: number; color: [number, number, number] | null }[];
}

interface KernelNode {
  name: string;
  meshes: number[];
  children: KernelNode[];
}

interface KernelResult {
  success: boolean;
  root: KernelNode;
  meshes: KernelMesh[];
}

function reading(file: SourceFile, sourceId: string, facts: SourceFacts): Reading {
  if (file.bytes.length < 80)
    throw new PrismError('not-readable', `${file.name} is cut off: it ends in its head.`, { file: file.name });
  const note = `IGES is meshed once, when it is read: chord deviation ${RELATIVE_CHORD * 100} % of the size, ${Math.round((ANGLE * 180) / Math.PI)}°. For limits of your own ask for STEP.`;
  const before = new SceneBuilder(file, sourceId, facts);
  before.notRead.add(note);
  before.node({ name: baseName(file.name), kind: 'part' });
  return {
    survey: before.reading().survey,
    async build(blobs, options = {}) {
      const { default: load } = await import('occt-import-js');
      const silent = () => {};
      const kernel = await load({ print: silent, printErr: silent });
      const limits = {
        linearUnit: 'meter',
        linearDeflectionType: 'bounding_box_ratio',
        linearDeflection: RELATIVE_CHORD,
        angularDeflection: ANGLE,
      };
      const result = await byLibrary(
        file,
        'Ask for it as STEP.',
        () => kernel.ReadIgesFile(file.bytes, limits) as KernelResult,
      );
      options.signal?.throwIfAborted();
      if (!result.success || result.meshes.length === 0)
        throw new PrismError('not-readable', `The kernel cannot translate ${file.name}. Ask for it as STEP.`, {
          file: file.name,
        });
      // The kernel makes metres of it.
      const builder = new SceneBuilder(file, sourceId, facts, 1);
      builder.notRead.add(note);
      const geometries = result.meshes.map((mesh) => geometryOf(mesh, builder));
      const place = (node: KernelNode, parent: number | undefined) => {
        const [only] = node.meshes;
        const isPart = node.meshes.length === 1 && node.children.length === 0;
        const id = builder.node({
          ...(parent === undefined ? {} : { parent }),
          name: node.name || result.meshes[only]?.name || baseName(file.name),
          ...(isPart ? geometries[only] : { kind: 'assembly' as const }),
        });
        if (isPart) return;
        for (const mesh of node.meshes)
          builder.node({ parent: id, name: result.meshes[mesh].name || 'Body', ...geometries[mesh] });
        for (const child of node.children) place(child, id);
      };
      place(result.root, undefined);
      return builder.reading().build(blobs, options);
    },
  };
}

function geometryOf(mesh: KernelMesh, builder: SceneBuilder): { geometry: number; materials: string[] } {
  const materials: string[] = [];
  const slotOf = (colour: readonly number[] | null | undefined) => {
    const id = colour ? materialOf(colour, builder) : 'none';
    const slot = materials.indexOf(id);
    return slot >= 0 ? slot : materials.push(id) - 1;
  };
  const faces = mesh.brep_faces?.length
    ? mesh.brep_faces
    : [{ first: 0, last: mesh.index.array.length / 3 - 1, color: null }];
  const sorted = faces
    .map((face) => ({ ...face, slot: slotOf(face.color ?? mesh.color) }))
    .sort((a, b) => a.slot - b.slot);
  const indices = new Uint32Array(mesh.index.array.length);
  const groups: BareMesh['groups'] = [];
  let at = 0;
  for (const { first, last, slot } of sorted) {
    const part = mesh.index.array.slice(first * 3, (last + 1) * 3);
    indices.set(part, at);
    const open = groups.at(-1);
    if (open?.slot === slot) open.count += part.length;
    else groups.push({ slot, start: at, count: part.length });
    at += part.length;
  }
  const { normal } = mesh.attributes;
  const bare: BareMesh = {
    positions: Float64Array.from(mesh.attributes.position.array),
    indices: indices.subarray(0, at),
    groups,
    ...(normal ? { normals: Float32Array.from(normal.array) } : {}),
  };
  return { geometry: builder.mesh(bare), materials };
}

function materialOf(colour: readonly number[], builder: SceneBuilder): string {
  const hex = colour
    .map((value) =>
      Math.round(value * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('');
  const baseColor = colour.map(linearFromSrgb) as [number, number, number];
  return builder.material({ name: `Colour #${hex}`, baseColor, opacity: 1, metallic: 0, roughness: 0.6 });
}
