import { stemsOf } from '../likeness/likeness.js';

export interface UsedTitle {
  id: number;
  title: string;
}

/** Earlier titles by stem, so that a new one is compared only with those that share a word with it. */
export class TitleIndex {
  private readonly sizes: Uint16Array;
  /** How many stems each title shares with the one in hand; all 0 between two questions. */
  private readonly shared: Uint16Array;
  private readonly byStem = new Map<string, number[]>();

  constructor(private readonly titles: readonly UsedTitle[]) {
    this.sizes = new Uint16Array(titles.length);
    this.shared = new Uint16Array(titles.length);
    titles.forEach(({ title }, at) => {
      const stems = [...stemsOf(title).keys()];
      this.sizes[at] = stems.length;
      for (const stem of stems) {
        const places = this.byStem.get(stem);
        if (places) places.push(at);
        else this.byStem.set(stem, [at]);
      }
    });
  }

  /** The title that shares most, by Jaccard index of stems, the older of two; the post itself is left out. */
  nearest(title: string, besides: number | null): { id: number; title: string; share: number } | null {
    const stems = [...stemsOf(title).keys()];
    const touched: number[] = [];
    for (const stem of stems) {
      for (const at of this.byStem.get(stem) ?? []) if (this.shared[at]!++ === 0) touched.push(at);
    }
    let best: { at: number; share: number } | null = null;
    for (const at of touched) {
      const n = this.shared[at]!;
      this.shared[at] = 0;
      if (this.titles[at]!.id === besides) continue;
      const share = n / (stems.length + this.sizes[at]! - n);
      if (
        !best ||
        share > best.share ||
        (share === best.share && this.titles[at]!.id < this.titles[best.at]!.id)
      )
        best = { at, share };
    }
    return best && { ...this.titles[best.at]!, share: best.share };
  }
}
