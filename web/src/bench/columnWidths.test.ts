// Widths of columns: kept, within limits, and given up again.
import { beforeEach, describe, expect, it, vi } from 'vitest';

beforeEach(() => {
  localStorage.clear();
  vi.resetModules();
});
const load = () => import('./columnWidths.ts');

describe('the width of a column', () => {
  it('is kept for the next visit', async () => {
    const first = await load();
    first.setColumnWidth('layer', 180);
    expect(first.gridOf(['layer', 'triangles'])).toBe('minmax(150px, 1fr) minmax(48px, 180px) minmax(48px, 96px)');
    vi.resetModules();
    expect((await load()).columnWidth('layer')).toBe(180);
  });

  it('stays within what can be read', async () => {
    const { columnWidth, LIMITS, setColumnWidth } = await load();
    setColumnWidth('layer', 2);
    expect(columnWidth('layer')).toBe(LIMITS.least);
    setColumnWidth('layer', 9000);
    expect(columnWidth('layer')).toBe(LIMITS.most);
  });

  it('goes back to what suits it', async () => {
    const { columnWidth, resetColumnWidth, setColumnWidth } = await load();
    const before = columnWidth('material');
    setColumnWidth('material', 300);
    resetColumnWidth('material');
    expect(columnWidth('material')).toBe(before);
  });

  it.each(['{broken', '{"layer":"wide"}', 'null'])('is not upset by %s in the storage', async (stored) => {
    localStorage.setItem('noble-prism.columns', stored);
    expect((await load()).columnWidth('layer')).toBe(92);
  });
});
