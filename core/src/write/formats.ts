/** All formats that are written. */
import { colladaWriter } from './collada/collada.ts';
import { glbWriter, gltfWriter } from './gltf/gltf.ts';
import { ifc2x3Writer, ifcWriter } from './ifc/ifc.ts';
import { objWriter } from './obj/obj.ts';
import { plyWriter } from './ply.ts';
import { stepWriter } from './step/step.ts';
import { stlWriter } from './stl.ts';
import { threeMfWriter } from './threeMf/threeMf.ts';
import { usdaWriter, usdzWriter } from './usd/usd.ts';
import { x3d33Writer, x3dWriter } from './x3d/x3d.ts';
import type { Writer } from './writer.ts';

export const WRITERS: readonly Writer[] = [
  glbWriter,
  gltfWriter,
  usdaWriter,
  usdzWriter,
  objWriter,
  stlWriter,
  threeMfWriter,
  plyWriter,
  colladaWriter,
  x3dWriter,
  x3d33Writer,
  ifcWriter,
  ifc2x3Writer,
  stepWriter,
];

/** Those that hold meshes. */
export const MESH_WRITERS = WRITERS.filter(({ exact }) => !exact);

export function writerFor(target: string): Writer | undefined {
  return WRITERS.find((writer) => writer.target === target);
}
