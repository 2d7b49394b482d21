// Errors that come together are one note.
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { errorToasts, gathered } from './errorToasts.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());
const note = (i: number) => ({ summary: `${i}.stp`, detail: 'It is damaged.' });

describe('errors', () => {
  it('that come within a moment are one note, equal ones once', () => {
    const toast = { add: vi.fn(), removeGroup: vi.fn() };
    const show = errorToasts(toast);
    for (const i of [1, 2, 2, 3]) show(note(i));
    expect(toast.add).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1000);
    expect(toast.add).toHaveBeenCalledTimes(1);
    expect(toast.add.mock.calls[0][0]).toMatchObject({ summary: '3 were not done', severity: 'error' });
  });

  it('that come later take the place of the note before', () => {
    const toast = { add: vi.fn(), removeGroup: vi.fn() };
    const show = errorToasts(toast);
    show(note(1));
    vi.advanceTimersByTime(1000);
    show(note(2));
    vi.advanceTimersByTime(1000);
    expect(toast.removeGroup).toHaveBeenCalledTimes(2);
    expect(toast.add.mock.calls[1][0]).toMatchObject({ summary: '2.stp', detail: 'It is damaged.' });
  });

  it('are named one by one up to five', () => {
    const { detail } = gathered([1, 2, 3, 4, 5, 6, 7].map(note));
    expect(detail.split('\n')).toHaveLength(6);
    expect(detail).toContain('and 2 more');
  });
});
