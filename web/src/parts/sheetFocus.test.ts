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

it('hands a key to the sheet that is pressed while something behind it still has the focus', () => {
  end = keepFocusInSheets(document);
  document.body.innerHTML = `<span id="closing" tabindex="0"></span>${SHEET}`;
  const heard: string[] = [];
  document.getElementById('closing')?.addEventListener('keydown', ({ key }) => heard.push(`behind ${key}`));
  document.querySelector('[role=dialog]')?.addEventListener('keydown', (event) => {
    heard.push((event as KeyboardEvent).key);
    if ((event as KeyboardEvent).key === 'Enter') event.preventDefault();
  });
  const press = (id: string, key: string) => {
    field(id).focus();
    const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
    field(id).dispatchEvent(event);
    return event;
  };
  expect(press('closing', 'Escape').defaultPrevented).toBe(false);
  expect(document.activeElement?.id).toBe('within');
  expect(press('closing', 'Enter').defaultPrevented).toBe(true);
  press('other', 'a');
  expect(heard).toEqual(['Escape', 'Enter', 'a']);
  expect(document.activeElement?.id).toBe('other');
});
