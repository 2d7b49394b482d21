/** What is different between two transmittals, from their manifests alone: sources, steps, parts, size. */
import { counted, formatCount, formatLength } from '../units.ts';
import type { TransmittalManifest } from './manifest.ts';

export interface Change {
  what: string;
  /** In words, worst or first few; `more` says how many others there are. */
  items: string[];
  more: number;
}

/** Things that are named one by one. */
const NAMED = 12;

type Part = TransmittalManifest['parts'][number];

/** @returns nothing where both hold the same */
export function changesBetween(before: TransmittalManifest, after: TransmittalManifest): Change[] {
  // Where one of both does not know the revisions, they are no difference.
  const numbered = [before, after].every(({ sources: all }) => all.every(({ revision }) => revision !== undefined));
  const sources = differences(before.sources.map(sourceText(numbered)), after.sources.map(sourceText(numbered)));
  const steps = differences(before.steps.map(stepText), after.steps.map(stepText));
  const [old, now] = [byPath(before.parts), byPath(after.parts)];
  const added = [...now.keys()].filter((path) => !old.has(path));
  const removed = [...old.keys()].filter((path) => !now.has(path));
  const changed = [...now].flatMap(([path, part]) => {
    const words = old.has(path) ? partChanges(old.get(path) as Part, part) : [];
    return words.length > 0 ? [`${path}: ${words.join(', ')}`] : [];
  });
  return [
    change('Sources added', sources.added),
    change('Sources gone', sources.removed),
    change('Steps added or changed', steps.added),
    change('Steps gone', steps.removed),
    change(`${counted(added.length, 'part')} added`, added),
    change(`${counted(removed.length, 'part')} gone`, removed),
    change(`${counted(changed.length, 'part')} changed`, changed),
    change('Size', sizeChanges(before, after)),
  ].filter(({ items }) => items.length > 0);
}

const change = (what: string, all: readonly string[]): Change => ({
  what,
  items: all.slice(0, NAMED),
  more: Math.max(0, all.length - NAMED),
});

const sourceText = (isNumbered: boolean) => ({ name, revision }: TransmittalManifest['sources'][number]) =>
  isNumbered ? `${name}, revision ${revision}` : name; // prettier-ignore
const stepText = ({ kind, summary, on }: TransmittalManifest['steps'][number]) =>
  `${kind}: ${summary}${on ? '' : ' (off)'}`;

/** Of two lists in which the same may stand several times. */
function differences(before: readonly string[], after: readonly string[]): { added: string[]; removed: string[] } {
  const left = [...before];
  const added = after.filter((item) => {
    const at = left.indexOf(item);
    if (at >= 0) left.splice(at, 1);
    return at < 0;
  });
  return { added, removed: left };
}

/** Parts of the same path get an ordinal. */
function byPath(parts: readonly Part[]): Map<string, Part> {
  const out = new Map<string, Part>();
  const seen = new Map<string, number>();
  for (const part of parts) {
    const number = (seen.get(part.path) ?? 0) + 1;
    seen.set(part.path, number);
    out.set(number > 1 ? `${part.path} (${number})` : part.path, part);
  }
  return out;
}

function partChanges(before: Part, after: Part): string[] {
  const out: string[] = [];
  if (before.triangles !== after.triangles)
    out.push(`${formatCount(before.triangles)} triangles became ${formatCount(after.triangles)}`);
  if (before.layer !== after.layer) out.push(`layer ${before.layer ?? 'none'} became ${after.layer ?? 'none'}`);
  const [old, now] = [before.materials.join(' + '), after.materials.join(' + ')];
  if (old !== now) out.push(`${old || 'no material'} became ${now || 'no material'}`);
  return out;
}

function sizeChanges(before: TransmittalManifest, after: TransmittalManifest): string[] {
  const out: string[] = [];
  const size = ({ scene: { bounds } }: TransmittalManifest) => bounds && bounds.max.map((high, axis) => high - bounds.min[axis]); // prettier-ignore
  const text = (sides: readonly number[] | undefined) => sides?.map((side) => formatLength(side, 'm', 4)).join(' × ') ?? 'nothing'; // prettier-ignore
  if (text(size(before)) !== text(size(after))) out.push(`${text(size(before))} became ${text(size(after))}`);
  if (before.scene.triangles !== after.scene.triangles)
    out.push(`${formatCount(before.scene.triangles)} triangles became ${formatCount(after.scene.triangles)}`);
  return out;
}
