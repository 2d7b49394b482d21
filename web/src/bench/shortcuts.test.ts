// Shortcuts work wherever nobody types: after a list of choices was used too.
import { beforeEach, describe, expect, it } from 'vitest';
import { shortcutOf } from './shortcuts.ts';

beforeEach(() => {
  document.body.innerHTML = `
    <input id="name" /><input id="on" type="checkbox" /><textarea id="note"></textarea>
    <div class="p-select"><span id="closed" role="combobox" aria-expanded="false"></span></div>
    <div class="p-select"><span id="open" role="combobox" aria-expanded="true"></span></div>
    <div class="p-select-overlay"><input id="filter" /><li id="option"></li></div>
    <div class="p-dialog"><button id="ok"></button></div><button id="button"></button>`;
});

const press = (id: string, key: string, more: Partial<KeyboardEvent> = {}) =>
  shortcutOf({
    key,
    ctrlKey: false,
    metaKey: false,
    altKey: false,
    shiftKey: false,
    ...more,
    target: document.getElementById(id),
  });

describe('a key press', () => {
  it.each(['button', 'on', 'closed'])('on %s is a shortcut', (id) => {
    expect(press(id, '4')).toEqual({ key: '4' });
    expect(press(id, 'F')).toEqual({ key: 'f' });
    expect(press(id, 'z', { ctrlKey: true })).toBe('undo');
    expect(press(id, 'Z', { metaKey: true, shiftKey: true })).toBe('redo');
    expect(press(id, 'y', { ctrlKey: true })).toBe('redo');
  });

  it.each(['name', 'note', 'open', 'filter', 'option', 'ok'])('on %s is none', (id) => {
    expect(press(id, '4')).toBeUndefined();
    expect(press(id, 'z', { ctrlKey: true })).toBeUndefined();
  });

  it.each(['Enter', ' ', 'ArrowDown', 'Home'])('of %s is left to a closed list, and nowhere else', (key) => {
    expect(press('closed', key)).toBeUndefined();
    expect(press('button', key)).toBeDefined();
  });

  it('with Alt, or with Ctrl and another letter, is none', () => {
    expect(press('button', 'f', { altKey: true })).toBeUndefined();
    expect(press('button', 'f', { ctrlKey: true })).toBeUndefined();
    expect(press('button', 'z', { ctrlKey: true, altKey: true })).toBeUndefined();
  });
});
