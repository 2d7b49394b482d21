/** Identities of IFC: 128 bits in 22 letters (ISO 16739-1, IfcGloballyUniqueId), as received, or always the same for the same row. */
import { hashData } from '../../scene/hash.ts';

const LETTERS = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$';
const WRITTEN = /^[0-3][0-9A-Za-z_$]{21}$/;

export class GlobalIds {
  readonly #taken = new Set<string>();

  /**
   * The identity that came with a row, as long as no other has it already; otherwise one of its own, which stays the same however often
   * the row is sent.
   * @param of what it belongs to, the same every time
   */
  next(of: string, received?: string): string {
    let id = received !== undefined && WRITTEN.test(received) ? received : derived(of);
    for (let n = 2; this.#taken.has(id); n++) id = derived(`${of} ${n}`);
    this.#taken.add(id);
    return id;
  }
}

function derived(of: string): string {
  let bits = BigInt(`0x${hashData(['ifc', of]).slice(0, 32)}`);
  let out = '';
  for (let i = 0; i < 22; i++) {
    out = LETTERS[Number(bits & 63n)] + out;
    bits >>= 6n;
  }
  return out;
}
