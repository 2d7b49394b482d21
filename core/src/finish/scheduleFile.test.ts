import { describe, expect, it } from 'vitest';
import { NO_MATERIAL } from '../scene/types.ts';
import type { FinishRule } from './rule.ts';
import { readSchedule, scheduleCsv, scheduleJson } from './scheduleFile.ts';
import type { Named } from './scheduleFile.ts';

const material = (id: string, name: string) => ({ ...NO_MATERIAL, id, name });
const named = {
  materials: { a: material('a', 'White'), b: material('b', 'Elm, waxed'), c: material('c', 'White') },
  sources: [{ id: 'slot', name: 'hall.ifc' }],
} as unknown as Named;
const read = (text: string) => readSchedule(text, named);

const rules: FinishRule[] = [
  { which: { by: 'layer', layers: ['A-WALL "inner"'] }, material: 'lib:concrete', note: 'as in\nthe sample' },
  { which: { by: 'material', materials: ['b'] }, material: 'received', on: false },
  { which: { by: 'name', pattern: 'Door, left*' }, material: 'b' },
  { which: { by: 'size', max: 0.02 }, material: 'lib:galvanised' },
  { which: { by: 'source', sources: ['slot'] }, material: 'a' },
  { which: { by: 'and', of: [{ by: 'layer', layers: ['A', 'B'] }, { by: 'not', of: [{ by: 'class', classes: ['IfcDoor'] }] }] }, material: 'lib:glass' }, // prettier-ignore
  { which: { by: 'all' }, material: 'lib:glass' },
];

describe('a schedule as a table', () => {
  it('comes back as it was', () => {
    const text = scheduleCsv(rules, named);
    expect(read(text)).toEqual(rules);
    expect(read(`\ufeff${text}`)).toEqual(rules);
    expect(text.split('\r\n')[0]).toBe('on,by,which,material,parts,triangles,note');
  });

  // RFC 4180: fields with commas, quotes or line breaks stand in quotes, quotes are doubled, records end with CRLF.
  it('is written as RFC 4180 has it', () => {
    const text = scheduleCsv(rules.slice(0, 3), named);
    expect(text).toContain('"A-WALL ""inner"""');
    expect(text).toContain('"Door, left*"');
    expect(text).toContain('"as in\nthe sample"');
    expect(text.endsWith('\r\n')).toBe(true);
  });

  it('names materials and sources, but by their ids where several are called alike', () => {
    const text = scheduleCsv(rules, named);
    expect(text).toContain('source,hall.ifc,a,');
    expect(text).toContain('material,"Elm, waxed",as received');
  });

  it('is taken with semicolons, tabs, decimal commas, other heads, and no more than two columns', () => {
    expect(read('Layer;Material\r\nA-WALL;Concrete, fair-faced\r\n;\r\n')).toEqual([
      { which: { by: 'layer', layers: ['A-WALL'] }, material: 'lib:concrete' },
    ]);
    expect(read('by;which;material\nsize;0,5 mm to 0,02 m;Elm, waxed')).toEqual([
      { which: { by: 'size', min: 0.0005, max: 0.02 }, material: 'b' },
    ]);
    expect(read('Name\tFinish\tOn\nDoor*\tGlass, clear\tno')).toEqual([
      { which: { by: 'name', pattern: 'Door*' }, material: 'lib:glass', on: false },
    ]);
  });

  it('opens no formula in a program for tables', () => {
    const formula: FinishRule[] = [{ which: { by: 'layer', layers: ['=1+1'] }, material: 'b' }];
    const text = scheduleCsv(formula, named);
    expect(text).toContain("'=1+1");
    expect(read(text)).toEqual(formula);
  });

  it.each([
    ['', /empty/],
    ['Layer;Colour\nA;red', /no column “material”/],
    ['Layer;Material\nA;Unobtainium', /Line 2: there is no material “Unobtainium”/],
    ['Layer;Material\nA;White', /Line 2: 2 materials are called “White”.*a, c/],
    ['Layer;Material\nA;', /Line 2: the material is missing/],
    ['by;which;material\nname;/wall(/;Elm, waxed', /Line 2: The pattern \/wall\(\/ cannot be understood/],
    ['by;which;material\nshape;round;Elm, waxed', /Line 2: there is no rule “shape”/],
    ['by;which;material\nsize;5 apples;Elm, waxed', /“5 apples” is no length/],
    ['Layer,Material\n"A,Oak', /Quoted field/],
    ['{ "rules": [{ "which": { "by": "layer" }, "material": "a" }] }', /layers/],
    ['{ "rules": 5 }', /no rules/],
    ['[{', /not JSON/],
  ])('%j is refused with what is wrong', (text, message) => expect(() => read(text)).toThrow(message));
});

describe('a schedule as JSON', () => {
  it('comes back as it was, and in another job speaks of the source of the same name', () => {
    const text = scheduleJson(rules, named.sources);
    expect(read(text)).toEqual(rules);
    const picked: FinishRule[] = [{ which: { by: 'picked', keys: ['slot:/Hall/Wall'] }, material: 'lib:glass' }];
    const other = { ...named, sources: [{ id: 'other', name: 'hall.ifc' }] } as unknown as Named;
    expect(readSchedule(scheduleJson(picked, named.sources), other)[0].which).toEqual({ by: 'picked', keys: ['other:/Hall/Wall'] }); // prettier-ignore
  });

  it('may be in short', () => {
    expect(read('[{ "by": "layer", "match": "A", "material": "lib:glass" }]')).toEqual([
      { which: { by: 'layer', layers: ['A'] }, material: 'lib:glass' },
    ]);
  });
});
