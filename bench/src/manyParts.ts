/** Files with many placed parts of a few boxes, as text: glTF, IFC and STEP, each in zones of a hundred in ten storeys. */
import { StepText } from '@noble-prism/core/testing/stepText';

/** Parts of one zone; zones are spread over ten storeys. */
const ZONE = 100;
const STOREYS = 10;
const LAYERS = ['Structure', 'Envelope', 'Pipes', 'Cables', 'Fixings'];

/** Text in a growing list of bytes: a file may be longer than a string can be. */
class Bytes {
  readonly #chunks: Uint8Array[] = [];
  #pending: string[] = [];

  text(part: string): void {
    if (this.#pending.push(part) >= 10_000) this.#flush();
  }

  /** All of it, filled up with spaces to a multiple of some bytes. */
  all(multiple = 1): Uint8Array {
    this.#flush();
    const length = this.#chunks.reduce((sum, { length }) => sum + length, 0);
    const out = new Uint8Array(Math.ceil(length / multiple) * multiple).fill(0x20);
    let at = 0;
    for (const chunk of this.#chunks) {
      out.set(chunk, at);
      at += chunk.length;
    }
    return out;
  }

  #flush(): void {
    this.#chunks.push(new TextEncoder().encode(this.#pending.join('')));
    this.#pending = [];
  }
}

/** Calls for each zone with its number, and for each part with its number and zone. */
function plant(parts: number, zone: (zone: number) => void, part: (part: number) => void): void {
  for (let made = 0; made < parts; made++) {
    if (made % ZONE === 0) zone(made / ZONE);
    part(made);
  }
}

/** A binary glTF file: twenty boxes, a node for each part. */
export function glbOf(parts: number): Uint8Array {
  const zones = Math.ceil(parts / ZONE);
  const out = new Bytes();
  const first = 1 + STOREYS;
  out.text('{"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[');
  const list = (from: number, count: number, step = 1) =>
    Array.from({ length: count }, (_, i) => from + i * step).join();
  out.text(`{"name":"Plant","children":[${list(1, STOREYS)}]}`);
  for (let storey = 0; storey < STOREYS; storey++) {
    const own = Math.floor((zones - storey + STOREYS - 1) / STOREYS);
    out.text(`,{"name":"Storey ${storey}","translation":[0,${storey * 4},0],"children":[${list(first + storey, own, STOREYS)}]}`); // prettier-ignore
  }
  for (let zone = 0; zone < zones; zone++)
    out.text(`,{"name":"Zone ${zone}","translation":[${zone % 37}.5,0,${zone % 41}.25],"children":[${list(first + zones + zone * ZONE, Math.min(ZONE, parts - zone * ZONE))}]}`); // prettier-ignore
  for (let i = 0; i < parts; i++)
    out.text(`,{"name":"Part ${i}","mesh":${i % 20},"translation":[${i % 10}.1,${i % 7}.01,${Math.floor(i / 10) % 10}.1],"extras":{"layer":"${LAYERS[i % LAYERS.length]}"}}`); // prettier-ignore
  const positions = new Float32Array(20 * 24);
  for (let box = 0; box < 20; box++)
    for (let i = 0; i < 8; i++) positions.set([i & 1 ? 0.2 + box / 100 : 0, i & 2 ? 0.3 : 0, i & 4 ? 0.4 : 0], box * 24 + i * 3); // prettier-ignore
  const indices = new Uint16Array([0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4, 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5]); // prettier-ignore
  out.text(`],"meshes":[${Array.from({ length: 20 }, (_, i) => `{"primitives":[{"attributes":{"POSITION":${i + 1}},"indices":0}]}`).join()}]`); // prettier-ignore
  out.text(`,"accessors":[{"bufferView":0,"componentType":5123,"count":36,"type":"SCALAR"}`);
  for (let i = 0; i < 20; i++)
    out.text(`,{"bufferView":1,"byteOffset":${i * 96},"componentType":5126,"count":8,"type":"VEC3","min":[0,0,0],"max":[${Math.fround(0.2 + i / 100)},${Math.fround(0.3)},${Math.fround(0.4)}]}`); // prettier-ignore
  const bytes = indices.byteLength + positions.byteLength;
  out.text(`],"bufferViews":[{"buffer":0,"byteLength":72},{"buffer":0,"byteOffset":72,"byteLength":${positions.byteLength}}],"buffers":[{"byteLength":${bytes}}]}`); // prettier-ignore
  const json = out.all(4);
  const glb = new Uint8Array(12 + 8 + json.length + 8 + bytes);
  new Uint32Array(glb.buffer, 0, 5).set([0x46546c67, 2, glb.length, json.length, 0x4e4f534a]);
  glb.set(json, 20);
  new Uint32Array(glb.buffer, 20 + json.length, 2).set([bytes, 0x004e4942]);
  glb.set(new Uint8Array(indices.buffer), 28 + json.length);
  glb.set(new Uint8Array(positions.buffer), 28 + json.length + 72);
  return glb;
}

/** An IFC 4 file: a proxy for each part, all of which show one of five boxes by a mapped item. */
export function ifcOf(parts: number): Uint8Array {
  const out = new Bytes();
  let next = 0;
  const add = (text: string) => {
    out.text(`#${++next}=${text};\n`);
    return next;
  };
  const guid = (of: number) => of.toString(36).padStart(22, '0').toUpperCase();
  out.text("ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('plant.ifc','',(''),(''),'','','');\nFILE_SCHEMA(('IFC4'));\nENDSEC;\nDATA;\n"); // prettier-ignore
  const zero = add('IFCCARTESIANPOINT((0.,0.,0.))');
  const axes = add(`IFCAXIS2PLACEMENT3D(#${zero},$,$)`);
  const context = add(`IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-05,#${axes},$)`);
  const metre = add('IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)');
  const units = add(`IFCUNITASSIGNMENT((#${metre}))`);
  const project = add(`IFCPROJECT('${guid(next)}',$,'Plant',$,$,$,$,(#${context}),#${units})`);
  const place = (in_: number, x: number, y: number, z: number) =>
    add(`IFCLOCALPLACEMENT(${in_ ? `#${in_}` : '$'},#${add(`IFCAXIS2PLACEMENT3D(#${add(`IFCCARTESIANPOINT((${[x, y, z].map((v) => v.toFixed(2)).join()}))`)},$,$)`)})`); // prettier-ignore
  const at = place(0, 0, 0, 0);
  const building = add(`IFCBUILDING('${guid(next)}',$,'Building',$,$,#${at},$,$,.ELEMENT.,$,$,$)`);
  add(`IFCRELAGGREGATES('${guid(next)}',$,$,$,#${project},(#${building}))`);
  const maps = Array.from({ length: 5 }, (_, i) => {
    const profile = add(`IFCRECTANGLEPROFILEDEF(.AREA.,$,#${add(`IFCAXIS2PLACEMENT2D(#${add('IFCCARTESIANPOINT((0.,0.))')},$)`)},0.${i + 2},0.3)`); // prettier-ignore
    const solid = add(`IFCEXTRUDEDAREASOLID(#${profile},#${axes},#${add('IFCDIRECTION((0.,0.,1.))')},0.4)`);
    return add(`IFCREPRESENTATIONMAP(#${axes},#${add(`IFCSHAPEREPRESENTATION(#${context},'Body','SweptSolid',(#${solid}))`)})`); // prettier-ignore
  });
  const operator = add(`IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#${zero},1.,$)`);
  const shapes = maps.map((map) => add(`IFCPRODUCTDEFINITIONSHAPE($,$,(#${add(`IFCSHAPEREPRESENTATION(#${context},'Body','MappedRepresentation',(#${add(`IFCMAPPEDITEM(#${map},#${operator})`)}))`)}))`)); // prettier-ignore
  const storeys = Array.from({ length: STOREYS }, (_, i) => ({ at: place(at, 0, 0, 4 * i), zones: [] as number[] }));
  const ids = storeys.map((storey, i) => add(`IFCBUILDINGSTOREY('${guid(next)}',$,'Storey ${i}',$,$,#${storey.at},$,$,.ELEMENT.,${4 * i}.)`)); // prettier-ignore
  add(`IFCRELAGGREGATES('${guid(next)}',$,$,$,#${building},(${ids.map((id) => `#${id}`).join()}))`);
  let zoneAt = 0;
  let inZone: number[] = [];
  let assembly = 0;
  const close = () => {
    if (inZone.length > 0) add(`IFCRELAGGREGATES('${guid(next)}',$,$,$,#${assembly},(${inZone.map((id) => `#${id}`).join()}))`); // prettier-ignore
    inZone = [];
  };
  plant(
    parts,
    (zone) => {
      close();
      const storey = storeys[zone % STOREYS];
      zoneAt = place(storey.at, zone % 37, zone % 41, 0);
      assembly = add(`IFCELEMENTASSEMBLY('${guid(next)}',$,'Zone ${zone}',$,$,#${zoneAt},$,$,$,$)`);
      storey.zones.push(assembly);
    },
    (part) => {
      const own = place(zoneAt, (part % 10) + 0.1, (Math.floor(part / 10) % 10) + 0.1, 0.01 * (part % 7));
      inZone.push(
        add(`IFCBUILDINGELEMENTPROXY('${guid(next)}',$,'Part ${part}',$,$,#${own},#${shapes[part % 5]},$,$)`),
      );
    },
  );
  close();
  storeys.forEach(({ zones }, i) => {
    if (zones.length > 0) add(`IFCRELCONTAINEDINSPATIALSTRUCTURE('${guid(next)}',$,$,$,(${zones.map((id) => `#${id}`).join()}),#${ids[i]})`); // prettier-ignore
  });
  out.text('ENDSEC;\nEND-ISO-10303-21;\n');
  return out.all();
}

/** Distinct zones of a STEP file; what is more is used several times. */
const ZONES = 1000;

/** A STEP file: five tetrahedra, a product for each zone with a usage for each part of it, zones used in turn. */
export function stepOf(parts: number): Uint8Array {
  const text = new StepText();
  const bodies = Array.from({ length: 5 }, (_, i) => text.product(`Body ${i}`, [text.tetrahedron(10 + i).solid]));
  const zones = Array.from({ length: Math.min(ZONES, parts / ZONE) }, (_, i) => {
    const zone = text.product(`Zone ${i}`);
    for (let k = 0; k < ZONE; k++)
      text.place(zone, bodies[(i + k) % 5], text.axis([20 * (k % 10), 20 * Math.floor(k / 10), i]), { name: `Part ${k}` }); // prettier-ignore
    return zone;
  });
  const root = text.product('Plant');
  for (let i = 0; i < parts / ZONE; i++)
    text.place(root, zones[i % zones.length], text.axis([250 * (i % 100), 250 * Math.floor(i / 100), 0]));
  return text.bytes();
}
