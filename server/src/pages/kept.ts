/** What every page has and takes long to count, made once for those with the same key until something changes. */
export class Kept<T> {
  private readonly held = new Map<string, { at: number; value: Promise<T> }>();

  /** A life besides, so that a lost notification heals; and an end, as keys come from readers. */
  constructor(private readonly options: { lifeMs: number; most: number }) {}

  get(key: string, now: number, make: () => Promise<T>): Promise<T> {
    const known = this.held.get(key);
    if (known && now - known.at <= this.options.lifeMs) return known.value;
    if (this.held.size >= this.options.most) this.held.clear();
    const value = make();
    this.held.set(key, { at: now, value });
    // What failed is made by the next who asks.
    value.catch(() => {
      if (this.held.get(key)?.value === value) this.held.delete(key);
    });
    return value;
  }

  forget(): void {
    this.held.clear();
  }
}
