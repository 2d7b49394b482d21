/** Prints figures: a name, a value, what it is compared with, and what was aimed at. */

export interface Figure {
  name: string;
  value: number;
  unit: string;
  /** What the design asks for; a figure without one is for information. */
  aim?: { least?: number; most?: number };
  note?: string;
}

export function print({ name, value, unit, aim, note }: Figure): void {
  const holds = aim === undefined || ((aim.least ?? -Infinity) <= value && value <= (aim.most ?? Infinity));
  const wanted = aim
    ? ` (aim ${aim.least !== undefined ? `≥ ${aim.least}` : `≤ ${aim.most}`}: ${holds ? 'reached' : 'missed'})`
    : '';
  process.stdout.write(`${name}: ${value.toFixed(value < 10 ? 2 : 1)} ${unit}${wanted}${note ? `; ${note}` : ''}\n`);
}

/** Seconds that some work takes: the best of some runs, since everything else only adds to it. */
export async function seconds(runs: number, work: () => unknown): Promise<number> {
  let best = Infinity;
  for (let run = 0; run < runs; run++) {
    const start = performance.now();
    await work();
    best = Math.min(best, (performance.now() - start) / 1000);
  }
  return best;
}
