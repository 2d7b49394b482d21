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
