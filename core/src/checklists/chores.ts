import { addDays, daysBetween } from '../time/zone.js';
import { formatDistance, formatShortDate } from '../time/format.js';
import { isDesk, isWriter, type PostFacts } from '../stages/stages.js';
import type { Actor } from '../people/people.js';

/** Whose a chore is: somebody by name, or the post’s writer, editor or proofreader at the time. */
export const ASSIGNEES = ['writer', 'editor', 'proofreader', 'person'] as const;
export type Assignee = (typeof ASSIGNEES)[number];

/** What a checklist asks for, and by when. */
export interface ChoreRule {
  text: string;
  assignee: Assignee;
  /** Who, where the assignee is a person. */
  personId: number | null;
  /** Days before the run time that it is due. */
  daysBefore: number;
  /** Until it is done the post cannot be cleared or scheduled. */
  holds: boolean;
}

/** The people of a post that chores may fall to. */
export interface ChorePost {
  bylineId: number | null;
  editorId: number | null;
  proofreaderId: number | null;
  runLocal: string | null;
}

/** Whose chore it is now; null while the post has nobody for it. */
export function choreOf(rule: Pick<ChoreRule, 'assignee' | 'personId'>, post: ChorePost): number | null {
  if (rule.assignee === 'person') return rule.personId;
  return { writer: post.bylineId, editor: post.editorId, proofreader: post.proofreaderId }[rule.assignee];
}

/** The day on which it is due, `YYYY-MM-DD`; it moves with the run time. Null while there is none. */
export const choreDue = (
  rule: Pick<ChoreRule, 'daysBefore'>,
  post: Pick<ChorePost, 'runLocal'>,
): string | null => (post.runLocal === null ? null : addDays(post.runLocal.slice(0, 10), -rule.daysBefore));

/** `due Fri 4 Dec, in 3 days`, `was due …`, or '' without a day. */
export function formatChoreDue(due: string | null, today: string): string {
  if (due === null) return '';
  return `${daysBetween(today, due) < 0 ? 'was due' : 'due'} ${formatShortDate(due, today)}, ${formatDistance(due, today)}`;
}

/** May somebody say that it is done, or is not? Whose chore it is, the post’s writers, and the desk. */
export function mayTick(
  actor: Actor,
  post: PostFacts & ChorePost,
  rule: Pick<ChoreRule, 'assignee' | 'personId'>,
): boolean {
  return (
    actor.role !== 'reader' &&
    (isDesk(actor, post) || isWriter(actor, post) || choreOf(rule, post) === actor.id)
  );
}

/** Why a post is held back, a sentence for each chore that holds it and is not done. */
export const heldBy = (chores: readonly { text: string; holds: boolean; done: boolean }[]): string[] =>
  chores.filter((c) => c.holds && !c.done).map((c) => `“${c.text}” of its checklist is not done.`);
