import { describe, expect, it } from 'vitest';
import { looksLikePart21, scanPart21 } from './scan.ts';
import { Enumeration, Ref, Typed } from './values.ts';

const file = (data: string, header = '') =>
  scanPart21(
    new TextEncoder().encode(`ISO-10303-21;HEADER;${header}ENDSEC;DATA;${data}ENDSEC;END-ISO-10303-21;`),
    'test.stp',
  );

describe('scanning Part 21', () => {
  it('finds entities, their types and what they refer to', () => {
    const part21 = file('#10=A(#20,#30);#20=B();#30=A($,#10);');
    expect([...part21.ids]).toEqual([10, 20, 30]);
    expect(part21.ofType('A')).toEqual([0, 2]);
    expect(part21.typeOf(1)).toBe('B');
    expect([...part21.refs.slice(part21.refStarts[0], part21.refStarts[1])]).toEqual([20, 30]);
    expect(part21.indexOf(30)).toBe(2);
    expect(part21.indexOf(31)).toBe(-1);
  });

  it('parses every kind of parameter', () => {
    const [args] = [file("#1=X('a''b',1.5E-3,-2,.MILLI.,$,*,#7,(1,(2)),LENGTH_MEASURE(25.4),\"0F\");").args(0)];
    expect(args).toEqual([
      "a'b",
      0.0015,
      -2,
      new Enumeration('MILLI'),
      null,
      null,
      new Ref(7),
      [1, [2]],
      new Typed('LENGTH_MEASURE', [25.4]),
      '0F',
    ]);
  });

  it('knows complex instances by each of their parts', () => {
    const part21 = file("#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));#2=(A('x'));");
    expect(part21.ofType('LENGTH_UNIT')).toEqual([0]);
    expect(part21.is(0, 'SI_UNIT')).toBe(true);
    expect(part21.is(0, 'UNIT')).toBe(false);
    expect(part21.args(0, 'SI_UNIT')).toEqual([new Enumeration('MILLI'), new Enumeration('METRE')]);
    expect(part21.args(1, 'A')).toEqual(['x']);
  });

  it('is not misled by strings and comments', () => {
    const part21 = file("#1=A('#2; ENDSEC; it''s (');/* #9=B(); */#2=B(/* #3 */#1);");
    expect([...part21.ids]).toEqual([1, 2]);
    expect([...part21.refs]).toEqual([1]);
    expect(part21.args(0)).toEqual(["#2; ENDSEC; it's ("]);
  });

  it('takes spaces and line breaks anywhere', () => {
    const part21 = file('\n#1 =\r\n A\t( #2 ,\n 3. ) ;\n#2\n=B( );');
    expect(part21.args(0)).toEqual([new Ref(2), 3]);
    expect(part21.lineOf(1)).toBeGreaterThan(part21.lineOf(0));
  });

  it('reads the header', () => {
    const { header } = file(
      '#1=A();',
      "FILE_DESCRIPTION(('a gearbox'),'2;1');FILE_NAME('g.stp','2026-01-02T03:04:05',('me'),('us'),'pre 1.0','sys 2','');FILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 }'));",
    );
    expect(header).toMatchObject({
      description: 'a gearbox',
      timeStamp: '2026-01-02T03:04:05',
      producer: 'pre 1.0, sys 2',
      schema: 'AUTOMOTIVE_DESIGN { 1 0 10303 214 }',
    });
  });

  it('looks up ids that are far apart', () => {
    const part21 = file('#2000000000=A(#5);#5=B();');
    expect(part21.indexOf(2000000000)).toBe(0);
    expect(part21.indexOf(6)).toBe(-1);
  });

  it('recognises the format by its first words only', () => {
    const bytes = (text: string) => new TextEncoder().encode(text);
    expect(looksLikePart21(bytes('\ufeff\n ISO-10303-21;'))).toBe(true);
    expect(looksLikePart21(bytes('solid part'))).toBe(false);
  });

  it('keeps what stands before a cut, and names the entity', () => {
    const part21 = scanPart21(
      new TextEncoder().encode("ISO-10303-21;HEADER;ENDSEC;DATA;#1=A();#2=B('unfin"),
      'cut.stp',
    );
    expect([...part21.ids]).toEqual([1]);
    expect(part21.warnings).toEqual([
      expect.objectContaining({ code: 'truncated', where: '#2', message: expect.stringContaining('#2') }),
    ]);
  });

  it('says so where the end is missing though every entity is whole', () => {
    expect(scanPart21(new TextEncoder().encode('ISO-10303-21;HEADER;ENDSEC;DATA;#1=A();')).warnings[0].code).toBe(
      'truncated',
    );
  });

  it.each([
    ['', 'empty-file', '0 bytes'],
    ['hello', 'not-readable', 'not a STEP file'],
    ['ISO-10303-21;HEADER;ENDSEC;', 'not-readable', 'DATA'],
  ])('refuses %j with a sentence', (text, code, words) => {
    expect(() => scanPart21(new TextEncoder().encode(text), 'bad.stp')).toThrow(
      expect.objectContaining({ code, file: 'bad.stp', message: expect.stringContaining(words) }),
    );
  });

  it('refuses parentheses nested beyond reason instead of overflowing the stack', () => {
    const part21 = file(`#1=A(${'('.repeat(100_000)}${')'.repeat(100_000)});`);
    expect(() => part21.args(0)).toThrow(/#1.*deep/);
  });

  it.each(['#1=A(1', '#1=A(%);', '#1=A(.X', '#1=A(B);'])('names the entity of the malformed text %s', (text) => {
    const part21 = file(`${text};#2=B();`);
    if (part21.indexOf(1) >= 0) expect(() => part21.args(part21.indexOf(1))).toThrow(/#1/);
  });
});
