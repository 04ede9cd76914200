import { createHash } from 'node:crypto';
import type { Received } from './store.js';

/** What readers did with a thing so far. */
export interface Figures {
  views: number;
  passedOn: number;
  replies: number;
  clicks: number;
}

/** When people look, by hour: most at breakfast, noon and in the evening. */
const HOURS = [
  0.2, 0.15, 0.1, 0.1, 0.15, 0.3, 0.6, 0.95, 1.2, 1, 0.85, 0.9, 1.25, 1.1, 0.8, 0.8, 0.9, 1.1, 1.3, 1.35, 1.2,
  0.95, 0.6, 0.35,
];
/** A thing is forgotten by half of those who would look within so many hours. */
const HALF_LIFE_HOURS = 14;

/** A number from 0 to 1 that is always the same for the same words. */
function chance(...words: string[]): number {
  return createHash('sha256').update(words.join('\n')).digest().readUInt32BE(0) / 2 ** 32;
}

/**
 * How readers react: a model with a seed, not a guess at anybody's real readers. How many look depends on the
 * hour it came, its subject and how it begins; a question is answered more, a picture passed on more, a link
 * clicked. All grow over days and then stand.
 */
export function figuresOf(thing: Received, followers: number, now: Date): Figures {
  const hours = Math.max(0, (now.getTime() - Date.parse(thing.at)) / 3_600_000);
  const reached = 1 - 0.5 ** (hours / HALF_LIFE_HOURS);
  const opening = `${thing.title} ${thing.text}`.trim().split('\n')[0]!;
  const subject = 0.7 + 0.6 * chance('subject', thing.tags[0] ?? '');
  const words = opening.split(/\s+/).length;
  const opens =
    (words >= 5 && words <= 16 ? 1.15 : 0.9) *
    (/\d/.test(opening) ? 1.1 : 1) *
    (thing.photos.length > 0 ? 1.25 : 1);
  const luck = 0.6 + 0.8 * chance(thing.id, opening);
  const views = Math.round(
    followers * 0.4 * HOURS[new Date(thing.at).getUTCHours()]! * subject * opens * luck * reached,
  );
  const share = (name: string, rate: number) => Math.round(views * rate * (0.5 + chance(thing.id, name)));
  return {
    views,
    passedOn: share('passed on', thing.photos.length > 0 ? 0.035 : 0.02),
    replies: share('replies', opening.includes('?') ? 0.02 : 0.006),
    clicks: thing.link === '' ? 0 : share('clicks', 0.05),
  };
}
