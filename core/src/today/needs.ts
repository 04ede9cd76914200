import type { Actor } from '../people/people.js';
import { isReviewer } from './review.js';
import { isLate } from '../runway/runway.js';
import { isDesk, isWriter, type PostFacts } from '../stages/stages.js';
import { formatClock, formatDistance, formatShortDate } from '../time/format.js';
import { daysBetween } from '../time/zone.js';

/** A post as Today sees it. */
export interface TodayPost extends PostFacts {
  id: number;
  title: string;
  runLocal: string | null;
  copyDate: string | null;
  /** When it came to its stage, as the blog's wall time. */
  stageSince: string;
  /** The stage it came from, when it was sent back; tells a first draft from a second. */
  sentBack: boolean;
  openNotes: number;
  /** Who reviews it, when it was reassigned to somebody of the desk. */
  editorId: number | null;
}

export type NeedKind =
  | 'write'
  | 'change'
  | 'pitched'
  | 'own pitch'
  | 'review'
  | 'schedule'
  | 'late'
  | 'proofread'
  | 'goes out'
  | 'on its way';

export interface Need {
  kind: NeedKind;
  postId: number;
  title: string;
  /** Why it is here, in words: `handed in yesterday · runs Thu 3 Dec 08:00`. */
  why: string;
  late: boolean;
  /** What sorts it within its kind: the soonest date that matters. */
  due: string;
}

const FAR = '9999-12-31';

/** What decides whether a post needs a person; the words come from the rest of it. */
export type NeedFacts = PostFacts & Pick<TodayPost, 'runLocal' | 'copyDate' | 'sentBack' | 'editorId'>;

/** In what ways a post needs a person now. `nowLocal` is the blog's wall time. */
export function needKinds(actor: Actor, post: NeedFacts, nowLocal: string): NeedKind[] {
  const kinds: NeedKind[] = [];
  const desk = isDesk(actor, post);
  if (post.stage === 'pitch')
    return post.createdById === actor.id ? ['own pitch'] : desk || mayTake(actor, post) ? ['pitched'] : [];
  if (isWriter(actor, post)) {
    if (post.stage === 'drafting' && post.sentBack) kinds.push('change');
    else if (post.stage === 'commissioned' || post.stage === 'drafting') kinds.push('write');
    else if (!desk) kinds.push('on its way');
  }
  if (post.proofreaderId === actor.id && (post.stage === 'in review' || post.stage === 'cleared'))
    kinds.push('proofread');
  if (!desk) return kinds;
  if (post.stage === 'in review') {
    if (isReviewer(actor, post)) kinds.push('review');
  } else if (post.stage === 'cleared') kinds.push('schedule');
  else if (
    post.stage === 'scheduled' &&
    post.runLocal &&
    [0, 1].includes(daysBetween(nowLocal, post.runLocal))
  )
    kinds.push('goes out');
  else if (isLate(post, nowLocal)) kinds.push('late');
  return kinds;
}

const IDLE: ReadonlySet<NeedKind> = new Set(['goes out', 'on its way', 'pitched', 'own pitch']);

/** A pitch without a category may be taken up by any editor. */
const mayTake = (actor: Actor, post: PostFacts) => actor.role === 'editor' && post.categoryId === null;

/** Does a post wait for this person? What only goes out, is with others, or is an idea yet, does not. */
export function waitsFor(actor: Actor, post: NeedFacts, nowLocal: string): boolean {
  return needKinds(actor, post, nowLocal).some((kind) => !IDLE.has(kind));
}

/**
 * What needs this person now. Writers get what is theirs to write or change, and hear where their handed-in
 * posts are; the desk gets what waits for review, what is cleared without being scheduled, what is late, and
 * what goes out in the next two days.
 * Within a kind the soonest run time comes first, then the longest wait.
 */
export function needsOf(actor: Actor, posts: readonly TodayPost[], nowLocal: string): Need[] {
  const today = nowLocal.slice(0, 10);
  const runs = (p: TodayPost) =>
    p.runLocal ? `runs ${formatShortDate(p.runLocal, today)} ${formatClock(p.runLocal)}` : 'no run time yet';
  const copy = (p: TodayPost) =>
    p.copyDate
      ? `copy due ${formatShortDate(p.copyDate, today)}, ${formatDistance(p.copyDate, today)}`
      : runs(p);
  const words: Record<NeedKind, (p: TodayPost) => { why: string; due: string | null }> = {
    change: (p) => ({
      why: [
        p.openNotes
          ? `${p.openNotes} open ${p.openNotes === 1 ? 'note' : 'notes'}`
          : 'changes were asked for',
        runs(p),
      ].join(' · '),
      due: p.copyDate ?? p.runLocal,
    }),
    write: (p) => ({ why: copy(p), due: p.copyDate ?? p.runLocal }),
    pitched: (p) => ({
      why: `pitched ${formatDistance(p.stageSince.slice(0, 10), today)}`,
      due: p.stageSince,
    }),
    'own pitch': (p) => ({
      why: `in the tray since ${formatShortDate(p.stageSince, today)}`,
      due: p.stageSince,
    }),
    'on its way': (p) => ({ why: `${p.stage} · ${runs(p)}`, due: p.runLocal }),
    proofread: (p) => ({ why: runs(p), due: p.runLocal }),
    review: (p) => ({
      why: `handed in ${formatDistance(p.stageSince.slice(0, 10), today)} · ${runs(p)}`,
      due: p.runLocal ?? p.stageSince,
    }),
    schedule: (p) => ({ why: runs(p), due: p.runLocal }),
    'goes out': (p) => ({ why: runs(p), due: p.runLocal }),
    late: (p) => ({ why: `${p.stage} · ${copy(p)}`, due: p.copyDate ?? p.runLocal }),
  };
  return posts
    .flatMap((post) =>
      needKinds(actor, post, nowLocal).map((kind): Need => {
        const { why, due } = words[kind](post);
        return {
          kind,
          postId: post.id,
          title: post.title,
          why,
          late: isLate(post, nowLocal),
          due: due ?? FAR,
        };
      }),
    )
    .sort((a, b) => a.due.localeCompare(b.due) || a.postId - b.postId);
}
