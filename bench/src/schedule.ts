/** A finish schedule of 200 rules on 100 000 parts, and why one part has its material; beside plain objects that are asked for their rules one by one. */
import { MemoryBlobs } from '@noble-prism/core/memoryStores';
import type { FinishRule } from '@noble-prism/core/finish/rule';
import { Schedule } from '@noble-prism/core/finish/schedule';
import { reasonsFor } from '@noble-prism/core/finish/why';
import { mergeSlots } from '@noble-prism/core/preparation/slots';
import { PART } from '@noble-prism/core/scene/nodes';
import { select } from '@noble-prism/core/select/select';
import type { Selector } from '@noble-prism/core/select/select';
import { applyStep } from '@noble-prism/core/steps/kind';
import { stepKind } from '@noble-prism/core/steps/kinds';
import { plantOf } from './boxes.ts';
import { print, seconds } from './report.ts';

const [PARTS, RULES] = [100_000, 200];
const scene = mergeSlots([{ slot: 'plant', scene: await plantOf(PARTS, new MemoryBlobs()) }]);
const all = select(scene, { by: 'all' });
const nodes = [...scene.nodes].filter(({ kind }) => kind === 'part');
const [layers, classes, colours] = [
  [...new Set(nodes.map(({ layer }) => layer!))],
  [...new Set(nodes.map((node) => node.class!))],
  Object.keys(scene.materials).filter((id) => id !== 'none'),
];
const MATERIALS = ['lib:glass', 'lib:concrete', 'lib:rubber', 'lib:galvanised'];

/** As schedules of buildings have them: mostly layers, classes and colours; names, some of assemblies; single parts; rules made of rules. */
function ruleOf(i: number): Selector {
  const layer: Selector = { by: 'layer', layers: [layers[i % layers.length]] };
  switch (i % 10) {
    case 0:
    case 1:
    case 2:
      return layer;
    case 3:
    case 4:
      return { by: 'class', classes: [classes[i % classes.length]] };
    case 5:
    case 6:
      return { by: 'material', materials: [colours[i % colours.length]] };
    case 7:
      return { by: 'name', pattern: i % 20 < 10 ? `Part ${i}*` : `Zone ${i}` };
    case 8:
      return { by: 'picked', keys: Array.from({ length: 50 }, (_, k) => nodes[(i * 50 + k * 7) % nodes.length].key) };
    default:
      return { by: 'and', of: [layer, { by: 'not', of: [{ by: 'class', classes: [classes[i % classes.length]] }] }] };
  }
}
const rules = Array.from({ length: RULES }, (_, i): FinishRule => ({ which: ruleOf(i), material: MATERIALS[i % 4] }));

/** Every part asked for its rules, from the last one on, as one would write it on objects. */
function oneByOne(): number {
  const tests = rules.map(({ which }) => {
    const rows = select(scene, which);
    return (row: number) => rows.has(row);
  });
  return nodes.filter(({ id }) => tests.findLast((test) => test(id)) !== undefined).length;
}

// Each run has rules of its own: what is known of a list of rules is asked for anew.
const apply = () => applyStep(stepKind('finishes'), scene, all, { rules: [...rules] });
apply();
const whole = await seconds(5, apply);
const bare = await seconds(2, oneByOne);
print({
  name: `Schedule of ${RULES} rules on ${PARTS} parts`,
  value: whole * 1000,
  unit: 'ms',
  aim: { most: 150 },
  note: `${(whole / bare).toFixed(2)} of parts asked one by one`,
});
const { nodes: after } = apply().scene;
if (after.columns.mesh !== scene.nodes.columns.mesh) throw new Error('An instance was lost.');
let ruled = 0;
for (let row = 0; row < after.rows; row++)
  if (after.columns.kind[row] === PART && after.columns.materials[row] !== scene.nodes.columns.materials[row]) ruled++;
if (ruled === 0) throw new Error('No part got a material.');

const schedule = new Schedule(scene, all, rules);
let part = 0;
const why = await seconds(50, () => reasonsFor(schedule, nodes[(part += 997) % nodes.length].id));
print({ name: 'Why one part has its material', value: why * 1000, unit: 'ms', aim: { most: 5 } });
