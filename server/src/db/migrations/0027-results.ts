import type { Knex } from 'knex';

/** What came of posts and pieces: figures of outlets, a day each, and how often posts were read on a day. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create index post_reads_day on post_reads (day) include (post_id, reads);

    -- Reads of a blog by day, kept with those of its posts: a sum over years of all posts takes its time.
    create table blog_reads (
      blog_id integer not null references blogs on delete cascade,
      day date not null,
      reads bigint not null,
      primary key (blog_id, day)
    );
    insert into blog_reads (blog_id, day, reads)
      select p.blog_id, r.day, sum(r.reads) from post_reads r join all_posts p on p.id = r.post_id group by 1, 2;
    create function count_blog_reads() returns trigger language plpgsql as $$
    begin
      insert into blog_reads (blog_id, day, reads)
        select p.blog_id, n.day, sum(n.reads) from new_rows n join all_posts p on p.id = n.post_id
        group by 1, 2 order by 1, 2
      on conflict (blog_id, day) do update set reads = blog_reads.reads + excluded.reads;
      return null;
    end $$;
    create function recount_blog_reads() returns trigger language plpgsql as $$
    begin
      insert into blog_reads (blog_id, day, reads)
        select p.blog_id, n.day, sum(n.reads - o.reads)
        from new_rows n
        join old_rows o on o.post_id = n.post_id and o.day = n.day
        join all_posts p on p.id = n.post_id
        group by 1, 2 order by 1, 2
      on conflict (blog_id, day) do update set reads = blog_reads.reads + excluded.reads;
      return null;
    end $$;
    create trigger post_reads_counted after insert on post_reads
      referencing new table as new_rows for each statement execute function count_blog_reads();
    create trigger post_reads_recounted after update on post_reads
      referencing old table as old_rows new table as new_rows for each statement execute function recount_blog_reads();

    -- What an outlet says of a piece, as it stood on a day; it only ever grows.
    create table piece_figures (
      send_id integer not null references sends on delete cascade,
      day date not null,
      seen integer not null,
      passed_on integer not null,
      replies integer not null,
      clicks integer not null,
      primary key (send_id, day)
    );
    -- When the outlet was asked last.
    alter table sends add column figures_at timestamptz(3);
    create index sends_figures on sends (figures_at nulls first) where state = 'sent' and url <> '';
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
