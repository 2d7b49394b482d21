/** What every writer offers. A writer is one file or folder, entered in `formats.ts`. */
import { MemoryContent } from '../content.ts';
import type { Content, Spool } from '../content.ts';
import type { Scene } from '../scene/types.ts';
import type { BlobStore, Packer, PictureCodec, PictureKind } from '../surroundings.ts';
import type { FoundRow } from '../transmit/found.ts';
import type { Aspect, Carries } from './aspects.ts';

export interface WriteOptions {
  /** What people call the scene, where the format has a place for that. */
  title?: string;
  /** Joins pictures that the format has as one; those are left out where it is absent. */
  pictures?: PictureCodec;
  /** Packs what the format packs; as the platform does where nothing is said. */
  packer?: Packer;
  /** Where files grow; in memory where nothing is said. */
  spool?: Spool;
  /** What pictures are made as where they are made anew; PNG where nothing is said. */
  pictureKind?: PictureKind;
  /** Unit that the numbers of the scene are in; the first of the writer's where nothing is said. */
  unit?: FileUnit;
  /** Axis that points up in the scene; the first of the writer's where nothing is said. */
  up?: UpAxis;
  /** How numbers are packed; not at all where nothing is said. */
  compression?: Compression;
  /** Parts beside each other that show the same as one with a list of places. */
  instancing?: boolean;
  /** Each distinct asset in a folder of its own, and a file that places them. */
  modular?: boolean;
}

/** Ways to pack the numbers of a file. */
export type Compression = 'meshopt' | 'draco';

/** How much values may differ in what is read back: positions in shares of the reach of a part, others as they are. */
export interface Tolerance {
  positions: number;
  normals: number;
  uvs: number;
  colours: number;
}

export type FileUnit = 'm' | 'cm' | 'mm' | 'in' | 'ft';
export type UpAxis = 'y' | 'z';

/** Unit and axis of files. */
export interface FileWay {
  unit: FileUnit;
  up: UpAxis;
}

/** A file of a delivery. */
export class WrittenFile {
  readonly content: Content;

  /** @param name where it lies in the delivery, with its ending: `hall.glb`, `textures/oak.png`. The first is what a receiving tool opens. */
  constructor(
    readonly name: string,
    readonly mime: string,
    content: Content | Uint8Array,
  ) {
    this.content = content instanceof Uint8Array ? new MemoryContent(content) : content;
  }

  /** All of it: read anew each time where it lies on a disk. */
  get bytes(): Uint8Array<ArrayBuffer> {
    return this.content.bytes();
  }

  /** The same in another place. */
  at(name: string): WrittenFile {
    return new WrittenFile(name, this.mime, this.content);
  }
}

/** What a format makes of the tree. */
export type Structure =
  /** Rows below rows. */
  | 'tree'
  /** Parts beside each other, each by its name. */
  | 'parts'
  /** One body. */
  | 'body';

export interface Writer {
  /** Name that the command line and the transmittal use. */
  readonly target: string;
  readonly title: string;
  /** Ending of the file that a receiving tool opens, without the point. */
  readonly ending: string;
  /** Units that lengths can be written in, the usual one first. */
  readonly units: readonly FileUnit[];
  /** Axes that can point up, the usual one first. */
  readonly ups: readonly UpAxis[];
  /** Which of both the file itself says; what it does not say, a receiving tool has to be told. */
  readonly states: { unit: boolean; up: boolean };
  readonly structure: Structure;
  /** Rows have places; these only turn and move; or all points stand where they are in the world. */
  readonly places: 'own' | 'rigid' | 'baked';
  /** Rows have places of their own that do not skew. */
  readonly skewless?: true;
  /** Positions are stored in 32 bits, or written out in as many digits as it takes. */
  readonly precision: 'single' | 'double';
  /** Says in the file where it lies on the map. */
  mapped?: boolean;
  /** Bytes that a triangle takes in a large closed mesh without texture coordinates; less where text has few digits, or packs well. Absent where nothing is made of triangles. */
  readonly perTriangle?: number;
  /** True where rows and materials are told apart by their names; and what of a name the format can hold. */
  readonly uniqueNames?: true;
  cleanName?(name: string): string;
  /** Steps of a colour or an opacity that are told apart; without end where absent. */
  readonly levels?: number;
  /** The colours of materials are painted onto the points. */
  readonly paintsPoints?: true;
  /** Points at the same place are one, so that triangles without area are none. */
  readonly weldsPoints?: true;
  /** Triangles of less area are left out, square metres: readers of the format take them for none. */
  readonly leastArea?: number;
  /** Triangles are told apart by their material: slots that show the same are one. */
  readonly joinsSlots?: true;
  /** Ways in which its numbers can be packed, and what each costs. */
  readonly compressions?: Readonly<Partial<Record<Compression, Tolerance>>>;
  /** Kinds of picture file that it takes beside PNG and JPEG. */
  readonly pictureKinds?: readonly PictureKind[];
  /** It has lists of places for what shows the same. */
  readonly instancing?: true;
  /** Its files can refer to others of the same format, so that a scene can be sent as modules. */
  readonly modules?: true;
  /** It holds exact solids, and nothing that was made of them. */
  readonly exact?: true;
  readonly carries: Carries;
  /** What is to be said of what is carried. */
  readonly notes?: Readonly<Partial<Record<Aspect, string>>>;
  /**
   * Writes a scene that was arranged for this format: in its unit, with its axis up, its structure and its places.
   * @param name of the scene, safe as the name of a file without its ending
   */
  write(scene: Scene, blobs: BlobStore, name: string, options?: WriteOptions): Promise<WrittenFile[]>;
  /**
   * Opens what was written, with a reader that shares nothing with this writer, and says what stands in it: in metres, and up as in the
   * scene that was written.
   * @param told what a receiving tool would have to be told; what is usual in the format where nothing is said
   * @throws Error where the files cannot be read
   */
  rows(files: readonly WrittenFile[], told?: FileWay): Promise<FoundRow[]>;
} // prettier-ignore
