import type { Knex } from 'knex';

/**
 * The first and the last of a post's tags by name, in the post itself, so that an order by tags is read off an index as
 * an order by categories is. Kept by triggers on whatever writes tags; they stand in the place of `tagged`.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create function tag_ends(of_posts integer[])
      returns table (post_id integer, first_tag_id integer, last_tag_id integer) language sql stable as $$
        select
          o.id,
          (array_agg(tags.id order by lower(tags.name)))[1],
          (array_agg(tags.id order by lower(tags.name) desc))[1]
        from
          unnest(of_posts) as o (id)
          left join post_tags t on t.post_id = o.id
          left join tags on tags.id = t.tag_id
        group by o.id
      $$;

    alter table all_posts add column first_tag_id integer, add column last_tag_id integer;
    update all_posts p
    set first_tag_id = e.first_tag_id, last_tag_id = e.last_tag_id
    from tag_ends(array(select distinct post_id from post_tags)) e
    where p.id = e.post_id;
    create index posts_first_tag on all_posts (blog_id, first_tag_id, run_at desc nulls last, id desc)
      where first_tag_id is not null;
    create index posts_last_tag on all_posts (blog_id, last_tag_id, run_at desc nulls last, id desc)
      where last_tag_id is not null;

    -- Held in the order of their ids first, as whoever changes many posts holds them.
    create function keep_tag_ends(of_posts integer[]) returns void language sql as $$
      with
        held as (
          select p.id, e.first_tag_id, e.last_tag_id
          from all_posts p join tag_ends(of_posts) e on e.post_id = p.id
          where (p.first_tag_id, p.last_tag_id) is distinct from (e.first_tag_id, e.last_tag_id)
          order by p.id
          for no key update of p
        )
      update all_posts p
      set first_tag_id = h.first_tag_id, last_tag_id = h.last_tag_id
      from held h
      where p.id = h.id
    $$;
    create function keep_tag_ends_of_touched() returns trigger language plpgsql as $$
      begin
        perform keep_tag_ends(array(select distinct post_id from touched));
        return null;
      end
    $$;
    drop trigger tagged_more on post_tags;
    drop trigger tagged_less on post_tags;
    drop function keep_tagged();
    create trigger tag_ends_more after insert on post_tags
      referencing new table as touched for each statement execute function keep_tag_ends_of_touched();
    create trigger tag_ends_less after delete on post_tags
      referencing old table as touched for each statement execute function keep_tag_ends_of_touched();

    create function keep_tag_ends_of_renamed() returns trigger language plpgsql as $$
      begin
        perform keep_tag_ends(array(select post_id from post_tags where tag_id = new.id));
        return null;
      end
    $$;
    create trigger tag_ends_renamed after update of name on tags
      for each row when (lower(old.name) <> lower(new.name)) execute function keep_tag_ends_of_renamed();

    -- What had no tag is what has no first one.
    do $$
      declare of_readers text := pg_get_viewdef('readers_posts');
      begin
        drop view readers_posts;
        drop view posts;
        alter table all_posts drop column tagged;
        create view posts as select * from all_posts where binned_at is null;
        execute 'create view readers_posts as ' || of_readers;
      end
    $$;
    create index posts_untagged on all_posts (blog_id, run_at desc nulls last, id desc) where first_tag_id is null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
