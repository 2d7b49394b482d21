declare module 'draco3dgltf' {
  interface DracoMesh {
    num_faces(): number;
    num_points(): number;
  }
  interface DracoBuffer {
    Init(bytes: Int8Array, length: number): void;
  }
  interface DracoAttribute {
    num_components(): number;
  }
  interface DracoDecoder {
    DecodeBufferToMesh(buffer: DracoBuffer, mesh: DracoMesh): { ok(): boolean; error_msg(): string };
    GetTrianglesUInt32Array(mesh: DracoMesh, bytes: number, at: number): boolean;
    GetAttributeByUniqueId(mesh: DracoMesh, id: number): DracoAttribute;
    GetAttributeDataArrayForAllPoints(
      mesh: DracoMesh,
      attribute: DracoAttribute,
      type: number,
      bytes: number,
      at: number,
    ): boolean;
  }
  const draco: {
    createDecoderModule(): Promise<{
      Decoder: new () => DracoDecoder;
      DecoderBuffer: new () => DracoBuffer;
      Mesh: new () => DracoMesh;
      DT_FLOAT32: number;
      HEAPF32: Float32Array;
      _malloc(bytes: number): number;
      _free(at: number): void;
      destroy(thing: object): void;
    }>;
    createEncoderModule(): Promise<object>;
  };
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
