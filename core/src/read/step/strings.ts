/** Decodes the strings of a STEP file: every escape of ISO 10303-21, and the raw UTF-8 that many programs write. */

/**
 * The text between the quotes, as people wrote it. Escapes (ISO 10303-21, clause 6.4.3): `''` for a quote, `\\` for a backslash,
 * `\X2\…\X0\` for UTF-16, `\X4\…\X0\` for UTF-32, `\X\hh` for one ISO 8859-1 character, `\S\c` for c + 128 in the
 * alphabet last named by `\Pa\` (ISO 8859-1 without one). An escape that is cut off stays as it stands.
 */
export function decodeString(bytes: Uint8Array): string {
  if (isPlain(bytes, 0, bytes.length)) return new TextDecoder('iso-8859-1').decode(bytes);
  const raw = decodeBytes(bytes);
  let alphabet = 'iso-8859-1';
  let out = '';
  for (let i = 0; i < raw.length;) {
    const c = raw[i];
    if (c === "'" && raw[i + 1] === "'") {
      out += "'";
      i += 2;
      continue;
    }
    if (c === '\n' || c === '\r') {
      // The standard lets a line break stand anywhere without meaning.
      i++;
      continue;
    }
    if (c !== '\\') {
      out += c;
      i++;
      continue;
    }
    const ahead = raw.slice(i, i + 4);
    const page = /^\\P([A-I])\\/.exec(ahead);
    if (ahead.startsWith('\\\\')) {
      out += '\\';
      i += 2;
    } else if (page) {
      alphabet = `iso-8859-${page[1].charCodeAt(0) - 64}`;
      i += 4;
    } else if (/^\\S\\./s.test(ahead)) {
      out += new TextDecoder(alphabet).decode(Uint8Array.of((raw.charCodeAt(i + 3) & 127) + 128));
      i += 4;
    } else if (ahead.startsWith('\\X\\') && /^[0-9A-Fa-f]{2}$/.test(raw.slice(i + 3, i + 5))) {
      out += String.fromCharCode(Number.parseInt(raw.slice(i + 3, i + 5), 16));
      i += 5;
    } else if (ahead === '\\X2\\' || ahead === '\\X4\\') {
      const width = ahead === '\\X2\\' ? 4 : 8;
      const end = raw.indexOf('\\X0\\', i + 4);
      const hex = end < 0 ? '' : raw.slice(i + 4, end).replace(/\s/g, '');
      if (end < 0 || hex.length % width !== 0 || !/^[0-9A-Fa-f]*$/.test(hex)) {
        out += c;
        i++;
        continue;
      }
      for (let k = 0; k < hex.length; k += width) {
        const code = Number.parseInt(hex.slice(k, k + width), 16);
        if (width === 4) out += String.fromCharCode(code);
        else if (code <= 0x10ffff) out += String.fromCodePoint(code);
      }
      i = end + 4;
    } else {
      out += c;
      i++;
    }
  }
  return out;
}

/** True where each byte stands for itself: no quote, no backslash, nothing beyond ASCII. */
export function isPlain(bytes: Uint8Array, start: number, end: number): boolean {
  for (let i = start; i < end; i++) {
    const c = bytes[i];
    if (c === 92 || c === 39 || c > 126 || c < 32) return false;
  }
  return true;
}

/** The standard allows only ASCII, yet UTF-8 and ISO 8859-1 both occur: UTF-8 where it is valid, else ISO 8859-1. */
function decodeBytes(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('iso-8859-1').decode(bytes);
  }
}
