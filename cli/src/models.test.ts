import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { modelsFrom, namesOf } from './models.ts';

const folder = mkdtempSync(join(tmpdir(), 'noble-prism-models-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const put = (path: string, text: string | Uint8Array = '') => {
  mkdirSync(join(folder, path, '..'), { recursive: true });
  writeFileSync(join(folder, path), text);
};

beforeAll(() => {
  put('station.stp', "#1=DOCUMENT_FILE('wheel.stp','','',#2,'','');");
  put('wheel.stp');
  put('lamps/lamp.obj', 'mtllib lamp.mtl\nv 0 0 0\n');
  put('lamps/lamp.mtl', 'newmtl a\nmap_Kd shade.png\n');
  put('lamps/shade.png');
  put('lamps/old/lamp.stl', 'solid a\nendsolid a\n');
  put('notes.txt', 'solid ground');
  put('sent/station.glb');
  put('more.zip', zipSync({ 'a.obj': new TextEncoder().encode('v 0 0 0\n') }));
});

describe('models of a folder', () => {
  it('are all models in it, in order; not what only belongs to one, nor what was delivered before', async () => {
    const models = await modelsFrom([folder], join(folder, 'sent'));
    expect(models.map(({ path, folder: below }) => [path.slice(folder.length + 1), below])).toEqual([
      ['lamps/lamp.obj', 'lamps'],
      ['lamps/old/lamp.stl', 'lamps/old'],
      ['more.zip', ''],
      ['station.stp', ''],
    ]);
  });

  it('are there, or it is said', async () => {
    mkdirSync(join(folder, 'empty'));
    await expect(modelsFrom([join(folder, 'empty')], '/out')).rejects.toMatchObject({ code: 'not-found' });
    // A file that is not there is told when its turn comes.
    expect(await modelsFrom(['nobody.stp'], '/out')).toEqual([{ path: 'nobody.stp', folder: '' }]);
  });
});

it('gives each a name that no other has in its folder, by the case of no letter', () => {
  const at = (path: string, below = '') => ({ path, folder: below });
  expect(
    namesOf([at('x/Valve.stp'), at('y/valve.obj'), at('z/valve.obj'), at('pump.stp'), at('pump.stp', 'sub')]),
  ).toEqual(['Valve.stp', 'valve.obj', 'valve.obj_2', 'pump', 'pump']);
});
