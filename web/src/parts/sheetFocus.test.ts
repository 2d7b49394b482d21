// @vitest-environment happy-dom
import { afterEach, expect, it } from 'vitest';
import { keepFocusInSheets } from './sheetFocus.ts';

const frame = () => new Promise((done) => requestAnimationFrame(done));
const field = (id: string) => document.getElementById(id) as HTMLInputElement;
const SHEET =
  '<div role="dialog" aria-modal="true"><button>Close</button><input id="within" autofocus><input id="other"></div>';

let end = () => {};
afterEach(() => end());

it('gives the keyboard back to the sheet that is open, and leaves it alone otherwise', async () => {
  end = keepFocusInSheets(document);
  document.body.innerHTML = `<input id="page"><div class="p-select-overlay"><input id="choices"></div>${SHEET}`;
  field('page').focus();
  await frame();
  expect(document.activeElement?.id).toBe('within');
  // Another field of it, and a list of choices that floats above it, are its own.
  for (const id of ['other', 'choices']) {
    field(id).focus();
    await frame();
    expect(document.activeElement?.id).toBe(id);
  }
  // One that closes in the same moment gives it to the page.
  field('page').focus();
  document.querySelector('[role=dialog]')?.remove();
  await frame();
  expect(document.activeElement?.id).toBe('page');
});
