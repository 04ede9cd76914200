import { Unzip, UnzipInflate } from 'fflate';

/** What a document may unpack to: its text and styles, one by one and all together, and its pictures. */
const MAX_PART = 16 * 1024 * 1024;
const MAX_ALL = 80 * 1024 * 1024;
const MAX_ENTRIES = 5000;
/** How much is unpacked between two looks at the limits. */
const STEP = 64 * 1024;

/**
 * The parts of a Word document, by their names. Unpacked as a stream with a running limit: the
 * sizes that the file declares are not believed.
 */
export function unzipWord(bytes: Uint8Array): Record<string, Uint8Array> | 'damaged' | 'too large' {
  const parts: Record<string, Uint8Array> = {};
  let all = 0;
  let entries = 0;
  let failed: 'damaged' | 'too large' | null = null;
  const unzip = new Unzip((file) => {
    if (++entries > MAX_ENTRIES) failed = 'too large';
    if (failed) return;
    const chunks: Uint8Array[] = [];
    let size = 0;
    const isXml = /\.(xml|rels)$/i.test(file.name);
    file.ondata = (error, chunk, final) => {
      if (failed) return;
      if (error) {
        failed = 'damaged';
        return;
      }
      size += chunk.length;
      all += chunk.length;
      if (all > MAX_ALL || (isXml && size > MAX_PART)) {
        failed = 'too large';
        chunks.length = 0;
        return;
      }
      chunks.push(chunk);
      if (final) parts[file.name] = concat(chunks, size);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length && !failed; at += STEP)
      unzip.push(bytes.subarray(at, at + STEP), at + STEP >= bytes.length);
  } catch {
    failed ??= 'damaged';
  }
  if (failed) return failed;
  return 'word/document.xml' in parts ? parts : 'damaged';
}

function concat(chunks: readonly Uint8Array[], size: number): Uint8Array {
  const whole = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    whole.set(chunk, at);
    at += chunk.length;
  }
  return whole;
}
