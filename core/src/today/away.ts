import type { Absence } from '../planning/load.js';
import type { Actor } from '../people/people.js';
import { isDesk, isReady, type Stage } from '../stages/stages.js';

/** A dated post as absences see it. */
export interface AwayPost {
  id: number;
  title: string;
  stage: Stage;
  categoryId: number | null;
  bylineId: number | null;
  runLocal: string;
  copyDate: string | null;
}

/** An absence in which posts lie that are not ready: their writer is away when copy is due or when they run. */
export interface AwayNeed {
  absence: Absence;
  posts: AwayPost[];
}

/**
 * Absences, the soonest first, in which posts lie that are not cleared yet, as far as they are this person's to
 * handle.
 */
export function postsInAbsences(
  actor: Actor,
  posts: readonly AwayPost[],
  absences: readonly Absence[],
): AwayNeed[] {
  return [...absences]
    .sort((a, b) => a.from.localeCompare(b.from) || a.id - b.id)
    .map((absence) => {
      const within = (date: string | null) => date !== null && date >= absence.from && date <= absence.to;
      return {
        absence,
        posts: posts.filter(
          (p) =>
            p.bylineId === absence.personId &&
            p.stage !== 'pitch' &&
            p.stage !== 'withdrawn' &&
            !isReady(p.stage) &&
            isDesk(actor, p) &&
            (within(p.runLocal.slice(0, 10)) || (p.stage !== 'in review' && within(p.copyDate))),
        ),
      };
    })
    .filter((need) => need.posts.length > 0);
}
