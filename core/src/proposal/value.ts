import { daysToRun } from '../planning/date-constraint.js';
import type { SlotDate } from '../slots/slots.js';
import { daysBetween } from '../time/zone.js';
import { slotKey, type Problem, type ProposalPitch, type ProposalWriter } from './problem.js';

/** What each reason is worth, in whole points; docs/planning.md says what they mean. */
export const WEIGHTS = {
  /** A slot that is filled. */
  filled: 100,
  /** The first of the chosen days; the last gets nothing. */
  soon: 20,
  /** Each point of rating above 3, or below. */
  rating: 6,
  /** Each week that it waited, up to `waitedMost`. */
  waited: 1,
  waitedMost: 15,
  /** Its last day comes within the chosen days. */
  lastChance: 15,
  /** It is on the day that it must be on. */
  itsDay: 40,
  /** Written by the person who pitched it, or is credited already. */
  own: 20,
  /** Each two posts that the writer has had out in the category, up to `knowsMost`. */
  knows: 1,
  knowsMost: 10,
  /** It fits the slot by its second category only; it has no category. */
  second: -15,
  noCategory: -10,
  /** A pair of posts of one writer, for each day that they are nearer than `SPANS.byline`; and so on. */
  byline: 4,
  tag: 2,
  category: 3,
} as const;

/** Days within which posts that are alike stand close. */
export const SPANS = { byline: 3, tag: 7, category: 7 } as const;

/** What a change of a plan that stands costs, in points; see `dropOut`. */
export const CHANGE_WEIGHTS = { kept: 1000, sameSlot: 60, sameWriter: 40 } as const;

export const VALUE_PARTS = [
  'filled',
  'soon',
  'rating',
  'waited',
  'lastChance',
  'itsDay',
  'own',
  'knows',
  'second',
  'noCategory',
  'kept',
] as const;
export type ValuePart = (typeof VALUE_PARTS)[number];

const last = (problem: Problem) => problem.slots.at(-1)?.date ?? problem.today;

/** What a placing is worth, part by part; parts that are worth nothing are left out. */
export function valueParts(
  problem: Problem,
  pitch: ProposalPitch,
  slot: SlotDate,
  writer: ProposalWriter,
): Partial<Record<ValuePart, number>> {
  if (pitch.stands) return { kept: keptWorth(pitch, slot, writer) };
  const span = Math.max(1, daysBetween(problem.today, last(problem)));
  const ahead = Math.max(0, daysBetween(problem.today, slot.date));
  const toRun = daysToRun(pitch.dateConstraint, problem.today);
  const wrote = writer.wrote.find((w) => w.categoryId === slot.categoryId)?.count ?? 0;
  const weeks = Math.floor(Math.max(0, daysBetween(pitch.since, problem.today)) / 7);
  const parts: [ValuePart, number][] = [
    ['filled', WEIGHTS.filled],
    ['soon', Math.round(WEIGHTS.soon * (1 - Math.min(1, ahead / span)))],
    ['rating', WEIGHTS.rating * ((pitch.rating ?? 3) - 3)],
    ['waited', WEIGHTS.waited * Math.min(WEIGHTS.waitedMost, weeks)],
    [
      'lastChance',
      toRun !== null && toRun <= daysBetween(problem.today, last(problem)) ? WEIGHTS.lastChance : 0,
    ],
    ['itsDay', pitch.dateConstraint.mustBeOn === slot.date ? WEIGHTS.itsDay : 0],
    ['own', (pitch.bylineId ?? pitch.pitchedById) === writer.id ? WEIGHTS.own : 0],
    ['knows', WEIGHTS.knows * Math.min(WEIGHTS.knowsMost, Math.floor(wrote / 2))],
    ['second', pitch.categoryId !== null && pitch.categoryId !== slot.categoryId ? WEIGHTS.second : 0],
    ['noCategory', pitch.categoryId === null ? WEIGHTS.noCategory : 0],
  ];
  return Object.fromEntries(parts.filter(([, points]) => points !== 0));
}

function keptWorth({ stands }: ProposalPitch, slot: SlotDate, writer: ProposalWriter): number {
  return (
    CHANGE_WEIGHTS.kept +
    (stands!.slot === slotKey(slot) ? CHANGE_WEIGHTS.sameSlot : 0) +
    (stands!.writerId === writer.id ? CHANGE_WEIGHTS.sameWriter : 0)
  );
}

export const sumOf = (parts: Partial<Record<ValuePart, number>>): number =>
  Object.values(parts).reduce((sum, points) => sum + points, 0);
