/** Errors as notes over the view: those that come within a moment are one note, so that four broken files do not cover the bench. */
import type { ToastServiceMethods } from 'primevue/toastservice';

export interface ErrorNote {
  summary: string;
  detail: string;
}

/** Errors that come within this time are shown together, milliseconds. */
const TOGETHER = 700;
/** Lines of one note. */
const LINES = 5;
const GROUP = 'errors';

export function errorToasts(toast: Pick<ToastServiceMethods, 'add' | 'removeGroup'>): (note: ErrorNote) => void {
  let notes: ErrorNote[] = [];
  let timer: ReturnType<typeof setTimeout> | undefined;
  const show = () => {
    // What has been said already makes room.
    toast.removeGroup(GROUP);
    toast.add({ severity: 'error', group: GROUP, ...gathered(notes), life: 12_000 });
    notes = [];
  };
  return (note) => {
    if (!notes.some((other) => other.summary === note.summary && other.detail === note.detail)) notes.push(note);
    clearTimeout(timer);
    timer = setTimeout(show, TOGETHER);
  };
}

/** One note of several. */
export function gathered(notes: readonly ErrorNote[]): ErrorNote {
  if (notes.length === 1) return notes[0];
  const lines = notes.slice(0, LINES).map(({ summary, detail }) => `${summary}: ${detail}`);
  if (notes.length > LINES) lines.push(`and ${notes.length - LINES} more`);
  return { summary: `${notes.length} were not done`, detail: lines.join('\n') };
}
