/** How well words are found in what is called so: what begins with them before what only holds them. */

/** Smaller is better; undefined where a word is not found. @param also other words that it is looked for by, in the order of how near they are */
export function rankOf(sought: string, title: string, also: readonly string[] = []): number | undefined {
  let worst = 0;
  for (const word of sought.toLowerCase().split(/\s+/).filter(Boolean)) {
    const at = placeOf(word, title.toLowerCase(), also);
    if (at === undefined) return undefined;
    worst = Math.max(worst, at);
  }
  return worst;
}

const begins = (text: string, word: string) => text.split(/[^\p{L}\p{N}]+/u).some((part) => part.startsWith(word));

function placeOf(word: string, title: string, also: readonly string[]): number | undefined {
  if (title.startsWith(word)) return 0;
  if (begins(title, word)) return 1;
  const others = also.map((text) => text.toLowerCase());
  const beginning = others.findIndex((text) => begins(text, word));
  if (beginning >= 0) return 2 + beginning / (others.length + 1);
  if (title.includes(word)) return 3;
  const holding = others.findIndex((text) => text.includes(word));
  return holding >= 0 ? 4 + holding / (others.length + 1) : undefined;
}

/** What is found, best first; all as it stands where nothing is sought. */
export function ranked<T>(
  list: readonly T[],
  sought: string,
  words: (one: T) => { title: string; also?: readonly string[] },
): T[] {
  return list
    .flatMap((one) => {
      const { title, also } = words(one);
      const rank = rankOf(sought, title, also);
      return rank === undefined ? [] : [{ one, rank }];
    })
    .sort((a, b) => a.rank - b.rank)
    .map(({ one }) => one);
}
