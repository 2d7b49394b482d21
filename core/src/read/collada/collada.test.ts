// COLLADA 1.4.1 (Khronos, ISO/PAS 17506): units, axes, transforms in their order, primitives with offsets, bindings; and open test files.
import { describe, expect, it } from 'vitest';
import { fileOf, modelOf, readAll, warningsOf } from '../../testing/reading.ts';

const POSITIONS = `<source id="p"><float_array count="12">0 0 0 1 0 0 1 1 0 0 1 0</float_array><technique_common><accessor stride="3"/></technique_common></source>
<vertices id="v"><input semantic="POSITION" source="#p"/></vertices>`;
const TWO_UVS = `<source id="t0"><float_array>0 0 1 0 1 1 0 1</float_array><technique_common><accessor stride="2"/></technique_common></source>
<source id="t1"><float_array>0.5 0.25 0 0</float_array><technique_common><accessor stride="2"/></technique_common></source>`;
const INPUT = '<input semantic="VERTEX" source="#v" offset="0"/>';

const document = (mesh: string, nodes: string, more = '', asset = '') => `<?xml version="1.0"?>
<COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1"><asset>${asset}</asset>${more}
<library_geometries><geometry id="g" name="Plate"><mesh>${POSITIONS}${mesh}</mesh></geometry></library_geometries>
<library_visual_scenes><visual_scene id="s">${nodes}</visual_scene></library_visual_scenes><scene><instance_visual_scene url="#s"/></scene></COLLADA>`;
const NODE = '<node id="n" name="Plate 1"><instance_geometry url="#g"/></node>';

/** A square of two triangles at these points. */
const square = (points: string) =>
  document(`<triangles>${INPUT}<p>0 1 2 0 2 3</p></triangles>`, NODE).replace('0 0 0 1 0 0 1 1 0 0 1 0', points);

const readText = (text: string) => readAll(fileOf('a.dae', text));
const figuresOf = ({ scene }: Awaited<ReturnType<typeof readText>>) => Object.values(scene.meshes)[0];

describe('COLLADA', () => {
  it.each([
    ['triangles', '<triangles><p>0 1 2 0 2 3</p></triangles>'],
    ['polylist', '<polylist><vcount>4</vcount><p>0 1 2 3</p></polylist>'],
    ['polygons', '<polygons><p>0 1 2 3</p></polygons>'],
    ['strips', '<tristrips><p>0 1 3 2</p></tristrips>'],
    ['fans', '<trifans><p>0 1 2 3</p></trifans>'],
  ])('makes the same square of %s', async (_, primitive) => {
    const read = await readText(document(primitive.replace('>', `>${INPUT}`), NODE));
    expect(figuresOf(read)).toMatchObject({ triangles: 2, area: 1 });
  });

  it('takes unit and up axis from the file', async () => {
    const asset =
      '<unit name="inch" meter="0.0254"/><up_axis>Z_UP</up_axis><contributor><authoring_tool>pen</authoring_tool></contributor>';
    const read = await readText(document(`<triangles>${INPUT}<p>0 1 2</p></triangles>`, NODE, '', asset));
    expect(read.scene.sources[0]).toMatchObject({
      unit: { name: 'inch', metres: 0.0254, declared: true },
      upAxis: { axis: 'z', by: 'file' },
      producer: 'pen',
    });
    expect(figuresOf(read).bounds.max[0]).toBeCloseTo(0.0254, 7);
  });

  it('applies transforms in the order of the text', async () => {
    const node = `<node name="n"><translate>5 0 0</translate><rotate>0 0 1 90</rotate><scale>2 1 1</scale><instance_geometry url="#g"/></node>`;
    const { scene } = await readText(document(`<triangles>${INPUT}<p>0 1 2</p></triangles>`, node));
    // Doubled along x, x turned to y, moved by five.
    expect(scene.nodes.at(0)!.transform.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      0, 2, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 5, 0, 0, 1,
    ]);
  });

  it('reads matrices by rows and keeps instances of nodes as one geometry', async () => {
    const nodes = `<node id="pair"><node id="one" name="one"><matrix>1 0 0 7 0 1 0 8 0 0 1 9 0 0 0 1</matrix><instance_geometry url="#g"/></node></node>
      <node id="again" name="again"><instance_node url="#pair"/></node>`;
    const { scene } = await readText(document(`<triangles>${INPUT}<p>0 1 2</p></triangles>`, nodes));
    expect(scene.nodes.map(({ name }) => name)).toEqual(['pair', 'one', 'again', 'pair', 'one']);
    expect(scene.nodes.at(4)!.transform.slice(12, 15)).toEqual([7, 8, 9]);
    expect(Object.keys(scene.meshes)).toHaveLength(1);
  });

  it('keeps several sets of texture coordinates with their own numbers', async () => {
    const primitive = `${TWO_UVS}<triangles><input semantic="VERTEX" source="#v" offset="0"/><input semantic="TEXCOORD" source="#t1" offset="2" set="1"/><input semantic="TEXCOORD" source="#t0" offset="1" set="0"/><p>0 0 0 1 1 0 2 2 1</p></triangles>`;
    const { meshOf } = await readText(document(primitive, NODE));
    const mesh = await meshOf('Plate 1');
    expect(mesh.uvs?.map((set) => [...set])).toEqual([
      [0, 1, 1, 1, 1, 0],
      [0.5, 0.75, 0.5, 0.75, 0, 1],
    ]);
  });

  it('binds materials by their symbols, through effect, sampler and surface to the picture', async () => {
    const library = `<library_images><image id="i"><init_from>file:///C:/art/oak.png</init_from></image></library_images>
      <library_effects><effect id="e"><profile_COMMON><newparam sid="surf"><surface type="2D"><init_from>i</init_from></surface></newparam>
      <newparam sid="samp"><sampler2D><source>surf</source><wrap_s>MIRROR</wrap_s></sampler2D></newparam>
      <technique sid="c"><phong><diffuse><texture texture="samp" texcoord="UV1"/></diffuse><transparent opaque="A_ONE"><color>1 1 1 0.25</color></transparent></phong></technique></profile_COMMON></effect></library_effects>
      <library_materials><material id="m" name="Oak"><instance_effect url="#e"/></material></library_materials>`;
    const node = `<node name="n"><instance_geometry url="#g"><bind_material><technique_common><instance_material symbol="wood" target="#m"><bind_vertex_input semantic="UV1" input_semantic="TEXCOORD" input_set="1"/></instance_material></technique_common></bind_material></instance_geometry></node>`;
    const text = document(`<triangles material="wood">${INPUT}<p>0 1 2</p></triangles>`, node, library);
    const { scene } = await readAll(fileOf('a.dae', text, { 'oak.png': 'x' }));
    const material = scene.materials[scene.nodes.at(0)!.materials[0]];
    expect(material).toMatchObject({ name: 'Oak', opacity: 0.25, textures: { baseColor: { uv: 1, wrap: 'mirror' } } });
    expect(Object.values(scene.textures)).toMatchObject([{ name: 'oak.png', state: 'found' }]);
  });

  it('keeps cameras and lights in their place', async () => {
    const library = `<library_cameras><camera id="c"><optics><technique_common><perspective><xfov>60</xfov><aspect_ratio>1.5</aspect_ratio><znear>0.1</znear><zfar>90</zfar></perspective></technique_common></optics></camera></library_cameras>
      <library_lights><light id="l"><technique_common><spot><color>1 0.5 0</color><falloff_angle>40</falloff_angle></spot></technique_common></light></library_lights>`;
    const nodes = `<node name="Eye"><translate>0 1.6 3</translate><instance_camera url="#c"/></node><node name="Lamp"><instance_light url="#l"/></node>${NODE}`;
    const { node, scene } = await readText(document(`<triangles>${INPUT}<p>0 1 2</p></triangles>`, nodes, library));
    // tan(yfov / 2) = tan(xfov / 2) / aspect.
    expect(node('Eye').camera).toMatchObject({
      fov: expect.closeTo(2 * Math.atan(Math.tan(Math.PI / 6) / 1.5), 6) as number,
    });
    expect(node('Eye').transform.slice(12, 15)).toEqual([0, 1.6, 3]);
    expect(node('Lamp').light).toMatchObject({
      type: 'spot',
      color: [1, 0.5, 0],
      outer: expect.closeTo(Math.PI / 9, 6) as number,
    });
    expect(scene.sources[0].holds).toMatchObject({ cameras: 1, lights: 1 });
  });

  it.each([
    ['Collada/cube_tristrips.dae', 12],
    ['Collada/cube_UTF16LE.dae', 12],
    ['Collada/duck.zae', 4210],
    ['Collada/teapot_instancenodes.DAE', 2048],
    // A regular outline of 64 triangles, as its neighbour in OBJ.
    ['Collada/ConcavePolygon.dae', 64],
  ])('reads the open file %s with %i triangles as placed', async (name, triangles) => {
    const { survey } = await readAll(modelOf(name));
    expect(survey.sources[0].holds?.triangles).toBe(triangles);
  });

  it('has the duck 1.65 m long, as its centimetres say, with its picture', async () => {
    const { survey } = await readAll(modelOf('Collada/duck.dae'));
    const { bounds } = survey.sources[0].holds ?? {};
    expect((bounds?.max[0] ?? 0) - (bounds?.min[0] ?? 0)).toBeCloseTo(1.65, 2);
    expect(Object.values(survey.textures)).toMatchObject([{ state: 'found', mime: 'image/x-tga' }]);
  });

  it('stops at a node that places itself', async () => {
    const { scene } = await readText(
      document(`<triangles>${INPUT}<p>0 1 2</p></triangles>`, `${NODE}<node id="x"><instance_node url="#x"/></node>`),
    );
    expect(warningsOf(scene)).toContain('cyclic');
    expect(scene.nodes.at(0)!.mesh).toBeDefined();
  });

  it('reads decimal commas as decimals, and says so', async () => {
    const point = readAll(fileOf('a.dae', square('0 0 0 1 0 0 1 1 0 0 1 0')));
    const comma = readAll(fileOf('a.dae', square('0,0 0,0 0,0 1,0 0,0 0,0 1,0 1,0 0,0 0,0 1,0 0,0')));
    const [a, b] = [await point, await comma];
    expect(b.scene.sources[0].holds?.bounds).toEqual(a.scene.sources[0].holds?.bounds);
    expect(warningsOf(b.scene)).toEqual(['decimal-comma']);
    expect(warningsOf(a.scene)).toEqual([]);
  });

  it('cannot keep quiet about a model larger than the Earth', async () => {
    const { scene } = await readAll(fileOf('a.dae', square('0 0 0 2e7 0 0 2e7 1 0 0 1 0')));
    expect(warningsOf(scene)[0]).toBe('impossible-size');
    expect(scene.sources[0].warnings[0].message).toMatch(/20.000.km long, larger than the Earth/);
  });

  it('keeps what is sound of numbers out of range, missing targets and a text that is cut off', async () => {
    const bad = await readText(
      document(
        `<polylist>${INPUT}<vcount>3 3 9</vcount><p>0 1 2 0 2 77</p></polylist>`,
        `${NODE}<node><instance_geometry url="#gone"/></node>`,
      ),
    );
    expect(warningsOf(bad.scene).sort()).toEqual(['bad-indices', 'dangling']);
    expect(figuresOf(bad).triangles).toBe(1);
    const whole = document(`<triangles>${INPUT}<p>0 1 2</p></triangles>`, NODE);
    const cut = await readText(whole.slice(0, whole.indexOf('</visual_scene>')));
    expect(warningsOf(cut.scene)).toEqual(['truncated']);
    expect(figuresOf(cut).triangles).toBe(1);
  });
});
