/** Colours by the name that people have for them: the nearest of some plain ones, as the eye tells them apart. */
import { linearFromHex } from './colour.ts';

const PLAIN: Readonly<Record<string, string>> = {
  black: '#000000', 'dark grey': '#404040', grey: '#808080', 'light grey': '#c0c0c0', white: '#ffffff',
  red: '#d02020', 'dark red': '#701010', pink: '#f0a0b0', orange: '#f08020', brown: '#7a4a20', beige: '#e0d0a8', yellow: '#f0e020',
  olive: '#707020', green: '#209030', 'dark green': '#0c4018', 'light green': '#90e090', turquoise: '#20b0b0',
  blue: '#2040d0', 'dark blue': '#0c1860', 'light blue': '#90c8f0', violet: '#7030b0', magenta: '#e020c0',
}; // prettier-ignore

/** Lightness and two colour axes that are evenly spaced to the eye (Ottosson 2020, OKLab). @param colour linear */
function labOf([r, g, b]: readonly number[]): [number, number, number] {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}
const LABS = Object.entries(PLAIN).map(([name, hex]) => ({ name, lab: labOf(linearFromHex(hex)) }));

/** @param hex `#rrggbb` */
export function plainColour(hex: string): string {
  const lab = labOf(linearFromHex(hex));
  // A pale or a dark one is called by its hue sooner than by its lightness.
  const apart = (other: readonly number[]) =>
    Math.hypot(...other.map((value, i) => (value - lab[i]) * (i === 0 ? 0.6 : 1.6)));
  return LABS.reduce((best, one) => (apart(one.lab) < apart(best.lab) ? one : best)).name;
}

/** The name of a material as people read it: a bare code of a colour with what it is called before it. */
export function shownName(name: string): string {
  const code = /^(?:colou?r\s*)?(#[0-9a-f]{6})$/i.exec(name)?.[1];
  return code ? `${plainColour(code)} ${code.toLowerCase()}` : name;
}
