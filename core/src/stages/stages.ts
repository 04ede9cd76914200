import type { Actor } from '../people/people.js';

/** The seven stages of a post's life in order, then the one that leaves the road. */
export const STAGES = [
  'pitch',
  'commissioned',
  'drafting',
  'in review',
  'cleared',
  'scheduled',
  'published',
  'withdrawn',
] as const;
export type Stage = (typeof STAGES)[number];

/** Teeth cut on the bitting mark: 1 for a pitch to 7 for a published post; a withdrawn post keeps none. */
export function teeth(stage: Stage): number {
  return stage === 'withdrawn' ? 0 : STAGES.indexOf(stage) + 1;
}

/** True from cleared on: the post can carry its day. */
export function isReady(stage: Stage): boolean {
  return stage === 'cleared' || stage === 'scheduled' || stage === 'published';
}

/** What permission and demands need to know of a post. */
export interface PostFacts {
  stage: Stage;
  categoryId: number | null;
  bylineId: number | null;
  coauthorIds: readonly number[];
  proofreaderId: number | null;
  /** The proofreader of this post writes in it; others only suggest. */
  proofreaderWrites: boolean;
  createdById: number | null;
  /** The version that readers see while changes of a published post wait; null while nothing waits. */
  readersVersion: number | null;
}

/** Facts that a move may demand, beside the permission to make it. */
export type Demand =
  | 'title'
  | 'text'
  | 'byline'
  | 'category'
  | 'slug'
  | 'run time'
  | 'note'
  | 'password'
  | 'unopened'
  | 'checks';

/** What the demands are checked against. */
export interface DemandFacts {
  title: string;
  words: number;
  bylineId: number | null;
  categoryId: number | null;
  slug: string | null;
  /** It asks readers for a password. */
  needsPassword: boolean;
  /** Did somebody of the desk open it since it was handed in? Asked only when a move demands it. */
  opened: () => boolean;
  readingPassword: string;
  runAt: string | null;
  note: string | null;
  /** What the checks that block find, a sentence each. Asked only when nothing else stands in the way. */
  blocking: () => readonly string[];
}

const DEMAND_SENTENCES: Record<Demand, string | ((facts: DemandFacts) => string)> = {
  title: 'It needs a title.',
  text: 'It needs some text.',
  byline: 'It needs a byline: somebody to be credited.',
  category: 'It needs a category.',
  slug: 'It needs a web address.',
  'run time': 'It needs a date and a time.',
  note: 'Say in a note what should change.',
  password: 'It needs the password that readers are to be asked for.',
  unopened: 'Somebody opened it for review meanwhile. Ask them to send it back.',
  checks: (f) => `The checks hold it back: ${f.blocking().join('; ')}.`,
};

const DEMAND_CHECKS: Record<Demand, (facts: DemandFacts) => boolean> = {
  title: (f) => f.title.trim() !== '',
  text: (f) => f.words > 0,
  byline: (f) => f.bylineId !== null,
  category: (f) => f.categoryId !== null,
  slug: (f) => f.slug !== null,
  'run time': (f) => f.runAt !== null,
  note: (f) => (f.note ?? '').trim() !== '',
  password: (f) => !f.needsPassword || f.readingPassword !== '',
  unopened: (f) => !f.opened(),
  checks: (f) => f.blocking().length === 0,
};

/**
 * Who may make a move: `desk` is the managing editor, or an editor of the post's category; `writer` is
 * credited on it.
 */
export type Mover = 'desk' | 'writer' | 'clock' | 'own managing editor';

export interface StageMove {
  from: Stage;
  to: Stage;
  /** What the button says. */
  label: string;
  movers: readonly Mover[];
  demands: readonly Demand[];
}

const TO_RELEASE: readonly Demand[] = ['title', 'text', 'byline', 'category', 'slug', 'password', 'checks'];

/**
 * The one table of moves. Server and interface both read it; nothing else says how a post may travel.
 * A managing editor's own post may skip stages, but the demands of the stage it lands on still hold.
 */
export const MOVES: readonly StageMove[] = [
  { from: 'pitch', to: 'commissioned', label: 'Commission', movers: ['desk'], demands: ['title'] },
  { from: 'commissioned', to: 'pitch', label: 'Back to the tray', movers: ['desk'], demands: [] },
  {
    from: 'commissioned',
    to: 'drafting',
    label: 'Start writing',
    movers: ['desk', 'writer'],
    demands: ['byline'],
  },
  { from: 'drafting', to: 'pitch', label: 'Back to the tray', movers: ['desk'], demands: [] },
  {
    from: 'drafting',
    to: 'in review',
    label: 'Hand in',
    movers: ['desk', 'writer'],
    demands: ['title', 'text', 'byline'],
  },
  { from: 'in review', to: 'drafting', label: 'Ask for changes', movers: ['desk'], demands: ['note'] },
  // A hand-in is its writer's until somebody of the desk opens it.
  { from: 'in review', to: 'drafting', label: 'Take back', movers: ['writer'], demands: ['unopened'] },
  { from: 'in review', to: 'cleared', label: 'Clear', movers: ['desk'], demands: TO_RELEASE },
  {
    from: 'in review',
    to: 'scheduled',
    label: 'Clear and schedule',
    movers: ['desk'],
    demands: [...TO_RELEASE, 'run time'],
  },
  { from: 'cleared', to: 'drafting', label: 'Ask for changes', movers: ['desk'], demands: ['note'] },
  {
    from: 'cleared',
    to: 'scheduled',
    label: 'Schedule',
    movers: ['desk'],
    demands: [...TO_RELEASE, 'run time'],
  },
  { from: 'scheduled', to: 'cleared', label: 'Unschedule', movers: ['desk'], demands: [] },
  { from: 'scheduled', to: 'published', label: 'Release', movers: ['clock'], demands: [] },
  { from: 'published', to: 'withdrawn', label: 'Withdraw', movers: ['desk'], demands: [] },
  { from: 'withdrawn', to: 'drafting', label: 'Work on it again', movers: ['desk'], demands: [] },
  {
    from: 'withdrawn',
    to: 'published',
    label: 'Publish again',
    movers: ['desk'],
    demands: [...TO_RELEASE, 'run time'],
  },
  // A post can be begun without having been pitched.
  { from: 'pitch', to: 'drafting', label: 'Start writing', movers: ['desk'], demands: ['title', 'byline'] },
  ...(['pitch', 'commissioned', 'drafting'] as const).flatMap((from): StageMove[] => [
    { from, to: 'cleared', label: 'Clear', movers: ['own managing editor'], demands: TO_RELEASE },
    {
      from,
      to: 'scheduled',
      label: 'Schedule',
      movers: ['own managing editor'],
      demands: [...TO_RELEASE, 'run time'],
    },
  ]),
];

export function isWriter(actor: Actor, post: PostFacts): boolean {
  return post.bylineId === actor.id || post.coauthorIds.includes(actor.id);
}

/** The managing editor everywhere; an editor in the categories given to them. */
export function isDesk(actor: Actor, post: Pick<PostFacts, 'categoryId'>): boolean {
  if (actor.role === 'managing editor') return true;
  return actor.role === 'editor' && post.categoryId !== null && actor.categories.includes(post.categoryId);
}

/** Stages that a post reaches by being scheduled, or by being published again. */
const isScheduling = (to: Stage): boolean => to === 'scheduled' || to === 'published';

/** May somebody of the desk say when a post goes out? */
export const maySchedule = (actor: Actor): boolean =>
  actor.role === 'managing editor' || actor.schedules !== false;

function isMover(mover: Mover, to: Stage, actor: Actor | 'clock', post: PostFacts): boolean {
  if (actor === 'clock') return mover === 'clock';
  if (isScheduling(to) && !maySchedule(actor)) return false;
  switch (mover) {
    case 'desk':
      return isDesk(actor, post);
    case 'writer':
      return (
        isWriter(actor, post) &&
        (actor.role === 'contributor' || actor.role === 'editor' || actor.role === 'managing editor')
      );
    case 'own managing editor':
      return actor.role === 'managing editor' && isWriter(actor, post);
    case 'clock':
      return false;
  }
}

export interface Missed {
  ok: false;
  code: 'demands';
  sentence: string;
  missing: Demand[];
}
export type MoveAnswer =
  | { ok: true; move: StageMove }
  | { ok: false; code: 'no-such-move' | 'not-yours'; sentence: string }
  | Missed;

/** May this actor move this post to that stage, and is everything there that the move demands? */
export function judgeMove(
  actor: Actor | 'clock',
  post: PostFacts,
  to: Stage,
  facts: DemandFacts,
): MoveAnswer {
  const moves = MOVES.filter((m) => m.from === post.stage && m.to === to);
  if (moves.length === 0) {
    return { ok: false, code: 'no-such-move', sentence: `A post that is ${post.stage} cannot become ${to}.` };
  }
  const move = moves.find((m) => m.movers.some((mover) => isMover(mover, to, actor, post)));
  if (!move) return { ok: false, code: 'not-yours', sentence: `Making this post ${to} is not yours to do.` };
  return missed(move.demands, facts) ?? { ok: true, move };
}

/** What of these demands is not met; the checks are asked last, since they take longest. */
function missed(demands: readonly Demand[], facts: DemandFacts): Missed | null {
  const first = demands.filter((d) => d !== 'checks' && !DEMAND_CHECKS[d](facts));
  const missing = first.length > 0 ? first : demands.filter((d) => !DEMAND_CHECKS[d](facts));
  if (missing.length === 0) return null;
  const sentences = missing.map((d) => {
    const say = DEMAND_SENTENCES[d];
    return typeof say === 'string' ? say : say(facts);
  });
  return { ok: false, code: 'demands', missing, sentence: sentences.join(' ') };
}

/** What a release requires and a published post lacks, before its changes are published. */
export const missedByUpdate = (facts: DemandFacts): Missed | null => missed(TO_RELEASE, facts);

/** The moves this actor may make from where the post is, whether or not their demands are met yet. */
export function openMoves(actor: Actor, post: PostFacts): StageMove[] {
  const open = MOVES.filter(
    (m) => m.from === post.stage && m.movers.some((mover) => isMover(mover, m.to, actor, post)),
  );
  // The desk, where it writes as well, has one way there: its own.
  return open.filter((m, i) => open.findIndex((other) => other.to === m.to) === i);
}

/** Does a stage take a run time along with the move to it? */
export function takesRun(to: Stage): boolean {
  return to === 'commissioned' || to === 'drafting' || to === 'cleared' || to === 'scheduled';
}

/** Does a move take the run time away? Only a pitch has none. */
export function losesRun(to: Stage): boolean {
  return to === 'pitch';
}

/**
 * May a move be taken back by putting the post where it was? Only while the post stands where the move led, and
 * never a release. Whether the actor may is asked as for any other edit of the desk's.
 */
export function mayRevertMove(post: Pick<PostFacts, 'stage'>, made: { from?: Stage; to?: Stage }): boolean {
  return (
    post.stage === made.to &&
    MOVES.some((m) => m.from === made.from && m.to === made.to && m.movers.some((mover) => mover !== 'clock'))
  );
}
