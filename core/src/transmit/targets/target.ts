/**
 * A target: in which format, unit, axis and shape a job is sent to somebody who receives it. Targets are kept with the job, and every one
 * of them that is on is written when the job is sent.
 */
import { array, boolean, mixed, object, string } from 'yup';
import type { ObjectSchema } from 'yup';
import { PrismError } from '../../errors.ts';
import { checked, formatQuantity, schemaOfFields } from '../../fields/field.ts';
import type { Fields } from '../../fields/field.ts';
import { COORDINATES } from '../../scene/origin.ts';
import type { Coordinates } from '../../scene/origin.ts';
import { selectorSchema } from '../../select/rules.ts';
import type { Selector } from '../../select/selector.ts';
import type { Split } from './pieces.ts';
import type { PictureKind } from '../../surroundings.ts';
import type { Aspect } from '../../write/aspects.ts';
import { WRITERS, writerFor } from '../../write/formats.ts';
import type { Compression, FileUnit, UpAxis, Writer } from '../../write/writer.ts';

export interface TargetSettings {
  /** Name of the writer. */
  format: string;
  /** That which is usual in the format where nothing is said; so with the axis. */
  unit?: FileUnit;
  up?: UpAxis;
  coordinates: Coordinates;
  /** A file for each, or a folder for each distinct asset and a file that places them; one file for all where nothing is said. */
  split?: Split | 'modular';
  hierarchy: 'kept' | 'assembly' | 'flat';
  names: 'kept' | 'safe' | 'unique';
  pivots: 'kept' | 'baked';
  cameras: 'kept' | 'left';
  lights: 'kept' | 'left';
  movements: 'kept' | 'left';
  /** How many times as fast movements are, and the seconds between which they are sent. */
  speed?: number;
  from?: number;
  to?: number;
  lines: 'kept' | 'left';
  metadata: 'kept' | 'left';
  pictures: 'kept' | 'left';
  /** Longest side of pictures, pixels. */
  most?: string;
  /** Kind of file of pictures. */
  kind?: PictureKind;
  /** A row for each, or lists of places for those beside each other. */
  instances?: 'lists';
  /** Triangles that the receiver takes at most, drawn in all and of one part; what is over is told. */
  mostTriangles?: number;
  mostOfPart?: number;
  /** How numbers are packed. */
  compression?: Compression;
  /** What is sent, with all below it; everything where nothing is said. */
  only?: Selector;
  /** What of that is not sent. */
  without?: Selector;
}

export interface Target {
  id: string;
  name: string;
  on: boolean;
  settings: TargetSettings;
}

const WHERE: Record<Coordinates, string> = {
  local: 'of the job',
  restored: 'as received, offset put back',
  map: 'of the map',
};

/** Offered where the format has a place for one of some aspects. */
const keptOr = (label: string, ...aspects: readonly Aspect[]) =>
  ({
    type: 'choice',
    label,
    when: (settings: TargetSettings) => carriesAny(settings, aspects),
    choices: [
      { value: 'kept', label: 'kept' },
      { value: 'left', label: 'left out' },
    ],
  }) as const;

const carriesAny = (settings: TargetSettings, aspects: readonly Aspect[]) =>
  has(settings, ({ carries }) => aspects.some((aspect) => carries[aspect] !== undefined && carries[aspect] !== false));

const PICTURES: readonly Aspect[] = ['colourPictures', 'surfacePictures'];
const hasPictures = (settings: TargetSettings) => settings.pictures === 'kept' && carriesAny(settings, PICTURES);
const hasMovements = (settings: TargetSettings) => settings.movements === 'kept' && carriesAny(settings, ['movements']);

const seconds = (label: string, called: string, otherwise: string) =>
  ({
    type: 'quantity',
    of: 'time',
    unit: 's',
    label,
    called,
    when: hasMovements,
    min: 0,
    max: 86_400,
    optional: { otherwise },
    help: 'Of all movements; what lies outside is cut off.',
  }) as const;

const triangles = (label: string, called: string, help: string) =>
  ({
    type: 'quantity',
    of: 'count',
    unit: 'triangles',
    label,
    called,
    when: (settings: TargetSettings) => has(settings, ({ exact }) => exact !== true),
    min: 1,
    max: 1e9,
    optional: true,
    help: `${help} What is over is told before sending, and in the report.`,
  }) as const;

const has = (settings: TargetSettings, test: (writer: Writer) => boolean) => {
  const writer = writerFor(settings.format);
  return writer === undefined || test(writer);
};

export const PICTURE_SIDES = ['256', '512', '1024', '2048', '4096', '8192'];

/** A rule, or nothing. */
const optionalRule = mixed<Selector>().test('rule', function (value) {
  if (value === undefined) return true;
  try {
    selectorSchema.validateSync(value, { strict: true });
    return true;
  } catch (error) {
    return this.createError({ message: `The rule of a target: ${(error as Error).message}` });
  }
});

export const TARGET_FIELDS: Fields<TargetSettings> = {
  format: {
    type: 'choice',
    label: 'Format',
    choices: WRITERS.map((writer) => ({ value: writer.target, label: `${writer.title} (.${writer.ending})` })),
  },
  unit: {
    type: 'choice',
    label: 'Unit',
    when: (settings) => has(settings, ({ units }) => units.length > 1),
    choices: [{ value: undefined, label: 'usual in the format' }, ...['m', 'cm', 'mm', 'in', 'ft'].map((value) => ({ value, label: value }))], // prettier-ignore
    help: 'Lengths are written in it.',
  },
  up: {
    type: 'choice',
    label: 'Up',
    called: 'axis that points up',
    when: (settings) => has(settings, ({ ups }) => ups.length > 1),
    choices: [
      { value: undefined, label: 'usual in the format' },
      { value: 'y', label: 'y' },
      { value: 'z', label: 'z' },
    ],
    help: 'Places and geometry are turned for it; no row is left with a turn of its own.',
  },
  coordinates: {
    type: 'choice',
    label: 'Coordinates',
    choices: COORDINATES.map((value) => ({ value, label: WHERE[value] })),
  },
  split: {
    type: 'choice',
    label: 'Files',
    called: 'way to split',
    choices: [
      { value: undefined, label: 'one' },
      { value: 'layer', label: 'one for each layer' },
      { value: 'storey', label: 'one for each storey' },
      { value: 'assembly', label: 'one for each assembly' },
      { value: 'part', label: 'one for each part' },
      { value: 'modular', label: 'a folder for each distinct asset' },
    ],
    help: 'All share the origin of the job; their names carry that of the layer, storey, assembly or part. Distinct assets (shape and materials) lie once each in a folder with their pictures and a thumbnail, and a scene file places them.',
  },
  hierarchy: {
    type: 'choice',
    label: 'Hierarchy',
    when: (settings) => has(settings, ({ structure }) => structure === 'tree'),
    choices: [
      { value: 'kept', label: 'kept' },
      { value: 'assembly', label: 'one part for each assembly' },
      { value: 'flat', label: 'parts without assemblies' },
    ],
  },
  names: {
    type: 'choice',
    label: 'Names',
    choices: [
      { value: 'kept', label: 'as they are' },
      { value: 'safe', label: 'safe: A to Z, digits, _' },
      { value: 'unique', label: 'unique: equal ones numbered' },
    ],
    help: 'Safe names are unique too.',
  },
  pivots: {
    type: 'choice',
    label: 'Pivots',
    when: (settings) => has(settings, ({ places }) => places === 'own'),
    choices: [
      { value: 'kept', label: 'kept' },
      { value: 'baked', label: 'baked: all at the origin' },
    ],
    help: 'Baked, every part has its geometry written out where it stands: no shape is shared any more.',
  },
  pictures: keptOr('Pictures', ...PICTURES),
  most: {
    type: 'choice',
    label: 'Largest picture',
    when: hasPictures,
    choices: [{ value: undefined, label: 'as they are' }, ...PICTURE_SIDES.map((value) => ({ value, label: `${value} px` }))], // prettier-ignore
    help: 'Longest side; larger ones are made smaller.',
  },
  kind: {
    type: 'choice',
    label: 'Picture files',
    when: hasPictures,
    choices: [
      { value: undefined, label: 'as they are' },
      { value: 'png', label: 'PNG' },
      { value: 'jpeg', label: 'JPEG, colours only' },
      { value: 'webp', label: 'WebP' },
      { value: 'ktx2', label: 'KTX2, packed for graphics cards' },
    ],
    help: 'JPEG has no opacity and blurs values: normals, roughness and what is seen through are PNG then. KTX2 stays packed in the memory of the graphics card, a quarter or less of what others take there; it takes seconds to make for each picture, 2048 px at most.',
  },
  instances: {
    type: 'choice',
    label: 'Instances',
    when: (settings) => has(settings, ({ instancing }) => instancing === true),
    choices: [
      { value: undefined, label: 'a row each, shapes shared' },
      { value: 'lists', label: 'lists of places, drawn at once' },
    ],
    help: 'Parts beside each other that show the same become one row with a list of places (EXT_mesh_gpu_instancing); their names are data of that row. The receiver has to know the extension.',
  },
  compression: {
    type: 'choice',
    label: 'Numbers',
    called: 'compression',
    when: (settings) => has(settings, ({ compressions }) => compressions !== undefined),
    choices: [
      { value: undefined, label: 'as they are' },
      { value: 'meshopt', label: 'packed (meshopt)' },
      { value: 'draco', label: 'packed (draco)' },
    ],
    help: 'Packed, positions are rounded to a 65,536th of the reach of each part, normals to bytes; the receiver has to know the extension. Draco keeps triangles in their order and packs less than meshopt.',
  },
  cameras: keptOr('Cameras', 'cameras'),
  lights: keptOr('Lights', 'lights'),
  movements: keptOr('Movements', 'movements'),
  speed: {
    type: 'quantity',
    of: 'factor',
    unit: '×',
    label: 'Speed',
    called: 'speed of movements',
    when: hasMovements,
    min: 0.01,
    max: 100,
    optional: { meaning: 1 },
    help: 'How many times as fast everything moves.',
  },
  from: seconds('From', 'beginning of movements', 'the beginning'),
  to: seconds('To', 'end of movements', 'the end'),
  lines: keptOr('Lines and points', 'lines', 'points'),
  metadata: keptOr('Classes and properties', 'metadata'),
  mostTriangles: triangles('Limit in all', 'limit of triangles', 'Drawn in all, instances counted each.'),
  mostOfPart: triangles('Limit of a part', 'limit of triangles of a part', 'Of a single part.'),
  only: {
    type: 'own',
    label: 'Sends',
    schema: optionalRule,
    written: 'a rule: what it names, with all below it, is sent, and nothing else; may be left out',
  },
  without: {
    type: 'own',
    label: 'Left out',
    schema: optionalRule,
    written: 'a rule: what it names, with all below it, is not sent; may be left out',
  },
};

export const DEFAULT_TARGET: TargetSettings = {
  format: 'glb',
  coordinates: 'local',
  hierarchy: 'kept',
  names: 'kept',
  pivots: 'kept',
  cameras: 'kept',
  lights: 'kept',
  movements: 'kept',
  lines: 'kept',
  metadata: 'kept',
  pictures: 'kept',
};

const takes = ({ pictureKinds = [] }: Writer, kind: PictureKind | undefined) =>
  kind === 'png' || kind === 'jpeg' || pictureKinds.some((known) => known === kind);

const listed = (writers: readonly Writer[]) => `${writers.map(({ title }) => title).join(' and ')} can`;

/** What the format of a target cannot do of what is asked for, in a sentence. */
export function problemOf(settings: TargetSettings): string | undefined {
  const writer = writerFor(settings.format);
  if (!writer) return undefined;
  const { title, units, ups } = writer;
  if (settings.unit && !units.includes(settings.unit))
    return `${title} is in ${units.join(', ')}, not in ${settings.unit}.`;
  if (settings.compression && !writer.compressions?.[settings.compression])
    return `${title} does not know ${settings.compression}.`;
  if (settings.instances && !writer.instancing)
    return `${title} has no lists of places. ${listed(WRITERS.filter(({ instancing }) => instancing))}.`;
  if (settings.kind && !takes(writer, settings.kind))
    return `${title} takes no pictures as ${settings.kind === 'webp' ? 'WebP' : 'KTX2'}. ${listed(WRITERS.filter((other) => takes(other, settings.kind)))}.`;
  if (settings.split === 'modular' && !writer.modules)
    return `${title} cannot refer to other files, so it is not sent as modules. ${listed(WRITERS.filter(({ modules }) => modules))}.`; // prettier-ignore
  if (settings.split === 'modular' && settings.compression) return 'Modules are not packed: other files refer to them.';
  if (settings.from !== undefined && settings.to !== undefined && settings.to <= settings.from)
    return 'Movements have to end after they begin.';
  if (settings.up && !ups.includes(settings.up)) return `${title} has ${ups.join(' or ')} up, not ${settings.up}.`;
  return undefined;
}

export const targetSchema: ObjectSchema<TargetSettings> = schemaOfFields(TARGET_FIELDS, problemOf);

export const MOST_TARGETS = 40;

/** The check of a list of targets that a job keeps. */
export const targetsSchema = array(
  object({
    id: string().required().max(60),
    name: string().required('A target has to have a name.').matches(/\S/, 'A target has to have a name.').max(200),
    on: boolean().required(),
    settings: targetSchema.required(),
  }).noUnknown(),
)
  .required()
  .max(MOST_TARGETS, `A job keeps at most ${MOST_TARGETS} targets.`);

/**
 * Settings as somebody wrote them: what is not said is as usual.
 * @throws PrismError `bad-parameters` for an unknown member, format or value
 */
export function settingsFrom(written: Readonly<Record<string, unknown>>): TargetSettings {
  const unknown = Object.keys(written).find((name) => !(name in TARGET_FIELDS));
  if (unknown !== undefined)
    throw new PrismError('bad-parameters', `A target has no member “${unknown}”. It has ${Object.keys(TARGET_FIELDS).join(', ')}.`); // prettier-ignore
  return checked<TargetSettings>(targetSchema, { ...DEFAULT_TARGET, ...written });
}

/** Unit and axis that a target is written with. */
export function wayOf({ unit, up }: TargetSettings, { units, ups }: Writer): { unit: FileUnit; up: UpAxis } {
  return { unit: unit ?? units[0], up: up ?? ups[0] };
}

/** What a target is, in a line: `Binary glTF 2.0 · m, y up · flat`. */
export function summaryOfTarget(settings: TargetSettings): string {
  const writer = writerFor(settings.format);
  if (!writer) return settings.format;
  const { unit, up } = wayOf(settings, writer);
  const others = (Object.keys(TARGET_FIELDS) as (keyof TargetSettings)[]).flatMap((name) => {
    const value = settings[name];
    const field = TARGET_FIELDS[name];
    if (name === 'format' || name === 'unit' || name === 'up' || value === DEFAULT_TARGET[name]) return [];
    if (field.when && !field.when(settings as never)) return [];
    if (name === 'only') return ['a part of the job'];
    if (name === 'without') return ['a rule leaves parts out'];
    const label = field.type === 'choice' ? field.choices.find((choice) => choice.value === value)?.label : field.type === 'quantity' ? formatQuantity(value as number, field) : value; // prettier-ignore
    return [`${field.label.toLowerCase()} ${String(label).split(':')[0]}`];
  });
  return [writer.title, `${unit}, ${up} up`, ...others].join(' · ');
}
