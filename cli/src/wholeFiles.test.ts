import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { MemoryContent } from '@noble-prism/core/content';
import { writeWhole } from './wholeFiles.ts';

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-files-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const content = (text: string) => new MemoryContent(new TextEncoder().encode(text));

it('puts files under their names, in folders of theirs', async () => {
  await writeWhole(folder, [
    { name: 'unit.gltf', content: content('{}') },
    { name: 'textures/wood.png', content: content('wood') },
  ]);
  expect(readFileSync(join(folder, 'textures', 'wood.png'), 'utf8')).toBe('wood');
  expect(readdirSync(folder).sort()).toEqual(['textures', 'unit.gltf']);
});

// A device that is always full, as every Linux has it.
it.skipIf(!existsSync('/dev/full'))('leaves an earlier delivery whole where the disk is full', async () => {
  writeFileSync(join(folder, 'a.glb'), 'earlier a');
  writeFileSync(join(folder, 'b.glb'), 'earlier b');
  symlinkSync('/dev/full', join(folder, 'b.glb.part'));
  const writing = writeWhole(folder, [
    { name: 'a.glb', content: content('new a') },
    { name: 'b.glb', content: content('new b') },
  ]);
  await expect(writing).rejects.toMatchObject({
    code: 'internal',
    message: expect.stringMatching(
      /b\.glb could not be written: the disk is full. Nothing of this delivery was kept/,
    ) as string,
  });
  expect(readFileSync(join(folder, 'a.glb'), 'utf8')).toBe('earlier a');
  expect(readFileSync(join(folder, 'b.glb'), 'utf8')).toBe('earlier b');
  expect(readdirSync(folder).filter((name) => name.endsWith('.part'))).toEqual([]);
});

it('says which file is in the way', async () => {
  writeFileSync(join(folder, 'in-the-way'), '');
  await expect(writeWhole(folder, [{ name: 'in-the-way/a.png', content: content('') }])).rejects.toThrow('in-the-way');
});
