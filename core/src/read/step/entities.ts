/** Reads the entities of a STEP file one at a time: what is malformed or missing is warned of once, and only what needs it is lost. */
import type { WarningCode } from '../../errors.ts';
import { Ref } from './values.ts';
import type { Part21 } from './part21.ts';
import type { Value } from './values.ts';
import { placementMatrix } from './placement.ts';
import { lengthUnitOf, UNDECLARED } from './units.ts';
import type { LengthUnit } from './units.ts';

const MAX_NAME = 1_000;

export class Entities {
  readonly #warned = new Set<string>();
  /** Length units by representation context, as far as they were asked for. */
  readonly units = new Map<number, LengthUnit>();

  constructor(readonly file: Part21) {}

  warn(code: WarningCode, message: string, index: number): void {
    const key = `${code}${index}`;
    if (this.#warned.has(key)) return;
    this.#warned.add(key);
    if (this.file.warnings.length < 1000) this.file.warnings.push({ code, message, where: this.file.where(index) });
  }

  /** Parameters of an entity; a malformed one is warned of and counts as empty, so that only what needs it is lost. */
  args(index: number, part?: string): Value[] {
    try {
      return this.file.args(index, part);
    } catch (error) {
      this.warn('malformed', `${(error as Error).message} What needs it was left out.`, index);
      return [];
    }
  }

  /** Matrix of a placement; a malformed one is warned of. */
  placement(id: number, metres: number): number[] | undefined {
    try {
      return placementMatrix(this.file, id, metres);
    } catch (error) {
      this.warn('malformed', `${(error as Error).message} The placement was left out.`, this.file.indexOf(id));
      return undefined;
    }
  }

  /** Index that a parameter refers to; warns where the entity is not in the file. */
  follow(value: Value | undefined, from: number): number {
    if (!(value instanceof Ref)) return -1;
    const index = this.file.indexOf(value.id);
    if (index < 0)
      this.warn('dangling', `Entity #${this.file.ids[from]} refers to #${value.id}, which is not in the file.`, from);
    return index;
  }

  /** Runs on one entity; a malformed one is warned of and left out. */
  each(type: string, visit: (index: number, args: Value[]) => void, part?: string): void {
    for (const index of this.file.ofType(type)) {
      try {
        visit(index, this.args(index, part));
      } catch (error) {
        this.warn('malformed', `${(error as Error).message} It was left out.`, index);
      }
    }
  }

  contextOf(representation: number): number {
    const context = this.args(representation).findLast((arg) => arg instanceof Ref);
    return context instanceof Ref ? this.file.indexOf(context.id) : -1;
  }

  unit(context: number): LengthUnit {
    let unit = this.units.get(context);
    if (!unit) {
      try {
        unit = lengthUnitOf(this.file, context);
      } catch {
        unit = UNDECLARED;
      }
      if (!unit.declared && context >= 0)
        this.warn('unit', 'No length unit is declared; millimetres are assumed.', context);
      this.units.set(context, unit);
    }
    return unit;
  }

  safely(read: () => string): string {
    try {
      return read();
    } catch {
      return '';
    }
  }

  text(value: Value | undefined, index?: number): string {
    if (typeof value !== 'string') return '';
    // Control characters would break tables and file names further on.

    const clean = value.replace(/[\u0000-\u001f\u007f]/g, ' ').trim();
    if (clean.length <= MAX_NAME) return clean;
    if (index !== undefined)
      this.warn(
        'long-name',
        `A name of ${clean.length.toLocaleString('en')} characters was cut to ${MAX_NAME.toLocaleString('en')}.`,
        index,
      );
    return `${clean.slice(0, MAX_NAME)}…`;
  }
}
