import { conflictsWithDate } from '../planning/date-constraint.js';
import type { SlotDate } from '../slots/slots.js';
import { deadlinesOf } from './deadlines.js';
import { slotKey, type Placing, type Problem, type ProposalPitch, type ProposalWriter } from './problem.js';

/** Why something cannot be, from what is furthest to what is nearest: the order in which it is looked at. */
export const RULES = [
  'excluded',
  'category',
  'format',
  'date',
  'byline',
  'writes other categories',
  'no time',
  'capacity',
] as const;
export type Rule = (typeof RULES)[number];

const samePlacing = (a: Placing, b: Placing) =>
  a.pitchId === b.pitchId && a.slot === b.slot && a.writerId === b.writerId;

/** The first rule that keeps a pitch out of a slot, for any writer; null when none does. */
export function slotRule(problem: Problem, pitch: ProposalPitch, slot: SlotDate): Rule | null {
  const { excluded } = problem.wishes;
  if (excluded.pitches.includes(pitch.id) || excluded.slots.includes(slotKey(slot))) return 'excluded';
  if (
    pitch.categoryId !== null &&
    pitch.categoryId !== slot.categoryId &&
    pitch.secondCategoryId !== slot.categoryId
  )
    return 'category';
  if (slot.format !== '' && pitch.format !== '' && pitch.format !== slot.format) return 'format';
  if (conflictsWithDate(pitch.dateConstraint, slot.date) !== null) return 'date';
  return null;
}

/** The first rule that keeps a writer from a pitch in a slot that it may be in; null when none does. */
export function writerRule(
  problem: Problem,
  pitch: ProposalPitch,
  slot: SlotDate,
  writer: ProposalWriter,
): Rule | null {
  const { excluded } = problem.wishes;
  if (pitch.stands?.slot === slotKey(slot) && pitch.stands.writerId === writer.id) return null;
  if (pitch.bylineId !== null && pitch.bylineId !== writer.id) return 'byline';
  const placing = { pitchId: pitch.id, slot: slotKey(slot), writerId: writer.id };
  if (excluded.writers.includes(writer.id) || excluded.placings.some((p) => samePlacing(p, placing)))
    return 'excluded';
  const category = pitch.categoryId ?? slot.categoryId;
  // Who is credited already has been chosen by somebody, whatever they usually write.
  if (pitch.bylineId === null && writer.categoryIds.length > 0 && !writer.categoryIds.includes(category))
    return 'writes other categories';
  if (deadlinesOf(writer, slot.date, problem) === null) return 'no time';
  return null;
}
