/** Finds and replaces in names. Letters that look the same are the same, however they are written (Unicode Standard Annex 15). */

export interface Replacing {
  find: string;
  replace: string;
  where: 'anywhere' | 'start' | 'end';
}

/** Letters with their marks as one sign each: `e` with an accent of its own is `é`. */
export function composedName(name: string): string {
  return name.normalize('NFC');
}

/** @returns the name as it was where nothing is found, to the letter */
export function replacedIn(name: string, { find, replace, where }: Replacing): string {
  const wanted = composedName(find);
  const text = composedName(name);
  if (wanted === '') return name;
  switch (where) {
    case 'start':
      return text.startsWith(wanted) ? composedName(replace + text.slice(wanted.length)) : name;
    case 'end':
      return text.endsWith(wanted) ? composedName(text.slice(0, text.length - wanted.length) + replace) : name;
    case 'anywhere':
      return text.includes(wanted) ? composedName(text.replaceAll(wanted, () => replace)) : name;
  }
}
