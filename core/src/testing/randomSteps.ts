/** Random steps with valid parameters, drawn from the fields of their kinds: a kind that is added is among them by itself. */
import type { Field } from '../fields/field.ts';
import { factsOf } from '../scene/facts.ts';
import { spotOn } from '../scene/spot.ts';
import type { Scene } from '../scene/types.ts';
import type { Selector } from '../select/selector.ts';
import { STEP_KINDS } from '../steps/kinds.ts';
import type { Step } from '../steps/kinds.ts';
import type { StepKind } from '../steps/kind.ts';
import type { Chance } from './randomScenes.ts';

/** Draws of parameters before the standard ones are taken: not all that are right alone are right together. */
const TRIES = 30;

export class RandomSteps {
  constructor(
    readonly chance: Chance,
    readonly scene: Scene,
    /** Kinds that are drawn. */
    readonly kinds: readonly StepKind[] = [...STEP_KINDS.values()],
  ) {}

  list(count: number): Step[] {
    return Array.from({ length: count }, (_, i) => this.step(`s${i}`));
  }

  step(id: string, kind = this.chance.of(this.kinds)): Step {
    const selector = this.selector();
    const step = (parameters: object): Step => ({ id, kind: kind.kind, on: true, selector, parameters, format: kind.format }); // prettier-ignore
    for (let i = 0; i < TRIES; i++) {
      const parameters = this.#parameters(kind);
      if (kind.schema.isValidSync(parameters, { strict: true })) return step(parameters);
    }
    return step(kind.example?.parameters ?? kind.defaults);
  }

  selector(): Selector {
    const { nodes } = this.scene;
    const row = this.#row();
    return this.chance.of<Selector>([
      { by: 'all' },
      { by: 'picked', keys: [nodes.key(row)] },
      { by: 'name', pattern: `${nodes.text('name', row).slice(0, 3)}*` },
      { by: 'layer', layers: ['STEEL'] },
      { by: 'size', min: 0.5 },
      { by: 'not', of: [{ by: 'layer', layers: ['GLASS'] }] },
    ]);
  }

  #row(): number {
    return this.chance.of([...factsOf(this.scene).order]);
  }

  #parameters(kind: StepKind): object {
    const base = { ...(kind.example?.parameters ?? kind.defaults) } as Record<string, unknown>;
    const out: Record<string, unknown> = {};
    for (const [name, field] of Object.entries(kind.fields as Record<string, Field<object>>)) {
      // Most stay as they usually are: one far out each time finds more than all at once.
      const value = this.chance.is(0.4) || base[name] === undefined ? this.#value(field, base[name]) : base[name];
      if (value !== undefined) out[name] = value;
    }
    return out;
  }

  #value(field: Field<object>, usual: unknown): unknown {
    const { chance, scene } = this;
    switch (field.type) {
      case 'choice':
        return chance.of(field.choices).value;
      case 'quantity': {
        if (field.optional && chance.is(0.5)) return undefined;
        // Near what is usual for it, and within its bounds.
        const [low, high] = [Math.max(field.min, -3), Math.min(field.max, 3)];
        const value = typeof usual === 'number' && chance.is(0.5) ? usual * chance.between(0.5, 2) : chance.between(low, high); // prettier-ignore
        const kept = Math.min(field.max, Math.max(field.min, value));
        return field.of === 'count' ? Math.round(kept) : kept;
      }
      case 'text':
        return field.optional && chance.is(0.5) ? undefined : chance.of(['Neu', 'Part {n}', 'a b', '']);
      case 'row':
        return field.optional !== undefined && chance.is(0.5) ? undefined : scene.nodes.key(this.#row());
      case 'spot':
        return field.optional && chance.is(0.5) ? undefined : spotOn(scene, this.#row(), [chance.between(-3, 3), chance.between(-3, 3), 0.5], field.withAxis ? [0, 0, 1] : undefined); // prettier-ignore
      case 'words':
        return ['STEEL'];
      default:
        return usual;
    }
  }
}
