// Escapes as defined by ISO 10303-21 (2002), clause 6.4.3; the examples of \X\ and \X2\ are Unicode code points.
import { describe, expect, it } from 'vitest';
import { decodeString } from './strings.ts';

const decode = (text: string) => decodeString(new TextEncoder().encode(text));

describe('strings of a STEP file', () => {
  it.each([
    ['plain text stays', 'Bull wheel, lined', 'Bull wheel, lined'],
    ['a doubled quote is one quote', "driver''s seat", "driver's seat"],
    ['a doubled backslash is one', 'C:\\\\parts', 'C:\\parts'],
    ['\\X2\\ holds UTF-16', 'Rad \\X2\\00D800380030\\X0\\ gr\\X2\\00FC\\X0\\n', 'Rad Ø80 grün'],
    ['\\X2\\ holds surrogate pairs', '\\X2\\D83DDE00\\X0\\', '😀'],
    ['\\X4\\ holds UTF-32', '\\X4\\0001F600\\X0\\', '😀'],
    ['\\X\\ holds one character of ISO 8859-1', 'Z\\X\\FCrich', 'Zürich'],
    ['\\S\\ adds 128', 'h\\S\\vher', 'höher'],
    ['\\P names the alphabet of \\S\\ (B is ISO 8859-2)', '\\PB\\\\S\\3', 'ł'],
    ['a line break inside a string means nothing', 'two\r\nlines', 'twolines'],
    ['several escapes in a row', "\\X\\C4\\X2\\00D6\\X0\\''", "ÄÖ'"],
  ])('%s', (_, written, meant) => expect(decode(written)).toBe(meant));

  it('takes the raw UTF-8 that many programs write', () => expect(decode('Größe 日本')).toBe('Größe 日本'));

  it('takes raw ISO 8859-1 where it is no UTF-8', () => {
    expect(decodeString(Uint8Array.of(0x47, 0x72, 0xf6, 0xdf, 0x65))).toBe('Größe');
  });

  it.each(['\\X2\\00', '\\X2\\00FC', '\\X2\\0G\\X0\\', '\\X\\', '\\S\\', '\\'])(
    'keeps the broken escape %s as it stands',
    (text) => {
      expect(decode(text)).toBe(text);
    },
  );

  it('drops code points beyond Unicode without failing', () => expect(decode('a\\X4\\7FFFFFFF\\X0\\b')).toBe('ab'));

  it('reads long names whole', () => {
    const long = 'x'.repeat(20_000);
    expect(decode(long)).toBe(long);
    expect(decode(`${long}ü`)).toBe(`${long}ü`);
  });
});
