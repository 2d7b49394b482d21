/**
 * The carry-over sheet: what of a scene a target carries, changes or loses, and which other format would carry it. It is drawn from what
 * the writer says of its format and from what the target asks for, before anything is written.
 */
import type { Scene } from '../scene/types.ts';
import { ASPECT_WORDS, ASPECTS, countAspects } from '../write/aspects.ts';
import type { Aspect } from '../write/aspects.ts';
import { WRITERS, writerFor } from '../write/formats.ts';
import type { FileUnit, Writer } from '../write/writer.ts';
import { wayOf } from './targets/target.ts';
import type { TargetSettings } from './targets/target.ts';

export interface CarryOverLine {
  what: Aspect | 'bending' | 'unit' | 'axis' | 'origin';
  title: string;
  state: 'carried' | 'changed' | 'lost';
  /** How many there are in the scene; absent for the unit, the axis and the origin. */
  count?: number;
  /** What is counted. */
  of?: string;
  /** How it is carried or changed, or why it is lost. */
  how?: string;
  /** Titles of formats that would carry it, where this one does not. */
  others?: string[];
}

export interface CarryOver {
  /** Nothing is lost. */
  holds: boolean;
  lines: CarryOverLine[];
}

/** @throws PrismError `bad-parameters` never: an unknown format has no lines */
export function carryOver(scene: Scene, settings: TargetSettings): CarryOver {
  const writer = writerFor(settings.format);
  if (!writer) return { holds: false, lines: [] };
  const counts = countAspects(scene);
  const lines = ASPECTS.flatMap((aspect): CarryOverLine[] =>
    counts[aspect] === 0 ? [] : [lineOf(aspect, counts[aspect], settings, writer)],
  );
  lines.push(
    ...bendingLines(scene),
    unitLine(settings, writer),
    axisLine(settings, writer),
    originLine(scene, settings, writer),
  );
  return { holds: lines.every(({ state }) => state !== 'lost'), lines };
}

function lineOf(aspect: Aspect, count: number, settings: TargetSettings, writer: Writer): CarryOverLine {
  const { title, one, many } = ASPECT_WORDS[aspect];
  const line = { what: aspect, title, count, of: count === 1 ? one : many };
  const carriage = writer.carries[aspect];
  // What is exact goes out as the triangles that were made of it.
  if (!carriage && aspect === 'solids')
    return { ...line, state: 'changed', how: 'as triangles', others: carriersOf(aspect) };
  if (!carriage) return { ...line, state: 'lost', how: 'no place for it', others: carriersOf(aspect) };
  const asked = askedFor(aspect, settings, writer);
  if (asked) return { ...line, ...asked };
  if (carriage !== true) return { ...line, state: 'changed', how: carriage, others: carriersOf(aspect) };
  const note = writer.notes?.[aspect];
  return { ...line, state: 'carried', ...(note ? { how: note } : {}) };
}

/** Figures that are named one by one. */
const NAMED = 3;

/** Skins and morphs are read by nothing here: what they bend stands still in every file. */
function bendingLines(scene: Scene): CarryOverLine[] {
  const read = scene.sources.flatMap((source) => source.bent ?? []);
  if (read.length === 0) return [];
  const there = new Set(scene.nodes.map(({ received, name }) => received ?? name));
  const bent = read.filter((name) => there.has(name));
  if (bent.length === 0) return [];
  const names = `${bent.slice(0, NAMED).join(', ')}${bent.length > NAMED ? ' …' : ''}`;
  return [
    { what: 'bending', title: 'Skins and morphs', state: 'lost', count: bent.length, of: bent.length === 1 ? 'figure' : 'figures', how: `stands still: ${names}` }, // prettier-ignore
  ];
}

/** Formats that carry something as it is. */
function carriersOf(aspect: Aspect): string[] {
  return WRITERS.filter(({ carries }) => carries[aspect] === true).map(({ title }) => title);
}

type Asked = Pick<CarryOverLine, 'state' | 'how'>;

/** What the target itself asks to be otherwise. */
function askedFor(aspect: Aspect, settings: TargetSettings, writer: Writer): Asked | undefined {
  const left: Asked = { state: 'lost', how: 'left out by this target' };
  const isBaked = settings.pivots === 'baked' && writer.places === 'own';
  const isTree = writer.structure === 'tree';
  switch (aspect) {
    case 'cameras':
    case 'lights':
    case 'metadata':
      return settings[aspect] === 'left' ? left : undefined;
    case 'lines':
    case 'points':
      return settings.lines === 'left' ? left : undefined;
    case 'movements':
      if (settings.movements === 'left') return left;
      if (settings.speed !== undefined || settings.from !== undefined || settings.to !== undefined)
        return { state: 'changed', how: 'faster or slower, or a part of them, as this target asks' };
      if (settings.hierarchy === 'flat' && isTree)
        return { state: 'changed', how: 'those of assemblies are written for each part' };
      return settings.hierarchy !== 'kept' && isTree ? { state: 'changed', how: 'parts that become one stand still in it' } : undefined;
    case 'colourPictures':
    case 'surfacePictures':
      if (settings.pictures === 'left') return left;
      return picturesAsAsked(settings);
    case 'picturePlaces':
      return settings.pictures === 'left' ? left : undefined;
    case 'tree':
      if (settings.hierarchy === 'flat' && isTree) return { state: 'lost', how: 'this target has parts without assemblies' };
      return settings.hierarchy === 'assembly' && isTree ? { state: 'changed', how: 'one part for each assembly' } : undefined;
    case 'names':
      if (settings.instances) return { state: 'changed', how: 'those of parts in lists are data of the list (extras)' };
      if (settings.names === 'safe') return { state: 'changed', how: 'A to Z, digits and _ only, equal ones numbered' };
      return settings.names === 'unique' ? { state: 'changed', how: 'equal ones numbered' } : undefined;
    case 'instances':
      if (isBaked) return { state: 'changed', how: 'written out each, as pivots are baked' };
      if (settings.hierarchy === 'assembly' && isTree) return { state: 'changed', how: 'given up where parts become one' };
      return settings.instances ? { state: 'carried', how: 'lists of places where they stand beside each other' } : undefined;
    case 'normals':
      return settings.compression ? { state: 'changed', how: 'rounded to bytes' } : undefined;
    case 'pivots':
      return isBaked ? { state: 'changed', how: 'all at the origin' } : undefined;
    default:
      return undefined;
  }
} // prettier-ignore

function picturesAsAsked({ most, kind }: TargetSettings): Asked | undefined {
  const how = [
    ...(most || kind === 'ktx2'
      ? [`${Math.min(Number(most ?? Infinity), kind === 'ktx2' ? 2048 : Infinity)} px at most`]
      : []),
    ...(kind === 'ktx2' ? ['packed in blocks: colours by a few of 255 levels, values by one'] : []),
  ];
  return how.length > 0 ? { state: 'changed', how: how.join('; ') } : undefined;
}

const UNIT_NAMES: Record<FileUnit, string> = { m: 'metres', cm: 'centimetres', mm: 'millimetres', in: 'inches', ft: 'feet' }; // prettier-ignore

function unitLine(settings: TargetSettings, writer: Writer): CarryOverLine {
  const { unit } = wayOf(settings, writer);
  const line = { what: 'unit' as const, title: 'Unit' };
  if (writer.states.unit) return { ...line, state: 'carried', how: `${UNIT_NAMES[unit]}, said in the file` };
  return { ...line, state: 'changed', how: `${UNIT_NAMES[unit]}: tell the receiving tool, the format does not say it` };
}

function axisLine(settings: TargetSettings, writer: Writer): CarryOverLine {
  const { up } = wayOf(settings, writer);
  const line = { what: 'axis' as const, title: 'Axis' };
  if (writer.states.up) return { ...line, state: 'carried', how: `${up} up, said in the file` };
  return { ...line, state: 'changed', how: `${up} up: tell the receiving tool, the format does not say it` };
}

function originLine({ origin }: Scene, { coordinates }: TargetSettings, { precision, mapped }: Writer): CarryOverLine {
  const line = { what: 'origin' as const, title: 'Origin' };
  const onMap = origin?.map && mapped ? ', and where it lies on the map' : '';
  if (coordinates === 'local') return { ...line, state: 'carried', how: `of the job${onMap}` };
  const where = coordinates === 'map' ? 'coordinates of the map' : 'offset put back';
  return precision === 'double'
    ? { ...line, state: 'carried', how: where }
    : { ...line, state: 'changed', how: `${where}; points in single precision, exact near the origin of their row only` };
} // prettier-ignore
