import type { Stage } from '../stages/stages.js';

export interface ChecklistPost {
  stage: Stage;
  bylineId: number | null;
  categoryId: number | null;
  words: number;
  excerpt: string;
  openNotes: number;
  /** What its checklists ask for and is not done, and how much is. */
  openChores: readonly string[];
  doneChores: number;
}

/** One thing that has to be done before a post can go out. */
export interface ChecklistItem {
  /** What is missing while it is not done: `an excerpt`. */
  lacks: string;
  done: boolean;
}

const STEPS: Partial<Record<Stage, string>> = {
  pitch: 'commissioning',
  commissioned: 'handing in',
  drafting: 'handing in',
  'in review': 'clearing',
  cleared: 'scheduling',
};

/** The checklist of a post, in the order in which it is usually worked through; empty once it is out. */
export function checklistOf(post: ChecklistPost): ChecklistItem[] {
  if (post.stage === 'published' || post.stage === 'withdrawn') return [];
  const step = STEPS[post.stage];
  return [
    { lacks: 'a writer', done: post.bylineId !== null },
    { lacks: 'a category', done: post.categoryId !== null },
    { lacks: 'its text', done: post.words > 0 },
    { lacks: 'an excerpt', done: post.excerpt.trim() !== '' },
    {
      lacks: post.openNotes <= 1 ? 'an answer to 1 note' : `answers to ${post.openNotes} notes`,
      done: post.openNotes === 0,
    },
    ...Array.from({ length: post.doneChores }, () => ({ lacks: '', done: true })),
    ...post.openChores.map((text) => ({ lacks: `“${text}”`, done: false })),
    { lacks: step ?? 'scheduling', done: step === undefined },
  ];
}

/** What a post still lacks before it can go out. */
export function lacks(post: ChecklistPost): string[] {
  return checklistOf(post)
    .filter((c) => !c.done)
    .map((c) => c.lacks);
}

/** `4 of 6 done`, or '' once the post is out. */
export function formatChecklist(chores: readonly ChecklistItem[]): string {
  return chores.length === 0 ? '' : `${chores.filter((c) => c.done).length} of ${chores.length} done`;
}
