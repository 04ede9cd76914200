import {
  addDays,
  rhythm,
  runway,
  formatSteadiness,
  slotDates,
  startOfWeek,
  type RhythmPost,
  type SiteSettings,
} from '@keyroster/core';
import type { RhythmView } from '@keyroster/contract';
import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { clockAndSlots } from '../slots/slots.js';
import { runwayPosts } from '../today/runway.js';

/** Weeks that the rhythm looks back, and ahead. */
const RHYTHM_WEEKS = 13;

export async function rhythmView(db: Queryable, person: CurrentPerson): Promise<RhythmView> {
  const clock = await clockAndSlots(db, person.blogId);
  const { site } = (await db('blogs')
    .where({ id: person.blogId })
    .first<{ site: Partial<SiteSettings> }>('site'))!;
  const from = addDays(startOfWeek(clock.today, clock.firstWeekday), -7 * RHYTHM_WEEKS);
  const to = addDays(from, 14 * RHYTHM_WEEKS - 1);
  const posts = await db('posts')
    .where({ blog_id: person.blogId })
    .whereBetween('run_local', [`${from}T00:00:00`, `${to}T23:59:59`])
    .select<RhythmPost[]>('run_local as runLocal', 'stage');
  const value = rhythm({
    posts,
    slots: slotDates(clock.slots, from, to),
    today: clock.today,
    firstWeekday: clock.firstWeekday,
    span: RHYTHM_WEEKS,
    wanted: site.wantedPerWeek ?? null,
  });
  const covered = runway({
    posts: await runwayPosts(db, person.blogId, clock, 7 * RHYTHM_WEEKS),
    slots: clock.slots,
    nowLocal: clock.nowLocal,
    length: 7 * RHYTHM_WEEKS,
  });
  return {
    rhythm: value,
    runway: covered,
    past: formatSteadiness(value.past),
    ahead: formatSteadiness(value.ahead),
    gaps: covered.days.flatMap((d) => d.open),
  };
}
