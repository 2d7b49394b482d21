// USD has no number of a standard; checked against its published schemas (UsdGeom, UsdShade, UsdPreviewSurface 2.3), against a
// second reader (tinyusdz, a C++ library of its own), and on files of a second writer (the exporter of three.js). The binary
// form is written by the tests and must come out like the text.
import { strToU8, zipSync } from 'fflate';
import * as THREE from 'three';
import { USDZExporter } from 'three/addons/exporters/USDZExporter.js';
import { describe, expect, it } from 'vitest';
import { massProperties } from '../../mesh/mesh.ts';
import { transformPoint } from '../../scene/matrix.ts';
import { worldTransforms } from '../../scene/tree.ts';
import { crateOf } from '../../testing/crate.ts';
import { bytesOf, fileOf, readAll, warningsOf } from '../../testing/reading.ts';
import type { ReadFile } from '../../testing/reading.ts';
import { meshesOfSecondReader } from '../../testing/secondUsd.ts';
import { parseUsda } from './usda.ts';
import { plainScene } from '../../scene/plain.ts';

const HEAD = (more = '') => `#usda 1.0\n(\n    defaultPrim = "World"\n${more})\n`;
/** A square of one unit in x and y, as one polygon with texture coordinates for each corner. */
const SQUARE = (more = '') => `
      point3f[] points = [(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0)]
      int[] faceVertexCounts = [4]
      int[] faceVertexIndices = [0, 1, 2, 3]
      texCoord2f[] primvars:st = [(0, 0), (1, 0), (1, 1), (0, 1)] (
          interpolation = "faceVarying"
      )
      ${more}`;

const worldOf = ({ scene }: ReadFile, name: string, point: [number, number, number] = [0, 0, 0]) => {
  const node = scene.nodes.find((candidate) => candidate.name === name);
  return transformPoint(worldTransforms(scene).get(node?.id ?? -1) ?? [], point).map((v) => Math.round(v * 1e6) / 1e6);
};

describe('what the layer says of itself', () => {
  it.each([
    ['metersPerUnit = 1\n upAxis = "Z"\n', 'm', 1, 'z', true],
    ['metersPerUnit = 0.0254\n', 'inch', 0.0254, 'y', true],
    // UsdGeom: hundredths of a metre and y up where nothing is said.
    ['', 'cm', 0.01, 'y', false],
  ])('%j: unit %s', async (head, name, metres, up, declared) => {
    const read = await readAll(fileOf('a.usda', `${HEAD(head)}def Xform "World" { def Mesh "Square" {${SQUARE()}} }`));
    expect(read.scene.sources[0]).toMatchObject({ format: 'USD', unit: { name, metres, declared }, up });
    const { bounds } = Object.values(read.scene.meshes)[0];
    expect(bounds.max[0] - bounds.min[0]).toBeCloseTo(metres, 6);
  });

  it('names are those to show where there are some, and the tree is kept', async () => {
    const text = `${HEAD()}def Xform "World" (kind = "assembly") {
      def Scope "Level_0" (displayName = "Platform / level 0") { def Mesh "Slab" {${SQUARE()}} }
      def "Empty" {}
    }`;
    const { scene } = await readAll(fileOf('a.usda', text));
    expect(scene.nodes.map(({ name, parent }) => [name, parent])).toEqual([
      ['World', null],
      ['Platform / level 0', 0],
      ['Slab', 1],
      ['Empty', 0],
    ]);
  });
});

describe('places', () => {
  const place = async (ops: string) => {
    const text = `${HEAD('metersPerUnit = 1\n')}def Xform "World" { def Mesh "Square" {${SQUARE()}\n${ops}\n} }`;
    return worldOf(await readAll(fileOf('a.usda', text)), 'Square', [1, 0, 0]);
  };
  it.each([
    [
      'a move',
      'double3 xformOp:translate = (1, 2, 3)\nuniform token[] xformOpOrder = ["xformOp:translate"]',
      [2, 2, 3],
    ],
    ['a turn', 'float xformOp:rotateZ = 90\nuniform token[] xformOpOrder = ["xformOp:rotateZ"]', [0, 1, 0]],
    // rotateXYZ turns about x first: x stays, then about z.
    [
      'three turns',
      'float3 xformOp:rotateXYZ = (90, 0, 90)\nuniform token[] xformOpOrder = ["xformOp:rotateXYZ"]',
      [0, 1, 0],
    ],
    [
      'the other order',
      'float3 xformOp:rotateZYX = (90, 0, 90)\nuniform token[] xformOpOrder = ["xformOp:rotateZYX"]',
      [0, 0, 1],
    ],
    // The real part stands first: 90 degrees about z.
    [
      'a quaternion',
      'quatf xformOp:orient = (0.70710677, 0, 0, 0.70710677)\nuniform token[] xformOpOrder = ["xformOp:orient"]',
      [0, 1, 0],
    ],
    [
      'a matrix, its rows the axes',
      'matrix4d xformOp:transform = ( (0, 1, 0, 0), (-1, 0, 0, 0), (0, 0, 1, 0), (5, 6, 7, 1) )\nuniform token[] xformOpOrder = ["xformOp:transform"]',
      [5, 7, 7],
    ],
    [
      'move, then scale: the first is outermost',
      'double3 xformOp:translate = (1, 0, 0)\nfloat3 xformOp:scale = (3, 3, 3)\nuniform token[] xformOpOrder = ["xformOp:translate", "xformOp:scale"]',
      [4, 0, 0],
    ],
    [
      'a pivot and its inverse',
      'float3 xformOp:translate:pivot = (1, 0, 0)\nfloat xformOp:rotateZ = 180\nuniform token[] xformOpOrder = ["xformOp:translate:pivot", "xformOp:rotateZ", "!invert!xformOp:translate:pivot"]',
      [1, 0, 0],
    ],
  ])('%s', async (_, ops, expected) => {
    expect(await place(ops)).toEqual(expected);
  });

  it('a place that does not follow its group', async () => {
    const text = `${HEAD('metersPerUnit = 1\n')}def Xform "World" {
      double3 xformOp:translate = (100, 0, 0)
      uniform token[] xformOpOrder = ["xformOp:translate"]
      def Mesh "Square" {${SQUARE('double3 xformOp:translate = (1, 0, 0)\nuniform token[] xformOpOrder = ["!resetXformStack!", "xformOp:translate"]')}}
    }`;
    expect(worldOf(await readAll(fileOf('a.usda', text)), 'Square')).toEqual([1, 0, 0]);
  });
});

describe('meshes', () => {
  it('polygons, holes, faces of the left hand, corners of their own', async () => {
    const text = `${HEAD('metersPerUnit = 1\n')}def Xform "World" {
      def Mesh "Plain" {${SQUARE()}}
      def Mesh "Left" {${SQUARE('uniform token orientation = "leftHanded"')}}
      def Mesh "Hole" {${SQUARE('int[] holeIndices = [0]')}}
      def Mesh "Concave" {
        point3f[] points = [(0, 0, 0), (2, 0, 0), (2, 2, 0), (1, 0.5, 0), (0, 2, 0)]
        int[] faceVertexCounts = [5]
        int[] faceVertexIndices = [0, 1, 2, 3, 4]
      }
    }`;
    const read = await readAll(fileOf('a.usda', text));
    const plain = await read.meshOf('Plain');
    expect(plain.normals[2]).toBeCloseTo(1, 6);
    // The picture's origin is lower left there and upper left here.
    expect([...(plain.uvs?.[0] ?? [])].slice(0, 2)).toEqual([0, 1]);
    expect((await read.meshOf('Left')).normals[2]).toBeCloseTo(-1, 6);
    expect(read.scene.nodes.some(({ name, mesh }) => name === 'Hole' && mesh)).toBe(false);
    // Shoelace: 4 less the two triangles of the notch.
    expect(massProperties(await read.meshOf('Concave')).area).toBeCloseTo(2.5, 6);
  });

  it('materials of single faces, colours of vertices, one colour for all', async () => {
    const text = `${HEAD()}def Xform "World" {
      def Mesh "Two" (prepend apiSchemas = ["MaterialBindingAPI"]) {
        point3f[] points = [(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0)]
        int[] faceVertexCounts = [3, 3]
        int[] faceVertexIndices = [0, 1, 2, 0, 2, 3]
        rel material:binding = </World/Mats/Red>
        def GeomSubset "upper" {
          uniform token elementType = "face"
          int[] indices = [1]
          rel material:binding = </World/Mats/Glass>
        }
      }
      def Mesh "Coloured" {${SQUARE('color3f[] primvars:displayColor = [(1, 0, 0), (0, 1, 0), (0, 0, 1), (1, 1, 1)] (interpolation = "vertex")')}}
      def Mesh "Grey" {${SQUARE('color3f[] primvars:displayColor = [(0.25, 0.25, 0.25)]')}}
      def Scope "Mats" {
        def Material "Red" { token outputs:surface.connect = </World/Mats/Red/S.outputs:surface>
          def Shader "S" { uniform token info:id = "UsdPreviewSurface"
            color3f inputs:diffuseColor = (0.8, 0.1, 0.1)
            float inputs:roughness = 0.3
            token outputs:surface } }
        def Material "Glass" { token outputs:surface.connect = </World/Mats/Glass/S.outputs:surface>
          float inputs:clear = 0.2
          def Shader "S" { uniform token info:id = "UsdPreviewSurface"
            float inputs:opacity.connect = </World/Mats/Glass.inputs:clear>
            token outputs:surface } }
      }
    }`;
    const read = await readAll(fileOf('a.usda', text));
    const materials = read.node('Two').materials.map((id) => read.scene.materials[id]);
    expect(materials).toMatchObject([
      { name: 'Red', baseColor: [0.8, 0.1, 0.1], roughness: 0.3, metallic: 0 },
      { name: 'Glass', opacity: 0.2 },
    ]);
    expect((await read.meshOf('Two')).groups.map(({ slot, count }) => [slot, count])).toEqual([
      [0, 3],
      [1, 3],
    ]);
    expect([...((await read.meshOf('Coloured')).colours ?? [])].slice(0, 4)).toEqual([1, 0, 0, 1]);
    expect(read.scene.materials[read.node('Grey').materials[0]].baseColor).toEqual([0.25, 0.25, 0.25]);
  });

  it('bodies by formula have the size of the schema', async () => {
    const text = `${HEAD('metersPerUnit = 1\nupAxis = "Z"\n')}def Xform "World" {
      def Cube "Cube" { double size = 3 }
      def Sphere "Sphere" { double radius = 2 }
      def Cylinder "Cylinder" { double radius = 1
        double height = 5
        uniform token axis = "X" }
    }`;
    const { scene, node } = await readAll(fileOf('a.usda', text));
    const size = (name: string) => {
      const { bounds } = scene.meshes[node(name).mesh ?? ''];
      return bounds.max.map((high, axis) => high - bounds.min[axis]);
    };
    expect(size('Cube')).toEqual([3, 3, 3]);
    expect(size('Sphere')[2]).toBeCloseTo(4, 6);
    expect(size('Cylinder')[0]).toBeCloseTo(5, 6);
    expect(size('Cylinder')[2]).toBeCloseTo(2, 6);
  });

  it('a lens: 50 mm and 15.2908 mm of aperture', async () => {
    const text = `${HEAD()}def Xform "World" { def Camera "Cam" { float focalLength = 50
      float verticalAperture = 15.2908
      float2 clippingRange = (10, 1000) }
      def DistantLight "Sun" { float inputs:intensity = 2
      float inputs:exposure = 1 } }`;
    const { node, scene } = await readAll(fileOf('a.usda', text));
    expect(node('Cam').camera).toMatchObject({ type: 'perspective', near: 0.1, far: 10 });
    expect((node('Cam').camera as { fov: number }).fov).toBeCloseTo(2 * Math.atan(15.2908 / 100), 9);
    expect(node('Sun').light).toMatchObject({ type: 'directional', intensity: 4 });
    expect(scene.sources[0].holds).toMatchObject({ cameras: 1, lights: 1 });
  });
});

describe('putting together', () => {
  const CHAIR = `${HEAD('metersPerUnit = 1\n').replace('World', 'Chair')}def Xform "Chair" {
    def Mesh "Seat" {${SQUARE('rel material:binding = </Chair/Wood>')}}
    def Material "Wood" { token outputs:surface.connect = </Chair/Wood/S.outputs:surface>
      def Shader "S" { uniform token info:id = "UsdPreviewSurface"
        color3f inputs:diffuseColor = (0.4, 0.2, 0.1) } }
  }`;

  it('references share their geometry and bring their materials; what is said here is stronger', async () => {
    const text = `${HEAD('metersPerUnit = 1\n')}def Xform "World" {
      def "A" (prepend references = @./chair.usda@) {
        double3 xformOp:translate = (1, 0, 0)
        uniform token[] xformOpOrder = ["xformOp:translate"]
      }
      def "B" (
        instanceable = true
        references = @chair.usda@</Chair>
        displayName = "Second chair"
      ) {
        over "Seat" (displayName = "Cushion") {}
      }
      def "C" (references = </World/A>) {}
    }`;
    const read = await readAll(fileOf('a.usda', text, { 'chair.usda': CHAIR }));
    const seats = read.scene.nodes.filter(({ kind }) => kind === 'part');
    expect(seats.map(({ name }) => name)).toEqual(['Seat', 'Cushion', 'Seat']);
    expect(new Set(seats.map(({ mesh }) => mesh)).size).toBe(1);
    expect(read.scene.sources[0].holds?.geometries).toBe(1);
    for (const { materials } of seats) expect(read.scene.materials[materials[0]].name).toBe('Wood');
    expect(worldOf(read, 'A')).toEqual([1, 0, 0]);
    // What A says of its own place comes along with it.
    expect(worldOf(read, 'C')).toEqual([1, 0, 0]);
    expect(warningsOf(read.scene)).toEqual([]);
  });

  it('variants, classes, sublayers, payloads', async () => {
    const text = `#usda 1.0
( defaultPrim = "World"
  metersPerUnit = 1
  subLayers = [@look.usda@] )
class Xform "_Post" { def Mesh "Shaft" {${SQUARE()}} }
def Xform "World" (
  variants = { string door = "open" }
  prepend variantSets = "door"
) {
  def "Post" (inherits = </_Post>) {}
  def "Chair" (payload = @chair.usda@) {}
  variantSet "door" = {
    "open" { def Mesh "Leaf_open" {${SQUARE()}} }
    "shut" { def Mesh "Leaf_shut" {${SQUARE()}} }
  }
}`;
    const look = `#usda 1.0\nover "World" { def Mesh "Added" {${SQUARE()}} }`;
    const { scene } = await readAll(fileOf('a.usda', text, { 'chair.usda': CHAIR, 'look.usda': look }));
    expect(scene.nodes.map(({ name }) => name).sort()).toEqual(
      ['Added', 'Chair', 'Leaf_open', 'Post', 'Seat', 'Shaft', 'World'].sort(),
    );
  });

  it('many places of one prototype', async () => {
    const text = `${HEAD('metersPerUnit = 1\n')}def Xform "World" {
      def PointInstancer "Seats" {
        rel prototypes = [</World/Seats/Proto>]
        int[] protoIndices = [0, 0, 0]
        point3f[] positions = [(0, 0, 0), (2, 0, 0), (4, 0, 0)]
        def Mesh "Proto" {${SQUARE()}}
      }
    }`;
    const { scene } = await readAll(fileOf('a.usda', text));
    const parts = scene.nodes.filter(({ kind }) => kind === 'part');
    expect(parts).toHaveLength(3);
    const worlds = worldTransforms(scene);
    expect(parts.map(({ id }) => worlds.get(id)?.[12])).toEqual([0, 2, 4]);
  });

  it('says what is missing, cuts circles, leaves out what is not shown', async () => {
    const text = `${HEAD()}def Xform "World" {
      def "Gone" (references = @gone.usd@) {}
      def "Loop" (references = </World>) {}
      def Mesh "Hidden" {${SQUARE('token visibility = "invisible"')}}
      def Mesh "Guide" {${SQUARE('uniform token purpose = "guide"')}}
      def Mesh "Off" (active = false) {${SQUARE()}}
      def Mesh "Shown" {${SQUARE()}}
    }`;
    const { scene } = await readAll(fileOf('a.usda', text));
    expect(scene.nodes.map(({ name }) => name)).toContain('Shown');
    expect(scene.nodes.map(({ name }) => name)).not.toContain('Off');
    expect(warningsOf(scene)).toEqual(expect.arrayContaining(['missing-file', 'cyclic']));
    expect(scene.sources[0].notRead?.join(' ')).toMatch(/invisible.*guides/s);
    expect(scene.nodes.length).toBeLessThan(20);
  });

  it('a package with its picture, and the coordinates that the material names', async () => {
    const text = `${HEAD('metersPerUnit = 1\n')}def Xform "World" {
      def Mesh "Board" {${SQUARE('rel material:binding = </World/M>')}}
      def Material "M" { token outputs:surface.connect = </World/M/S.outputs:surface>
        def Shader "S" { uniform token info:id = "UsdPreviewSurface"
          color3f inputs:diffuseColor.connect = </World/M/T.outputs:rgb>
          float inputs:roughness.connect = </World/M/R.outputs:g>
          float inputs:metallic.connect = </World/M/R.outputs:b> }
        def Shader "T" { uniform token info:id = "UsdUVTexture"
          asset inputs:file = @tex/wood.png@
          token inputs:wrapS = "clamp"
          float2 inputs:st.connect = </World/M/X.outputs:result>
          float4 inputs:scale = (0.5, 0.25, 1, 1)
          float3 outputs:rgb }
        def Shader "R" { uniform token info:id = "UsdUVTexture"
          asset inputs:file = @tex/orm.png@
          float4 inputs:scale = (1, 0.75, 0.5, 1)
          float outputs:g
          float outputs:b }
        def Shader "X" { uniform token info:id = "UsdTransform2d"
          float2 inputs:scale = (2, 3)
          float2 inputs:translation = (0.25, 0)
          float2 inputs:in.connect = </World/M/P.outputs:result> }
        def Shader "P" { uniform token info:id = "UsdPrimvarReader_float2"
          string inputs:varname = "st" } }
    }`;
    const png = Uint8Array.from([
      137, 80, 78, 71, 13, 10, 26, 10, 0, 0, 0, 13, 73, 72, 68, 82, 0, 0, 0, 8, 0, 0, 0, 4, 8, 2,
    ]);
    const zip = zipSync({ 'a.usda': strToU8(text), 'tex/wood.png': png, 'tex/orm.png': png }, { level: 0 });
    const read = await readAll(fileOf('a.usdz', zip));
    const material = read.scene.materials[read.node('Board').materials[0]];
    const textures = Object.values(read.scene.textures);
    expect(textures.map(({ name, state, width }) => [name, state, width])).toEqual([
      ['tex/wood.png', 'found', 8],
      ['tex/orm.png', 'found', 8],
    ]);
    // v' = 1 - v turns a scale of 3 from the bottom into one from the top: 1 - 3 (1 - v) = -2 + 3 v.
    expect(material.textures?.baseColor).toMatchObject({ wrap: 'clamp', uv: 0, scale: [2, 3], offset: [0.25, -2] });
    expect(material.textures?.metallicRoughness).toBeDefined();
    // What a picture is multiplied by, channel by channel.
    expect(material).toMatchObject({ baseColor: [0.5, 0.25, 1], roughness: 0.75, metallic: 0.5 });
    expect(read.scene.sources[0].schema).toBe('package');
  });
});

it('sides, opacities of colours, colours of points, cones of light; a place for materials is no row', async () => {
  const text = `${HEAD('metersPerUnit = 1\n')}def Xform "World" {
    def Scope "Looks" { def Material "M" { token outputs:surface.connect = </World/Looks/M/S.outputs:surface>
      def Shader "S" { uniform token info:id = "UsdPreviewSurface" } } }
    def Mesh "Sheet" {${SQUARE('uniform bool doubleSided = 1\n rel material:binding = </World/Looks/M>')}
      color3f[] primvars:displayColor = [(1, 0, 0), (0, 1, 0), (0, 0, 1), (1, 1, 1)] (interpolation = "vertex")
      float[] primvars:displayOpacity = [1, 0.5, 0.25, 0] (interpolation = "vertex") }
    def Mesh "Block" {${SQUARE('rel material:binding = </World/Looks/M>')}}
    def Points "Cloud" { point3f[] points = [(0, 0, 0), (1, 0, 0)]
      color3f[] primvars:displayColor = [(1, 0, 0), (0, 1, 0)] (interpolation = "vertex") }
    def SphereLight "Lamp" { float inputs:shaping:cone:angle = 30
      float inputs:shaping:cone:softness = 0.5 }
    def SphereLight "Bulb" { float inputs:shaping:cone:angle = 180 }
  }`;
  const read = await readAll(fileOf('a.usda', text));
  const materialOf = (name: string) => read.scene.materials[read.node(name).materials[0]];
  expect([materialOf('Sheet').doubleSided, materialOf('Block').doubleSided]).toEqual([true, undefined]);
  const opacities = (await read.meshOf('Sheet')).colours!.filter((_, i) => i % 4 === 3);
  expect([...new Set(opacities)].sort()).toEqual([0, 0.25, 0.5, 1]);
  expect([...(await read.meshOf('Cloud')).colours!]).toEqual([1, 0, 0, 1, 0, 1, 0, 1]);
  expect(read.node('Lamp').light).toMatchObject({ type: 'spot', outer: Math.PI / 6, inner: Math.PI / 12 });
  expect(read.node('Bulb').light?.type).toBe('point');
  expect([...read.scene.nodes].map(({ name }) => name)).not.toContain('Looks');
});

describe('the binary form', () => {
  const text = `${HEAD('metersPerUnit = 0.01\nupAxis = "Z"\n')}
class Xform "_Rail" { def Mesh "Bar" {${SQUARE()}} }
def Xform "World" {
  def Xform "Turned" (displayName = "Turned about z") {
    quatf xformOp:orient = (0.70710677, 0, 0, 0.70710677)
    double3 xformOp:translate = (10, 20, 30)
    uniform token[] xformOpOrder = ["xformOp:translate", "xformOp:orient"]
    def Mesh "Square" {${SQUARE('rel material:binding = </World/M>')}}
    def Mesh "Triangle" {
      point3f[] points = [(0, 0, 0), (4, 0, 0), (0, 3, 0)]
      int[] faceVertexCounts = [3]
      int[] faceVertexIndices = [0, 1, 2]
      uniform token orientation = "leftHanded"
    }
  }
  def "Rail" (inherits = </_Rail>) {}
  def "Again" (references = </World/Turned>) {}
  def Material "M" { token outputs:surface.connect = </World/M/S.outputs:surface>
    def Shader "S" { uniform token info:id = "UsdPreviewSurface"
      color3f inputs:diffuseColor = (0.5, 0.25, 0.125)
      float inputs:roughness = 0.75
      token outputs:surface } }
}`;
  const crate = crateOf(parseUsda(bytesOf(text), 'a').layer);

  it('comes out like the text, to the hash of every mesh', async () => {
    const [asText, asCrate] = [await readAll(fileOf('a.usd', text)), await readAll(fileOf('a.usd', crate))];
    expect(plainScene(asCrate.scene).nodes).toEqual(plainScene(asText.scene).nodes);
    expect(asCrate.scene.meshes).toEqual(asText.scene.meshes);
    expect(asCrate.scene.materials).toEqual(asText.scene.materials);
    expect(asCrate.scene.sources[0]).toMatchObject({ schema: 'binary', up: 'z', unit: { name: 'cm' } });
  });

  it.each([
    ['text', bytesOf(text)],
    ['binary', crate],
  ])('the second reader has the same meshes of the %s', async (_, bytes) => {
    const theirs = await meshesOfSecondReader(bytes, 'a.usd');
    const read = await readAll(fileOf('a.usd', bytes));
    const count = (name: string) => read.scene.nodes.filter((node) => node.name === name).length;
    for (const { primName, faceVertexIndices } of theirs) {
      expect(count(primName)).toBeGreaterThan(0);
      const { mesh } = read.scene.nodes.find((node) => node.name === primName) ?? {};
      expect(read.scene.meshes[mesh ?? ''].triangles).toBe(faceVertexIndices.length / 3);
    }
    expect(theirs.map(({ primName }) => primName)).toEqual(expect.arrayContaining(['Square', 'Triangle']));
  });
});

describe('what others write', () => {
  it('a package of the exporter of three.js: names, places, triangles, colours', async () => {
    const scene = new THREE.Scene();
    const box = new THREE.Mesh(
      new THREE.BoxGeometry(1, 2, 3),
      new THREE.MeshStandardMaterial({ color: 0xff0000, roughness: 0.4 }),
    );
    box.name = 'Kiosk';
    box.position.set(4, 5, 6);
    const ball = new THREE.Mesh(
      new THREE.SphereGeometry(0.5, 12, 8),
      new THREE.MeshStandardMaterial({ color: 0x00ff00 }),
    );
    ball.name = 'Lamp';
    box.add(ball);
    scene.add(box);
    scene.updateMatrixWorld(true);
    const bytes = new Uint8Array(await new USDZExporter().parseAsync(scene));
    const read = await readAll(fileOf('kiosk.usdz', bytes));
    expect(warningsOf(read.scene)).toEqual([]);
    expect(read.scene.sources[0].holds?.triangles).toBe(
      (box.geometry.index?.count ?? 0) / 3 + (ball.geometry.index?.count ?? 0) / 3,
    );
    const shown = Object.values(read.scene.materials).map(({ baseColor }) => baseColor.map((v) => Math.round(v)));
    expect(shown).toEqual(
      expect.arrayContaining([
        [1, 0, 0],
        [0, 1, 0],
      ]),
    );
    expect(read.scene.sources[0].holds?.bounds?.max.map((v) => Math.round(v * 10) / 10)).toEqual([4.5, 6, 7.5]);
  });
});

describe('bad input', () => {
  it('a text that ends early keeps what stands before', async () => {
    const text = `${HEAD()}def Xform "World" { def Mesh "Kept" {${SQUARE()}}\n def Mesh "Cut" { point3f[] points = [(0, 0,`;
    const { scene } = await readAll(fileOf('a.usda', text));
    expect(scene.nodes.some(({ name, mesh }) => name === 'Kept' && mesh)).toBe(true);
    expect(scene.sources[0].warnings[0]).toMatchObject({ code: 'truncated', where: 'line 13' });
  });

  it.each([
    ['numbers of points that are not there', '[0, 1, 2, 99]', 'bad-indices'],
    ['fewer corners than the faces count', '[0, 1]', 'bad-indices'],
  ])('%s', async (_, indices, code) => {
    const text = `${HEAD()}def Mesh "World" {${SQUARE().replace('[0, 1, 2, 3]', indices)}}`;
    const { scene } = await readAll(fileOf('a.usda', text));
    expect(warningsOf(scene)).toContain(code);
  });

  it('a binary file whose counts lie is refused in words', async () => {
    const bytes = crateOf(parseUsda(bytesOf(`${HEAD()}def Mesh "World" {${SQUARE()}}`), 'a').layer);
    const view = new DataView(bytes.buffer);
    const contents = Number(view.getBigUint64(16, true));
    // The first table of the contents: its first number is how many entries it has.
    const start = Number(view.getBigUint64(contents + 8 + 16, true));
    view.setBigUint64(start, 2n ** 40n, true);
    await expect(readAll(fileOf('a.usdc', bytes))).rejects.toMatchObject({ code: 'not-readable' });
  });

  it('a reference never leaves the package', async () => {
    const text = `${HEAD()}def Xform "World" { def "A" (references = @../../etc/passwd.usda@) {}\n def Mesh "M" {${SQUARE()}} }`;
    const { scene } = await readAll(fileOf('a.usda', text));
    expect(warningsOf(scene)).toContain('missing-file');
  });
});
