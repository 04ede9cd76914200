import { proposeSlug } from '../slug/slug.js';
import { may } from '../stages/may.js';
import { judgeMove, losesRun, takesRun, type DemandFacts, type Stage } from '../stages/stages.js';
import { isLater } from '../time/zone.js';
import { refuse, type EditContext } from './context.js';
import type { StepAnswer } from './step.js';
import type { Post, RunTime } from './values.js';

/**
 * Moves a post to a stage by the one table of moves, with what the stage brings: its default address, its times,
 * and the loss of its run time. Refuses what the table does not have, what is not the actor's to do, and what
 * misses a demand.
 */
export function moveTo(
  post: Post,
  { to, run, note = '' }: { to: Stage; run?: RunTime; note?: string },
  context: EditContext,
): StepAnswer {
  const { actor, now } = context;
  // A move that is a writer's to make does not carry a run time past the permission to plan.
  if (run && actor !== 'clock' && !may(actor, 'plan', post))
    return refuse('not-yours', 'Giving this post a run time is not yours to do.');
  if (run && !takesRun(to)) return refuse('invalid', `A run time has no place in becoming ${to}.`);
  const values: Partial<Post> = run ? { run } : {};
  const ready = to === 'cleared' || to === 'scheduled';
  // The default address comes as late as possible, so that the title has settled.
  if (ready && post.slug === null && post.title !== '')
    values.slug = defaultSlug({ ...post, ...values }, context);
  const next = { ...post, ...values };
  const answer = judgeMove(actor, post, to, demandFactsOf(next, context, note));
  if (!answer.ok) return refuse(answer.code, answer.sentence);
  if (to === 'scheduled' && context.pastRun === 'refused' && !isLater(next.run!.at, now))
    return refuse('bad-time', 'Its run time lies in the past, and it would go out at once.', 'run');
  return {
    ok: true,
    values: {
      ...values,
      ...(losesRun(to) ? { run: null } : {}),
      ...(to === 'pitch' || post.stage === 'scheduled' ? { scheduledAt: null } : {}),
      ...(to === 'scheduled' ? { scheduledAt: now } : {}),
      // What was withdrawn comes back as released when it was.
      ...(to === 'published' && post.stage !== 'withdrawn' ? { releasedAt: now } : {}),
      stage: to,
      stageSince: now,
    },
    steps: [{ from: post.stage, to, note: note.trim() }],
  };
}

/** Telling words of its title, then of its category and excerpt, not yet taken; see `proposeAddress`. */
export function defaultSlug(post: Post, context: Pick<EditContext, 'ownerOf' | 'categoryName'>): string {
  const category = post.categoryId === null ? '' : (context.categoryName(post.categoryId) ?? '');
  const isTaken = (slug: string) => (context.ownerOf(slug)?.id ?? post.id) !== post.id;
  return proposeSlug(post.title, isTaken, [category, post.excerpt], post.run?.local.slice(0, 4));
}

/** What demands are checked against, of a post as it would be. */
export function demandFactsOf(post: Post, context: EditContext, note = ''): DemandFacts {
  return {
    title: post.title,
    words: post.words,
    bylineId: post.bylineId,
    categoryId: post.categoryId,
    slug: post.slug,
    needsPassword: post.access === 'password',
    readingPassword: post.readingPassword,
    runAt: post.run?.at ?? null,
    note: note.trim() === '' ? null : note,
    blocking: () => context.blocking(post),
    opened: () => context.opened(post),
  };
}
