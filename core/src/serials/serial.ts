import { dueAt, isDelayed, lastVisitDue, nominalMinutes, type Delay } from './delay.js';
import type { Instant } from '../time/zone.js';

/** A part of a serial: a post, and when each reader gets it. */
export interface SerialPart {
  postId: number;
  delay: Delay;
}

export const MAX_PARTS = 100;

/** A part as a reader has it who came first at a time. */
export interface PartDue extends SerialPart {
  at: Instant;
  due: boolean;
}

/** What a reader of a serial gets when. */
export const timelineOf = (
  parts: readonly SerialPart[],
  firstVisit: Instant,
  zone: string,
  now: Instant,
): PartDue[] =>
  parts.map((part) => {
    const at = dueAt(firstVisit, part.delay, zone);
    return { ...part, at, due: Date.parse(at) <= Date.parse(now) };
  });

/** Parts that a reader may not have yet; `firstVisit` null: this is their first visit. */
export function withheldParts(
  parts: readonly SerialPart[],
  firstVisit: Instant | null,
  zone: string,
  now: Instant,
): number[] {
  if (firstVisit === null) return parts.filter((p) => isDelayed(p.delay)).map((p) => p.postId);
  return timelineOf(parts, firstVisit, zone, now).flatMap((p) => (p.due ? [] : [p.postId]));
}

/** What is odd about the order of the parts, a sentence each. */
export function orderWarnings(parts: readonly (SerialPart & { title: string })[]): string[] {
  return parts.flatMap((part, i) => {
    const before = parts[i - 1];
    return before && nominalMinutes(part.delay) < nominalMinutes(before.delay)
      ? [`“${part.title}” comes to readers before “${before.title}”, which stands before it.`]
      : [];
  });
}

/** How many first visits there were up to a time, that time among them. */
export type VisitsUntil = (at: Instant) => number;

/** Of a part, how many readers have it, and for how many of these it is the newest one they have. */
export interface ReadersOfPart {
  postId: number;
  have: number;
  newest: number;
}

/** How many readers are where in a serial, by when they came first. */
export function readersOfParts(
  parts: readonly SerialPart[],
  zone: string,
  now: Instant,
  until: VisitsUntil,
): ReadersOfPart[] {
  const counts = parts.map((part) => ({
    part,
    // At their first visit readers are counted with the minute in which they come.
    have: until(isDelayed(part.delay) ? lastVisitDue(now, part.delay, zone) : now),
  }));
  return counts.map(({ part, have }) => {
    // Later parts that fewer readers have; of those equally late the last one is the newest.
    const further = counts
      .filter((other) => other.have < have || (other.have === have && other.part !== part))
      .filter(
        (other) =>
          nominalMinutes(other.part.delay) > nominalMinutes(part.delay) ||
          (nominalMinutes(other.part.delay) === nominalMinutes(part.delay) &&
            parts.indexOf(other.part) > parts.indexOf(part)),
      );
    return { postId: part.postId, have, newest: have - Math.max(0, ...further.map((f) => f.have)) };
  });
}

/** A post that a change would take from readers who have it now. */
export interface TakenAway {
  postId: number;
  /** Readers who came and have it, and would not. */
  readers: number;
  /** It was before everybody, also before who never came. */
  fromEverybody: boolean;
}

/**
 * What would be taken from readers by putting a serial's parts in place of what it had. `isOut` says whether a post is
 * published: nobody can lose what is not published.
 */
export function takenAway(
  before: readonly SerialPart[],
  after: readonly SerialPart[],
  isOut: (postId: number) => boolean,
  zone: string,
  now: Instant,
  until: VisitsUntil,
): TakenAway[] {
  return after.flatMap((part) => {
    if (!isOut(part.postId) || !isDelayed(part.delay)) return [];
    const was = before.find((p) => p.postId === part.postId);
    const fromEverybody = was === undefined || !isDelayed(was.delay);
    if (!fromEverybody && nominalMinutes(was.delay) >= nominalMinutes(part.delay)) return [];
    const had = until(fromEverybody ? now : lastVisitDue(now, was.delay, zone));
    const readers = Math.max(0, had - until(lastVisitDue(now, part.delay, zone)));
    return readers > 0 || fromEverybody ? [{ postId: part.postId, readers, fromEverybody }] : [];
  });
}

/** What another home zone of the blog would take from readers: its days begin and end at other times. */
export function takenByZone(
  parts: readonly SerialPart[],
  isOut: (postId: number) => boolean,
  zones: { before: string; after: string },
  now: Instant,
  until: VisitsUntil,
): TakenAway[] {
  return parts.flatMap(({ postId, delay }) => {
    if (!isOut(postId) || !isDelayed(delay)) return [];
    const had = until(lastVisitDue(now, delay, zones.before));
    const readers = had - until(lastVisitDue(now, delay, zones.after));
    return readers > 0 ? [{ postId, readers, fromEverybody: false }] : [];
  });
}

export const takenSentence = ({ readers, fromEverybody }: TakenAway, title: string): string => {
  const who = readers === 1 ? 'one reader who has' : `${readers} readers who have`;
  if (!fromEverybody)
    return `“${title}” would be taken from ${who} it already, until it is due for them again.`;
  const those =
    readers === 0
      ? ''
      : `, ${readers === 1 ? 'one reader' : `${readers} readers`} who came lately among them`;
  return `“${title}” is visible to everybody now; new readers would lose it${those}.`;
};
