import { addDays } from '@keyroster/core';
import { daysBefore } from './days.js';
import type { Loading } from './loading.js';

/** Days that each writer takes to write, and how often in ten they are a day late. */
const PACES: Record<string, { days: number; late: number }> = {
  RA: { days: 6, late: 1 },
  TO: { days: 9, late: 4 },
  IN: { days: 5, late: 0 },
  JM: { days: 7, late: 3 },
  PK: { days: 4, late: 2 },
  MW: { days: 8, late: 2 },
};
const USUAL = { days: 7, late: 2 };

/** When a published post went from hand to hand, before it ran. */
export interface Passage {
  /** Days before its run time. */
  commissioned: number;
  submitted: number;
  cleared: number;
  copyDate: string;
}

/** The passage of the `n`th post of a writer: about as long as they usually take, and a day late now and then. */
export function passageOf(writer: string, n: number, runLocal: string): Passage {
  const { days, late } = PACES[writer] ?? USUAL;
  const cleared = 2 + (n % 3);
  const handedIn = cleared + 1 + (n % 4 === 0 ? 1 : n % 2);
  const commissioned = handedIn + days + ((n * 7) % 5) - 2;
  const isLate = (n * 3) % 10 < late;
  return {
    commissioned,
    submitted: handedIn,
    cleared,
    copyDate: addDays(runLocal.slice(0, 10), -handedIn - (isLate ? 1 : -1)),
  };
}

/** Writes down when a published post was commissioned, handed in and cleared, and by whom. */
export async function loadPassage(
  to: Loading,
  postId: number,
  runLocal: string,
  writerId: number,
  passage: Passage,
): Promise<void> {
  const desk = to.people.get('MW')!;
  const move = (from: string, toStage: string, personId: number, days: number) => ({
    blog_id: to.blogId,
    post_id: postId,
    from_stage: from,
    to_stage: toStage,
    person_id: personId,
    note: '',
    at: daysBefore(`${runLocal}Z`, days),
  });
  await to
    .trx('stage_moves')
    .insert([
      move('pitch', 'commissioned', desk, passage.commissioned),
      move('drafting', 'in review', writerId, passage.submitted),
      move('in review', 'cleared', desk, passage.cleared),
    ]);
}
