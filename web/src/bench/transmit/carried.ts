/** The carry-over sheet of targets, side by side: what each carries, changes or loses of the job. */
import type { CarryOver, CarryOverLine } from '@noble-prism/core/transmit/carryOver';
import { formatCount } from '@noble-prism/core/units';

export interface SheetRow {
  what: CarryOverLine['what'];
  title: string;
  /** `12 materials`; empty for the unit, the axis and the origin. */
  amount: string;
  /** A line for each target. */
  cells: CarryOverLine[];
}

/** Rows of the sheet: a line of every target for everything that the job has. */
export function sheetOf(sheets: readonly CarryOver[]): SheetRow[] {
  const [first] = sheets;
  return (first?.lines ?? []).map(({ what, title, count, of }) => ({
    what,
    title,
    amount: count === undefined ? '' : `${formatCount(count)} ${of}`,
    cells: sheets.flatMap(({ lines }) => lines.find((line) => line.what === what) ?? []),
  }));
}

/** `4 lost, 3 changed`, or that all is carried. */
export function inShort({ lines }: CarryOver): { text: string; tone: 'good' | 'warn' | '' } {
  const lost = lines.filter(({ state }) => state === 'lost').length;
  const other = lines.filter(({ state }) => state === 'changed').length;
  if (lost > 0) return { text: `${lost} lost${other > 0 ? `, ${other} changed` : ''}`, tone: 'warn' };
  return other > 0 ? { text: `${other} changed`, tone: '' } : { text: 'carries all', tone: 'good' };
}
