import type { Knex } from 'knex';

/**
 * Which words stand side by side in a post, each pair as a number, so that a phrase is looked up and not sought among
 * all posts that have its words. Kept apart from the posts, and empty from a change of the text until the post is
 * measured, so that writing pays nothing for it; meanwhile the text itself is looked at. The numbers are those by which
 * PostgreSQL spreads rows over partitions and hash indexes, which an upgrade keeps; what shares a number by chance is
 * told apart by the text.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create function word_pairs_of(words tsvector) returns integer[] language sql immutable as $$
      with
        placed as materialized (
          select w.lexeme, p.place from unnest(words) w cross join unnest(w.positions) p (place)
        )
      select coalesce(array_agg(distinct hashtext(a.lexeme || ' ' || b.lexeme)), '{}')
      from placed a join placed b on b.place = a.place + 1
    $$;
    create table word_pairs (
      post_id integer primary key references all_posts on delete cascade,
      pairs integer[]
    );
    insert into word_pairs select id, word_pairs_of(search) from all_posts;
    create index word_pairs_pairs on word_pairs using gin (pairs);
    create index word_pairs_missing on word_pairs (post_id) where pairs is null;
    -- How many posts have a pair is what decides how a phrase is found: known of more pairs than is usual.
    alter table word_pairs alter column pairs set statistics 300;

    create function drop_word_pairs() returns trigger language plpgsql as $$
      begin
        if tg_op = 'INSERT' then
          insert into word_pairs values (new.id, null);
        else
          update word_pairs set pairs = null where post_id = new.id and pairs is not null;
        end if;
        return null;
      end
    $$;
    create trigger word_pairs_new after insert on all_posts
      for each row execute function drop_word_pairs();
    create trigger word_pairs_changed after update of title, excerpt, body_text on all_posts
      for each row when (old.search is distinct from new.search) execute function drop_word_pairs();
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
