import type { PatternStop } from '@keyroster/contract';
import { findPerson } from '../accounts/who.js';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import type { CurrentPerson } from '../http/current-person.js';
import { planPieces, type Jobs } from '../jobs/queue.js';
import { log } from '../log.js';
import type { EffectOn } from '../posts/effects.js';
import { type ReadyPieces, storePieces, preparePieces } from './pieces.js';

/** Has the patterns of posts that were cleared make their pieces. */
export async function makeWhenCleared(trx: Trx, effects: readonly EffectOn<'moved'>[]): Promise<void> {
  for (const { on, step } of effects)
    if (step.to === 'cleared' && step.from !== 'scheduled' && on.personId !== null)
      await planPieces(trx, { postId: on.after.id, personId: on.personId });
}

interface Fitting {
  id: number;
  name: string;
  stops: PatternStop[];
  blogId: number;
}

/** Patterns that make their pieces by themselves and are for this post, and have not done so yet. */
async function fitting(db: Queryable, postId: number): Promise<Fitting[]> {
  const { rows } = await db.raw<{ rows: Fitting[] }>(
    `
      select
        r.id,
        r.name,
        r.stops,
        r.blog_id as "blogId"
      from
        posts p
        join rollout_patterns r on r.blog_id = p.blog_id and r.by_itself
        left join campaigns c on c.id = r.campaign_id
      where
        p.id = ?
        and p.stage in ('cleared', 'scheduled', 'published')
        and (
          r.format_id = p.format_id
          or r.category_id in (p.category_id, p.second_category_id)
          or (p.campaign <> '' and lower(c.name) = lower(trim(p.campaign)))
        )
        and not exists (select 1 from patterns_used u where u.post_id = p.id and u.pattern_id = r.id)
      order by
        r.id
    `,
    [postId],
  );
  return rows;
}

/**
 * Makes the pieces of a post that its patterns say, each pattern once; they wait for approval like any others. What
 * cannot be made is left out: the Spin-offs screen says why when it is asked for there.
 */
export async function makeByItself(db: Db, { postId, personId }: Jobs['pieces']): Promise<number> {
  const ready: { pattern: Fitting; person: CurrentPerson; pieces: ReadyPieces }[] = [];
  for (const pattern of await fitting(db, postId)) {
    const person = await findPerson(db, personId, pattern.blogId);
    if (person)
      ready.push({
        pattern,
        person,
        pieces: await preparePieces(db, person, postId, { asks: pattern.stops }),
      });
  }
  return inTransaction(db, async (trx) => {
    let made = 0;
    const still = new Set((await fitting(trx, postId)).map((p) => p.id));
    for (const { pattern, person, pieces } of ready.filter((r) => still.has(r.pattern.id))) {
      const [first] = await trx('patterns_used')
        .insert({ post_id: postId, pattern_id: pattern.id })
        .onConflict(['post_id', 'pattern_id'])
        .ignore()
        .returning<{ pattern_id: number }[]>('pattern_id');
      if (!first) continue;
      const done = await storePieces(trx, person, pieces);
      made += done.made.length;
      // Where nothing could be made, the next clearing tries again.
      if (done.made.length === 0)
        await trx('patterns_used').where({ post_id: postId, pattern_id: pattern.id }).delete();
      if (done.refused.length > 0) log.info({ post: postId, refused: done.refused }, pattern.name);
    }
    return made;
  });
}
