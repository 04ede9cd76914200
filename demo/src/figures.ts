import { addDays, meaningOf, wallTimeOf } from '@keyroster/core';
import type { Db, Trx } from '@keyroster/server';
import { ZONE } from './load-posts.js';

/** Posts that are older went to two outlets each, whose figures have come in long since. */
const OLDER_DAYS = 100;
const ROUNDS = [
  { outlet: 'Towline', kind: 'short post', hours: [8, 12, 12, 17, 19], seen: 640, noon: 1.6, clicked: 0.05 },
  { outlet: 'Porthole', kind: 'quote card', hours: [9, 17, 18, 20], seen: 410, noon: 1, clicked: 0.012 },
];

/** A number from nought to one that is the same every time. */
const chance = (n: number) => ((n * 2654435761) >>> 0) / 2 ** 32;

/** A year of what outlets told of pieces: of those that were sent from the newsroom, and of earlier ones. */
export const loadFigures = (db: Db): Promise<void> => db.transaction((trx) => load(trx));

async function load(trx: Trx): Promise<void> {
  const { id: blogId } = (await trx('blogs').orderBy('id').first<{ id: number }>('id'))!;
  const { person_id: chief } = (await trx('memberships')
    .where({ blog_id: blogId, role: 'managing editor' })
    .first<{ person_id: number }>('person_id'))!;
  const today = wallTimeOf(new Date().toISOString(), ZONE).slice(0, 10);
  const posts = await trx('posts')
    .where({ blog_id: blogId, stage: 'published', access: 'everyone' })
    .where('run_local', '<', addDays(today, -OLDER_DAYS))
    .orderBy('run_local')
    .select<{ id: number; title: string; run_local: string; version: number }[]>(
      'id',
      'title',
      'run_local',
      'version',
    );
  for (const round of ROUNDS) {
    const outlet = await trx('outlets')
      .where({ blog_id: blogId, name: round.outlet })
      .first<{ id: number } | undefined>('id');
    if (!outlet) continue;
    for (const [i, post] of posts.entries()) {
      const hour = round.hours[i % round.hours.length]!;
      const dueLocal = `${addDays(post.run_local.slice(0, 10), 1)}T${String(hour).padStart(2, '0')}:05`;
      const meaning = meaningOf(dueLocal, ZONE)!;
      const sentAt = meaning.kind === 'exact' ? meaning.at : meaning.choices[0].at;
      const [piece] = await trx('pieces')
        .insert({
          blog_id: blogId,
          post_id: post.id,
          outlet_id: outlet.id,
          kind: round.kind,
          parts: [post.title],
          words: round.kind === 'quote card' ? post.title : '',
          source_version: post.version,
          timing: JSON.stringify({ kind: 'next day', time: `${String(hour).padStart(2, '0')}:05` }),
          due_at: sentAt,
          due_local: dueLocal,
          made_by: chief,
          made_at: sentAt,
        })
        .returning<{ id: number }[]>('id');
      await trx('sends').insert({
        blog_id: blogId,
        piece_id: piece!.id,
        outlet_id: outlet.id,
        state: 'sent',
        due_at: sentAt,
        sent_at: sentAt,
        approved_by: chief,
        approved_at: sentAt,
        attempts: 1,
      });
    }
    const sends = await trx('sends')
      .where({ outlet_id: outlet.id, state: 'sent' })
      .orderBy('id')
      .select<{ id: number; sent_at: string }[]>('id', 'sent_at');
    const figures = sends.map(({ id, sent_at }) => {
      const hour = Number(wallTimeOf(sent_at, ZONE).slice(11, 13));
      const seen = Math.round(
        round.seen * (hour >= 11 && hour <= 13 ? round.noon : 1) * (0.6 + 0.8 * chance(id)),
      );
      return {
        send_id: id,
        day: sent_at.slice(0, 10),
        seen,
        passed_on: Math.round(seen * 0.03 * (0.5 + chance(id + 7))),
        replies: Math.round(seen * 0.008 * chance(id + 13)),
        clicks: Math.round(seen * round.clicked * (0.6 + 0.8 * chance(id + 29))),
      };
    });
    if (figures.length > 0) await trx('piece_figures').insert(figures);
  }
}
