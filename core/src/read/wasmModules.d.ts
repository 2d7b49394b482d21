declare module 'draco3dgltf' {
  const draco: { createDecoderModule(): Promise<object> };
  export default draco;
}

declare module 'occt-import-js' {
  export default function load(options: {
    print(text: string): void;
    printErr(text: string): void;
  }): Promise<Record<'ReadIgesFile' | 'ReadBrepFile', (bytes: Uint8Array, limits: object) => unknown>>;
}

declare module 'three/addons/loaders/usd/USDCParser.js' {
  /** Whatever a field holds: as the parser gives it, and as its heirs add to it. */
  export type CrateValue = unknown;

  export interface CrateReader {
    tell(): number;
    seek(offset: number): void;
    readUint8(): number;
    readUint32(): number;
    readInt32(): number;
    readUint64(): number;
    readFloat64(): number;
  }

  export class USDCParser {
    buffer: ArrayBuffer;
    reader: CrateReader;
    version: { major: number; minor: number; patch: number };
    sections: Record<string, { start: number; size: number }>;
    tokens: string[];
    strings: number[];
    paths: string[];
    specs: unknown[];
    parseData(buffer: ArrayBuffer): {
      specsByPath: Record<string, { specType: number; fields: Record<string, CrateValue> }>;
    };
    _readBootstrap(): void;
    _readTOC(): void;
    _readFields(): void;
    _readFieldSets(): void;
    _readPaths(): void;
    _readSpecs(): void;
    _buildPathsFromCompressed(indices: Int32Array, elements: Int32Array, jumps: Int32Array): void;
    _readInlinedValue(rep: { typeEnum: number }): CrateValue;
    _readScalarValue(type: number): CrateValue;
    _readArrayValue(rep: { typeEnum: number }): CrateValue;
    _readHalf(): number;
  }
}
