/** Takes off what exporters and copying add to names. */

/** `.001`, `:2`, `#2`, ` (2)`, `<2>`, `[2]`, `;2`, ` - 2` after a copy: common practice of programs that have to keep names apart. */
const COUNTERS = /(?:\.\d{3,}|\s*[:;#]\s*\d+|\s*\(\d+\)|\s*<\d+>|\s*\[\d+\]|\s*[-–]?\s*copy(?:\s*\(?\d+\)?)?)$/iu;
/** `_1`, `-1`, ` 1` too: they may as well belong to the name. */
const NUMBERS = /[\s_-]+\d+$/u;

/** Takes off one after the other, as long as something of the name is left. */
export function withoutSuffixes(name: string, numbersToo: boolean): string {
  let out = name;
  for (;;) {
    const next = out.replace(COUNTERS, '');
    const shorter = (next === out && numbersToo ? next.replace(NUMBERS, '') : next).trimEnd();
    if (shorter === out || shorter.trim() === '') return out;
    out = shorter;
  }
}
