/**
 * Reader of BREP files, the text form of the kernel's own exact shapes: bodies with their places. The format has no names, colours or
 * unit. Like the solids of STEP its bodies are tessellated later, within limits of one's own.
 */
import { PrismError } from '../errors.ts';
import { inlineWorkbench } from '../memoryStores.ts';
import { isBrepText } from '../solid/bodies.ts';
import type { Body } from '../solid/bodies.ts';
import { MILLIMETRE } from '../solid/kernel.ts';
import { SceneBuilder } from './builder.ts';
import { baseName } from './paths.ts';
import type { BuildOptions, Reader, Reading, SourceFile } from './reader.ts';
import { headOf } from './scanner.ts';

export const brepReader: Reader = {
  format: 'BREP',
  endings: ['brep', 'brp'],
  recognises: ({ bytes }) => isBrepText(bytes),
  read: async (file, sourceId) => readBrep(file, sourceId),
};

const NAMES: Record<Body['kind'], string> = { solid: 'Solid', shell: 'Shell', face: 'Face' };

function readBrep(file: SourceFile, sourceId: string): Reading {
  if (file.bytes.length < 80 || !/CASCADE Topology/.test(headOf(file.bytes, 400)))
    throw new PrismError('not-readable', `${file.name} is cut off, or no BREP file: it ends in its head.`, {
      file: file.name,
    });
  const builderFor = () => {
    const builder = new SceneBuilder(file, sourceId, {
      format: 'BREP',
      schema: headOf(file.bytes, 400).match(/CASCADE Topology V\d+/)?.[0] ?? '',
      // The kernel's own unit is the millimetre (common practice).
      unit: { name: 'mm', metres: MILLIMETRE, declared: false },
      upAxis: { axis: 'z', by: 'convention' },
    });
    builder.notRead.add('BREP holds no unit, names, colours, layers or tree; ask for STEP where they matter.');
    return builder;
  };
  const before = builderFor();
  before.node({ name: baseName(file.name), kind: 'part' });
  return {
    survey: before.reading().survey,
    async build(blobs, options = {}) {
      const { bodies, edges } = await bodiesOf(file, options);
      options.signal?.throwIfAborted();
      const builder = builderFor();
      if (edges > 0) builder.notRead.add(`Lines that bound no face: ${edges}.`);
      const single = bodies.length === 1;
      const parent = single ? {} : { parent: builder.node({ name: baseName(file.name), kind: 'assembly' }) };
      const counts = new Map<string, number>();
      for (const { kind, text, faces, extent, place } of bodies) {
        const count = (counts.get(kind) ?? 0) + 1;
        counts.set(kind, count);
        const name = single ? baseName(file.name) : `${NAMES[kind]} ${count}`;
        const hash = await blobs.put(text);
        builder.solid(hash, { text: hash, bytes: text.length, faces, entity: name, name, extent: extent * MILLIMETRE });
        builder.node({ ...parent, name, kind: 'part', transform: place, more: { solid: hash, materials: ['none'] } });
      }
      return builder.reading().build(blobs, options);
    },
  };
}

async function bodiesOf(file: SourceFile, { workbench = inlineWorkbench, signal }: BuildOptions) {
  const again = 'Ask for it as STEP.';
  try {
    const found = await workbench.run('bodies', { text: file.bytes }, signal);
    if (found.bodies.length > 0) return found;
  } catch (error) {
    if (!(error instanceof PrismError) || error.code === 'cancelled') throw error;
    throw new PrismError('not-readable', `${file.name} cannot be read: ${error.message} ${again}`, {
      file: file.name,
    });
  }
  throw new PrismError('no-geometry', `${file.name} holds no face that could be drawn. ${again}`, { file: file.name });
}
