import { NO_DATE_CONSTRAINT } from '../planning/date-constraint.js';
import type { SlotDate } from '../slots/slots.js';
import { addDays } from '../time/zone.js';
import { NO_WISHES, type Problem, type ProposalPitch, type ProposalWriter } from './problem.js';

export const slotOn = (date: string, categoryId = 1, over: Partial<SlotDate> = {}): SlotDate => ({
  slotId: categoryId,
  date,
  time: '08:00',
  categoryId,
  format: '',
  movedFrom: null,
  ...over,
});

export const pitchOf = (id: number, over: Partial<ProposalPitch> = {}): ProposalPitch => ({
  id,
  title: `Pitch ${id}`,
  categoryId: 1,
  secondCategoryId: null,
  format: '',
  tagIds: [],
  dateConstraint: NO_DATE_CONSTRAINT,
  rating: null,
  since: '2026-11-23',
  bylineId: null,
  pitchedById: null,
  ...over,
});

export const writerOf = (id: number, over: Partial<ProposalWriter> = {}): ProposalWriter => ({
  id,
  name: `Writer ${id}`,
  capacity: 2,
  categoryIds: [],
  leadTime: { days: 4, count: 5 },
  wrote: [],
  ...over,
});

/** A problem of Monday 23 November 2026; the review takes two days. */
export const problemOf = (over: Partial<Problem> = {}): Problem => ({
  today: '2026-11-23',
  firstWeekday: 1,
  slots: [],
  pitches: [],
  writers: [],
  absences: [],
  fixed: [],
  wanted: over.slots ?? [],
  review: { days: 2, count: 9 },
  clearedBy: null,
  categories: [1, 2, 3, 4, 5].map((id) => ({ id, name: `Category ${id}` })),
  wishes: NO_WISHES,
  ...over,
});

/** Weeks of five themed weekdays, forty pitches in the tray and some writers, all at random by `random`. */
export function newsroom(
  random: () => number,
  { weeks, pitches, writers, tags = 20 }: { weeks: number; pitches: number; writers: number; tags?: number },
): Problem {
  const int = (n: number) => Math.floor(random() * n);
  const today = '2026-11-23';
  const slots = Array.from({ length: weeks * 5 }, (_, i) =>
    slotOn(addDays('2026-11-30', Math.floor(i / 5) * 7 + (i % 5)), (i % 5) + 1),
  );
  return problemOf({
    today,
    slots,
    pitches: Array.from({ length: pitches }, (_, i) =>
      pitchOf(i + 1, {
        categoryId: random() < 0.05 ? null : 1 + int(5),
        secondCategoryId: random() < 0.2 ? 1 + int(5) : null,
        tagIds: [...new Set([int(tags), int(tags)])],
        rating: random() < 0.5 ? 1 + int(5) : null,
        since: addDays(today, -int(150)),
        pitchedById: random() < 0.6 ? 1 + int(writers) : null,
        bylineId: random() < 0.1 ? 1 + int(writers) : null,
        dateConstraint: {
          notBefore: random() < 0.1 ? addDays(today, int(weeks * 7)) : null,
          notAfter: null,
          mustBeOn: random() < 0.05 ? slots[int(slots.length)]!.date : null,
        },
      }),
    ),
    writers: Array.from({ length: writers }, (_, i) =>
      writerOf(i + 1, {
        capacity: random() < 0.1 ? null : int(3),
        categoryIds: random() < 0.3 ? [] : [...new Set([1 + int(5), 1 + int(5)])],
        leadTime: { days: 3 + int(12), count: int(9) },
        wrote: [{ categoryId: 1 + int(5), count: int(30) }],
      }),
    ),
    absences: Array.from({ length: Math.ceil(writers / 2) }, (_, i) => {
      const from = addDays(today, int(weeks * 7));
      return { id: i, personId: 1 + int(writers), from, to: addDays(from, int(14)), note: '' };
    }),
    fixed: Array.from({ length: weeks }, (_, i) => ({
      id: 1000 + i,
      date: addDays('2026-11-30', int(weeks * 7)),
      categoryId: 1 + int(5),
      bylineId: 1 + int(writers),
      tagIds: [int(tags)],
    })),
  });
}
