/** All formats that are read, and which of them a file is in. */
import { brepReader } from './brep.ts';
import { colladaReader } from './collada/collada.ts';
import { ifcReader } from './ifc/ifc.ts';
import { igesReader } from './iges.ts';
import { gltfReader } from './gltf/gltf.ts';
import { objReader } from './obj/obj.ts';
import { plyReader } from './ply.ts';
import { stepReader } from './step/step.ts';
import { stlReader } from './stl.ts';
import { threeMfReader } from './threeMf.ts';
import { usdReader } from './usd/usd.ts';
import { x3dReader } from './x3d/x3d.ts';
import { isZip } from './zip.ts';
import { endingOf } from './paths.ts';
import type { Reader, SourceFile } from './reader.ts';

export const READERS: readonly Reader[] = [
  ifcReader,
  stepReader,
  gltfReader,
  usdReader,
  threeMfReader,
  plyReader,
  stlReader,
  objReader,
  colladaReader,
  x3dReader,
  igesReader,
  brepReader,
];

/** Formats that are a zip themselves; a zip with another ending is a package, even where it is called like its model. */
const ZIPPED = ['3mf', 'usdz', 'zae'];

/** The reader that recognises the content, or failing that the ending. */
export function readerFor(file: SourceFile): Reader | undefined {
  const ending = endingOf(file.name);
  return (
    READERS.find((candidate) => candidate.recognises(file)) ??
    (isZip(file.bytes) && !ZIPPED.includes(ending)
      ? undefined
      : READERS.find((candidate) => candidate.endings.includes(ending)))
  );
}
