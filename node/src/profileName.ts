/** What a colour profile calls itself (ICC.1:2022, 7.2 to 10.13): its description, as text or in several languages. */

/** @returns undefined where it does not say, or cannot be read */
export function profileName(icc: Uint8Array): string | undefined {
  const view = new DataView(icc.buffer, icc.byteOffset, icc.byteLength);
  const ascii = (at: number, length: number) => String.fromCharCode(...icc.subarray(at, at + length));
  try {
    const tags = Math.min(view.getUint32(128), 100);
    for (let i = 0; i < tags; i++) {
      const at = 132 + i * 12;
      if (ascii(at, 4) !== 'desc') continue;
      return cleaned(textAt(view, view.getUint32(at + 4), ascii));
    }
  } catch {
    // Cut off: it is applied as far as it can be, without a name.
  }
  return undefined;
}

function textAt(view: DataView, at: number, ascii: (at: number, length: number) => string): string {
  if (ascii(at, 4) !== 'mluc') return ascii(at + 12, Math.min(200, view.getUint32(at + 8)));
  // The first language: length and place of its UTF-16.
  const [length, offset] = [Math.min(400, view.getUint32(at + 20)), view.getUint32(at + 24)];
  return Array.from({ length: length / 2 }, (_, i) => String.fromCharCode(view.getUint16(at + offset + i * 2))).join(
    '',
  );
}

const cleaned = (text: string) => text.replace(/[^\x20-\uffff]/g, '').trim() || undefined;
