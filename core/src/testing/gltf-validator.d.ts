/** The parts of the Khronos validator that the tests use; the package brings no types. */
declare module 'gltf-validator' {
  export interface ValidatorMessage {
    code: string;
    message: string;
    severity: number;
    pointer?: string;
  }
  export function validateBytes(
    bytes: Uint8Array,
    options?: { externalResourceFunction(uri: string): Promise<Uint8Array> },
  ): Promise<{
    issues: { numErrors: number; numWarnings: number; messages: ValidatorMessage[] };
    info: { extensionsUsed?: string[]; resources?: object[] };
  }>;
}
