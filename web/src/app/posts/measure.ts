import type { UsedTitles } from '@keyroster/contract';
import type {
  BodyNode,
  Check,
  CheckFacts,
  CheckSettings,
  CopiedPart,
  FormResult,
  Leftovers,
  MeasuredTitle,
  Reading,
} from '@keyroster/core';

/** What is asked of the worker that measures, and what it answers. */
export interface Measures {
  /** Checks and counts of a post as it stands on the screen. */
  post: {
    ask: {
      facts: Omit<CheckFacts, 'leftovers'>;
      source: CopiedPart | null;
      settings: CheckSettings;
      home: string;
    };
    answer: { checks: Check[]; words: number; leftovers: Leftovers | null; keyWords: string[] };
  };
  reading: { ask: BodyNode; answer: Reading };
  /** Makes the titles known; must come before `facts`. Answers with how many are published. */
  titles: { ask: UsedTitles['titles']; answer: number };
  facts: {
    ask: { titles: string[]; keyWords: string[]; postId: number };
    answer: (MeasuredTitle & { did: FormResult })[];
  };
}
export type MeasureKind = keyof Measures;
export interface Asked<K extends MeasureKind = MeasureKind> {
  id: number;
  kind: K;
  ask: Measures[K]['ask'];
}
export interface Answered<K extends MeasureKind = MeasureKind> {
  id: number;
  answer?: Measures[K]['answer'];
  error?: string;
}
