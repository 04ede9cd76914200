import type { Actor, Role } from '../people/people.js';
import { isDesk, isWriter, maySchedule, type PostFacts, type Stage } from './stages.js';

/** What a person may do with one post, beside moving it (see stages.ts). */
export type PostAction =
  'see' | 'write' | 'details' | 'plan' | 'note' | 'settle' | 'update' | 'suggest' | 'history';

const WRITER_STAGES: readonly Stage[] = ['pitch', 'commissioned', 'drafting'];
const PROOF_STAGES: readonly Stage[] = ['drafting', 'in review', 'cleared', 'scheduled'];

type Rule = (actor: Actor, post: PostFacts) => boolean;

const isProofreader: Rule = (actor, post) => post.proofreaderId === actor.id;
/** A pitch without a byline is still its maker's to word. */
const isOwnPitch: Rule = (actor, post) =>
  post.stage === 'pitch' && post.bylineId === null && post.createdById === actor.id;
/** Those who see whatever the newsroom has, in the bin too; a proofreader sees what they are put on. */
export const seesEverything = (role: Role): boolean => role !== 'reader' && role !== 'proofreader';
const staffSee: Rule = (actor, post) =>
  actor.role !== 'reader' &&
  (seesEverything(actor.role) ||
    isProofreader(actor, post) ||
    // What waits for an update is not public yet; on the blog they read the post as everybody does.
    (post.stage === 'published' && post.readersVersion === null));

/** Is this post one that they are put on, at a time for it? */
const proofreads: Rule = (actor, post) =>
  actor.role === 'proofreader' && isProofreader(actor, post) && PROOF_STAGES.includes(post.stage);

const RULES: Record<PostAction, Rule> = {
  see: staffSee,
  /** what it was before, also before it was published */
  history: (actor, post) =>
    seesEverything(actor.role) || (actor.role !== 'reader' && isProofreader(actor, post)),
  /** title, excerpt, text, tags, format, pictures and what search engines see */
  write: (actor, post) =>
    isDesk(actor, post) ||
    ((actor.role === 'contributor' || actor.role === 'editor') &&
      WRITER_STAGES.includes(post.stage) &&
      (isWriter(actor, post) || isOwnPitch(actor, post))) ||
    (post.proofreaderWrites && proofreads(actor, post)),
  /** changes of the text that somebody else accepts or refuses */
  suggest: (actor, post) => RULES.write(actor, post) || proofreads(actor, post),
  /** address, category, byline, brief, access, comments, campaign */
  details: isDesk,
  /** putting what was changed in a published post before its readers */
  update: (actor, post) => post.stage === 'published' && isDesk(actor, post),
  /** run time; of a scheduled post it is when it goes out */
  plan: (actor, post) => isDesk(actor, post) && (post.stage !== 'scheduled' || maySchedule(actor)),
  note: (actor, post) =>
    isDesk(actor, post) || (actor.role !== 'reader' && (isWriter(actor, post) || isProofreader(actor, post))),
  settle: (actor, post) =>
    isDesk(actor, post) || (actor.role !== 'reader' && (isWriter(actor, post) || isProofreader(actor, post))),
};

/** May this person do this with this post? */
export function may(actor: Actor, action: PostAction, post: PostFacts): boolean {
  return RULES[action](actor, post);
}

/** What a person may do in the newsroom as a whole, by role alone. */
export const ROLE_MAY = {
  enterNewsroom: ['managing editor', 'editor', 'contributor', 'proofreader'],
  pitch: ['managing editor', 'editor', 'contributor'],
  addPictures: ['managing editor', 'editor', 'contributor', 'proofreader'],
  seeReleaseLog: ['managing editor', 'editor', 'contributor'],
  manageBlog: ['managing editor'],
  managePeople: ['managing editor'],
  manageTags: ['managing editor', 'editor'],
  changeMany: ['managing editor', 'editor'],
  moderate: ['managing editor', 'editor'],
  manageSerials: ['managing editor', 'editor'],
  proposePlan: ['managing editor', 'editor'],
  manageOutlets: ['managing editor'],
  makePieces: ['managing editor', 'editor', 'contributor'],
  sendPieces: ['managing editor', 'editor'],
  writeLetters: ['managing editor', 'editor'],
  planCampaigns: ['managing editor', 'editor'],
  makeSpecials: ['managing editor', 'editor'],
  seeResults: ['managing editor', 'editor', 'contributor'],
} as const satisfies Record<string, readonly Role[]>;

export type RoleAction = keyof typeof ROLE_MAY;

export function roleMay(role: Role, action: RoleAction): boolean {
  return (ROLE_MAY[action] as readonly Role[]).includes(role);
}
