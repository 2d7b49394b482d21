// Components written out as TypeScript, scripts and templates: the native compiler is eight times as quick, and reads no components.
// What it finds there is told at its place in the component.
import { createVueLanguagePlugin, getDefaultCompilerOptions } from '@vue/language-core';
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import ts from 'typescript';
import { root } from './run.mjs';

/**
 * Writes a module of types beside which `import './X.vue'` finds what X is (see `rootDirs` of the compiler).
 * @param from folder of the components
 * @param into folder that is made anew, as deep as `from`: modules name packages by their way to them
 * @returns for each component, by the path of its module, where that has what from
 */
export function writeComponentTypes(from, into) {
  rmSync(into, { recursive: true, force: true });
  const plugin = createVueLanguagePlugin(ts, {}, getDefaultCompilerOptions(), (id) => id);
  const written = new Map();
  for (const name of readdirSync(from, { recursive: true }).filter((path) => path.endsWith('.vue'))) {
    const component = join(from, name);
    const source = readFileSync(component, 'utf8');
    const { code } = plugin.typescript.getServiceScript(
      plugin.createVirtualCode(component, 'vue', ts.ScriptSnapshot.fromString(source)),
    );
    const text = code.snapshot.getText(0, code.snapshot.getLength());
    const path = join(into, `${name}.ts`);
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, text);
    written.set(path, { component, source, text, mappings: code.mappings });
  }
  return written;
}

/**
 * Checks types, much quicker than the compiler that is written in its own language.
 * @param config path of a tsconfig.json
 * @returns what it said, a line for each error
 */
export function nativeCompiler(config) {
  const compiler = join(root, 'node_modules', 'typescript-native', 'bin', 'tsc');
  const args = [compiler, '--noEmit', '--pretty', 'false', '-p', config];
  const { status, stdout, stderr } = spawnSync(process.execPath, args, {
    cwd: root,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  return { said: stdout + stderr, failed: status !== 0 };
}

/**
 * What the compiler said, in lines, with components named for their modules, at their places. What only the writing out has brought about is left out.
 * @param modules as they were written
 */
export function errorsInComponents(said, modules) {
  const errors = [];
  let told = true;
  for (const line of said.split('\n').filter(Boolean)) {
    // Lines that are set in belong to the one above.
    if (!/^\s/.test(line)) {
      const [at, path, row, column, code] = /^(\S.*?)\((\d+),(\d+)\)(?=: error TS(\d+): )/.exec(line) ?? [];
      const module = path && modules.get(join(root, path));
      const place = module && placeIn(module, Number(row), Number(column), Number(code));
      told = !module || place !== undefined;
      if (told) errors.push(module ? `${relative(root, module.component)}${place}${line.slice(at.length)}` : line);
    } else if (told) errors.push(`${errors.pop() ?? ''}\n${line}`);
  }
  return errors;
}

/**
 * Where in its component something stands that was found in its module.
 * @param line from 1, as is `column`
 * @param code number that the compiler gave what it found
 * @returns line and column as the compiler writes them, or undefined for what has no place there
 */
function placeIn({ source, text, mappings }, line, column, code) {
  const offset = offsetOf(text, line, column);
  for (const { sourceOffsets, generatedOffsets, lengths, generatedLengths = lengths, data } of mappings) {
    if (!data.verification || data.verification.shouldReport?.('ts', code) === false) continue;
    const i = generatedOffsets.findIndex((from, k) => offset >= from && offset <= from + generatedLengths[k]);
    if (i >= 0) return placeOf(source, sourceOffsets[i] + Math.min(offset - generatedOffsets[i], lengths[i]));
  }
  return undefined;
}

function offsetOf(text, line, column) {
  let at = 0;
  for (let i = 1; i < line; i++) at = text.indexOf('\n', at) + 1;
  return at + column - 1;
}

function placeOf(text, offset) {
  const before = text.slice(0, offset).split('\n');
  return `(${before.length},${before.at(-1).length + 1})`;
}
