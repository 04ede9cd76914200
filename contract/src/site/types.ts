import type { CheckSettings } from '@keyroster/core';

export interface BlogChanges {
  title?: string;
  tagline?: string;
  firstWeekday?: number;
  checks?: CheckSettings;
  binDays?: number | null;
}

export interface NewCategory {
  name: string;
  hue: number;
}

export interface CategoryChanges {
  name?: string;
  hue?: number;
  /**
   * Another category: everything of this one goes there, and this one is gone. The answer is the other one.
   */
  mergeInto?: number;
}

/** One event of the live stream: what changed, never the content. */
export interface LiveEvent {
  id: number;
  kind: 'post' | 'note' | 'blog' | 'people' | 'release' | 'media' | 'batch' | 'outlet' | 'text';
  postId: number | null;
  version: number | null;
  personId: number | null;
}
