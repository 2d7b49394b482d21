// Which files need each other: imports read from the sources, and circles found among them (Tarjan 1972, strongly connected components).
import { existsSync, readFileSync, readdirSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { root } from './run.mjs';

/** Workspaces whose files refer to each other by name: `@noble-prism/core/units` is core/src/units.ts. */
export const WORKSPACES = ['core', 'wire', 'node', 'server', 'web', 'cli', 'demo', 'e2e', 'bench'];

/** `import … from '…'`, `export … from '…'`, `import '…'`, `import('…')`; types where all of it is types. */
const IMPORT =
  /(?:^|\n)\s*(?:import|export)\s+(?<type>type\s)?(?<what>[\w\s{},*$]*?)\s*from\s*['"](?<from>[^'"]+)['"]|(?:^|\n)\s*import\s+['"](?<alone>[^'"]+)['"]|\bimport\(\s*['"](?<later>[^'"]+)['"]\s*\)/g;

/**
 * @param source text of a TypeScript file, or of a component
 * @returns what it imports, and whether that is types alone
 */
export function importsOf(source) {
  return [...source.matchAll(IMPORT)].map(({ groups: { type, what, from, alone, later } }) => ({
    from: from ?? alone ?? later,
    isType: type !== undefined || (what !== undefined && /^\{(\s*type\s+[^,]+,?)+\s*\}$/.test(what.trim())),
  }));
}

/** Files of all workspaces that are ours, with those of ours that each imports. */
export function importGraph({ types }) {
  const files = WORKSPACES.flatMap((workspace) => filesIn(join(root, workspace, 'src')));
  const graph = new Map();
  for (const file of files) {
    const targets = importsOf(readFileSync(file, 'utf8'))
      .filter(({ isType }) => types || !isType)
      .flatMap(({ from }) => fileOf(from, file) ?? []);
    graph.set(relative(root, file), [...new Set(targets.map((target) => relative(root, target)))]);
  }
  return graph;
}

function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile() && /\.(ts|vue)$/.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name));
}

function fileOf(from, importer) {
  const [, workspace, path] = /^@noble-prism\/([^/]+)\/(.+)$/.exec(from) ?? [];
  const file = workspace
    ? join(root, workspace, 'src', `${path}.ts`)
    : from.startsWith('.')
      ? join(dirname(importer), from)
      : undefined;
  return file !== undefined && existsSync(file) ? file : undefined;
}

/**
 * @param graph of each name, the names that it leads to
 * @returns groups of names that all lead to each other, the largest first
 */
export function circlesIn(graph) {
  const index = new Map();
  const low = new Map();
  const stack = [];
  const onStack = new Set();
  const circles = [];
  const visit = (name) => {
    index.set(name, index.size);
    low.set(name, index.get(name));
    stack.push(name);
    onStack.add(name);
    for (const next of graph.get(name) ?? []) {
      if (!index.has(next)) {
        visit(next);
        low.set(name, Math.min(low.get(name), low.get(next)));
      } else if (onStack.has(next)) low.set(name, Math.min(low.get(name), index.get(next)));
    }
    if (low.get(name) !== index.get(name)) return;
    const circle = stack.splice(stack.indexOf(name));
    for (const member of circle) onStack.delete(member);
    if (circle.length > 1 || (graph.get(name) ?? []).includes(name)) circles.push(circle.sort());
  };
  for (const name of graph.keys()) if (!index.has(name)) visit(name);
  return circles.sort((a, b) => b.length - a.length);
}
