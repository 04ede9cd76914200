import { type Leftovers } from '../alike/leftovers.js';
import type { FormatField } from '../formats/formats.js';
import type { CheckedValues } from '../posts/fields.js';

export const CHECKS = [
  'title',
  'address',
  'category',
  'tags',
  'excerpt',
  'search description',
  'lead picture',
  'alternative texts',
  'headings',
  'links',
  'leftovers',
  'likeness',
  'reading',
  'fold line',
  'length',
  'format',
] as const;

export type CheckKey = (typeof CHECKS)[number];

/** What a check that is not met does to clearing and scheduling. */
export const CHECK_WEIGHTS = ['blocks', 'warns', 'off'] as const;

export type CheckWeight = (typeof CHECK_WEIGHTS)[number];

export type CheckSettings = Readonly<Partial<Record<CheckKey, CheckWeight>>>;

/** Unless the blog decides otherwise: what readers would trip over blocks, the rest warns. */
export const USUAL_WEIGHTS: Readonly<Record<CheckKey, CheckWeight>> = {
  title: 'warns',
  address: 'warns',
  category: 'blocks',
  tags: 'warns',
  excerpt: 'warns',
  'search description': 'warns',
  'lead picture': 'warns',
  'alternative texts': 'blocks',
  headings: 'warns',
  links: 'blocks',
  leftovers: 'warns',
  likeness: 'warns',
  reading: 'warns',
  'fold line': 'warns',
  length: 'warns',
  format: 'warns',
};

/** Where to fix it: what the interface opens. */
export type Fix =
  | 'titles'
  | 'address'
  | 'category'
  | 'tags'
  | 'excerpt'
  | 'search'
  | 'lead'
  | 'lighten'
  | 'alt'
  | 'heading'
  | 'link'
  | 'leftover'
  | 'alike'
  | 'measure'
  | 'fold'
  | 'text'
  | 'format';

export interface Check {
  key: CheckKey;
  state: 'blocks' | 'warns' | 'fine';
  /** What was measured, in a sentence. */
  measure: string;
  /** What is wanted. */
  wanted: string;
  fix: Fix;
  /** The button that leads to the place to fix it. */
  offer: string;
  /** Where in the text: an index of a top-level block, when there is one. */
  block?: number;
}

/** Everything that checks look at: values of the post, and what only the server knows. */
export interface CheckFacts extends CheckedValues {
  /** Of the lead picture; null where there is none. */
  leadBytes: number | null;
  format: { name: string; fields: readonly FormatField[] } | null;
  /** What is left of the post it was copied from, or null when it is no copy. */
  leftovers: Leftovers | null;
  /** The most alike other post by shared runs of words, or null. */
  alike: { id: number; title: string; share: number } | null;
  /** What stands at addresses of this blog that the text links to. */
  pages: Readonly<Record<string, 'published' | 'unpublished' | 'missing'>>;
}

export type Finding = {
  ok: boolean;
  measure: string;
  wanted: string;
  fix: Fix;
  offer: string;
  block?: number;
};

/** What one check finds in a post. */
export type Rule = (facts: CheckFacts) => Finding;
