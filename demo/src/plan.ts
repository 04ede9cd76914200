import { addDays, slotDates, type Stage, type StandingSlot } from '@keyroster/core';

export interface PlannedText {
  /** Key of an unfinished text, or null for an open slot. */
  key: string | null;
  stage: Stage;
  /** Days before the run time that the copy is due. */
  copyBefore?: number;
  /** Days before the day of loading that the copy was due, for the post that is late. */
  copyAgo?: number;
  angle?: string;
  length?: number;
}

const s = (key: string, stage: Stage, more: Partial<PlannedText> = {}): PlannedText => ({
  key,
  stage,
  ...more,
});
const open: PlannedText = { key: null, stage: 'pitch' };

/**
 * What stands in the coming slots of each category, in order. `spare` comes first when the category's next
 * slot is very near.
 */
const COMING: Record<string, { spare: PlannedText; then: PlannedText[] }> = {
  'Towpath walks': {
    spare: s('spare-towpath', 'scheduled'),
    then: [
      open,
      s('long-pound', 'in review', {
        copyBefore: 5,
        angle: 'The same three miles, by ear. Not a repeat of last year: the recording is the news.',
        length: 600,
      }),
      s('short-day', 'commissioned', {
        copyBefore: 6,
        angle:
          'Four hours of light. What can be seen from the summit, and in what order? End with where to get warm.',
        length: 800,
      }),
    ],
  },
  'Engine room': {
    spare: s('spare-engine', 'scheduled'),
    then: [
      s('engine-1', 'cleared', {
        copyBefore: 6,
        angle: 'The calorifier, step by step, for owners in their first winter.',
        length: 700,
      }),
      open,
      open,
    ],
  },
  'Lock-keepers': {
    spare: s('spare-keepers', 'scheduled'),
    then: [
      s('keepers-1', 'cleared', {
        copyBefore: 7,
        angle: 'The hens, mostly. Let the letters do it.',
        length: 500,
      }),
      s('keepers-2', 'drafting', {
        copyBefore: 5,
        angle: 'Four faces, four clocks. Who stopped it, and did anyone mind?',
        length: 900,
      }),
      open,
    ],
  },
  Galley: {
    spare: s('spare-galley', 'scheduled'),
    then: [
      s('galley-1', 'scheduled', { copyBefore: 6, angle: 'An apology with a recipe in it.', length: 200 }),
      s('galley-2', 'drafting', {
        copyAgo: 3,
        angle: 'Watch her do a whole batch. We want the ash test and the dough, with times.',
        length: 900,
      }),
      open,
    ],
  },
  'Five to moor': {
    spare: s('five-2', 'scheduled'),
    then: [
      s('five-1', 'scheduled', {
        copyBefore: 6,
        angle: 'Presents that get used up. Nothing that has to be stowed.',
        length: 500,
      }),
      s('five-2', 'cleared', {
        copyBefore: 7,
        angle: 'The names that are used, not the ones on the map.',
        length: 450,
      }),
      s('five-3', 'commissioned', {
        copyBefore: 7,
        angle: 'For reading aloud, by the stove. One for children.',
        length: 600,
      }),
    ],
  },
};

/** Slots this near are prepared whatever the weekday, as a blog that stays ahead would have them. */
const NEAR = 2;

export interface Coming {
  date: string;
  time: string;
  categoryId: number;
  text: PlannedText;
}

/**
 * Fills the slots from now on, relative to the day of loading; the same weekday always gives the same plan.
 */
export function planComing(
  slots: readonly StandingSlot[],
  names: ReadonlyMap<number, string>,
  nowLocal: string,
): Coming[] {
  const today = nowLocal.slice(0, 10);
  const dates = slotDates(slots, today, addDays(today, 27)).filter(
    (d) => `${d.date}T${d.time}:00` > nowLocal,
  );
  const taken = new Map<number, PlannedText[]>();
  return dates.flatMap((slot, i) => {
    const coming = COMING[names.get(slot.categoryId) ?? ''];
    if (!coming) return [];
    if (!taken.has(slot.categoryId)) {
      const needsSpare = i < NEAR && coming.then[0]!.stage !== 'scheduled';
      // The spare takes the place of a slot that would be open, so that what follows keeps its week.
      const [first, ...then] = coming.then;
      const rest = needsSpare && first === open ? then : coming.then;
      taken.set(slot.categoryId, needsSpare ? [coming.spare, ...rest] : [...rest]);
    }
    const text = taken.get(slot.categoryId)!.shift();
    return text?.key ? [{ date: slot.date, time: slot.time, categoryId: slot.categoryId, text }] : [];
  });
}

/**
 * Dates of the published posts: a full last five weeks, then about every second week, back over a year.
 * Newest first.
 */
export function pastDates(weekday: number, time: string, nowLocal: string, count: number): string[] {
  const today = nowLocal.slice(0, 10);
  const slot: StandingSlot = {
    id: 1,
    weekday,
    time,
    categoryId: 1,
    format: '',
    from: null,
    until: null,
    everyWeeks: 1,
    exceptions: [],
  };
  const all = slotDates([slot], addDays(today, -364), today)
    .filter((d) => `${d.date}T${d.time}:00` <= nowLocal)
    .reverse();
  const step = (all.length - 6) / (count - 6);
  return Array.from(
    { length: count },
    (_, i) => all[i < 6 ? i : Math.min(all.length - 1, 6 + Math.floor((i - 6) * step))]!.date,
  );
}
