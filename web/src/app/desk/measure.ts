import type { UsedTitles } from '@keyroster/contract';
import type {
  BodyNode,
  Check,
  CheckFacts,
  CheckSettings,
  CopiedPart,
  Leftovers,
  LikeTitles,
  Reading,
  ScoredTitle,
} from '@keyroster/core';

/** What is asked of the worker that measures, and what it answers. */
export interface Measures {
  /** Checks and counts of a post as it stands on the screen. */
  post: {
    ask: {
      facts: Omit<CheckFacts, 'leftovers'>;
      copy: CopiedPart;
      source: CopiedPart | null;
      settings: CheckSettings;
      home: string;
    };
    answer: { checks: Check[]; words: number; leftovers: Leftovers | null; keyWords: string[] };
  };
  reading: { ask: BodyNode; answer: Reading };
  /** Makes the titles known; must come before `scores`. Answers with how many are published. */
  titles: { ask: UsedTitles['titles']; answer: number };
  scores: {
    ask: { titles: string[]; keyWords: string[]; postId: number };
    answer: (ScoredTitle & { ahead: number | null; like: LikeTitles | null })[];
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
