/** Without letters that are taken for digits or for each other (after Crockford's Base 32). */
const DIGITS = '0123456789abcdefghjkmnpqrstvwxyz';
/** The order of magnitude of numbers: 25 bits, five characters. */
const BITS = 25;
const SIZE = 2 ** BITS;
/** Odd, so that it has an inverse; it scatters neighbours, so that codes of posts do not count them. */
const FACTOR = 20_219_797n;
const INVERSE = inverse(FACTOR, BigInt(SIZE));

function inverse(a: bigint, m: bigint): bigint {
  let [r, next, s, t] = [a, m, 1n, 0n];
  while (next !== 0n) {
    const q = r / next;
    [r, next] = [next, r - q * next];
    [s, t] = [t, s - q * t];
  }
  return ((s % m) + m) % m;
}

/** A few characters that stand for a post's number, and for no other; from a number up to 33,554,431. */
export function shortCode(id: number): string {
  if (!Number.isInteger(id) || id < 0 || id >= SIZE) throw new RangeError(`No short code for ${id}.`);
  let rest = Number((BigInt(id) * FACTOR) % BigInt(SIZE));
  let code = '';
  for (let i = 0; i < BITS / 5; i++) {
    code = DIGITS[rest % 32] + code;
    rest = Math.floor(rest / 32);
  }
  return code;
}

/**
 * The number that a code stands for; null for what is no code. Letters may be large, and o is read as 0, i
 * and l as 1.
 */
export function idOfShortCode(code: string): number | null {
  const plain = code.toLowerCase().replaceAll('o', '0').replace(/[il]/g, '1');
  if (!/^[0-9a-hjkmnp-tv-z]{5}$/.test(plain)) return null;
  let value = 0;
  for (const c of plain) value = value * 32 + DIGITS.indexOf(c);
  return Number((BigInt(value) * INVERSE) % BigInt(SIZE));
}
