/** Sources that were not read in full: what was noticed of them means that something is missing from the scene. */
import { WARNINGS } from '../errors.ts';
import type { Warning } from '../errors.ts';
import { factsOf } from './facts.ts';
import type { Scene, SourceInfo } from './types.ts';

/** What was lost of a source, that it is cut off before all else. */
export function lossesOf({ warnings }: Pick<SourceInfo, 'warnings'>): Warning[] {
  const lost = warnings.filter(({ code }) => WARNINGS[code] === 'lost');
  return [...lost.filter(isCut), ...lost.filter((warning) => !isCut(warning))];
}
const isCut = ({ code }: Warning) => code === 'truncated';

/** Losses that are said one by one, of each source. */
const SAID = 1;

/** A sentence for each source with rows in the scene that was not read in full; none where all were. */
export function notInFull(scene: Scene): string[] {
  const shown = new Set(factsOf(scene).wordsIn('source'));
  return scene.sources
    .filter(({ id }) => shown.has(id))
    .flatMap((source) => {
      const losses = lossesOf(source);
      if (losses.length === 0) return [];
      const words = losses
        .slice(0, SAID)
        .map(({ message, where }) => (where && !message.includes(where) ? `${message} (${where})` : message));
      const more = losses.length > SAID ? ` And ${losses.length - SAID} more.` : '';
      return [`${source.name} was not read in full: ${words.join(' ')}${more}`];
    });
}
