/** A barrier that opens, in three formats: its boom turns by a quarter about z in four seconds, its post rises by a metre in the first two. */

export const source = (id: string, values: string, name = 'float_array') =>
  `<source id="${id}"><${name} id="${id}-a" count="${values.split(' ').length}">${values}</${name}></source>`;

export interface ColladaChannel {
  target: string;
  times: string;
  values: string;
  kinds?: string;
  more?: string;
}

function channel({ target, times, values, kinds = 'LINEAR LINEAR', more = '' }: ColladaChannel, n: number): string {
  const tangents = more
    ? '<input semantic="IN_TANGENT" source="#in"/><input semantic="OUT_TANGENT" source="#out"/>'
    : '';
  return `<animation id="anim${n}">${source(`t${n}`, times)}${source(`v${n}`, values)}${source(`k${n}`, kinds, 'Name_array')}${more}
    <sampler id="s${n}"><input semantic="INPUT" source="#t${n}"/><input semantic="OUTPUT" source="#v${n}"/>
    <input semantic="INTERPOLATION" source="#k${n}"/>${tangents}</sampler><channel source="#s${n}" target="${target}"/></animation>`;
}

const TRIANGLE = `<library_geometries><geometry id="g"><mesh>${source('p', '0 0 0 4 0 0 0 1 0').replace('</source>', '<technique_common><accessor source="#p-a" count="3" stride="3"/></technique_common></source>')}
  <vertices id="v"><input semantic="POSITION" source="#p"/></vertices>
  <triangles count="1"><input semantic="VERTEX" source="#v" offset="0"/><p>0 1 2</p></triangles></mesh></geometry></library_geometries>`;

export function colladaBarrier(channels: ColladaChannel[], clips = ''): string {
  return `<?xml version="1.0"?><COLLADA version="1.4.1"><asset><unit meter="1"/><up_axis>Z_UP</up_axis></asset>${TRIANGLE}
    <library_animations>${channels.map(channel).join('')}</library_animations>${clips}
    <library_visual_scenes><visual_scene id="w"><node id="post" name="Post"><translate sid="move">0 0 0</translate>
      <node id="boom" name="Boom"><translate sid="at">2 0 0</translate><rotate sid="turn">0 0 1 0</rotate><instance_geometry url="#g"/></node>
    </node></visual_scene></library_visual_scenes><scene><instance_visual_scene url="#w"/></scene></COLLADA>`;
}

export const RISE = { target: 'post/move.Z', times: '0 2', values: '0 1' };
export const TURN = { target: 'boom/turn.ANGLE', times: '0 4', values: '0 90' };

export const BARRIER_USD = `#usda 1.0
(
    metersPerUnit = 1
    upAxis = "Z"
    startTimeCode = 100
    timeCodesPerSecond = 10
)
def Xform "Post"
{
    double3 xformOp:translate.timeSamples = { 100: (0, 0, 0), 120: (0, 0, 1), }
    uniform token[] xformOpOrder = ["xformOp:translate"]
    def Mesh "Boom"
    {
        double3 xformOp:translate = (2, 0, 0)
        float xformOp:rotateZ.timeSamples = { 100: 0, 140: 90, }
        uniform token[] xformOpOrder = ["xformOp:translate", "xformOp:rotateZ"]
        int[] faceVertexCounts = [3]
        int[] faceVertexIndices = [0, 1, 2]
        point3f[] points = [(0, 0, 0), (4, 0, 0), (0, 1, 0)]
    }
}`;

export const barrierX3d = (boom = 'translation="2 0 0"') => `<X3D version="3.3"><Scene>
  <Transform DEF="Post"><Transform DEF="Boom" ${boom}><Shape><IndexedFaceSet coordIndex="0 1 2 -1"><Coordinate point="0 0 0 4 0 0 0 1 0"/></IndexedFaceSet></Shape></Transform></Transform>
  <TimeSensor DEF="Open" cycleInterval="4"/>
  <PositionInterpolator DEF="Rise" key="0 0.5" keyValue="0 0 0 0 0 1"/>
  <OrientationInterpolator DEF="Turn" key="0 1" keyValue="0 0 1 0 0 0 1 1.5707963267948966"/>
  <ROUTE fromNode="Open" fromField="fraction_changed" toNode="Rise" toField="set_fraction"/>
  <ROUTE fromNode="Open" fromField="fraction_changed" toNode="Turn" toField="set_fraction"/>
  <ROUTE fromNode="Rise" fromField="value_changed" toNode="Post" toField="set_translation"/>
  <ROUTE fromNode="Turn" fromField="value_changed" toNode="Boom" toField="rotation"/>
</Scene></X3D>`;
