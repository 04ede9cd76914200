/** So long at most is worked without a pause in the process that answers everybody. */
const TURN_MS = 15;

/** Maps a long list a turn at a time: others are answered in between. */
export async function inTurns<T, U>(list: readonly T[], map: (one: T, at: number) => U): Promise<U[]> {
  const mapped: U[] = [];
  let began = performance.now();
  for (const [at, one] of list.entries()) {
    mapped.push(map(one, at));
    if (performance.now() - began < TURN_MS) continue;
    await new Promise((next) => setImmediate(next));
    began = performance.now();
  }
  return mapped;
}
