/** What `prism help` says. */
import { WRITERS } from '@noble-prism/core/write/formats';

export const USAGE = `prism help steps [KIND]
    What steps and rules there are, and what each takes.

prism survey FILE… [--json]
    What the files say of themselves, before any geometry is computed.

prism prepare FILE… --out DIR [options] [--json]
    Tessellates, turns z up to y up, applies what is asked for, writes and reads back. Of several files, and of every model in a
    folder, each is prepared by itself; one that fails costs itself alone, and a summary comes last.

    --steps FILE        a preparation, JSON list of steps, instead of the usual ones
    --chord 0.1mm       chord deviation (default 0.2mm)
    --angle 20deg       largest angle between triangles (default 16deg)
    --keep 50%          reduce to a share of the triangles, or
    --deviation 0.2mm   reduce within a measured deviation
    --schedule FILE     finish schedule, CSV, or JSON: { "rules": [{ "by": "layer", "match": "MACHINE", "material": "lib:cast-iron" }] }
    --to glb,stl        what to write, one or more of ${WRITERS.map((writer) => writer.target).join(', ')} (default glb)
    --targets FILE      targets with full settings, JSON list: { "name": "Print", "format": "3mf", "unit": "mm", "hierarchy": "flat" }
    --split layer       a file for each layer, storey, assembly or part, all with the origin of the job
    --modular           each distinct asset once in a folder of its own, and a scene file that places them (${WRITERS.filter(
      (writer) => writer.modules,
    )
      .map((writer) => writer.target)
      .join(', ')})
    --unit mm           unit of the files (m, cm, mm, in, ft), where the format leaves it open
    --up y|z            axis that points up, where the format leaves it open
    --coordinates local|restored|map
                        of the files: of the job (default), as received where a step set a local origin, or of the map
    --name NAME         name of the files without ending, of one file or with --together (default: that of the first source)
    --together          several files as one scene
    --side-by-side 4    files prepared at a time (default: as the processors and the memory allow)
    Ends with 0 where everything was written and holds, 3 where it holds but a source was not read in full, 2 where it was asked for
    wrongly, 1 where anything else went wrong.

    --tree              with --json: every row with its path, place, pivot, size, materials and mesh
`;
