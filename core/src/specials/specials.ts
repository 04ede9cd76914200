import type { Stage } from '../stages/stages.js';
import { formatCount } from '../time/format.js';

export const MAX_SPECIAL_TITLE = 120;
export const MAX_SPECIAL_INTRO = 4000;
export const MAX_SPECIAL_POSTS = 200;

/** Where the specials of a blog stand, each under its own slug. */
export const SPECIALS_PATH = '/special';

/** What readers of a special get of a post that was chosen for it. */
export const PART_STATES = ['readable', 'withdrawn', 'not for everybody', 'not out', 'in the bin'] as const;
export type PartState = (typeof PART_STATES)[number];

/** A post as far as it matters for that; `readable`: everybody may read it on the blog. */
export interface PartFacts {
  stage: Stage;
  binned: boolean;
  readable: boolean;
}

/** A special shows to everybody, so it shows what everybody may read, and says where something was withdrawn. */
export function partState({ stage, binned, readable }: PartFacts): PartState {
  if (readable) return 'readable';
  if (binned) return 'in the bin';
  if (stage === 'withdrawn') return 'withdrawn';
  return stage === 'published' ? 'not for everybody' : 'not out';
}

/** What is said at the desk of a part that readers do not get; empty where they do. */
export const PART_NOTES: Record<PartState, string> = {
  readable: '',
  withdrawn: 'Withdrawn: the special says so in its place, without its title.',
  'not for everybody': 'Not everybody may read it yet or at all, so it is left out.',
  'not out': 'Not out yet: it comes into the special with its release.',
  'in the bin': 'In the bin, so it is left out.',
};

export interface SpecialPlan {
  intro: string;
  hasCover: boolean;
  parts: readonly { title: string; state: PartState }[];
}

/** Why a special cannot be published as it is; null: it can. */
export const publishRefusal = ({ parts }: Pick<SpecialPlan, 'parts'>): string | null =>
  parts.some((p) => p.state === 'readable')
    ? null
    : 'None of its posts can be read by everybody yet: there is nothing to publish.';

/** What an editor should know of a special, a sentence each, the gravest first. */
export function specialNotes({ intro, hasCover, parts }: SpecialPlan): string[] {
  if (parts.length === 0) return ['No post is in it yet.'];
  const titles = (state: PartState): string => {
    const found = parts.filter((p) => p.state === state).map((p) => `“${p.title}”`);
    const more = found.length - 3;
    return [...found.slice(0, 3), ...(more > 0 ? [`${more} more`] : [])].join(', ');
  };
  const count = (state: PartState) => parts.filter((p) => p.state === state).length;
  const note = (state: PartState, then: string): string[] =>
    count(state) === 0 ? [] : [`${formatCount(count(state), 'post')} ${then}: ${titles(state)}.`];
  return [
    ...note('withdrawn', 'withdrawn, which the special says'),
    ...note('in the bin', 'in the bin and left out'),
    ...note('not for everybody', 'not for everybody and left out'),
    ...note('not out', 'not out yet'),
    ...(hasCover ? [] : ['It has no picture on its cover.']),
    ...(intro.trim() === '' ? ['Its cover says nothing of what it is about.'] : []),
  ];
}
