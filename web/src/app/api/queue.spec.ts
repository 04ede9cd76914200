import { Queue } from './queue';

describe('a queue of edits', () => {
  it('runs what it is given one after the other, and each sees what the one before left', async () => {
    const queue = new Queue();
    let version = 1;
    const edit = (wait: number) =>
      queue.run(async () => {
        const mine = version;
        await new Promise((go) => setTimeout(go, wait));
        // As a server refuses a version that is not the last.
        if (mine !== version) throw new Error('It changed meanwhile.');
        return ++version;
      });
    await expect(Promise.all([edit(20), edit(1), edit(5)])).resolves.toEqual([2, 3, 4]);
  });

  it('goes on when one fails, and tells only whoever asked for it', async () => {
    const queue = new Queue();
    const failed = queue.run(() => Promise.reject(new Error('Refused.')));
    const next = queue.run(() => Promise.resolve('done'));
    await expect(failed).rejects.toThrow('Refused.');
    await expect(next).resolves.toBe('done');
  });

  it('begins at once when nothing is before', () => {
    let begun = false;
    void new Queue().run(() => {
      begun = true;
      return Promise.resolve();
    });
    return Promise.resolve().then(() => expect(begun).toBe(true));
  });
});
