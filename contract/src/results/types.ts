import type { Span, TitleForm, Verdict, WallTime } from '@keyroster/core';

export interface ResultsQuery {
  /** First and last day, by the blog's clock; without them the last 91 days. */
  from?: string;
  to?: string;
}

/** A figure beside that of as many days before. */
export interface TotalLine {
  name: string;
  value: number;
  before: number;
}

/** How a group of posts did in the first week after their release, or pieces by what was seen. */
export interface GroupLine {
  label: string;
  count: number;
  median: number;
  /** The median lies between these with 95% certainty; null with too few. */
  low: number | null;
  high: number | null;
  verdict: Verdict;
}

export interface PostLine {
  id: number;
  title: string;
  runLocal: WallTime;
  category: string;
  byline: string;
  form: TitleForm;
  /** Within the span. */
  reads: number;
  /** In the seven days from its release on; null while they are not over. */
  firstWeek: number | null;
}

/** A share with the interval it lies in. */
export interface ShareLine {
  share: number;
  low: number;
  high: number;
}

export interface OutletLine {
  id: number;
  name: string;
  pieces: number;
  seen: number;
  passedOn: number;
  replies: number;
  clicks: number;
  /** Clicks of those who saw it. */
  rate: ShareLine | null;
  verdict: Verdict;
  /** Hours that did clearly better than the others. */
  bestHours: { hour: number; count: number; median: number }[];
}

export interface LetterResult {
  id: number;
  subject: string;
  day: string;
  sent: number;
  opened: (ShareLine & { count: number }) | null;
  clicks: number | null;
  unsubscribed: number;
}

export interface ResultsView {
  span: Span;
  before: Span;
  totals: TotalLine[];
  /** Reads on every day of the span, and on the day that stands as far into the span before. */
  days: { day: string; reads: number; before: number }[];
  /** Of the days of the span beside those before. */
  readsVerdict: Verdict;
  /** Posts released in the span by what they are; in their first week. */
  groups: Record<'category' | 'person' | 'weekday' | 'hour' | 'form', GroupLine[]>;
  /** Posts whose first week is not over yet: they are in no group. */
  tooYoung: number;
  /** Do longer titles do better? From -1 to 1; null with too few. */
  titleLength: number | null;
  /** The most read in the span. */
  posts: PostLine[];
  outlets: OutletLine[];
  letters: LetterResult[];
}

export interface PieceResult {
  id: number;
  outlet: string;
  kind: string;
  sentLocal: WallTime;
  url: string;
  seen: number;
  passedOn: number;
  replies: number;
  clicks: number;
}

/** What came of one post. */
export interface PostResults {
  id: number;
  title: string;
  runLocal: WallTime | null;
  reads: number;
  firstWeek: number | null;
  comments: number;
  /** First weeks of the other posts of its category. */
  category: { name: string; count: number; median: number; low: number | null; high: number | null } | null;
  days: { day: string; reads: number }[];
  pieces: PieceResult[];
  letters: LetterResult[];
}

export interface PlaceQuery {
  person?: number;
  outlet?: number;
  post?: number;
}
/** Figures in a few sentences, for where a person, an outlet or a post is shown. */
export interface PlaceFigures {
  sentences: string[];
}
