/** Runs what it is given one after the other, each when the one before has ended, however it ended. */
export class Queue {
  private last: Promise<unknown> = Promise.resolve();

  run<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.last.then(work, work);
    this.last = mine.catch(() => undefined);
    return mine;
  }
}
