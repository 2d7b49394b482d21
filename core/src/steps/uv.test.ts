// Projections by hand: a unit cube, a cylinder, a ball; instances kept, and given up only where it is said.
import { describe, expect, it } from 'vitest';
import { memorySurroundings } from '../memoryStores.ts';
import { massProperties, unpackMesh } from '../mesh/mesh.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { projected } from '../mesh/project.ts';
import type { ProjectOptions } from '../mesh/project.ts';
import { evaluate } from '../preparation/evaluate.ts';
import { composed, translation } from '../scene/matrix.ts';
import { select } from '../select/select.ts';
import { ballMesh, boxMesh } from '../testing/meshes.ts';
import { sceneWith } from '../testing/scenes.ts';
import { checkSteps, placeFor, stepKind } from './kinds.ts';
import type { UvParameters } from './uv.ts';

const FRAME = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];
const options = (more: Partial<ProjectOptions> = {}): ProjectOptions => ({ projection: 'box', frame: FRAME, from: 'z', turn: 0, offset: [0, 0], scale: 1, ...more }); // prettier-ignore

/** Areas of the triangles on the surface and on the picture, square metres, and whether none is mirrored there. */
function areas({ positions: p, indices, uvs }: Mesh) {
  let [surface, picture, mirrored] = [0, 0, 0];
  const [uv] = uvs!;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i], indices[i + 1], indices[i + 2]];
    const [u, v] = [b, c].map((end) => [0, 1, 2].map((k) => p[end * 3 + k] - p[a * 3 + k]));
    surface += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    const [s, t] = [b, c].map((end) => [uv[end * 2] - uv[a * 2], uv[end * 2 + 1] - uv[a * 2 + 1]]);
    const turned = (s[0] * t[1] - s[1] * t[0]) / 2;
    picture += Math.abs(turned);
    // v goes down: what is counter-clockwise on the surface is clockwise in u and v.
    if (turned > 1e-9) mirrored++;
  }
  return { surface, picture, mirrored };
}

/** Texture coordinates of the corners on one side of a mesh. */
function cornersOn({ positions, normals, uvs }: Mesh, axis: number, sign: number): Map<string, [number, number]> {
  const out = new Map<string, [number, number]>();
  for (let i = 0; i < positions.length / 3; i++)
    if (normals[i * 3 + axis] * sign > 0.9)
      out.set([0, 1, 2].map((k) => positions[i * 3 + k].toFixed(1)).join(' '), [uvs![0][i * 2], uvs![0][i * 2 + 1]]);
  return out;
}

describe('a unit cube', () => {
  it('has a square metre on each side, seen upright and not mirrored', () => {
    const cube = projected(boxMesh(1, 1, 1), options());
    expect(areas(cube)).toMatchObject({ surface: 6, picture: 6, mirrored: 0 });
    expect([cube.trueSize, cube.positions.length / 3]).toEqual([true, 24]);
    // From the front: its upper left corner is left and up on the picture, where v goes down.
    const front = cornersOn(cube, 2, 1);
    expect([front.get('-0.5 0.5 0.5'), front.get('0.5 -0.5 0.5')]).toEqual([[-0.5, -0.5], [0.5, 0.5]]); // prettier-ignore
    // From the right, what is in front is on the left.
    const right = cornersOn(cube, 0, 1);
    expect([right.get('0.5 0.5 0.5'), right.get('0.5 0.5 -0.5')]).toEqual([[-0.5, -0.5], [0.5, -0.5]]); // prettier-ignore
  });

  it('is turned, moved and drawn larger as it is said', () => {
    const corner = (more: Partial<ProjectOptions>) => cornersOn(projected(boxMesh(1, 1, 1), options(more)), 2, 1).get('0.5 0.5 0.5')!; // prettier-ignore
    expect(corner({})).toEqual([0.5, -0.5]);
    expect(corner({ scale: 2 })).toEqual([0.25, -0.25]);
    expect(corner({ offset: [0.2, 0.1] }).map((x) => Number(x.toFixed(6)))).toEqual([0.3, -0.6]);
    // A quarter turn: what was right and up on the picture is now seen from its other side; areas stay.
    expect(areas(projected(boxMesh(1, 1, 1), options({ turn: 0.7 }))).picture).toBeCloseTo(6, 5);
  });

  it('has nothing of its own on sides that a plane does not see, and the pattern of the plane all over', () => {
    const plane = projected(boxMesh(1, 1, 1), options({ projection: 'plane', from: 'y' }));
    expect(areas(plane).picture).toBeCloseTo(2, 6);
    expect(cornersOn(plane, 1, 1).get('0.5 0.5 0.5')).toEqual([0.5, 0.5]);
  });
});

describe('a cylinder', () => {
  /** Of 24 sides, radius 0.5 m, height 2 m, upright, without ends; vertices shared between sides. */
  function tube(): Mesh {
    const [positions, normals, indices] = [[] as number[], [] as number[], [] as number[]];
    for (let i = 0; i < 24; i++)
      for (const y of [-1, 1]) {
        const angle = (i / 24) * 2 * Math.PI;
        normals.push(Math.sin(angle), 0, Math.cos(angle));
        positions.push(0.5 * Math.sin(angle), y, 0.5 * Math.cos(angle));
      }
    for (let i = 0; i < 24; i++) {
      const [a, b] = [i * 2, ((i + 1) % 24) * 2];
      indices.push(a, b, b + 1, a, b + 1, a + 1);
    }
    return { positions: Float32Array.from(positions), normals: Float32Array.from(normals), indices: Uint32Array.from(indices), groups: [{ slot: 0, start: 0, count: indices.length }], edges: new Float32Array() }; // prettier-ignore
  }

  it('is unrolled: as wide as its girth, as high as it is, with one seam', () => {
    const rolled = projected(tube(), options({ projection: 'cylinder' }));
    const [u, v] = [0, 1].map((k) => [...rolled.uvs![0]].filter((_, i) => i % 2 === k));
    expect(Math.max(...u) - Math.min(...u)).toBeCloseTo(2 * Math.PI * 0.5, 5);
    expect([Math.min(...v), Math.max(...v)]).toEqual([-1, 1]);
    expect(areas(rolled).picture).toBeCloseTo(2 * Math.PI * 0.5 * 2, 5);
    expect(areas(rolled).mirrored).toBe(0);
    // Only the seam is doubled: two vertices more.
    expect(rolled.positions.length / 3).toBe(48 + 2);
  });

  it('as on a box keeps its shape and splits vertices where the side changes', () => {
    const boxed = projected(tube(), options());
    expect(massProperties(boxed).area).toBeCloseTo(massProperties(tube()).area, 9);
    expect(boxed.positions.length / 3).toBe(48 + 8);
  });
});

it('a ball has its girth along the equator', () => {
  const ball = projected(ballMesh(2, 16), options({ projection: 'sphere' }));
  const u = [...ball.uvs![0]].filter((_, i) => i % 2 === 0);
  expect(Math.max(...u) - Math.min(...u)).toBeLessThanOrEqual(2 * Math.PI * 2 + 1.6);
  expect(Math.max(...u) - Math.min(...u)).toBeGreaterThan(2 * Math.PI * 2 - 0.1);
});

describe('the step', () => {
  const parameters = stepKind('uv').defaults as UvParameters;
  const tree = () =>
    sceneWith([
      { name: 'Wall 1', mesh: boxMesh(2, 1, 1) },
      { name: 'Wall 2', mesh: boxMesh(2, 1, 1), transform: translation([2, 0, 0]) },
    ]);
  async function applied(given: Partial<UvParameters>, made = tree()) {
    const { scene, blobs } = await made;
    const all = { ...parameters, ...given };
    const steps = checkSteps([{ id: 'u', kind: 'uv', on: true, selector: { by: 'all' }, parameters: all }]);
    const { scene: after, reports } = await evaluate(scene, 'k', steps, memorySurroundings({ blobs }));
    const before = stepKind('uv').beforehand?.(scene, select(scene, { by: 'all' }), all) ?? [];
    const parts = [...after.nodes];
    return { after, parts, before, report: reports[0], mesh: async (i: number) => unpackMesh(await blobs.get(parts[i].mesh!)) }; // prettier-ignore
  }

  it('stands before the materials, and behind what turns the model upright', () => {
    const list = [['tessellate'], ['turn'], ['finishes'], ['faces']].map(([kind]) => ({ kind, id: kind, on: true, selector: { by: 'all' as const }, parameters: {} })); // prettier-ignore
    expect([placeFor('uv', list), placeFor('uv', list.slice(0, 2)), placeFor('pivot', list)]).toEqual([2, 2, 4]);
  });

  it('leaves parts of one shape one shape', async () => {
    const { parts, after, before, report } = await applied({});
    expect(parts[0].mesh).toBe(parts[1].mesh);
    expect(after.meshes[parts[0].mesh!]).toMatchObject({ uvs: 1, trueSize: true });
    expect([before, report.problems, report.pending]).toEqual([[], [], 0]);
  });

  it('goes on from part to part where that is asked for, which costs the shared shape, and is said', async () => {
    const { parts, before, mesh } = await applied({ frame: 'world' });
    expect(before).toEqual(['1 shape becomes 2: parts that shared one no longer do.']);
    expect(parts[0].mesh).not.toBe(parts[1].mesh);
    // Where the first ends the second begins: the same place of the picture.
    const [one, two] = [cornersOn(await mesh(0), 2, 1), cornersOn(await mesh(1), 2, 1)];
    expect(one.get('1.0 0.5 0.5')).toEqual(two.get('-1.0 0.5 0.5'));
  });

  it('stands upright on what lies on its side in its own frame', async () => {
    // Drawn with z up, and turned by a quarter to stand in a scene with y up.
    const turned = composed([0, 0, 0], [-Math.SQRT1_2, 0, 0, Math.SQRT1_2], [1, 1, 1]);
    const { mesh } = await applied({}, sceneWith([{ name: 'Wall', mesh: boxMesh(4, 0.2, 3), transform: turned }]));
    // The long side: 4 m along, 3 m up, though up is z there.
    const side = [...cornersOn(await mesh(0), 1, -1).values()];
    const span = (k: 0 | 1) => Math.max(...side.map((at) => at[k])) - Math.min(...side.map((at) => at[k]));
    expect([span(0), span(1)]).toEqual([4, 3]);
  });

  it('turns, moves and scales what is there already, and leaves what has nothing', async () => {
    const laid = { ...projected(boxMesh(2, 1, 1), options()) };
    const sheet = { ...laid, trueSize: false, uvs: [laid.uvs![0].map((value) => value / 4)] };
    const tree = sceneWith([
      { name: 'In metres', mesh: laid },
      { name: 'In tiles', mesh: sheet },
      { name: 'Bare', mesh: boxMesh(3, 1, 1) },
    ]);
    const { parts, after, before, mesh } = await applied({ projection: 'given', offsetU: 0.25, scale: 2 }, tree);
    expect(before).toEqual(['1 part has no texture coordinates yet, and none are laid on it.']);
    expect(parts.map((part) => [after.meshes[part.mesh!].uvs ?? 0, after.meshes[part.mesh!].trueSize ?? false])).toEqual([[1, true], [1, false], [0, false]]); // prettier-ignore
    const moved = (await mesh(0)).uvs![0];
    for (const [i, value] of laid.uvs![0].entries()) expect(moved[i]).toBeCloseTo((value - (i % 2 ? 0 : 0.25)) / 2, 6);
  });
});
