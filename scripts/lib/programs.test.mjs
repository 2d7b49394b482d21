// Programs are there as their sources are, compile nothing when they run, and say where in the sources something went wrong.
import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync, statSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { ensurePrograms } from './programs.mjs';
import { root } from './run.mjs';

const codeIn = (folder) =>
  readdirSync(folder, { recursive: true })
    .filter((name) => name.endsWith('.mjs'))
    .map((name) => readFileSync(join(folder, name), 'utf8'));

describe('programs', () => {
  it('are bundled once for several who ask at once, and not again while nothing changes', async () => {
    const told = [];
    const ask = () => ensurePrograms({ told: (text) => told.push(text) });
    const folders = await Promise.all([ask(), ask(), ask()]);
    expect(new Set(folders).size).toBe(1);
    told.length = 0;
    await ask();
    expect(told).toEqual([]);
  });

  it('are bundled again when a source was touched, to the same folder where it says the same', async () => {
    const before = await ensurePrograms();
    const source = join(root, 'cli', 'src', 'usage.ts');
    const { atime, mtime } = statSync(source);
    const told = [];
    try {
      utimesSync(source, atime, new Date(mtime.getTime() - 1000));
      expect(await ensurePrograms({ told: (text) => told.push(text) })).toBe(before);
      expect(told).toHaveLength(1);
    } finally {
      utimesSync(source, atime, mtime);
    }
  });

  it('bring no compiler with them, and no renderer', async () => {
    for (const code of codeIn(await ensurePrograms())) {
      expect(code).not.toMatch(/(from|import\()\s*"(esbuild|tsx|typescript|vite)["/]/);
      expect(code).not.toContain('class WebGLRenderer');
    }
  });

  it('name files and lines of the sources in what goes wrong', async () => {
    const server = join(await ensurePrograms(), 'server.mjs');
    const { DATABASE_URL: _, ...env } = process.env;
    const { status, stderr } = spawnSync(process.execPath, ['--enable-source-maps', server], { env, encoding: 'utf8' });
    expect(status).toBe(1);
    expect(stderr).toMatch(/DATABASE_URL is not set/);
    expect(stderr).toMatch(/server\/src\/config\.ts:\d+/);
  });
});
