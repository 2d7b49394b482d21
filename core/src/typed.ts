/** Numbers, lengths and angles as people type them: with groups of digits, with a comma, in feet and inches, with the unit or without. */
import { metresPer } from './units.ts';

const SPACE = '[ \\u00a0\\u2009\\u202f]';
/** `1 000`, `1,000`, `1 000.5`: a comma that is followed by three digits each time, and stands for no fraction of less than one. */
const GROUPED = new RegExp(`^([1-9]\\d{0,2})((?:${SPACE}\\d{3})+|(?:,\\d{3})+)(\\.\\d*)?$`);
/** `1.000,5` */
const OTHER_WAY = /^[1-9]\d{0,2}(?:\.\d{3})+,\d+$/;
const PLAIN = /^(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?$/i;

/** A number; undefined where it is none. `1,500` is one and a half thousand, `1,5` one and a half. */
export function parseNumber(text: string): number | undefined {
  const [, sign = '', rest = ''] = /^\s*([+\-−]?)\s*(.*?)\s*$/.exec(text) ?? [];
  const grouped = GROUPED.exec(rest);
  const plain = grouped
    ? `${grouped[1]}${grouped[2].replace(/\D/g, '')}${grouped[3] ?? ''}`
    : OTHER_WAY.test(rest)
      ? rest.replaceAll('.', '').replace(',', '.')
      : rest.replace(/^(\d*),(\d+)$/, '$1.$2');
  if (!PLAIN.test(plain)) return undefined;
  return Number(plain) * (sign === '-' || sign === '−' ? -1 : 1);
}

/** A number, a fraction, or both: `3/8`, `1 1/2`. */
function parseMixed(text: string): number | undefined {
  const found = /^\s*(?:(\d+)\s+|(\d+)-)?(\d+)\s*\/\s*(\d+)\s*$/.exec(text);
  if (!found) return parseNumber(text);
  const [, spaced, joined, over, under] = found;
  return Number(under) === 0 ? undefined : Number(spaced ?? joined ?? 0) + Number(over) / Number(under);
}

const FEET = /^(.+?)\s*(?:'|′|’|ft|feet|foot)\s*-?\s*(.*)$/i;
const INCHES = /^(.+?)\s*(?:"|″|”|''|in|inch|inches)$/i;

/**
 * A length in metres; undefined where it is none. `0.1mm`, `1 000 mm`, `3"`, `2'`, `1' 6"`, `1/2 in`.
 * @param fallback unit of a bare number
 */
export function parseLength(text: string, fallback = 'mm'): number | undefined {
  const [, sign = '', rest = ''] = /^\s*([+\-−]?)\s*(.*?)\s*$/.exec(text) ?? [];
  const length = feetAndInches(rest) ?? inUnit(rest, fallback);
  return length === undefined ? undefined : length * (sign === '-' || sign === '−' ? -1 : 1);
}

function feetAndInches(text: string): number | undefined {
  const feet = FEET.exec(text);
  const whole = feet ? parseMixed(feet[1]) : 0;
  const inches = feet ? feet[2].replace(INCHES, '$1') : INCHES.exec(text)?.[1];
  if (whole === undefined || inches === undefined) return undefined;
  const part = inches === '' ? 0 : parseMixed(inches);
  // A sign stands before all of it.
  if (part === undefined || part < 0 || whole < 0) return undefined;
  return whole * (metresPer('ft') ?? 0) + part * (metresPer('in') ?? 0);
}

function inUnit(text: string, fallback: string): number | undefined {
  const [, number = '', unit = ''] = /^(.*?)\s*([a-zµ]*)$/i.exec(text) ?? [];
  const value = parseMixed(number);
  const metres = metresPer(unit || fallback);
  return value === undefined || value < 0 || metres === undefined ? undefined : value * metres;
}

/** `20deg`, `20°`, `0.35rad`: radians; a bare number is in degrees. Undefined where it is none. */
export function parseAngle(text: string): number | undefined {
  const [, number = '', unit = ''] = /^(.*?)\s*(deg|°|rad)?\s*$/i.exec(text) ?? [];
  const value = parseNumber(number);
  return value === undefined || unit.toLowerCase() === 'rad' ? value : (value * Math.PI) / 180;
}
