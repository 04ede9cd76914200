import type { Actor } from '../people/people.js';
import { isLate } from '../runway/runway.js';
import { isDesk, isWriter, type PostFacts } from '../stages/stages.js';
import { sayClock, sayDistance, sayShortDate } from '../time/say.js';

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
}

export type NeedKind = 'write' | 'change' | 'review' | 'schedule' | 'late' | 'proofread' | 'goes out' | 'on its way';

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

/**
 * What needs this person now. Writers get what is theirs to write or change, and hear where their handed-in posts are;
 * the desk gets what waits for review,
 * what is cleared without being scheduled, what is late, and what goes out in the next two days.
 * Within a kind the soonest run time comes first, then the longest wait.
 */
export function needsOf(actor: Actor, posts: readonly TodayPost[], nowLocal: string): Need[] {
  const today = nowLocal.slice(0, 10);
  const needs: Need[] = [];
  const runs = (p: TodayPost) => (p.runLocal ? `runs ${sayShortDate(p.runLocal, today)} ${sayClock(p.runLocal)}` : 'no run time yet');
  for (const post of posts) {
    const late = isLate(post, nowLocal);
    const add = (kind: NeedKind, why: string, due: string | null) => needs.push({ kind, postId: post.id, title: post.title, why, late, due: due ?? FAR });
    const copy = post.copyDate ? `copy due ${sayShortDate(post.copyDate, today)}, ${sayDistance(post.copyDate, today)}` : runs(post);
    if (isWriter(actor, post)) {
      if (post.stage === 'drafting' && post.sentBack) add('change', [post.openNotes ? `${post.openNotes} open ${post.openNotes === 1 ? 'note' : 'notes'}` : 'changes were asked for', runs(post)].join(' · '), post.copyDate ?? post.runLocal);
      else if (post.stage === 'commissioned' || post.stage === 'drafting') add('write', copy, post.copyDate ?? post.runLocal);
      else if (!isDesk(actor, post)) add('on its way', `${post.stage} · ${runs(post)}`, post.runLocal);
    }
    if (post.proofreaderId === actor.id && (post.stage === 'in review' || post.stage === 'cleared')) add('proofread', runs(post), post.runLocal);
    if (!isDesk(actor, post)) continue;
    if (post.stage === 'in review') add('review', `handed in ${sayDistance(post.stageSince.slice(0, 10), today)} · ${runs(post)}`, post.runLocal ?? post.stageSince);
    else if (post.stage === 'cleared') add('schedule', runs(post), post.runLocal);
    else if (post.stage === 'scheduled' && post.runLocal && sayDistance(post.runLocal.slice(0, 10), today).match(/^(today|tomorrow)$/)) add('goes out', runs(post), post.runLocal);
    else if (late) add('late', `${post.stage} · ${copy}`, post.copyDate ?? post.runLocal);
  }
  return needs.sort((a, b) => a.due.localeCompare(b.due) || a.postId - b.postId);
}
