import { Rereader } from './rereader.js';

/** A reader of `value` whose answers are given by hand; each has the value of when it was begun. */
function setUp() {
  const at = { value: 0, known: 0, reads: 0 };
  const answers: (() => void)[] = [];
  const rereader = new Rereader(async () => {
    at.reads++;
    const found = at.value;
    await new Promise<void>((done) => answers.push(done));
    at.known = found;
  });
  const answer = async () => {
    answers.shift()!();
    await new Promise((done) => setImmediate(done));
  };
  return { at, rereader, answer };
}

describe('what is read again', () => {
  it('is no older than the asking, also while it is being read', async () => {
    const { at, rereader, answer } = setUp();
    const first = rereader.again();
    at.value = 1;
    const second = rereader.again();
    await answer();
    await first;
    expect(at.known).toBe(0);
    await answer();
    await second;
    expect([at.known, at.reads]).toEqual([1, 2]);
  });

  it('is read once for all who ask meanwhile, and anew after', async () => {
    const { at, rereader, answer } = setUp();
    const asked = Array.from({ length: 5 }, () => rereader.again());
    await answer();
    // The first is done; this one is asked while the one for the others is read.
    at.value = 2;
    const late = rereader.again();
    await answer();
    await Promise.all(asked);
    expect([at.known, at.reads]).toEqual([0, 3]);
    await answer();
    await late;
    expect([at.known, at.reads]).toEqual([2, 3]);
  });
});
