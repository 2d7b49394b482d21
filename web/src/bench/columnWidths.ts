/** Widths of the ledger's columns as somebody has drawn them, kept in the browser. The first column takes what is left. */
import { ref } from 'vue';

/** Pixels. Narrower, no figure can be read; wider, no name is left. */
export const LIMITS = { least: 48, most: 420 } as const;

const DEFAULTS: Record<string, number> = { layer: 92, material: 128, triangles: 96, deviation: 84, size: 96 };
const KEY = 'noble-prism.columns';

const within = (width: number) => Math.round(Math.min(LIMITS.most, Math.max(LIMITS.least, width)));

const widths = ref<Record<string, number>>(kept());

function kept(): Record<string, number> {
  try {
    const stored = (JSON.parse(localStorage.getItem(KEY) ?? '{}') ?? {}) as Record<string, unknown>;
    return Object.fromEntries(
      Object.entries(stored).flatMap(([id, width]) => (typeof width === 'number' ? [[id, within(width)]] : [])),
    );
  } catch {
    // Private windows may have no storage; what it holds may be anything.
    return {};
  }
}

export function columnWidth(id: string): number {
  return widths.value[id] ?? DEFAULTS[id] ?? 96;
}

/** The name keeps this much, and the others give way down to their least. Pixels. */
const NAME_LEAST = 150;

/** Tracks of the grid for these columns. */
export function gridOf(ids: readonly string[]): string {
  return [`minmax(${NAME_LEAST}px, 1fr)`, ...ids.map((id) => `minmax(${LIMITS.least}px, ${columnWidth(id)}px)`)].join(
    ' ',
  );
}

export function setColumnWidth(id: string, width: number): void {
  widths.value = { ...widths.value, [id]: within(width) };
  try {
    localStorage.setItem(KEY, JSON.stringify(widths.value));
  } catch {
    // Then it holds for this window.
  }
}

/** Back to the width that suits the column. */
export function resetColumnWidth(id: string): void {
  const { [id]: _, ...rest } = widths.value;
  widths.value = rest;
  try {
    localStorage.setItem(KEY, JSON.stringify(rest));
  } catch {
    // Then it holds for this window.
  }
}
