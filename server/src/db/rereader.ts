/**
 * Reads something again whenever that is asked for. What is being read just then may be from before the change for
 * which it is asked, so it is read once more after that; all who ask meanwhile share it. `read` never rejects.
 */
export class Rereader {
  private reading: Promise<void> | null = null;
  private next: Promise<void> | null = null;

  constructor(private readonly read: () => Promise<void>) {}

  /** Resolves when what is known is no older than this call. */
  again(): Promise<void> {
    if (this.next) return this.next;
    if (!this.reading) return this.begin();
    this.next = this.reading.then(() => {
      this.next = null;
      return this.begin();
    });
    return this.next;
  }

  private begin(): Promise<void> {
    this.reading = this.read().finally(() => (this.reading = null));
    return this.reading;
  }
}
