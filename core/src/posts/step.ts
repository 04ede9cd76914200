import type { Refusal } from './context.js';
import type { StageStep } from './effects.js';
import type { Post } from './values.js';

/** What one edit makes of a post: values and steps, before the rules that hold for every edit. */
export type StepAnswer = { ok: true; values: Partial<Post>; steps?: StageStep[] } | Refusal;
