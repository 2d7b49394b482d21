// What an XML processor has to refuse: entity expansion (W3C XML 1.0, 4.4), and what it may lose by a cut.
import { describe, expect, it } from 'vitest';
import { bytesOf } from '../testing/reading.ts';
import { child, childrenNamed, everything, decimalOf, decimalsOf, numbersOf, parseXml } from './xml.ts';

describe('XML', () => {
  it('gives names without prefix, attributes, texts and lines', () => {
    const { root } = parseXml(
      bytesOf('<?xml version="1.0"?>\n<m:a xmlns:m="urn:x" m:id="1">\n <b k="2">t &amp; <![CDATA[<u>]]></b>\n</m:a>'),
      'x',
    );
    expect([root.name, root.attributes.id, root.line]).toEqual(['a', '1', 2]);
    expect(child(root, 'b')).toMatchObject({ text: 't & <u>', line: 3, attributes: { k: '2' } });
    expect([...everything(root)].map(({ name }) => name)).toEqual(['a', 'b']);
  });

  it('hands out the small ones instead of keeping them', () => {
    const taken: string[] = [];
    const { root } = parseXml(bytesOf('<a><v x="1"/><v x="2"><w/></v><b/></a>'), 'x', {
      take: (name, { x }) => name === 'v' && taken.push(x) > 0,
    });
    expect(taken).toEqual(['1', '2']);
    expect(root.children.map(({ name }) => name)).toEqual(['b']);
  });

  it('refuses entities that a text declares itself, before one is expanded', () => {
    const bomb = '<!DOCTYPE a [<!ENTITY x "ha"><!ENTITY y "&x;&x;&x;&x;">]><a>&y;</a>';
    expect(() => parseXml(bytesOf(bomb), 'bomb.dae')).toThrow(/bomb\.dae.*entities/);
    const file = '<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/passwd">]><a>&x;</a>';
    expect(() => parseXml(bytesOf(file), 'x')).toThrow(/entities/);
  });

  it('takes a document type without entities', () => {
    expect(parseXml(bytesOf('<!DOCTYPE X3D PUBLIC "a" "b"><X3D/>'), 'x').root.name).toBe('X3D');
  });

  it('keeps what stands before a cut, and says where it is', () => {
    const { root, broken } = parseXml(bytesOf('<a>\n<b/>\n<c><d/>'), 'x');
    expect(childrenNamed(root, 'b', 'c')).toHaveLength(2);
    expect(broken).toMatch(/line \d/);
  });

  it('refuses nesting without end, and what is no XML', () => {
    expect(() => parseXml(bytesOf('<a>'.repeat(2000)), 'deep')).toThrow(/deep.*500/);
    expect(() => parseXml(bytesOf('just words'), 'words')).toThrow(/not readable as XML/);
    expect(() => parseXml(new Uint8Array(), 'empty')).toThrow(/empty/);
  });

  it('reads other encodings as declared', () => {
    const latin = Uint8Array.from(
      [...'<?xml version="1.0" encoding="ISO-8859-1"?><a n="Tür"/>'].map((c) => c.charCodeAt(0)),
    );
    expect(parseXml(latin, 'x').root.attributes.n).toBe('Tür');
  });

  it('reads lists of numbers by blanks or commas', () => {
    expect(numbersOf(' 1 2,3\n-4e1 ')).toEqual([1, 2, 3, -40]);
    expect(numbersOf('')).toEqual([]);
    expect(numbersOf('1 x')).toEqual([1, NaN]);
    expect(decimalsOf('1,5 -0,25e1 2 3.5')).toEqual([1.5, -2.5, 2, 3.5]);
    expect(decimalsOf('1,2,3')).toEqual([1, 2, 3]);
    expect(decimalOf('0,01')).toBe(0.01);
    expect(decimalOf(undefined)).toBeNaN();
  });
});
