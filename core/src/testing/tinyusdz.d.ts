declare module 'tinyusdz' {
  export interface NativeMesh {
    primName: string;
    displayName?: string;
    points: Float32Array;
    faceVertexIndices: Uint32Array;
    faceVertexCounts: Uint32Array;
  }
  export interface NativeLoader {
    loadFromBinary(bytes: Uint8Array, name: string): boolean;
    error(): string;
    numMeshes(): number;
    getMesh(i: number): NativeMesh;
  }
  export default function load(options: {
    wasmBinary?: Uint8Array;
  }): Promise<{ TinyUSDZLoaderNative: new () => NativeLoader }>;
}
