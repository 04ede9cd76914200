import chardet from 'chardet';
import iconv from 'iconv-lite';

const BOMS: [number[], string][] = [
  [[0xef, 0xbb, 0xbf], 'utf-8'],
  [[0xff, 0xfe], 'utf-16le'],
  [[0xfe, 0xff], 'utf-16be'],
];

/** The encoding that a file declares of itself (HTML, section 4.2.5.5; XML, section 4.3.3), or null. */
function declaredEncoding(bytes: Uint8Array): string | null {
  const start = Buffer.from(bytes.subarray(0, 2048)).toString('latin1');
  return (
    /<meta[^>]+charset\s*=\s*["']?\s*([\w-]+)/i.exec(start)?.[1] ??
    /^\s*<\?xml[^>]+encoding\s*=\s*["']([\w-]+)/i.exec(start)?.[1] ??
    null
  );
}

/** UTF-16 without a mark: every other byte of Western text is 0. */
function looksLikeUtf16(bytes: Uint8Array): string | null {
  const start = bytes.subarray(0, 2000);
  const zeros = [0, 0];
  for (let i = 0; i < start.length; i++) if (start[i] === 0) zeros[i % 2]!++;
  const half = start.length / 2;
  if (zeros[1]! > half * 0.4 && zeros[0]! < half * 0.05) return 'utf-16le';
  return zeros[0]! > half * 0.4 && zeros[1]! < half * 0.05 ? 'utf-16be' : null;
}

/**
 * Text by its byte order mark, by what it declares, as UTF-8, or by what its letters look like; the last is said,
 * since it is a guess. Null when it is no text.
 */
export function decode(bytes: Uint8Array): { text: string; remark: string | null } | null {
  /** What does not fit an encoding is not read in it. */
  const strict = (encoding: string) => {
    if (!iconv.encodingExists(encoding)) return null;
    const text = iconv.decode(Buffer.from(bytes), encoding);
    return text.includes('\ufffd') ? null : text;
  };
  const bom = BOMS.find(([mark]) => mark.every((b, i) => bytes[i] === b));
  if (bom) return { text: new TextDecoder(bom[1]).decode(bytes), remark: null };
  const wide = looksLikeUtf16(bytes);
  if (wide) return { text: new TextDecoder(wide).decode(bytes), remark: null };
  if (bytes.includes(0)) return null;
  const declared = declaredEncoding(bytes);
  const asDeclared = declared === null ? null : strict(declared);
  if (asDeclared !== null) return { text: asDeclared, remark: null };
  const utf8 = strict('utf-8');
  if (utf8 !== null) return { text: utf8, remark: null };
  const guess = chardet.detect(bytes) ?? 'windows-1252';
  const encoding = strict(guess) === null ? 'windows-1252' : guess;
  const text = iconv.decode(Buffer.from(bytes), encoding);
  const odd = (text.match(/[\u0001-\u0008\u000e-\u001f]/g) ?? []).length;
  if (odd > text.length / 100) return null;
  return {
    text,
    remark:
      `The file does not say how its letters are written; they were read as ${encoding}. ` +
      'If some look wrong, save it as UTF-8 and bring it in again.',
  };
}
