// Files that no reader takes: what they are is told by their first bytes (as the standards of each say), not by how they are called.
import { describe, expect, it } from 'vitest';
import { readSource } from './readSource.ts';

const refusal = async (name: string, head: string): Promise<string> => {
  const bytes = Uint8Array.from(head, (letter) => letter.charCodeAt(0));
  return readSource({ name, bytes }, 's').then(
    () => 'read',
    (error: Error) => error.message,
  );
};

describe('a file that is not read', () => {
  it.each([
    ['plan.pdf', '%PDF-1.7\n%\xe2\xe3', /is a PDF/],
    ['plan.txt', '%PDF-1.7\n', /is a PDF/],
    ['logo.svg', '<?xml version="1.0"?><svg xmlns="x">', /open drawing/],
    ['plan.dxf', '  0\nSECTION\n  2\nHEADER\n', /DXF: an open drawing/],
    ['photo.dat', '\x89PNG\r\n\x1a\n', /is a picture/],
    ['assembly.xyz', '\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1\x00\x00', /format of one program, as its first bytes say/],
    ['hall.xyz', '\x00\x01\x02binary', /format of one program/],
    ['hall.rar', 'Rar!\x1a\x07', /pack it as a zip/],
    ['hall.stp', '<!DOCTYPE html><html>', /page of the web|not|STEP/],
    ['notes.txt', 'some words', /not in an open format that Noble Prism reads/],
  ])('%s, %j', async (name, head, words) => {
    const message = await refusal(name, head);
    expect(message).toMatch(words);
    expect(message.startsWith(name)).toBe(true);
  });

  it('says in order what to ask for, and what to look at when it comes; open formats are not called those of one program', async () => {
    const closed = await refusal('a.xyz', '\x00\x01');
    expect(closed.indexOf('STEP')).toBeLessThan(closed.indexOf('IFC'));
    expect(closed).toContain('look at its unit and size');
    for (const [name, head] of [
      ['a.svg', '<svg>'],
      ['a.dxf', '0\nSECTION'],
      ['a.pdf', '%PDF-1'],
    ])
      // prettier-ignore
      expect(await refusal(name, head)).not.toContain('one program');
  });
});
