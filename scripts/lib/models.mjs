// Open files to test with, unpacked from three packages of Debian without installing them: STEP, IGES and BREP from gmsh-doc
// and occt-misc, meshes and a building from assimp-testmodels. Beside them a second reader of mesh formats, from assimp-utils, and what
// checks files that are written, from admesh and opencollada-tools, and a second reader of X3D, from view3dscene.
import { cpSync, existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { ask, isRoot, root, run, say } from './run.mjs';

const FILES = {
  'as1-tu-203.stp': 'gmsh-doc/usr/share/doc/gmsh-doc/doc/gmsh/demos/boolean/as1-tu-203.stp.gz',
  'step_boundary_colors.stp': 'gmsh-doc/usr/share/doc/gmsh-doc/doc/gmsh/demos/api/step_boundary_colors.stp.gz',
  'component8.step': 'gmsh-doc/usr/share/doc/gmsh-doc/doc/gmsh/demos/boolean/component8.step.gz',
  'linkrods.step': 'occt-misc/usr/share/opencascade/data/step/linkrods.step',
  'screw.step': 'occt-misc/usr/share/opencascade/data/step/screw.step',
  'bearing.iges': 'occt-misc/usr/share/opencascade/data/iges/bearing.iges',
  'hammer.iges': 'occt-misc/usr/share/opencascade/data/iges/hammer.iges',
  'bottle.brep': 'occt-misc/usr/share/opencascade/data/occ/bottle.brep',
  'house.ifc': 'assimp-testmodels/usr/share/assimp/models/IFC/AC14-FZK-Haus.ifc',
};

const LIBRARIES = 'usr/lib/x86_64-linux-gnu';

/** Folders with many files, by format. */
const FOLDERS = ['OBJ', 'STL', 'PLY', '3MF', 'Collada', 'X3D', 'glTF2'];
/** The second reader, and the libraries that it needs. */
const READER = { 'assimp-utils': 'usr/bin', libassimp5: LIBRARIES, libdraco7: LIBRARIES, libminizip1: LIBRARIES };
/** What files that are written are checked by: a program that looks for faults in STL, the schema of COLLADA, one that reads and writes X3D. */
const CHECKERS = { admesh: 'usr/bin', libadmesh1: LIBRARIES, 'opencollada-tools': 'usr/lib/opencollada', view3dscene: 'usr/bin' }; // prettier-ignore
const PACKAGES = ['gmsh-doc', 'occt-misc', 'assimp-testmodels', ...Object.keys(READER), ...Object.keys(CHECKERS)];

/** Returns the folder that holds the files. */
export function ensureModels() {
  const folder = join(root, '.data', 'models');
  if (
    [...Object.keys(FILES), ...FOLDERS, 'second-reader', 'checkers/tovrmlx3d'].every((name) =>
      existsSync(join(folder, name)),
    )
  )
    return folder;
  const work = join(root, '.data', 'models-unpacking');
  rmSync(work, { recursive: true, force: true });
  mkdirSync(work, { recursive: true });
  say(`Unpacking open test files from Debian’s packages ${PACKAGES.join(', ')} …`);
  const download = () => ask('apt-get', ['-qq', 'download', ...PACKAGES], { cwd: work }) !== undefined;
  if (!download()) {
    if (isRoot)
      run('apt-get', ['-qq', '-o', 'DPkg::Lock::Timeout=300', 'update'], { stdio: ['ignore', 'ignore', 'inherit'] });
    if (!download())
      throw new Error(
        `The test files cannot be fetched: apt-get download ${PACKAGES.join(' ')} fails. Try apt-get update first.`,
      );
  }
  for (const name of readdirSync(work))
    if (name.endsWith('.deb')) run('dpkg', ['-x', join(work, name), join(work, name.split('_')[0])]);
  mkdirSync(folder, { recursive: true });
  for (const [name, path] of Object.entries(FILES)) {
    const bytes = readFileSync(join(work, path));
    const temporary = join(folder, `.${name}`);
    writeFileSync(temporary, path.endsWith('.gz') ? gunzipSync(bytes) : bytes);
    renameSync(temporary, join(folder, name));
  }
  for (const name of FOLDERS) {
    rmSync(join(folder, name), { recursive: true, force: true });
    cpSync(join(work, 'assimp-testmodels/usr/share/assimp/models', name), join(folder, name), { recursive: true });
  }
  for (const [name, path] of Object.entries(READER))
    cpSync(join(work, name, path), join(folder, 'second-reader'), { recursive: true, verbatimSymlinks: true });
  for (const [name, path] of Object.entries(CHECKERS))
    cpSync(join(work, name, path), join(folder, 'checkers'), { recursive: true, verbatimSymlinks: true });
  rmSync(work, { recursive: true, force: true });
  return folder;
}
