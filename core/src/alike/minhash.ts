// A global is looked up again at every use where modules run in a context of their own.
const { imul } = Math;

/** Words of a text as shingles compare them: letters and digits, small, whatever stood between them. */
export function shingleWords(text: string): string[] {
  return (
    text
      .normalize('NFKC')
      .toLowerCase()
      .match(/[\p{L}\p{N}]+/gu) ?? []
  );
}

/** Words a shingle holds: long enough that two texts do not share one by chance. */
export const SHINGLE = 4;

/** 32-bit hashes (FNV-1a, Fowler, Noll and Vo) of every run of `size` words; a shorter text is one run. */
export function shingles(text: string, size = SHINGLE): Set<number> {
  const words = shingleWords(text);
  const set = new Set<number>();
  for (let i = 0; i + size <= Math.max(words.length, size) && words.length > 0; i++)
    set.add(hash(words.slice(i, i + size).join(' ')));
  return set;
}

function hash(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = imul(h ^ text.charCodeAt(i), 0x01000193);
  return mix(h);
}

/** The finaliser of MurmurHash3 (A. Appleby): every bit in changes every bit out. */
function mix(x: number): number {
  let h = x | 0;
  h = imul(h ^ (h >>> 16), 0x85ebca6b);
  h = imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/** Jaccard index: shared out of all; 0 for two empty sets. */
export function jaccard(a: ReadonlySet<number>, b: ReadonlySet<number>): number {
  const [small, large] = a.size <= b.size ? [a, b] : [b, a];
  let shared = 0;
  for (const x of small) if (large.has(x)) shared++;
  const all = a.size + b.size - shared;
  return all === 0 ? 0 : shared / all;
}

/** Share of `a` that is in `b` too; 0 for an empty set. */
export function containment(a: ReadonlySet<number>, b: ReadonlySet<number>): number {
  if (a.size === 0) return 0;
  let shared = 0;
  for (const x of a) if (b.has(x)) shared++;
  return shared / a.size;
}

/** Values of a signature: the error of an estimate is about 1/√128, 9 points. */
export const SIGNATURE = 128;
const SEEDS = Array.from({ length: SIGNATURE }, (_, i) => mix((i + 1) * 0x9e3779b1));

/**
 * MinHash signature of a set (A. Broder, "On the resemblance and containment of documents", 1997): 128
 * unsigned 32-bit values.
 */
export function signature(set: ReadonlySet<number>): Uint32Array {
  const values = new Uint32Array(SIGNATURE).fill(0xffffffff);
  for (const x of set) {
    for (let i = 0; i < SIGNATURE; i++) {
      const h = mix(x ^ SEEDS[i]!);
      if (h < values[i]!) values[i] = h;
    }
  }
  return values;
}

/** What two signatures say of the Jaccard index of their sets: the share of equal values. */
export function estimate(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let equal = 0;
  for (let i = 0; i < SIGNATURE; i++) if (a[i]! >>> 0 === b[i]! >>> 0) equal++;
  return equal / SIGNATURE;
}

/** Beyond this a text repeats another: a third of their runs of words are shared. */
export const TOO_ALIKE = 0.33;
