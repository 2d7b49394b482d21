/** Files to measure on: the open ones, the demo's, and larger ones made of them. */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { assembly, at } from '@noble-prism/demo/assemble';
import { writeDemoFiles } from '@noble-prism/demo/author';
import { driveUnit } from '@noble-prism/demo/driveUnit';
import { writeAssembly } from '@noble-prism/demo/stepAssembly';
import { loadKernel } from '@noble-prism/node/loadKernel';
import { setOC } from 'replicad';

const data = join(process.cwd(), '.data');
const folder = join(data, 'bench');
mkdirSync(folder, { recursive: true });

/** Path of one of the open files that `npm test` unpacks. */
export function openFile(name: string): string {
  const path = join(data, 'models', name);
  if (!existsSync(path)) throw new Error(`${path} is missing: "npm run bench" and "npm test" unpack the open files.`);
  return path;
}

export async function demoFile(name: 'drive-unit.stp' | 'sheave-train.stp'): Promise<string> {
  const path = join(folder, name);
  if (!existsSync(path)) await writeDemoFiles(folder);
  return path;
}

/** A hall with ten drive units: ten times the parts of one, and the same distinct solids. */
export async function tenDriveUnits(): Promise<string> {
  const path = join(folder, 'ten-drive-units.stp');
  if (existsSync(path)) return path;
  setOC((await loadKernel()) as never);
  const unit = await driveUnit();
  const places = Array.from({ length: 10 }, (_, i) => at(unit, (i % 5) * 6000, Math.floor(i / 5) * 6000, 0));
  writeFileSync(
    path,
    writeAssembly(assembly('Hall', places), { fileName: 'hall.stp', description: 'Ten drive units' }),
  );
  return path;
}

/**
 * A file with the entities of another repeated, renumbered each time; the solids get names of their own, so that each is a
 * distinct piece to compute. Returns its path.
 */
export function repeated(name: string, copies: number): string {
  return repeatedFile(openFile(name), copies);
}

/** The same of any file. */
export function repeatedFile(from: string, copies: number): string {
  const path = join(folder, `${copies}-times-${basename(from)}`);
  if (existsSync(path)) return path;
  const text = readFileSync(from, 'latin1');
  const [head, rest] = split(text, /DATA\s*;/);
  const [body, tail] = split(rest, /ENDSEC\s*;\s*END-ISO/, true);
  let highest = 0;
  for (const match of body.matchAll(/#(\d+)\s*=/g)) highest = Math.max(highest, Number(match[1]));
  const parts = Array.from({ length: copies }, (_, copy) =>
    body
      .replace(/#(\d+)/g, (_all, id: string) => `#${Number(id) + copy * highest}`)
      .replace(/MANIFOLD_SOLID_BREP\s*\(\s*'[^']*'/g, `MANIFOLD_SOLID_BREP('copy ${copy}'`),
  );
  writeFileSync(path, `${head}${parts.join('\n')}${tail}`, 'latin1');
  return path;
}

function split(text: string, pattern: RegExp, before = false): [string, string] {
  const match = pattern.exec(text);
  if (!match) throw new Error('This is no STEP text.');
  const at = match.index + (before ? 0 : match[0].length);
  return [text.slice(0, at), text.slice(at)];
}
