import type { PatternStop } from '@keyroster/contract';
import { findPerson } from '../accounts/who.js';
import type { Db, Trx } from '../db/connect.js';
import { planPieces, type Jobs } from '../jobs/queue.js';
import { log } from '../log.js';
import type { EffectOn } from '../posts/effects.js';
import { makePieces } from './pieces.js';

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
async function fitting(trx: Trx, postId: number): Promise<Fitting[]> {
  const { rows } = await trx.raw<{ rows: Fitting[] }>(
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
  return db.transaction(async (trx) => {
    let made = 0;
    for (const pattern of await fitting(trx, postId)) {
      const [first] = await trx('patterns_used')
        .insert({ post_id: postId, pattern_id: pattern.id })
        .onConflict(['post_id', 'pattern_id'])
        .ignore()
        .returning<{ pattern_id: number }[]>('pattern_id');
      const person = first && (await findPerson(trx, personId, pattern.blogId));
      if (!person) continue;
      const done = await makePieces(trx, person, postId, { asks: pattern.stops });
      made += done.made.length;
      // Where nothing could be made, the next clearing tries again.
      if (done.made.length === 0)
        await trx('patterns_used').where({ post_id: postId, pattern_id: pattern.id }).delete();
      if (done.refused.length > 0) log.info({ post: postId, refused: done.refused }, pattern.name);
    }
    return made;
  });
}
