// Hostile files: for each format the open and made ones are cut at ten places and damaged at random, seeded: 50 times here, 500
// times at length. Nothing may come
// out but a scene or a sentence; no crash, no hang, no memory beyond what the file could hold.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { atLength } from '../testing/atLength.ts';
import { BARRIER_USD, barrierX3d, colladaBarrier, RISE, TURN } from '../testing/barrier.ts';
import { bytesOf, models } from '../testing/reading.ts';
import { survives, survivesAll } from '../testing/fuzzing.ts';
import { crateOf } from '../testing/crate.ts';
import { parseUsda } from './usd/usda.ts';

const open = (path: string) => new Uint8Array(readFileSync(join(models, path)));

const USD = `#usda 1.0
( defaultPrim = "World"
  metersPerUnit = 0.01 )
class Xform "_Part" {
  def Mesh "Plate" {
    point3f[] points = [(0, 0, 0), (10, 0, 0), (10, 10, 0), (0, 10, 0)]
    int[] faceVertexCounts = [4]
    int[] faceVertexIndices = [0, 1, 2, 3]
    texCoord2f[] primvars:st = [(0, 0), (1, 0), (1, 1), (0, 1)] (interpolation = "vertex")
    rel material:binding = </World/M>
  }
}
def Xform "World" {
  def "A" (inherits = </_Part>) {
    double3 xformOp:translate = (1, 2, 3)
    uniform token[] xformOpOrder = ["xformOp:translate"]
  }
  def "B" (references = </World/A>) {}
  def Material "M" { token outputs:surface.connect = </World/M/S.outputs:surface>
    def Shader "S" { uniform token info:id = "UsdPreviewSurface"
      color3f inputs:diffuseColor = (0.5, 0.25, 0.125) } }
}
`;

const SEEDS: Record<string, { name: string; bytes: Uint8Array; build?: boolean }> = {
  STEP: { name: 'a.stp', bytes: open('step_boundary_colors.stp').subarray(0, 60_000) },
  'STL, binary': { name: 'a.stl', bytes: open('STL/Wuson.stl').subarray(0, 20_000), build: true },
  'STL, text': { name: 'a.stl', bytes: open('STL/triangle_with_two_solids.stl'), build: true },
  'PLY, text': { name: 'a.ply', bytes: open('PLY/cube_uv.ply'), build: true },
  'PLY, binary': { name: 'a.ply', bytes: open('PLY/cube_binary.ply'), build: true },
  OBJ: { name: 'a.obj', bytes: open('OBJ/testmixed.obj'), build: true },
  'glTF, text': { name: 'a.gltf', bytes: open('glTF2/BoxTextured-glTF-Embedded/BoxTextured.gltf'), build: true },
  'glTF, binary': { name: 'a.glb', bytes: open('glTF2/BoxTextured-glTF-Binary/BoxTextured.glb'), build: true },
  '3MF': { name: 'a.3mf', bytes: open('3MF/box.3mf'), build: true },
  COLLADA: { name: 'a.dae', bytes: open('Collada/cube_tristrips.dae'), build: true },
  X3D: { name: 'a.x3d', bytes: open('X3D/HelloX3dTrademark.x3d'), build: true },
  'USD, text': { name: 'a.usda', bytes: bytesOf(USD), build: true },
  'USD, binary': { name: 'a.usdc', bytes: crateOf(parseUsda(bytesOf(USD), 'a').layer), build: true },
  'USD, package': {
    name: 'a.usdz',
    bytes: zipSync({ 'a.usda': bytesOf(USD) }, { level: 0, mtime: '1990-01-01' }),
    build: true,
  },
  'COLLADA that moves': { name: 'a.dae', bytes: bytesOf(colladaBarrier([RISE, TURN])), build: true },
  'X3D that moves': { name: 'a.x3d', bytes: bytesOf(barrierX3d()), build: true },
  'USD that moves': { name: 'a.usda', bytes: bytesOf(BARRIER_USD), build: true },
  IFC: { name: 'a.ifc', bytes: open('house.ifc').subarray(0, 40_000) },
  IGES: { name: 'a.igs', bytes: open('hammer.iges').subarray(0, 8_000) },
  BREP: { name: 'a.brep', bytes: open('bottle.brep').subarray(0, 8_000) },
  zip: {
    name: 'a.zip',
    // Always the same bytes, so that what is found is found again.
    bytes: zipSync(
      { 'a.obj': strToU8('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'), 'a.png': bytesOf('x') },
      { mtime: '1990-01-01' },
    ),
    build: true,
  },
};

const ROUNDS = 50;
const ROUNDS_AT_LENGTH = 500;
describe.each(Object.entries(SEEDS))('%s', (_, { name, bytes, build = false }) => {
  it('is read whole', async () => {
    expect(await survives(name, bytes, build)).toBe(true);
  });

  it('is refused in words when it is empty', async () => {
    await expect(survives(name, new Uint8Array(), build)).resolves.toBe(false);
  });

  it('survives a cut at ten places', async () => {
    for (let i = 1; i <= 10; i++) await survives(name, bytes.slice(0, Math.floor((bytes.length * i) / 11)), build);
  });

  it(`survives ${ROUNDS} random damages`, () => survivesAll(ROUNDS, name, bytes, build));
  atLength(
    `survives ${ROUNDS_AT_LENGTH} random damages`,
    () => survivesAll(ROUNDS_AT_LENGTH, name, bytes, build),
    120_000,
  );
});
