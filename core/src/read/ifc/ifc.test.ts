// IFC (ISO 16739-1): what the text of a file says, and an open house (Debian, assimp-testmodels) read by web-ifc. The small building
// below is written by hand after the standard: attributes in the order of the EXPRESS schema.
import { describe, expect, it } from 'vitest';
import { fileOf, readAll, readOnce } from '../../testing/reading.ts';
import { className } from './classes.ts';

/** Two storeys with a wall each (extruded 4 × 0.2 × 3, a hole of 1 × 2 in the lower one), in millimetres. */
const BUILDING = `ISO-10303-21;
HEADER;FILE_DESCRIPTION(('ViewDefinition [ReferenceView]'),'2;1');FILE_NAME('b.ifc','2026-01-01',('x'),('y'),'p','pen 1.0','');FILE_SCHEMA(('IFC4'));ENDSEC;
DATA;
#1=IFCPROJECT('0YvctVUKr0kugbFTf53O9L',$,'Station',$,$,$,$,(#5),#6);
#5=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#7,$);
#6=IFCUNITASSIGNMENT((#8));
#7=IFCAXIS2PLACEMENT3D(#9,$,$);
#8=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);
#9=IFCCARTESIANPOINT((0.,0.,0.));
#10=IFCBUILDING('1YvctVUKr0kugbFTf53O9L',$,'Lower station',$,$,#30,$,$,.ELEMENT.,$,$,$);
#11=IFCBUILDINGSTOREY('2YvctVUKr0kugbFTf53O9L',$,'EG',$,$,#31,$,'Ground floor',.ELEMENT.,0.);
#12=IFCBUILDINGSTOREY('3YvctVUKr0kugbFTf53O9L',$,'OG',$,$,#32,$,$,.ELEMENT.,3500.);
#13=IFCRELAGGREGATES('4YvctVUKr0kugbFTf53O9L',$,$,$,#1,(#10));
#14=IFCRELAGGREGATES('5YvctVUKr0kugbFTf53O9L',$,$,$,#10,(#11,#12));
#20=IFCWALL('6YvctVUKr0kugbFTf53O9L',$,'Wall 1','to the yard',$,#33,#50,$,.SOLIDWALL.);
#21=IFCWALL('7YvctVUKr0kugbFTf53O9L',$,'Wall 2',$,$,#34,#51,$,.SOLIDWALL.);
#22=IFCOPENINGELEMENT('8YvctVUKr0kugbFTf53O9L',$,'Hole',$,$,#35,#52,$,.OPENING.);
#23=IFCRELCONTAINEDINSPATIALSTRUCTURE('9YvctVUKr0kugbFTf53O9L',$,$,$,(#20),#11);
#24=IFCRELCONTAINEDINSPATIALSTRUCTURE('AYvctVUKr0kugbFTf53O9L',$,$,$,(#21),#12);
#25=IFCRELVOIDSELEMENT('BYvctVUKr0kugbFTf53O9L',$,$,$,#20,#22);
#26=IFCSLAB('CYvctVUKr0kugbFTf53O9L',$,'Lost slab',$,$,#31,#53,$,$);
#30=IFCLOCALPLACEMENT($,#7);
#31=IFCLOCALPLACEMENT(#30,#7);
#32=IFCLOCALPLACEMENT(#30,#36);
#33=IFCLOCALPLACEMENT(#31,#37);
#34=IFCLOCALPLACEMENT(#32,#37);
#35=IFCLOCALPLACEMENT(#33,#38);
#36=IFCAXIS2PLACEMENT3D(#39,$,$);
#37=IFCAXIS2PLACEMENT3D(#40,#41,#42);
#38=IFCAXIS2PLACEMENT3D(#43,$,$);
#39=IFCCARTESIANPOINT((0.,0.,3500.));
#40=IFCCARTESIANPOINT((1000.,2000.,0.));
#41=IFCDIRECTION((0.,0.,1.));
#42=IFCDIRECTION((0.,1.,0.));
#43=IFCCARTESIANPOINT((1500.,0.,0.));
#50=IFCPRODUCTDEFINITIONSHAPE($,$,(#60));
#51=IFCPRODUCTDEFINITIONSHAPE($,$,(#61));
#52=IFCPRODUCTDEFINITIONSHAPE($,$,(#62));
#53=IFCPRODUCTDEFINITIONSHAPE($,$,(#66));
#60=IFCSHAPEREPRESENTATION(#5,'Body','SweptSolid',(#70));
#61=IFCSHAPEREPRESENTATION(#5,'Body','SweptSolid',(#71));
#62=IFCSHAPEREPRESENTATION(#5,'Body','SweptSolid',(#72));
#66=IFCSHAPEREPRESENTATION(#5,'Body','SweptSolid',(#76));
#70=IFCEXTRUDEDAREASOLID(#80,#7,#41,3000.);
#71=IFCEXTRUDEDAREASOLID(#80,#7,#41,3000.);
#72=IFCEXTRUDEDAREASOLID(#81,#7,#41,2000.);
#76=IFCEXTRUDEDAREASOLID(#80,#7,#41,100.);
#80=IFCRECTANGLEPROFILEDEF(.AREA.,$,#90,4000.,200.);
#81=IFCRECTANGLEPROFILEDEF(.AREA.,$,#90,1000.,400.);
#90=IFCAXIS2PLACEMENT2D(#91,$);
#91=IFCCARTESIANPOINT((0.,0.));
#100=IFCSTYLEDITEM(#71,(#101),$);
#101=IFCSURFACESTYLE('Plaster white',.BOTH.,(#102));
#102=IFCSURFACESTYLESHADING(#103,0.);
#103=IFCCOLOURRGB($,0.9,0.8,0.7);
#110=IFCMATERIAL('Concrete C30/37',$,$);
#111=IFCRELASSOCIATESMATERIAL('DYvctVUKr0kugbFTf53O9L',$,$,$,(#20),#110);
#120=IFCPRESENTATIONLAYERASSIGNMENT('A-WALL','walls',(#60),$);
#130=IFCPROPERTYSET('EYvctVUKr0kugbFTf53O9L',$,'Pset_WallCommon',$,(#131,#132));
#131=IFCPROPERTYSINGLEVALUE('FireRating',$,IFCLABEL('R90'),$);
#132=IFCPROPERTYSINGLEVALUE('IsExternal',$,IFCBOOLEAN(.T.),$);
#133=IFCRELDEFINESBYPROPERTIES('FYvctVUKr0kugbFTf53O9L',$,$,$,(#20),#130);
#134=IFCMAPCONVERSION(#5,#135,2600000.5,1200000.25,430.,1.,0.,1.);
#135=IFCPROJECTEDCRS('EPSG:2056',$,$,$,$,$,$);
ENDSEC;
END-ISO-10303-21;
`;

const building = () => readAll(fileOf('b.ifc', BUILDING));

describe('IFC', () => {
  it('shows the spatial tree with classes, names and elevations before any geometry', async () => {
    const { survey } = await building();
    expect(survey.nodes.map(({ name, class: kind, parent }) => [name, kind, parent])).toEqual([
      ['Station', 'IfcProject', null],
      ['Lower station', 'IfcBuilding', 0],
      ['EG Ground floor', 'IfcBuildingStorey', 1],
      ['Wall 1', 'IfcWall', 2],
      ['OG', 'IfcBuildingStorey', 1],
      ['Wall 2', 'IfcWall', 4],
      ['Lost slab', 'IfcSlab', 0],
    ]);
    expect(survey.nodes.at(4)!.properties?.Elevation).toBe('3.5 m');
    expect(survey.sources[0]).toMatchObject({
      format: 'IFC',
      schema: 'IFC4',
      unit: { name: 'mm', metres: 0.001, declared: true },
      up: 'z',
    });
    expect(survey.sources[0].warnings.map(({ code }) => code)).toEqual(['orphans']);
  });

  it('keeps GlobalId, properties, materials, layer and map conversion', async () => {
    const { node } = await building();
    expect(node('Wall 1')).toMatchObject({
      layer: 'A-WALL',
      entity: '#20',
      properties: {
        GlobalId: '6YvctVUKr0kugbFTf53O9L',
        Description: 'to the yard',
        Material: 'Concrete C30/37',
        'Pset_WallCommon.FireRating': 'R90',
        'Pset_WallCommon.IsExternal': 'true',
      },
    });
    expect(node('Station').properties).toMatchObject({
      'Map conversion.System': 'EPSG:2056',
      'Map conversion.Eastings': '2600000.5',
      'Map conversion.Height': '430',
    });
  });

  it('places each element in its storey, in metres', async () => {
    const { node } = await building();
    expect(node('OG').transform.slice(12, 15)).toEqual([0, 0, 3.5]);
    // One metre and two metres, and x turned to y.
    expect(node('Wall 2').transform.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([
      0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 1, 2, 0, 1,
    ]);
  });

  it('cuts openings, and leaves out the body that cuts', async () => {
    const { scene, node } = await building();
    const volume = (name: string) => scene.meshes[node(name).mesh ?? ''].volume;
    expect(volume('Wall 2')).toBeCloseTo(4 * 0.2 * 3, 4);
    expect(volume('Wall 1')).toBeCloseTo(4 * 0.2 * 3 - 1 * 0.2 * 2, 4);
    expect(scene.nodes.some(({ name }) => name === 'Hole')).toBe(false);
    expect(scene.sources[0].notRead?.join()).toContain('not kept as bodies: 1');
  });

  it('names materials after the material of the element, or the style of the surface', async () => {
    const { scene, node } = await building();
    const first = (name: string) => scene.materials[node(name).materials[0]];
    expect(first('Wall 1').name).toBe('Concrete C30/37');
    expect(first('Wall 2').name).toBe('Plaster white');
    // 0.9 encoded is 0.7874 linear (IEC 61966-2-1).
    expect(first('Wall 2').baseColor[0]).toBeCloseTo(0.7874, 3);
  });

  it('reads the open house: storeys at 0 and 2.7 m, five doors, eleven windows, geometry for every element', async () => {
    const { survey, scene } = await readOnce('house.ifc');
    const of = (kind: string) => scene.nodes.filter((node) => node.class === kind);
    expect(of('IfcBuildingStorey').map((node) => node.properties?.Elevation)).toEqual(['0 m', '2.7 m']);
    expect([of('IfcDoor').length, of('IfcWindow').length, of('IfcSpace').length]).toEqual([5, 11, 7]);
    expect(of('IfcDoor').every((node) => node.mesh)).toBe(true);
    expect(survey.nodes.map(({ key }) => key)).toEqual(scene.nodes.map(({ key }) => key));
    // Doors of buildings are two metres high, give or take (common practice).
    for (const door of of('IfcDoor')) {
      const { bounds } = scene.meshes[door.mesh ?? ''];
      expect(bounds.max[2] - bounds.min[2]).toBeGreaterThan(1.9);
      expect(bounds.max[2] - bounds.min[2]).toBeLessThan(2.6);
    }
  });

  it('spells classes as the standard does', () => {
    expect([
      className('IFCWALLSTANDARDCASE'),
      className('IFCBUILDINGSTOREY'),
      className('IFCFURNISHINGELEMENT'),
    ]).toEqual(['IfcWallStandardCase', 'IfcBuildingStorey', 'IfcFurnishingElement']);
    expect(className('IFCSOMETHINGNEW')).toBe('IfcSomethingnew');
  });

  it('keeps the tree of a file that is cut off in its middle', async () => {
    const { survey } = await readAll(fileOf('b.ifc', BUILDING.slice(0, BUILDING.indexOf('#100='))));
    expect(survey.nodes.map(({ name }) => name)).toContain('Wall 2');
  });
});
