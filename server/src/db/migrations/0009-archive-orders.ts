import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- Every order of the archive is read off an index, newest first within what is alike.
    drop index posts_stage;
    create index posts_stage on all_posts (blog_id, stage, run_at desc nulls last, id desc);
    drop index posts_category;
    create index posts_category on all_posts (blog_id, category_id, run_at desc nulls last, id desc);
    drop index posts_byline;
    create index posts_byline on all_posts (blog_id, byline_id, run_at desc nulls last, id desc);
    create index posts_second_category on all_posts (blog_id, second_category_id)
      where second_category_id is not null;
    create index posts_format on all_posts (blog_id, format_id, run_at desc nulls last, id desc);
    create index posts_created on all_posts (blog_id, created_at, id);
    drop index posts_campaign;
    create index posts_campaign on all_posts (blog_id, lower(campaign), run_at desc nulls last, id desc)
      where campaign <> '';
    create index posts_findings on all_posts
      (blog_id, (check_blocks * 1000 + check_warns) desc, run_at desc nulls last, id desc)
      where check_blocks * 1000 + check_warns > 0;

    -- What few posts have or lack. What most have is found on the way.
    create index posts_staff on all_posts (blog_id, run_at desc nulls last, id desc) where access = 'staff';
    create index posts_quiet on all_posts (blog_id, run_at desc nulls last, id desc) where not comments;
    create index posts_blocked on all_posts (blog_id, run_at desc nulls last, id desc) where check_blocks > 0;
    create index posts_warned on all_posts (blog_id, run_at desc nulls last, id desc) where check_warns > 0;
    create statistics posts_findings on (check_blocks * 1000 + check_warns) from all_posts;
    create index posts_pictured on all_posts (blog_id, run_at desc nulls last, id desc) where lead_media_id is not null;
    create index posts_unpictured on all_posts (blog_id, run_at desc nulls last, id desc) where lead_media_id is null;
    create index posts_unexcerpted on all_posts (blog_id, run_at desc nulls last, id desc) where excerpt = '';
    create index posts_described on all_posts (blog_id, run_at desc nulls last, id desc)
      where search_description <> '';

    drop index post_tags_tag;
    create index post_tags_tag on post_tags (tag_id, post_id);

    -- Whether a post has any tag, kept by whatever writes post_tags.
    alter table all_posts add column tagged boolean not null default false;
    update all_posts p set tagged = true where exists (select 1 from post_tags t where t.post_id = p.id);
    create index posts_untagged on all_posts (blog_id, run_at desc nulls last, id desc) where not tagged;
    create function keep_tagged() returns trigger language plpgsql as $$
      begin
        update all_posts p
        set tagged = not p.tagged
        where p.id in (select post_id from touched)
          and p.tagged <> exists (select 1 from post_tags t where t.post_id = p.id);
        return null;
      end
    $$;
    create trigger tagged_more after insert on post_tags
      referencing new table as touched for each statement execute function keep_tagged();
    create trigger tagged_less after delete on post_tags
      referencing old table as touched for each statement execute function keep_tagged();
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
