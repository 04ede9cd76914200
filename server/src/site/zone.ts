import {
  isLater,
  lastVisitDue,
  meaningOf,
  takenByZone,
  takenSentence,
  type Delay,
  type Instant,
} from '@keyroster/core';
import { visitsAt } from '../access/visits.js';
import type { Trx } from '../db/connect.js';
import { databaseNow } from '../db/now.js';
import { ProblemError } from '../http/problem.js';
import { editPosts } from '../posts/edit.js';

/**
 * Puts the blog into another zone. What is to come keeps its wall time, and so becomes another instant: 08:00 stays
 * 08:00, by the new clocks. Refused when something scheduled would be due at once,
 * and, until that is accepted, when readers would lose parts of serials that they have.
 */
export async function moveZone(trx: Trx, blogId: number, zone: string, accepting: boolean): Promise<void> {
  const { zone: before } = (await trx('blogs')
    .where({ id: blogId })
    .forNoKeyUpdate()
    .first<{ zone: string }>('zone'))!;
  if (before === zone) return;
  const now = await databaseNow(trx);
  if (!accepting) await mustTakeNothing(trx, blogId, { before, after: zone }, now);
  const ids = await trx('all_posts')
    .where({ blog_id: blogId, run_zone: before })
    .whereNotIn('stage', ['published', 'withdrawn'])
    .where('run_at', '>', now)
    .orderBy('id')
    .pluck<number[]>('id');
  const there = (local: string): string => {
    const meaning = meaningOf(local, zone)!;
    return meaning.kind === 'exact' ? meaning.at : meaning.choices[0].at;
  };
  await editPosts(trx, blogId, 'clock', ids, (post) => {
    if (!post.run) return [];
    const at = there(post.run.local);
    if (post.stage === 'scheduled' && !isLater(at, now))
      throw new ProblemError(
        'bad-time',
        `“${post.title}” is scheduled, and by the clocks of ${zone} its time has passed: it would go out at once. ` +
          'Unschedule it or move it first.',
        { fields: [{ field: 'zone', sentence: 'A scheduled post would go out at once.' }] },
      );
    return [{ kind: 'set', values: { run: { ...post.run, zone, at } } }];
  });
}

async function mustTakeNothing(
  trx: Trx,
  blogId: number,
  zones: { before: string; after: string },
  now: Instant,
): Promise<void> {
  const rows = await trx('serial_parts as s')
    .join('posts as p', 'p.id', 's.post_id')
    .where({ 'p.blog_id': blogId, 'p.stage': 'published' })
    .orderBy('s.position')
    .select<(Delay & { postId: number; title: string })[]>(
      's.post_id as postId',
      'p.title',
      's.days',
      's.hours',
      's.minutes',
    );
  const parts = rows.map(({ postId, days, hours, minutes }) => ({ postId, delay: { days, hours, minutes } }));
  const times = parts.flatMap(({ delay }) =>
    [zones.before, zones.after].map((zone) => lastVisitDue(now, delay, zone)),
  );
  const until = await visitsAt(trx, blogId, times);
  const taken = takenByZone(parts, () => true, zones, now, until);
  if (taken.length === 0) return;
  const sentences = taken.map((t) => takenSentence(t, rows.find((r) => r.postId === t.postId)!.title));
  throw new ProblemError('takes-away', sentences.join(' '), {
    fields: sentences.map((sentence) => ({ field: 'zone', sentence })),
  });
}
