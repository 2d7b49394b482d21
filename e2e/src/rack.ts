/** A small model of solids: a rack with a bolt and a nut in each of two equal sets. */
import { StepText } from '@noble-prism/core/testing/stepText';

/** STEP, millimetres. */
export function rack(): Uint8Array {
  const step = new StepText();
  const all = step.product('Rack');
  const set = step.product('Set');
  step.place(set, step.product('Bolt', [step.tetrahedron(20).solid]), step.axis());
  step.place(set, step.product('Nut', [step.tetrahedron(12).solid]), step.axis([40, 0, 0]));
  step.place(all, set, step.axis());
  step.place(all, set, step.axis([0, 200, 0]));
  return step.bytes();
}
